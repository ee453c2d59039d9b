#include "core/gesture/neighbours.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/parallel.h"
#include "core/gesture/cell_grid.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/gesture/neighbours.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// Writes down who is near each slot from first to last, in the order of cells and places. `x`, `y` and `z` are by slot
/// and may be read a vector beyond their end.
void searchLanes(const CellGrid& grid, const float* x, const float* y, const float* z, float within2, std::size_t most, std::size_t first,
                 std::size_t last, std::uint32_t* start, std::vector<std::uint32_t>& part) {
    using hn::Add, hn::Mul, hn::Sub;
    std::vector<std::uint32_t> found(most + 16);
    const F limit = number(within2);
    const W lane = hn::Iota(Words(), 0u);
    for (std::size_t s = first; s < last; ++s) {
        start[s] = static_cast<std::uint32_t>(part.size());
        const F px = number(x[s]), py = number(y[s]), pz = number(z[s]);
        const W self = hn::Set(Words(), static_cast<std::uint32_t>(s));
        const int ci = grid.x.cellOf(x[s]), cj = grid.y.cellOf(y[s]), ck = grid.z.cellOf(z[s]);
        std::size_t count = 0;
        for (int k = std::max(ck - 1, 0); k <= std::min(ck + 1, grid.z.cells - 1); ++k)
            for (int j = std::max(cj - 1, 0); j <= std::min(cj + 1, grid.y.cells - 1); ++j) {
                // Three cells in a row stand one after the other.
                const std::uint32_t end = grid.begin[grid.cellAt(std::min(ci + 1, grid.x.cells - 1), j, k) + 1];
                std::uint32_t o = grid.begin[grid.cellAt(std::max(ci - 1, 0), j, k)];
                for (; o < end && count < most; o += static_cast<std::uint32_t>(lanes())) {
                    const F dx = Sub(hn::LoadU(Floats(), x + o), px), dy = Sub(hn::LoadU(Floats(), y + o), py),
                            dz = Sub(hn::LoadU(Floats(), z + o), pz);
                    const W slot = Add(hn::Set(Words(), o), lane);
                    const auto near =
                        hn::And(hn::Lt(Add(Add(Mul(dx, dx), Mul(dy, dy)), Mul(dz, dz)), limit), hn::FirstN(Floats(), end - o));
                    const auto other = hn::AndNot(hn::Eq(slot, self), hn::RebindMask(Words(), near));
                    count += hn::CompressStore(slot, other, Words(), found.data() + count);
                }
                count = std::min(count, most);
            }
        part.insert(part.end(), found.begin(), found.begin() + static_cast<std::ptrdiff_t>(count));
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(searchLanes);

namespace {

/// Leaves out the outermost twentieths, so that a few stray places don't make all others share one cell.
CellAxis axisOver(const std::vector<float>& v, float distance) {
    std::vector<float> sample;
    const std::size_t stride = std::max<std::size_t>(1, v.size() / 4096);
    for (std::size_t i = 0; i < v.size(); i += stride)
        if (std::isfinite(v[i])) sample.push_back(v[i]);
    if (sample.empty()) return {};
    const auto at = [&](double share) {
        const auto k = static_cast<std::ptrdiff_t>(share * static_cast<double>(sample.size() - 1));
        std::nth_element(sample.begin(), sample.begin() + k, sample.end());
        return sample[static_cast<std::size_t>(k)];
    };
    const float low = at(0.05), high = at(0.95), margin = (high - low) * 0.2f + distance;
    CellAxis axis;
    axis.low = low - margin;
    axis.perMetre = 1 / distance;
    axis.cells = static_cast<int>(std::clamp((high - low + 2 * margin) / distance + 1, 1.0f, 1e6f));
    return axis;
}

/// Wider cells where there would be far more of them than places.
CellGrid gridOver(const std::vector<float>& x, const std::vector<float>& y, const std::vector<float>& z, float distance) {
    CellGrid grid{axisOver(x, distance), axisOver(y, distance), axisOver(z, distance), {}};
    while (grid.count() > 4 * x.size() + 1024) {
        CellAxis& longest = grid.x.cells >= grid.y.cells && grid.x.cells >= grid.z.cells ? grid.x
                            : grid.y.cells >= grid.z.cells                               ? grid.y
                                                                                         : grid.z;
        longest.cells = longest.cells / 2 + 1;
        longest.perMetre /= 2;
    }
    return grid;
}

/// Stable counting sort by cell.
std::vector<std::uint32_t> sortedInto(CellGrid& grid, const std::vector<float>& x, const std::vector<float>& y,
                                      const std::vector<float>& z) {
    std::vector<std::uint32_t> cell(x.size());
    forRanges(x.size(), 8192, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) cell[i] = static_cast<std::uint32_t>(grid.cellOf(x[i], y[i], z[i]));
    });
    grid.begin.assign(grid.count() + 1, 0);
    for (const std::uint32_t c : cell) ++grid.begin[c + 1];
    for (std::size_t c = 1; c < grid.begin.size(); ++c) grid.begin[c] += grid.begin[c - 1];
    std::vector<std::uint32_t> next(grid.begin.begin(), grid.begin.end() - 1), order(x.size());
    for (std::size_t i = 0; i < x.size(); ++i) order[next[cell[i]]++] = static_cast<std::uint32_t>(i);
    return order;
}

/// A column by slot, with as much behind it as a vector may read too far.
std::vector<float> withRoomBehind(std::vector<float> column) {
    column.resize(column.size() + 16, std::numeric_limits<float>::infinity());
    return column;
}

}  // namespace

std::vector<float> Neighbours::inOrder(const std::vector<float>& column) const {
    std::vector<float> out(column.size());
    for (std::size_t s = 0; s < out.size(); ++s) out[s] = column[order[s]];
    return out;
}

void Neighbours::putBack(const std::vector<float>& bySlot, std::vector<float>& column) const {
    for (std::size_t s = 0; s < bySlot.size(); ++s) column[order[s]] = bySlot[s];
}

Neighbours neighboursWithin(const std::vector<float>& x, const std::vector<float>& y, const std::vector<float>& z, float distance,
                            std::size_t most) {
    Neighbours out;
    const std::size_t n = x.size();
    out.start.assign(n, 0);
    out.parts.resize((n + Neighbours::slotsInPart - 1) / Neighbours::slotsInPart);
    if (n == 0 || !(distance > 0)) {
        out.order.resize(n);
        for (std::size_t i = 0; i < n; ++i) out.order[i] = static_cast<std::uint32_t>(i);
        return out;
    }
    CellGrid grid = gridOver(x, y, z, distance);
    out.order = sortedInto(grid, x, y, z);
    const auto sx = withRoomBehind(out.inOrder(x)), sy = withRoomBehind(out.inOrder(y)), sz = withRoomBehind(out.inOrder(z));
    forEach(out.parts.size(), [&](std::size_t p) {
        const std::size_t first = p * Neighbours::slotsInPart, last = std::min(n, first + Neighbours::slotsInPart);
        out.parts[p].reserve(Neighbours::slotsInPart * 8);
        HWY_DYNAMIC_DISPATCH(searchLanes)
        (grid, sx.data(), sy.data(), sz.data(), distance * distance, most, first, last, out.start.data(), out.parts[p]);
    });
    return out;
}

}  // namespace gswarm
#endif
