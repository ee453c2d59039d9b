// Instances on a grid in one, two or three dimensions: X runs fastest, then Z, then Y.
#include "core/formation/grid.h"

#include "core/formation/formation_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/formation/grid.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

void placeGrid(const Grid& grid, const glm::vec3& step, const glm::vec3& start, const glm::ivec3& anchor, const HomeRange& range,
               HomeColumns& out) {
    using hn::Add, hn::Mul, hn::Sub;
    const F nx = number(static_cast<float>(grid.count.x)), nz = number(static_cast<float>(grid.count.z));
    const F half = number(0.5f), zero = hn::Zero(Floats()), one = number(1);
    const W mask = hn::Set(Words(), 0x1FFFFFu);
    const auto lattice = [&](F index, int from) {
        const I whole = hn::Sub(hn::ConvertTo(Wholes(), index), hn::Set(Wholes(), from));
        return hn::And(hn::BitCast(Words(), whole), mask);
    };
    const F lane = hn::Iota(Floats(), 0.0f);
    for (int i = 0; i < range.count; i += lanes()) {
        const F n = Add(lane, number(static_cast<float>(range.first + i)));
        const F row = hn::Floor(hn::Div(Add(n, half), nx));  // exact: numbers stay below 2²⁴
        const F layer = hn::Floor(hn::Div(Add(row, half), nz));
        const F x = Sub(n, Mul(row, nx)), z = Sub(row, Mul(layer, nz));
        store(Add(Mul(x, number(step.x)), number(start.x)), out.position.x + i);
        store(Add(Mul(layer, number(step.y)), number(start.y)), out.position.y + i);
        store(Add(Mul(z, number(step.z)), number(start.z)), out.position.z + i);
        store(zero, out.rotation.x + i);
        store(zero, out.rotation.y + i);
        store(zero, out.rotation.z + i);
        store(one, out.rotation.w + i);
        const W a = lattice(x, anchor.x), b = lattice(layer, anchor.y), c = lattice(z, anchor.z);
        store(hn::Or(a, hn::ShiftLeft<21>(b)), out.idLow + i);
        store(hn::Or(hn::ShiftRight<11>(b), hn::ShiftLeft<10>(c)), out.idHigh + i);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(placeGrid);

namespace {

double count(const Grid& grid) { return double(grid.count.x) * grid.count.y * grid.count.z; }

void place(const Grid& grid, const HomeRange& range, HomeColumns& out) {
    glm::vec3 step = grid.spacing, start(0);
    glm::ivec3 anchor(0);
    for (int axis = 0; axis < 3; ++axis) {
        const int n = grid.count[axis];
        if (grid.measure == GridMeasure::overall) step[axis] = n > 1 ? grid.overall[axis] / static_cast<float>(n - 1) : 0;
        if (grid.anchor == GridAnchor::corner) continue;
        start[axis] = -0.5f * step[axis] * static_cast<float>(n - 1);
        anchor[axis] = n / 2;
    }
    HWY_DYNAMIC_DISPATCH(placeGrid)(grid, step, start, anchor, range, out);
}

}  // namespace

const FormationKind gridFormation = makes(
    DescribeFormation<Grid>("grid", "Grid", "Rows, sheets or blocks of instances")
        .wholes("count", &Grid::count, {10, 1, 10}, {1, 200}, "How many along X, Y and Z; 1 leaves that direction out")
        .hard(1, 1e6)
        .choice("measure", &Grid::measure, {{"spacing", "Spacing"}, {"overall", "Overall size"}}, "Whether the step or the whole is given")
        .length("spacing", &Grid::spacing, {1.25, 1.25, 1.25}, {0, 4}, "From one home to the next")
        .only("measure", {"spacing"})
        .length("overall", &Grid::overall, {10, 10, 10}, {0, 40}, "From the first home to the last")
        .only("measure", {"overall"})
        .choice("anchor", &Grid::anchor, {{"centre", "Centre"}, {"corner", "Corner"}}, "What stays when a count changes"),
    count, place);

}  // namespace gswarm
#endif
