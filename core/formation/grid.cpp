// Instances on a grid in one, two or three dimensions: X runs fastest, then Z, then Y.
#include "core/formation/grid.h"

#include <glm/common.hpp>

#include "core/formation/formation_kind.h"
#include "core/shape/homes.h"

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
    const F zero = hn::Zero(Floats()), one = number(1);
    const W mask = hn::Set(Words(), 0x1FFFFFu);
    const auto lattice = [&](F index, int from) {
        const I whole = hn::Sub(toWhole(index), hn::Set(Wholes(), from));
        return hn::And(hn::BitCast(Words(), whole), mask);
    };
    // Whole quotient and rest of whole numbers below 2²⁴, exact: what the reciprocal misses is put right.
    const auto divide = [](F n, F by, F reciprocal, F& rest) {
        F quotient = hn::Floor(Mul(n, reciprocal));
        rest = Sub(n, Mul(quotient, by));
        const auto over = hn::Ge(rest, by), under = hn::Lt(rest, hn::Zero(Floats()));
        quotient = hn::IfThenElse(over, Add(quotient, number(1)), hn::IfThenElse(under, Sub(quotient, number(1)), quotient));
        rest = hn::IfThenElse(over, Sub(rest, by), hn::IfThenElse(under, Add(rest, by), rest));
        return quotient;
    };
    const F perX = number(1 / static_cast<float>(grid.count.x)), perZ = number(1 / static_cast<float>(grid.count.z));
    const F lane = hn::Iota(Floats(), 0.0f);
    for (int i = 0; i < range.count; i += lanes()) {
        const F n = Add(lane, number(static_cast<float>(range.first + i)));
        F x, z;
        const F row = divide(n, nx, perX, x), layer = divide(row, nz, perZ, z);
        store(Add(Mul(x, number(step.x)), number(start.x)), out.position.x + i);
        store(Add(Mul(layer, number(step.y)), number(start.y)), out.position.y + i);
        store(Add(Mul(z, number(step.z)), number(start.z)), out.position.z + i);
        store(one, out.size + i);
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

struct Steps {
    glm::vec3 step, start{0};
    glm::ivec3 anchor{0};
};

Steps stepsOf(const Grid& grid) {
    Steps lattice{grid.spacing};
    for (int axis = 0; axis < 3; ++axis) {
        const int n = grid.count[axis];
        if (grid.measure == GridMeasure::overall) lattice.step[axis] = n > 1 ? grid.overall[axis] / static_cast<float>(n - 1) : 0;
        if (grid.anchor == GridAnchor::corner) continue;
        lattice.start[axis] = -0.5f * lattice.step[axis] * static_cast<float>(n - 1);
        lattice.anchor[axis] = n / 2;
    }
    return lattice;
}

double wholeCount(const Grid& grid) { return double(grid.count.x) * grid.count.y * grid.count.z; }

/// Every second row along Z is moved along X, and every second layer along Z too.
glm::vec3 shifted(const Grid& grid, const Steps& lattice, int x, int y, int z) {
    const float share = grid.shift / 100;
    const glm::vec3 move((z - lattice.anchor.z) & 1 ? share : 0, 0, (y - lattice.anchor.y) & 1 ? share : 0);
    return lattice.start + (glm::vec3(x, y, z) + move) * lattice.step;
}

bool kept(const Grid& grid, int x, int y, int z) {
    if (grid.fill == GridFill::box) return true;
    // The outermost homes lie on the surface: cells count from their middles.
    const glm::vec3 half = glm::max(glm::vec3(grid.count - 1) * 0.5f, glm::vec3(0.5f));
    const glm::vec3 at = (glm::vec3(x, y, z) - glm::vec3(grid.count - 1) * 0.5f) / half;
    const float up = grid.fill == GridFill::ball ? at.y * at.y : 0;
    return at.x * at.x + at.z * at.z + up <= 1.0001f;
}

Homes makeHomes(const Grid& grid, const FormationSource& source) {
    const Steps lattice = stepsOf(grid);
    Homes homes;
    for (int y = 0; y < grid.count.y; ++y) {
        source.check();
        for (int z = 0; z < grid.count.z; ++z)
            for (int x = 0; x < grid.count.x; ++x)
                if (kept(grid, x, y, z))
                    homes.add(shifted(grid, lattice, x, y, z), latticeId(x - lattice.anchor.x, y - lattice.anchor.y, z - lattice.anchor.z));
    }
    return homes;
}

double countHomes(const Grid& grid, const FormationSource& source) {
    if (grid.fill == GridFill::box || wholeCount(grid) > 4 * mostInstances) return wholeCount(grid);
    double count = 0;
    for (int y = 0; y < grid.count.y; ++y) {
        source.check();
        for (int z = 0; z < grid.count.z; ++z)
            for (int x = 0; x < grid.count.x; ++x) count += kept(grid, x, y, z);
    }
    return count;
}

void place(const Grid& grid, const HomeRange& range, HomeColumns& out) {
    const Steps lattice = stepsOf(grid);
    HWY_DYNAMIC_DISPATCH(placeGrid)(grid, lattice.step, lattice.start, lattice.anchor, range, out);
}

Spacing spacing(const Grid& grid) {
    const glm::vec3 step = stepsOf(grid).step;
    const float rows = step.x * grid.shift / 100, layers = step.z * grid.shift / 100;
    Spacing out;
    if (grid.count.x > 1) out.neighbours.push_back({{step.x, 0, 0}});
    if (grid.count.z > 1)
        for (const float along : {rows, -rows, rows - step.x, step.x - rows}) out.neighbours.push_back({{along, 0, step.z}});
    if (grid.count.y > 1)
        for (const float along : {layers, -layers, layers - step.z, step.z - layers}) out.neighbours.push_back({{0, step.y, along}});
    return out;
}

FormationKind grid(FormationKind kind) {
    kind.count = [](const void* data, const FormationSource& source) { return countHomes(*static_cast<const Grid*>(data), source); };
    kind.make = [](const void* data, const FormationSource& source) { return makeHomes(*static_cast<const Grid*>(data), source); };
    kind.stored = [](const void* data) {
        const auto& g = *static_cast<const Grid*>(data);
        return g.fill != GridFill::box || g.shift != 0;
    };
    kind.lattice = [](const void* data) {
        const auto& g = *static_cast<const Grid*>(data);
        return Lattice{g.count, stepsOf(g).anchor};
    };
    return kind;
}

}  // namespace

