// A mesh whose corners a swarm carries.
#include <algorithm>

#include "core/base/parallel.h"
#include "core/shape/carried.h"
#include "core/shape/shape_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/shape/membrane.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

HWY_INLINE Vector difference(const Vector& a, const Vector& b) { return {hn::Sub(a.x, b.x), hn::Sub(a.y, b.y), hn::Sub(a.z, b.z)}; }
HWY_INLINE Vector crossed(const Vector& a, const Vector& b) {
    using hn::Mul, hn::Sub;
    return {Sub(Mul(a.y, b.z), Mul(a.z, b.y)), Sub(Mul(a.z, b.x), Mul(a.x, b.z)), Sub(Mul(a.x, b.y), Mul(a.y, b.x))};
}
HWY_INLINE Vector cornersAt(const Carried& carried, const std::uint32_t* which) {
    const I index = hn::BitCast(Wholes(), hn::LoadU(Words(), which));
    return {hn::GatherIndex(Floats(), carried.x.data(), index), hn::GatherIndex(Floats(), carried.y.data(), index),
            hn::GatherIndex(Floats(), carried.z.data(), index)};
}
/// The same where they follow each other, which is most of the time and much quicker.
HWY_INLINE Vector cornersFrom(const Carried& carried, std::uint32_t first) {
    return {hn::LoadU(Floats(), carried.x.data() + first), hn::LoadU(Floats(), carried.y.data() + first),
            hn::LoadU(Floats(), carried.z.data() + first)};
}
/// Those of the vertices that there are, three numbers each.
HWY_INLINE Vector loadTriples(const glm::vec3* from, int count) {
    Vector v;
    alignas(64) float all[3 * 16] = {};
    const auto* numbers = reinterpret_cast<const float*>(from);
    if (count < lanes()) numbers = std::copy_n(numbers, 3 * count, all) - 3 * count;
    hn::LoadInterleaved3(Floats(), numbers, v.x, v.y, v.z);
    return v;
}
HWY_INLINE void storeTriples(const Vector& v, int count, glm::vec3* to) {
    auto* numbers = reinterpret_cast<float*>(to);
    if (count >= lanes()) return hn::StoreInterleaved3(v.x, v.y, v.z, Floats(), numbers);
    alignas(64) float all[3 * 16];
    hn::StoreInterleaved3(v.x, v.y, v.z, Floats(), all);
    std::copy_n(all, 3 * count, numbers);
}

/// 1 / sqrt of a positive number, error below 5e-6: a first guess from its bits (C. Lomont, Fast inverse square root, 2003) and two
/// steps of Newton, the same on every processor.
HWY_INLINE F inverseRoot(F x) {
    using hn::Mul, hn::Sub;
    const F half = Mul(x, number(0.5f));
    F y = hn::BitCast(Floats(), hn::Sub(hn::Set(Words(), 0x5F375A86u), hn::ShiftRight<1>(hn::BitCast(Words(), x))));
    for (int k = 0; k < 2; ++k) y = Mul(y, Sub(number(1.5f), Mul(Mul(half, y), y)));
    return y;
}

/// acos(c) / sqrt(1 − c²) for c in 0 … 1: a polynomial through the nodes of Chebyshev, error below 8e-7.
HWY_INLINE F angleBySine(F c) {
    constexpr float terms[] = {0.135951283f, -0.323932017f, 0.509054596f, -0.648626993f, 0.78329788f, -0.999903565f, 1.57079558f};
    F p = number(-0.0266371514f);
    for (const float term : terms) p = hn::Add(hn::Mul(p, c), number(term));
    return p;
}

