#include "core/picture/wavelet.h"

#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/picture/wavelet.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

HWY_INLINE F anywhere(const std::vector<float>& column, std::ptrdiff_t at) { return hn::LoadU(Floats(), column.data() + at); }

/// About exp(−x), and 0 from 8 on.
HWY_INLINE F fading(F x) {
    const F t = hn::Max(hn::Zero(Floats()), hn::Sub(number(1), hn::Mul(x, number(0.125f))));
    const F t2 = hn::Mul(t, t), t4 = hn::Mul(t2, t2);
    return hn::Mul(t4, t4);
}

void spreadLanes(const FilterPlanes& planes, const FilterLight& from, FilterLight& to, int step, int row) {
    using hn::Abs, hn::Add, hn::Div, hn::Mul, hn::Sub;
    constexpr float kernel[3] = {0.375f, 0.25f, 0.0625f};
    const std::ptrdiff_t stride = planes.stride;
    for (int x = 0; x < planes.width; x += lanes()) {
        const auto here = static_cast<std::ptrdiff_t>(planes.at(x, row));
        const F normal[3] = {anywhere(planes.normal[0], here), anywhere(planes.normal[1], here), anywhere(planes.normal[2], here)};
        const F albedo[3] = {anywhere(planes.albedo[0], here), anywhere(planes.albedo[1], here), anywhere(planes.albedo[2], here)};
        const F depth = anywhere(planes.depth, here), slope = anywhere(planes.slope, here), coverage = anywhere(planes.coverage, here);
        const F bright = anywhere(from.luminance, here), floor = Add(Mul(depth, number(1e-3f)), number(1e-6f));
        // What noise explains: two deviations, as far as neighbours agree on them.
        F around = hn::Zero(Floats());
        for (int v = -1; v <= 1; ++v)
            for (int u = -1; u <= 1; ++u)
                around = Add(around, Mul(anywhere(from.variance, here + v * stride + u), number((u ? 0.25f : 0.5f) * (v ? 0.25f : 0.5f))));
        const F unexplained = Div(number(1), Add(Mul(number(2), hn::Sqrt(around)), number(1e-4f)));
        const F own = number(kernel[0] * kernel[0]);
        F light[3] = {Mul(anywhere(from.light[0], here), own), Mul(anywhere(from.light[1], here), own),
                      Mul(anywhere(from.light[2], here), own)};
        F weights = own, variance = Mul(Mul(anywhere(from.variance, here), own), own);
        for (int j = -2; j <= 2; ++j)
            for (int i = -2; i <= 2; ++i) {
                if (i == 0 && j == 0) continue;
                const std::ptrdiff_t there = here + static_cast<std::ptrdiff_t>(j * step) * stride + i * step;
                const float far = static_cast<float>(step) * std::sqrt(static_cast<float>(i * i + j * j));
                F facing = hn::Zero(Floats()), paint = hn::Zero(Floats());
                for (int c = 0; c < 3; ++c) {
                    facing = Add(facing, Mul(normal[c], anywhere(planes.normal[c], there)));
                    const F other = Sub(anywhere(planes.albedo[c], there), albedo[c]);
                    paint = Add(paint, Mul(other, other));
                }
                const F apart = Div(Abs(Sub(anywhere(planes.depth, there), depth)), Add(Mul(slope, number(far)), floor));
                const F differs = Mul(Abs(Sub(anywhere(from.luminance, there), bright)), unexplained);
                F away = Add(Add(apart, differs), Add(Mul(paint, number(60)), Mul(Sub(number(1), facing), number(24))));
                const auto same =
                    hn::And(hn::Gt(facing, number(0.5f)), hn::Le(Abs(Sub(anywhere(planes.coverage, there), coverage)), number(0.5f)));
                const float share = kernel[i < 0 ? -i : i] * kernel[j < 0 ? -j : j];
                const F weight = hn::IfThenElseZero(same, Mul(number(share), fading(away)));
                for (int c = 0; c < 3; ++c) light[c] = Add(light[c], Mul(weight, anywhere(from.light[c], there)));
                variance = Add(variance, Mul(Mul(weight, weight), anywhere(from.variance, there)));
                weights = Add(weights, weight);
            }
        const F all = Div(number(1), weights);
        const auto put = [&](F value, std::vector<float>& column) { hn::StoreU(value, Floats(), column.data() + here); };
        for (int c = 0; c < 3; ++c) put(Mul(light[c], all), to.light[c]);
        const F luminance = Add(Add(Mul(light[0], number(0.2126f)), Mul(light[1], number(0.7152f))), Mul(light[2], number(0.0722f)));
        put(Mul(luminance, all), to.luminance);
        put(Mul(Mul(variance, all), all), to.variance);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {

HWY_EXPORT(spreadLanes);

FilterPlanes::FilterPlanes(int across, int down) : width(across), height(down) {
    // Lanes may go on behind a row's end.
    stride = across + 2 * rim + 16;
    const std::size_t count = static_cast<std::size_t>(stride) * static_cast<std::size_t>(down + 2 * rim) + 16;
    for (auto* planes : {&normal, &albedo})
        for (auto& plane : *planes) plane.resize(count);
    depth.resize(count), slope.resize(count), coverage.assign(count, -9);
}

FilterLight::FilterLight(const FilterPlanes& planes) {
    for (auto& plane : light) plane.resize(planes.depth.size());
    luminance.resize(planes.depth.size()), variance.resize(planes.depth.size());
}

void spreadRow(const FilterPlanes& planes, const FilterLight& from, FilterLight& to, int step, int row) {
    HWY_DYNAMIC_DISPATCH(spreadLanes)(planes, from, to, step, row);
}

}  // namespace gswarm
#endif