const FormationKind gridFormation =
    sampled(grid(makes(DescribeFormation<Grid>("grid", "Grid", "Rows, sheets or blocks of instances")
                           .found("array rows columns matrix lattice block wall floor")
                           .wholes("count", &Grid::count, {10, 1, 10}, {1, 200}, "How many along X, Y and Z; 1 leaves that direction out")
                           .hard(1, 1e6)
                           .choice("measure", &Grid::measure, {{"spacing", "Spacing"}, {"overall", "Overall size"}},
                                   "Whether the step or the whole is given")
                           .length("spacing", &Grid::spacing, {1.25, 1.25, 1.25}, {0, 4}, "From one home to the next")
                           .only("measure", {"spacing"})
                           .length("overall", &Grid::overall, {10, 10, 10}, {0, 40}, "From the first home to the last")
                           .only("measure", {"overall"})
                           .choice("anchor", &Grid::anchor, {{"centre", "Centre"}, {"corner", "Corner"}}, "What stays when a count changes")
                           .choice("fill", &Grid::fill, {{"box", "Box"}, {"ball", "Ball"}, {"tube", "Tube"}}, "The form that is filled")
                           .number("shift", &Grid::shift, 0, {0, 100}, "How far every second row is moved along, in percent of the step")
                           .unit("%")
                           .hard(-100, 100),
                       wholeCount, place, spacing)),
            {{"count", fixedNumbers({6, 3, 6})}});

}  // namespace gswarm
#endif