/// The sum of the faces' normals around vertices, each weighted by its angle there: of unit sides, the cross product is as long as
/// the sine of the angle.
HWY_INLINE Vector normalsAround(const Carried& carried, const Vector& own, const CarriedRest::Ring& around, const std::uint32_t* ring,
                                int k) {
    using hn::Add, hn::Mul;
    const F zero = hn::Zero(Floats()), one = number(1);
    Vector sum{zero, zero, zero}, before = sum;
    for (std::uint32_t n = 0; n < around.length; ++n) {
        const bool follow = n < 64 && (around.straight >> n & 1);
        Vector after = difference(follow ? cornersFrom(carried, *ring + static_cast<std::uint32_t>(k)) : cornersAt(carried, ring + k), own);
        ring += follow ? 1 : CarriedRest::row;
        // Of no length where it leads to the vertex itself: then the scale does not matter.
        const F scale = inverseRoot(hn::Max(dot(after, after), number(1e-30f)));
        after = {Mul(after.x, scale), Mul(after.y, scale), Mul(after.z, scale)};
        const Vector face = crossed(before, after);
        const F cosine = dot(before, after);
        F weight = angleBySine(hn::Min(hn::Abs(cosine), one));
        const auto obtuse = hn::Lt(cosine, zero);
        if (!hn::AllFalse(Floats(), obtuse)) {
            const F sine = inverseRoot(hn::Max(hn::Sub(one, Mul(cosine, cosine)), number(1e-10f)));
            weight = hn::IfThenElse(obtuse, hn::Sub(Mul(number(3.14159265359f), sine), weight), weight);
        }
        sum = {Add(sum.x, Mul(face.x, weight)), Add(sum.y, Mul(face.y, weight)), Add(sum.z, Mul(face.z, weight))};
        before = after;
    }
    return sum;
}

HWY_INLINE Vector unitOr(const Vector& v, const Vector& otherwise) {
    const F length2 = dot(v, v), scale = hn::Div(number(1), hn::Sqrt(hn::Max(length2, number(1e-37f))));
    const auto none = hn::Le(length2, number(1e-20f));
    return {hn::IfThenElse(none, otherwise.x, hn::Mul(v.x, scale)), hn::IfThenElse(none, otherwise.y, hn::Mul(v.y, scale)),
            hn::IfThenElse(none, otherwise.z, hn::Mul(v.z, scale))};
}

