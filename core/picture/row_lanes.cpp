#include "core/picture/row_lanes.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/picture/row_lanes.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

using hn::Add, hn::Mul, hn::Sub;

F at(const float* from, std::size_t i) { return hn::LoadU(Floats(), from + i); }

/// Those that fill lanes; the rest is left.
std::size_t fourRows(const float* a, const float* b, const float* c, const float* d, float* out, std::size_t count) {
    const auto step = static_cast<std::size_t>(lanes());
    std::size_t i = 0;
    for (; i + step <= count; i += step)
        hn::StoreU(Add(Mul(Add(at(a, i), at(d, i)), number(0.125f)), Mul(Add(at(b, i), at(c, i)), number(0.375f))), Floats(), out + i);
    return i;
}

std::size_t ontoRow(float* out, float kept, const float* near, const float* next, std::size_t count) {
    const auto step = static_cast<std::size_t>(lanes());
    std::size_t i = 0;
    for (; i + step <= count; i += step) {
        const F own = Add(Mul(at(out, i), number(kept)), Mul(at(near, i), number(0.75f)));
        hn::StoreU(Add(own, Mul(at(next, i), number(0.25f))), Floats(), out + i);
    }
    return i;
}

std::size_t behind(float* light, const float* coverage, const glm::vec3& colour, std::size_t count) {
    const auto step = static_cast<std::size_t>(lanes());
    std::size_t i = 0;
    for (; i + step <= count; i += step) {
        F red, green, blue;
        hn::LoadInterleaved3(Floats(), light + 3 * i, red, green, blue);
        const F part = Sub(number(1), at(coverage, i));
        const auto with = [&](F own, float more) { return Add(own, Mul(part, number(more))); };
        hn::StoreInterleaved3(with(red, colour.x), with(green, colour.y), with(blue, colour.z), Floats(), light + 3 * i);
    }
    return i;
}

std::size_t dimmed(float* light, const float* by, std::size_t count) {
    const auto step = static_cast<std::size_t>(lanes());
    std::size_t i = 0;
    for (; i + step <= count; i += step) {
        F red, green, blue;
        hn::LoadInterleaved3(Floats(), light + 3 * i, red, green, blue);
        const F factor = at(by, i);
        hn::StoreInterleaved3(Mul(red, factor), Mul(green, factor), Mul(blue, factor), Floats(), light + 3 * i);
    }
    return i;
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(fourRows);
HWY_EXPORT(ontoRow);
HWY_EXPORT(behind);
HWY_EXPORT(dimmed);

void mixFourRows(const float* a, const float* b, const float* c, const float* d, float* out, std::size_t count) {
    for (std::size_t i = HWY_DYNAMIC_DISPATCH(fourRows)(a, b, c, d, out, count); i < count; ++i)
        out[i] = (a[i] + d[i]) * 0.125f + (b[i] + c[i]) * 0.375f;
}

void mixOntoRow(float* out, float kept, const float* near, const float* next, std::size_t count) {
    for (std::size_t i = HWY_DYNAMIC_DISPATCH(ontoRow)(out, kept, near, next, count); i < count; ++i)
        out[i] = out[i] * kept + near[i] * 0.75f + next[i] * 0.25f;
}

void addBehind(std::span<glm::vec3> light, const float* coverage, const glm::vec3& colour) {
    auto* all = reinterpret_cast<float*>(light.data());
    for (std::size_t i = HWY_DYNAMIC_DISPATCH(behind)(all, coverage, colour, light.size()); i < light.size(); ++i)
        light[i] += (1 - coverage[i]) * colour;
}

void dimRow(std::span<glm::vec3> light, const float* by) {
    auto* all = reinterpret_cast<float*>(light.data());
    for (std::size_t i = HWY_DYNAMIC_DISPATCH(dimmed)(all, by, light.size()); i < light.size(); ++i) light[i] *= by[i];
}

}  // namespace gswarm
#endif
