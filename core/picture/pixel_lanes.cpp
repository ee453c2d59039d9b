#include "core/picture/pixel_lanes.h"

#include <algorithm>
#include <array>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/picture/pixel_lanes.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

// What a row is cut into: as many as the widest machine has lanes, so that the rest is worked out in the same way.
#ifndef GSWARM_PIXEL_LANES
#define GSWARM_PIXEL_LANES
namespace gswarm {
namespace {

constexpr std::size_t together = 16;

struct Fog {
    float start, perMetre;  ///< halvings a metre
    float red, green, blue;
};

}  // namespace
}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

using hn::Add, hn::Mul, hn::Sub;

/// All of these take a number of pixels that `together` goes into.
void unpackLanes(const std::uint16_t* halves, float* light, float* coverage, std::size_t count) {
    using Short = hn::Rebind<hwy::float16_t, Floats>;
    using Bits = hn::Rebind<std::uint16_t, Floats>;
    for (std::size_t i = 0; i < count; i += static_cast<std::size_t>(lanes())) {
        hn::Vec<Bits> red, green, blue, part;
        hn::LoadInterleaved4(Bits(), halves + 4 * i, red, green, blue, part);
        const auto wide = [](hn::Vec<Bits> bits) { return hn::PromoteTo(Floats(), hn::BitCast(Short(), bits)); };
        hn::StoreInterleaved3(wide(red), wide(green), wide(blue), Floats(), light + 3 * i);
        hn::StoreU(hn::Min(wide(part), number(1)), Floats(), coverage + i);
    }
}

void fogLanes(float* light, const float* coverage, const float* depth, const Fog& fog, std::size_t count) {
    for (std::size_t i = 0; i < count; i += static_cast<std::size_t>(lanes())) {
        F red, green, blue;
        hn::LoadInterleaved3(Floats(), light + 3 * i, red, green, blue);
        const F far = hn::Max(Sub(hn::LoadU(Floats(), depth + i), number(fog.start)), number(0));
        const F clear = exp2(hn::Max(Mul(far, number(-fog.perMetre)), number(-126)));
        const F grey = Mul(hn::LoadU(Floats(), coverage + i), Sub(number(1), clear));
        red = Add(Mul(red, clear), Mul(number(fog.red), grey));
        green = Add(Mul(green, clear), Mul(number(fog.green), grey));
        blue = Add(Mul(blue, clear), Mul(number(fog.blue), grey));
        hn::StoreInterleaved3(red, green, blue, Floats(), light + 3 * i);
    }
}

void byteLanes(const float* shown, std::uint8_t* rgba, std::size_t count) {
    for (std::size_t i = 0; i < count; i += static_cast<std::size_t>(lanes())) {
        F red, green, blue;
        hn::LoadInterleaved3(Floats(), shown + 3 * i, red, green, blue);
        const auto byte = [](F x) { return hn::BitCast(Words(), hn::ConvertTo(Wholes(), Add(Mul(x, number(255)), number(0.5f)))); };
        const W low = hn::Or(byte(red), hn::ShiftLeft<8>(byte(green)));
        const W high = hn::Or(hn::ShiftLeft<16>(byte(blue)), hn::Set(Words(), 0xFF000000u));
        hn::StoreU(hn::Or(low, high), Words(), reinterpret_cast<std::uint32_t*>(rgba) + i);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(unpackLanes);
HWY_EXPORT(fogLanes);
HWY_EXPORT(byteLanes);

static_assert(sizeof(glm::vec3) == 3 * sizeof(float));

void unpackHalves(const std::uint16_t* halves, std::span<glm::vec3> light, float* coverage) {
    auto* to = reinterpret_cast<float*>(light.data());
    const std::size_t rest = light.size() % together, i = light.size() - rest;
    HWY_DYNAMIC_DISPATCH(unpackLanes)(halves, to, coverage, i);
    if (rest == 0) return;
    std::array<std::uint16_t, 4 * together> padded{};
    std::array<float, 3 * together> lightOf;
    std::array<float, together> coverageOf;
    std::copy_n(halves + 4 * i, 4 * rest, padded.begin());
    HWY_DYNAMIC_DISPATCH(unpackLanes)(padded.data(), lightOf.data(), coverageOf.data(), together);
    std::copy_n(lightOf.begin(), 3 * rest, to + 3 * i);
    std::copy_n(coverageOf.begin(), rest, coverage + i);
}

void fogOver(std::span<glm::vec3> light, const float* coverage, const float* depth, float start, float fogDepth, const glm::vec3& colour) {
    constexpr float perHalving = 1.44269504f;
    const Fog fog{start, perHalving / fogDepth, colour.x, colour.y, colour.z};
    auto* all = reinterpret_cast<float*>(light.data());
    const std::size_t rest = light.size() % together, i = light.size() - rest;
    HWY_DYNAMIC_DISPATCH(fogLanes)(all, coverage, depth, fog, i);
    if (rest == 0) return;
    std::array<float, 3 * together> lightOf{};
    std::array<float, together> coverageOf{}, depthOf{};
    std::copy_n(all + 3 * i, 3 * rest, lightOf.begin());
    std::copy_n(coverage + i, rest, coverageOf.begin());
    std::copy_n(depth + i, rest, depthOf.begin());
    HWY_DYNAMIC_DISPATCH(fogLanes)(lightOf.data(), coverageOf.data(), depthOf.data(), fog, together);
    std::copy_n(lightOf.begin(), 3 * rest, all + 3 * i);
}

void toBytes(std::span<const glm::vec3> shown, std::uint8_t* rgba) {
    const auto* all = reinterpret_cast<const float*>(shown.data());
    const std::size_t rest = shown.size() % together, i = shown.size() - rest;
    HWY_DYNAMIC_DISPATCH(byteLanes)(all, rgba, i);
    if (rest == 0) return;
    std::array<float, 3 * together> shownOf{};
    alignas(4) std::array<std::uint8_t, 4 * together> bytes;
    std::copy_n(all + 3 * i, 3 * rest, shownOf.begin());
    HWY_DYNAMIC_DISPATCH(byteLanes)(shownOf.data(), bytes.data(), together);
    std::copy_n(bytes.begin(), 4 * rest, rgba + 4 * i);
}

}  // namespace gswarm
#endif