void membraneLanes(const CarriedRest& rest, const Carried& carried, std::size_t firstRow, std::size_t endRow, Mesh& out, Bounds& bounds) {
    using hn::Mul, hn::Sub;
    const Mesh& base = rest.base->mesh();
    Vector low{number(1e30f), number(1e30f), number(1e30f)}, high{hn::Neg(low.x), hn::Neg(low.y), hn::Neg(low.z)};
    for (std::size_t row = firstRow; row < endRow; ++row) {
        const CarriedRest::Ring& around = rest.rings[row];
        const std::uint32_t* ring = rest.ring.data() + around.start;
        for (int k = 0; k < static_cast<int>(CarriedRest::row); k += lanes()) {
            const std::size_t v = CarriedRest::row * row + static_cast<std::size_t>(k);
            if (v >= base.positions.size()) break;
            const int here = static_cast<int>(std::min<std::size_t>(static_cast<std::size_t>(lanes()), base.positions.size() - v));
            const Vector own = cornersAt(carried, rest.corner.data() + v);
            const Vector sum = normalsAround(carried, own, around, ring, k);
            const F length2 = dot(sum, sum);
            Vector normal;
            if (hn::AllTrue(Floats(), hn::Gt(length2, number(1e-20f)))) {
                const F scale = hn::Div(number(1), hn::Sqrt(length2));
                normal = {Mul(sum.x, scale), Mul(sum.y, scale), Mul(sum.z, scale)};
            } else {
                normal = unitOr(sum, loadTriples(base.normals.data() + v, here));
            }
            const Vector was = loadTriples(base.tangents.data() + v, here);
            const F along = dot(was, normal);
            Vector tangent{Sub(was.x, Mul(normal.x, along)), Sub(was.y, Mul(normal.y, along)), Sub(was.z, Mul(normal.z, along))};
            const F across2 = dot(tangent, tangent);
            if (hn::AllTrue(Floats(), hn::Gt(across2, number(1e-20f)))) {
                const F scale = hn::Div(number(1), hn::Sqrt(across2));
                tangent = {Mul(tangent.x, scale), Mul(tangent.y, scale), Mul(tangent.z, scale)};
            } else {
                // One along the normal says nothing: any direction across is as good.
                const F zero = hn::Zero(Floats()), one = number(1);
                const auto flat = hn::Lt(hn::Abs(normal.x), number(0.9f));
                const Vector aside{hn::IfThenElse(flat, one, zero), hn::IfThenElse(flat, zero, one), zero};
                tangent = unitOr(tangent, unitOr(crossed(normal, aside), {one, zero, zero}));
            }
            // Rows are filled up with the last vertex, which is inside already.
            low = {hn::Min(low.x, own.x), hn::Min(low.y, own.y), hn::Min(low.z, own.z)};
            high = {hn::Max(high.x, own.x), hn::Max(high.y, own.y), hn::Max(high.z, own.z)};
            storeTriples(own, here, out.positions.data() + v);
            storeTriples(normal, here, out.normals.data() + v);
            storeTriples(tangent, here, out.tangents.data() + v);
        }
    }
    const auto least = [](F v) { return hn::GetLane(hn::MinOfLanes(Floats(), v)); };
    const auto most = [](F v) { return hn::GetLane(hn::MaxOfLanes(Floats(), v)); };
    bounds.low = {least(low.x), least(low.y), least(low.z)};
    bounds.high = {most(high.x), most(high.y), most(high.z)};
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(membraneLanes);

Mesh carriedMesh(const CarriedRest& rest, const Carried& carried, Mesh mesh, Bounds& bounds) {
    const Mesh& base = rest.base->mesh();
    if (mesh.triangles.size() != base.triangles.size()) {
        mesh.uv = base.uv;
        mesh.triangles = base.triangles;
        mesh.faces = base.faces;
    }
    for (auto* column : {&mesh.positions, &mesh.normals, &mesh.tangents}) column->resize(base.positions.size());
    mesh.colours.resize(carried.colours.empty() ? 0 : base.positions.size());
    mesh.numbers.resize(carried.numbers.size());
    for (std::size_t n = 0; n < mesh.numbers.size(); ++n) {
        mesh.numbers[n].name = carried.numbers[n].name;
        mesh.numbers[n].numbers.resize(base.positions.size());
    }
    constexpr std::size_t grain = 256;  // rows
    std::vector<Bounds> ranges((rest.rows() + grain - 1) / grain);
    forEach(ranges.size(), [&](std::size_t range) {
        const std::size_t first = grain * range, end = std::min(first + grain, rest.rows());
        HWY_DYNAMIC_DISPATCH(membraneLanes)(rest, carried, first, end, mesh, ranges[range]);
        for (std::size_t v = CarriedRest::row * first; v < std::min(CarriedRest::row * end, mesh.colours.size()); ++v)
            mesh.colours[v] = carried.colours[rest.corner[v]];
        for (std::size_t n = 0; n < mesh.numbers.size(); ++n)
            for (std::size_t v = CarriedRest::row * first; v < std::min(CarriedRest::row * end, base.positions.size()); ++v)
                mesh.numbers[n].numbers[v] = carried.numbers[n].numbers[rest.corner[v]];
    });
    for (const Bounds& range : ranges) bounds.add(range.low), bounds.add(range.high);
    return mesh;
}

namespace {

struct Membrane {
    ObjectId swarm;
};

ShapeKind membraneKind() {
    DescribeShape<Membrane> d("membrane", "Membrane", "A mesh whose corners a swarm carries");
    d.found("skin deform displace displacement vertices soft surface cloth relief terrain waves")
        .reference("swarm", &Membrane::swarm, {ObjectType::swarm},
                   "It stands on every corner of a mesh, and the membrane is that mesh, with each corner where its instance is. Where "
                   "gestures colour the instances, they colour the membrane")
        .label("Carried by");
    ShapeKind kind = d.kind();
    kind.levels = false;
    kind.swarm = [](const void* data) { return static_cast<const Membrane*>(data)->swarm; };
    kind.carried = true;
    return kind;
}

}  // namespace

const ShapeKind membraneShape = membraneKind();

}  // namespace gswarm
#endif
