// A curve turned once around the upright axis.
#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/precise.h"
#include "core/shape/flat_profile.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

struct Revolved {
    ObjectId profile;
    int sides;
    float crease;
};

/// Distances from the axis and heights, so that outside is to the right: a closed curve counter-clockwise, an open one upward and
/// drawn on to the axis at both ends.
std::vector<glm::vec2> profileOf(const Curve& curve) {
    std::vector<glm::vec2> corners;
    for (const glm::vec3& p : curve.points) {
        const float away = std::hypot(p.x, p.z);
        const glm::vec2 corner(away < 1e-6f ? 0 : away, p.y);
        if (corners.empty() || corner != corners.back()) corners.push_back(corner);
    }
    if (curve.closed) {
        while (corners.size() > 1 && corners.back() == corners.front()) corners.pop_back();
        if (doubleArea(corners) < 0) std::reverse(corners.begin(), corners.end());
        return corners;
    }
    if (corners.empty()) return corners;
    // An arch that comes back down to the height it began at stands on the axis like any other.
    if (corners.front().y > corners.back().y) std::reverse(corners.begin(), corners.end());
    if (corners.front().x > 0) corners.insert(corners.begin(), {0, corners.front().y});
    if (corners.back().x > 0) corners.push_back({0, corners.back().y});
    return corners;
}

void addTurned(Mesh& mesh, const std::vector<glm::vec2>& corners, bool closed, int sides) {
    const auto first = static_cast<std::uint32_t>(mesh.positions.size()), width = static_cast<std::uint32_t>(sides) + 1;
    const std::vector<float> shares = sharesAlong(corners, closed);
    const auto corner = [&](std::size_t row) { return corners[row % corners.size()]; };
    for (std::size_t row = 0; row < shares.size(); ++row)
        for (int s = 0; s <= sides; ++s) {
            const auto turn = precise::sineCosineOfTurns(double(s % sides) / sides);
            const glm::vec2 p = corner(row);
            addVertex(mesh, {turn.sine * p.x, p.y, turn.cosine * p.x}, {0, 1, 0},
                      {static_cast<float>(s) / static_cast<float>(sides), shares[row]});
        }
    for (std::uint32_t row = 0; row + 1 < shares.size(); ++row)
        for (std::uint32_t s = 0; s + 1 < width; ++s) {
            const std::uint32_t a = first + row * width + s, b = a + width;
            const bool from = corner(row).x == 0, to = corner(row + 1).x == 0;
            if (from && to) continue;
            if (from)
                addFace(mesh, {a, b + 1, b});
            else if (to)
                addFace(mesh, {a, a + 1, b});
            else
                addFace(mesh, {a, a + 1, b + 1, a, b + 1, b});
        }
}

ShapeForm make(const Revolved& revolved, const ShapeSource& source) {
    if (!revolved.profile) throw Error("Choose the curve that is turned around.");
    Mesh mesh;
    const auto profile = source.shape(revolved.profile);
    for (const Curve& curve : profile->curves) {
        const auto corners = profileOf(curve);
        if (corners.size() > 2) addTurned(mesh, corners, curve.closed, revolved.sides);
    }
    if (mesh.triangles.empty()) throw Error("What is turned around is no curve, or one that lies on the axis alone; choose another one.");
    return {withNormals(mesh, revolved.crease), {}, {}};
}

}  // namespace

const ShapeKind revolvedShape =
    makes(DescribeShape<Revolved>("revolved", "Revolved", "A curve turned once around Y: vases, shells, bells")
              .found("lathe vase spin turned profile surface of revolution")
              .reference("profile", &Revolved::profile, {ObjectType::shape},
                         "The curve that is turned; an open one is closed with discs where it ends beside the axis")
              .needs(Needs::curve)
              .whole("sides", &Revolved::sides, 48, {3, 128}, "Faces around the axis")
              .hard(3, 1024)
              .number("crease", &Revolved::crease, 40, {0, 180}, "Edges sharper than this stay sharp")
              .unit("°")
              .hard(0, 180),
          make);

}  // namespace gswarm
