#include "core/picture/display.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <vector>

#include "core/scene/kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/picture/display.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

// What lanes and single colours share.
#ifndef GSWARM_DISPLAY_NUMBERS
#define GSWARM_DISPLAY_NUMBERS
namespace gswarm {
namespace {

constexpr float softStart = 0.8f - 0.04f, softRoom = 1 - softStart, desaturation = 0.15f;
constexpr int encodingSteps = 4096;  ///< of the table of the sRGB encoding

}  // namespace
}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

struct Colours {
    F red, green, blue;
};
template <class Work>
HWY_INLINE void each(Colours& c, const Work& work) {
    c.red = work(c.red), c.green = work(c.green), c.blue = work(c.blue);
}

HWY_INLINE void soften(Colours& c) {
    using hn::Add, hn::Div, hn::Mul, hn::Sub;
    const F least = hn::Min(hn::Min(c.red, c.green), c.blue), one = number(1);
    const F less = hn::IfThenElse(hn::Lt(least, number(0.08f)), Sub(least, Mul(Mul(number(6.25f), least), least)), number(0.04f));
    each(c, [&](F x) { return Sub(x, less); });
    const F peak = hn::Max(hn::Max(c.red, c.green), c.blue);
    const auto asItIs = hn::Lt(peak, number(softStart));
    if (hn::AllTrue(Floats(), asItIs)) return;
    const F newPeak = Sub(one, Div(number(softRoom * softRoom), Sub(Add(peak, number(softRoom)), number(softStart))));
    const F grey = Sub(one, Div(one, Add(Mul(number(desaturation), Sub(peak, newPeak)), one)));
    const F share = Div(newPeak, peak), colour = Sub(one, grey), white = Mul(newPeak, grey);
    each(c, [&](F x) { return hn::IfThenElse(asItIs, x, Add(Mul(Mul(x, share), colour), white)); });
}

HWY_INLINE F encodedBy(const float* table, F linear) {
    const F at = hn::Mul(hn::Sqrt(clamp01(linear)), number(encodingSteps));
    const I cell = toWhole(at);
    const F low = hn::GatherIndex(Floats(), table, cell), high = hn::GatherIndex(Floats(), table + 1, cell);
    return hn::Add(low, hn::Mul(hn::Sub(high, low), hn::Sub(at, hn::ConvertTo(Floats(), cell))));
}

/// As many as there are whole lanes of; returns how many these are.
std::size_t displayLanes(float* linear, std::size_t count, float exposure, bool soft, const float* table) {
    std::size_t i = 0;
    for (; i + static_cast<std::size_t>(lanes()) <= count; i += static_cast<std::size_t>(lanes())) {
        Colours c;
        hn::LoadInterleaved3(Floats(), linear + 3 * i, c.red, c.green, c.blue);
        each(c, [&](F x) { return hn::Mul(hn::Max(x, number(0)), number(exposure)); });
        if (soft) soften(c);
        each(c, [&](F x) { return encodedBy(table, x); });
        hn::StoreInterleaved3(c.red, c.green, c.blue, Floats(), linear + 3 * i);
    }
    return i;
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(displayLanes);

namespace {

/// Leaves what a screen shows as it is and bends only what is brighter.
glm::vec3 softened(glm::vec3 c) {
    const float least = std::min({c.x, c.y, c.z});
    c -= least < 0.08f ? least - 6.25f * least * least : 0.04f;
    const float peak = std::max({c.x, c.y, c.z});
    if (peak < softStart) return c;
    const float newPeak = 1 - softRoom * softRoom / (peak + softRoom - softStart);
    return glm::mix(c * (newPeak / peak), glm::vec3(newPeak), 1 - 1 / (desaturation * (peak - newPeak) + 1));
}

/// The sRGB encoding over the square root, along which it is nearly straight.
const float* encodingTable() {
    static const std::vector<float> table = [] {
        std::vector<float> made;
        for (int k = 0; k <= encodingSteps + 1; ++k) {
            const double root = static_cast<double>(k) / encodingSteps;
            made.push_back(static_cast<float>(srgbFromLinear(root * root)));
        }
        return made;
    }();
    return table.data();
}

/// Of 0 … 1, within 10⁻⁷.
float encoded(float linear) {
    const float at = std::sqrt(std::clamp(linear, 0.0f, 1.0f)) * encodingSteps;
    const auto cell = static_cast<std::size_t>(at);
    const float* table = encodingTable();
    return table[cell] + (table[cell + 1] - table[cell]) * (at - static_cast<float>(cell));
}

}  // namespace

glm::vec3 display(const glm::vec3& linear, float exposure, DisplayTransform transform) {
    glm::vec3 light = glm::max(linear, glm::vec3(0)) * exposure;
    if (transform == DisplayTransform::soft) light = softened(light);
    return {encoded(light.x), encoded(light.y), encoded(light.z)};
}

void displayAll(std::span<glm::vec3> linear, float exposure, DisplayTransform transform) {
    static_assert(sizeof(glm::vec3) == 3 * sizeof(float));
    std::size_t done = HWY_DYNAMIC_DISPATCH(displayLanes)(reinterpret_cast<float*>(linear.data()), linear.size(), exposure,
                                                          transform == DisplayTransform::soft, encodingTable());
    for (; done < linear.size(); ++done) linear[done] = display(linear[done], exposure, transform);
}

}  // namespace gswarm
#endif
