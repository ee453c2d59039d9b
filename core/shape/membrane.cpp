// A mesh whose corners a swarm carries.
#include <algorithm>

#include "core/base/error.h"
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

/// The sum of a face's normals around vertices, each weighted by its angle there.
HWY_INLINE Vector normalsAround(const Carried& carried, const Vector& own, const std::uint32_t* ring, std::size_t length) {
    using hn::Add, hn::Mul;
    const F zero = hn::Zero(Floats()), one = number(1), half = number(1.57079632679f);
    Vector sum{zero, zero, zero};
    Vector before{zero, zero, zero};
    for (std::size_t n = 0; n < length; ++n) {
        const Vector after = difference(cornersAt(carried, ring + CarriedRest::row * n), own);
        const Vector face = crossed(before, after);
        const F area = hn::Sqrt(dot(face, face)), cosine = dot(before, after);
        // The angle is the arc tangent of area by cosine: by the smaller of both, so that it is as exact at any angle.
        const F size = hn::Abs(cosine), larger = hn::Max(hn::Max(area, size), number(1e-30f));
        const F part = hn::Div(hn::Min(area, size), larger), square = Mul(part, part);
        // Abramowitz and Stegun 4.4.49 on 0 … 1, error below 2e-8 before rounding.
        F p = Add(Mul(square, number(0.0028662257f)), number(-0.0161657367f));
        p = Add(Mul(p, square), number(0.0429096138f));
        p = Add(Mul(p, square), number(-0.0752896400f));
        p = Add(Mul(p, square), number(0.1065626393f));
        p = Add(Mul(p, square), number(-0.1420889944f));
        p = Add(Mul(p, square), number(0.1999355085f));
        p = Add(Mul(p, square), number(-0.3333314528f));
        F angle = Mul(Add(Mul(p, square), one), part);
        angle = hn::IfThenElse(hn::Gt(area, size), hn::Sub(half, angle), angle);
        angle = hn::IfThenElse(hn::Lt(cosine, zero), hn::Sub(number(3.14159265359f), angle), angle);
        const F weight = hn::IfThenElseZero(hn::Gt(area, zero), hn::Div(angle, hn::Max(area, number(1e-37f))));
        sum = {Add(sum.x, Mul(face.x, weight)), Add(sum.y, Mul(face.y, weight)), Add(sum.z, Mul(face.z, weight))};
        before = after;
    }
    return sum;
}

HWY_INLINE Vector unitOr(const Vector& v, const Vector& otherwise) {
    const F length2 = dot(v, v), scale = hn::Div(number(1), hn::Sqrt(hn::Max(length2, number(1e-37f))));
    const auto none = hn::Le(length2, number(1e-30f));
    return {hn::IfThenElse(none, otherwise.x, hn::Mul(v.x, scale)), hn::IfThenElse(none, otherwise.y, hn::Mul(v.y, scale)),
            hn::IfThenElse(none, otherwise.z, hn::Mul(v.z, scale))};
}

void membraneLanes(const Carried& carried, const Mesh& base, std::size_t firstRow, std::size_t endRow, Mesh& out) {
    using hn::Mul, hn::Sub;
    const CarriedRest& rest = *carried.rest;
    for (std::size_t row = firstRow; row < endRow; ++row) {
        const std::uint32_t* ring = rest.ring.data() + CarriedRest::row * rest.ringStart[row];
        const std::size_t length = rest.ringStart[row + 1] - rest.ringStart[row];
        for (int k = 0; k < static_cast<int>(CarriedRest::row); k += lanes()) {
            const std::size_t v = CarriedRest::row * row + static_cast<std::size_t>(k);
            if (v >= base.positions.size()) break;
            const int here = static_cast<int>(std::min<std::size_t>(static_cast<std::size_t>(lanes()), base.positions.size() - v));
            const Vector own = cornersAt(carried, rest.corner.data() + v);
            const Vector normal = unitOr(normalsAround(carried, own, ring + k, length), loadTriples(base.normals.data() + v, here));
            const Vector was = loadTriples(base.tangents.data() + v, here);
            const F along = dot(was, normal);
            // A tangent along the normal says nothing: any direction across is as good.
            const auto flat = hn::Lt(hn::Abs(normal.x), number(0.9f));
            const F zero = hn::Zero(Floats());
            const Vector across =
                unitOr(crossed(normal, {hn::IfThenElse(flat, number(1), zero), hn::IfThenElse(flat, zero, number(1)), zero}),
                       {number(1), zero, zero});
            const Vector tangent =
                unitOr({Sub(was.x, Mul(normal.x, along)), Sub(was.y, Mul(normal.y, along)), Sub(was.z, Mul(normal.z, along))}, across);
            storeTriples(own, here, out.positions.data() + v);
            storeTriples(normal, here, out.normals.data() + v);
            storeTriples(tangent, here, out.tangents.data() + v);
        }
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(membraneLanes);

Mesh carriedMesh(const Carried& carried) {
    const CarriedRest& rest = *carried.rest;
    const Mesh& base = rest.base->mesh();
    Mesh mesh;
    mesh.uv = base.uv;
    mesh.triangles = base.triangles;
    mesh.faces = base.faces;
    for (auto* column : {&mesh.positions, &mesh.normals, &mesh.tangents}) column->resize(base.positions.size());
    if (!carried.colours.empty()) mesh.colours.resize(base.positions.size());
    forRanges(rest.rows(), 256, [&](std::size_t first, std::size_t end) {
        HWY_DYNAMIC_DISPATCH(membraneLanes)(carried, base, first, end, mesh);
        for (std::size_t v = CarriedRest::row * first; v < std::min(CarriedRest::row * end, mesh.colours.size()); ++v)
            mesh.colours[v] = carried.colours[rest.corner[v]];
    });
    return mesh;
}

namespace {

struct Membrane {
    ObjectId swarm;
};

ShapeForm make(const Membrane& membrane, const ShapeSource& source) {
    if (!membrane.swarm) throw Error("Choose the swarm that carries it: one that stands on every corner of a mesh.");
    return {carriedMesh(source.carried(membrane.swarm).make()), {}, {}};
}

ShapeKind membraneKind() {
    ShapeKind kind = makes(
        DescribeShape<Membrane>("membrane", "Membrane", "A mesh whose corners a swarm carries")
            .found("skin deform displace displacement vertices soft surface cloth relief terrain waves")
            .reference("swarm", &Membrane::swarm, {ObjectType::swarm},
                       "It stands on every corner of a mesh, and the membrane is that mesh, with each corner where its instance is. Where "
                       "gestures colour the instances, they colour the membrane")
            .label("Carried by"),
        make);
    kind.carrier = [](const void* data) { return static_cast<const Membrane*>(data)->swarm; };
    return kind;
}

}  // namespace

const ShapeKind membraneShape = membraneKind();

}  // namespace gswarm
#endif
