#include "core/picture/regression.h"

#include <algorithm>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/picture/regression.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

#ifndef GSWARM_REGRESSION
#define GSWARM_REGRESSION
namespace gswarm {
namespace {

constexpr int reach = 5;     ///< pixels to either side
constexpr int across = 32;   ///< pixels worked out together, in each of `rowsRegressed` rows
constexpr int margin = 16;   ///< columns more, in steps of the widest lanes, for what looks one to either side
constexpr int unknowns = 7;  ///< the slopes by own colour and normal, and the light itself last
constexpr int products = unknowns * (unknowns + 1) / 2;
constexpr float ridge = 0.01f;  ///< how unwilling slopes are, as a share of all that counts
constexpr float wide = 1.05f;   ///< how far from what noise explains light may differ
/// What tells surfaces apart: the squared distance of their own colours and normals, of their coverage, and their depth by what its
/// slope explains.
constexpr float byAlbedo = 10, byNormal = 3, byCoverage = 4, byDepth = 0.2f;

/// What is summed up for sixteen pixels of a row.
struct Sums {
    float squares[products][margin];  ///< of unknowns with unknowns, by rows of a triangle
    float light[unknowns][3][margin];
};

/// For the pixels worked out together.
struct Workspace {
    alignas(64) Sums sums[rowsRegressed][across / margin];
    alignas(64) float apart[rowsRegressed + 2][across + margin];  ///< of single pixels, from one before the first on
};

}  // namespace
}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

using hn::Add, hn::Div, hn::Mul, hn::Sub;

HWY_INLINE F anywhere(const std::vector<float>& column, std::ptrdiff_t at) { return hn::LoadU(Floats(), column.data() + at); }
HWY_INLINE F squared(F x) { return Mul(x, x); }

/// About exp(−x), and 0 from 8 on.
HWY_INLINE F fading(F x) {
    const F t = hn::Max(hn::Zero(Floats()), Sub(number(1), Mul(x, number(0.125f))));
    const F t2 = Mul(t, t), t4 = Mul(t2, t2);
    return Mul(t4, t4);
}

/// How far pixels and those at an offset from them are apart in light, by what noise explains; below 0 where it explains more.
HWY_INLINE F apartIn(const FilterPlanes& p, std::ptrdiff_t here, std::ptrdiff_t there) {
    F squares = hn::Zero(Floats());
    for (const auto& plane : p.light) squares = Add(squares, squared(Sub(anywhere(plane, there), anywhere(plane, here))));
    const F mine = anywhere(p.variance, here), others = anywhere(p.variance, there), both = Add(mine, others);
    return Div(Sub(squares, Add(mine, hn::Min(mine, others))), Add(Mul(both, number(wide * wide)), number(1e-12f)));
}

HWY_INLINE F inSurface(const FilterPlanes& p, std::ptrdiff_t here, std::ptrdiff_t there, float far, const F* unlike) {
    F paint = hn::Zero(Floats()), turned = hn::Zero(Floats());
    for (int c = 0; c < 3; ++c) paint = Add(paint, squared(unlike[c])), turned = Add(turned, squared(unlike[3 + c]));
    const F part = squared(Sub(anywhere(p.coverage, there), anywhere(p.coverage, here))), depth = anywhere(p.depth, here);
    const F explained = Add(Mul(anywhere(p.slope, here), number(far)), Add(Mul(depth, number(1e-3f)), number(1e-6f)));
    const F behind = Div(hn::Abs(Sub(anywhere(p.depth, there), depth)), explained);
    return Add(Add(Mul(paint, number(byAlbedo)), Mul(turned, number(byNormal))),
               Add(Mul(part, number(byCoverage)), Mul(behind, number(byDepth))));
}

HWY_INLINE void addTo(float* sum, F value) { store(Add(load(sum), value), sum); }

/// Adds the neighbours at one offset.
void gather(const FilterPlanes& p, std::ptrdiff_t from, int rows, int dx, int dy, Workspace& work) {
    const std::ptrdiff_t offset = static_cast<std::ptrdiff_t>(dy) * p.stride + dx;
    const auto far = static_cast<float>(std::max(dx < 0 ? -dx : dx, dy < 0 ? -dy : dy));
    for (int r = 0; r < rows + 2; ++r)
        for (int x = 0; x < across + margin; x += lanes()) {
            const std::ptrdiff_t here = from + static_cast<std::ptrdiff_t>(r - 1) * p.stride + x - 1;
            store(apartIn(p, here, here + offset), work.apart[r] + x);
        }
    for (int r = 0; r < rows; ++r)
        for (int x = 0; x < across; x += lanes()) {
            const std::ptrdiff_t here = from + static_cast<std::ptrdiff_t>(r) * p.stride + x, there = here + offset;
            F apart = hn::Zero(Floats());
            for (int v = 0; v < 3; ++v)
                for (int u = 0; u < 3; ++u) apart = Add(apart, hn::LoadU(Floats(), work.apart[r + v] + x + u));
            F at[unknowns];
            for (int c = 0; c < 3; ++c) {
                at[c] = Sub(anywhere(p.albedo[c], there), anywhere(p.albedo[c], here));
                at[3 + c] = Sub(anywhere(p.normal[c], there), anywhere(p.normal[c], here));
            }
            at[unknowns - 1] = number(1);
            const F away = Add(hn::Max(Mul(apart, number(1.0f / 9)), hn::Zero(Floats())), inSurface(p, here, there, far, at));
            const F weight = fading(away);
            const F light[3] = {anywhere(p.light[0], there), anywhere(p.light[1], there), anywhere(p.light[2], there)};
            Sums& sums = work.sums[r][x / margin];
            const int lane = x % margin;
#pragma GCC unroll 8
            for (int i = 0; i < unknowns; ++i) {
                const F weighed = i + 1 < unknowns ? Mul(weight, at[i]) : weight;
#pragma GCC unroll 8
                for (int j = 0; j <= i; ++j)
                    addTo(sums.squares[i * (i + 1) / 2 + j] + lane, j + 1 < unknowns ? Mul(weighed, at[j]) : weighed);
                for (int c = 0; c < 3; ++c) addTo(sums.light[i][c] + lane, Mul(weighed, light[c]));
            }
        }
}

/// The last unknown, for some pixels: the factors L D Lᵀ of the products, and the light that goes with them.
HWY_INLINE void solve(const Sums& sums, int lane, F* found) {
    F low[unknowns][unknowns], pivot[unknowns], light[unknowns][3];
    const F unwilling = Mul(load(sums.squares[products - 1] + lane), number(ridge));
    for (int i = 0; i < unknowns; ++i) {
        for (int j = 0; j <= i; ++j) {
            F rest = load(sums.squares[i * (i + 1) / 2 + j] + lane);
            if (i == j && i + 1 < unknowns) rest = Add(rest, unwilling);
            for (int m = 0; m < j; ++m) rest = Sub(rest, Mul(Mul(low[i][m], low[j][m]), pivot[m]));
            if (i == j)
                pivot[i] = hn::Max(rest, number(1e-6f));
            else
                low[i][j] = Div(rest, pivot[j]);
        }
        for (int c = 0; c < 3; ++c) {
            light[i][c] = load(sums.light[i][c] + lane);
            for (int m = 0; m < i; ++m) light[i][c] = Sub(light[i][c], Mul(low[i][m], light[m][c]));
        }
    }
    for (int c = 0; c < 3; ++c) found[c] = hn::Max(Div(light[unknowns - 1][c], pivot[unknowns - 1]), hn::Zero(Floats()));
}

void regressLanes(const FilterPlanes& p, FilteredLight& to, int row, int rows, Workspace& work) {
    for (int x = 0; x < p.width; x += across) {
        for (auto& row : work.sums) std::fill_n(row, across / margin, Sums{});
        for (int dy = -reach; dy <= reach; ++dy)
            for (int dx = -reach; dx <= reach; ++dx) gather(p, static_cast<std::ptrdiff_t>(p.at(x, row)), rows, dx, dy, work);
        for (int r = 0; r < rows; ++r)
            for (int u = 0; u < across; u += lanes()) {
                F found[3];
                solve(work.sums[r][u / margin], u % margin, found);
                for (std::size_t c = 0; c < 3; ++c) hn::StoreU(found[c], Floats(), to[c].data() + p.at(x + u, row + r));
            }
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
#include <memory>

namespace gswarm {

HWY_EXPORT(regressLanes);

FilterPlanes::FilterPlanes(int columns, int lines) : width(columns), height(lines) {
    static_assert(rim >= reach + 2);
    // What is worked out together may go on behind a row's end.
    stride = columns + 2 * rim + across + margin;
    const std::size_t count = static_cast<std::size_t>(stride) * static_cast<std::size_t>(lines + 2 * rim);
    for (auto* planes : {&light, &albedo, &normal})
        for (auto& plane : *planes) plane.resize(count);
    for (auto* plane : {&variance, &depth, &slope}) plane->resize(count);
    coverage.assign(count, -9);
}

void FilterPlanes::fillRim() {
    const auto fill = [&](std::vector<float>& plane) {
        for (int y = 0; y < height; ++y)
            for (int x = 1; x <= rim; ++x) {
                plane[at(-x, y)] = plane[at(0, y)];
                plane[at(width - 1 + x, y)] = plane[at(width - 1, y)];
            }
        const auto lineAt = [&](int y) { return plane.begin() + static_cast<std::ptrdiff_t>(at(-rim, y)); };
        for (int y = 1; y <= rim; ++y) {
            std::copy_n(lineAt(0), stride, lineAt(-y));
            std::copy_n(lineAt(height - 1), stride, lineAt(height - 1 + y));
        }
    };
    for (auto* planes : {&light, &albedo, &normal})
        for (auto& plane : *planes) fill(plane);
    for (auto* plane : {&variance, &depth, &slope}) fill(*plane);
}

void regressRows(const FilterPlanes& planes, FilteredLight& to, int row, int rows) {
    const auto work = std::make_unique_for_overwrite<Workspace>();
    HWY_DYNAMIC_DISPATCH(regressLanes)(planes, to, row, rows, *work);
}

}  // namespace gswarm
#endif
