// A profile drawn along a curve.
#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/precise.h"
#include "core/shape/flat_profile.h"
#include "core/shape/read_mesh.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

enum class Section { round, curve };

struct Swept {
    ObjectId along, profile;
    Section section;
    float radius;
    int sides, steps;
    float start, end, twist, crease;  ///< percent, radians, degrees
};

std::vector<glm::vec2> sectionOf(const Swept& swept, const ShapeSource& source) {
    std::vector<glm::vec2> corners;
    if (swept.section == Section::curve) {
        if (!swept.profile) throw Error("Choose the curve that is the profile, or a round one.");
        const auto shape = source.shape(swept.profile);
        if (!shape->curves.empty()) corners = flatProfile(shape->curves.front());
        if (corners.empty()) throw Error("The profile is no curve that encloses something; choose a closed one, or a round profile.");
        return corners;
    }
    for (int s = 0; s < swept.sides; ++s) {
        const auto turn = precise::sineCosineOfTurns(double(s) / swept.sides);
        corners.emplace_back(swept.radius * turn.cosine, swept.radius * turn.sine);
    }
    return corners;
}

/// The last ring of a closed one is the first again, to the bit: it turns whole times, and is as wide at its end as at its start.
void sweep(Mesh& mesh, const Curve& curve, const std::vector<glm::vec2>& section, const Swept& swept) {
    const MeasuredCurve measured(curve);
    if (!(measured.length() > 0)) return;
    const auto first = static_cast<std::uint32_t>(mesh.positions.size());
    const auto columns = static_cast<int>(section.size());
    const std::vector<float> around = sharesAlong(section, true);
    constexpr double turn = 6.283185307179586;
    const double twist = measured.closed() ? std::round(swept.twist / turn) * turn : double(swept.twist);
    std::vector<glm::vec3> rings[2];
    for (int row = 0; row <= swept.steps; ++row) {
        const double t = measured.closed() && row == swept.steps ? 0 : double(row) / swept.steps;
        const double rises = measured.closed() ? 1 - std::abs(2 * t - 1) : t;
        const auto width = static_cast<float>((swept.start + (double(swept.end) - swept.start) * rises) / 100);
        const auto turned = precise::sineCosineOfTurns(twist * t / turn);
        const auto station = measured.smoothAt(t * measured.length());
        for (int c = 0; c <= columns; ++c) {
            const glm::vec2 p = section[static_cast<std::size_t>(c % columns)] * width;
            const glm::vec2 q(p.x * turned.cosine - p.y * turned.sine, p.x * turned.sine + p.y * turned.cosine);
            const glm::vec3 place = station.place + station.frame * glm::vec3(q, 0);
            addVertex(mesh, place, {0, 1, 0},
                      {around[static_cast<std::size_t>(c)], static_cast<float>(row) / static_cast<float>(swept.steps)});
            if (c < columns && (row == 0 || row == swept.steps)) rings[row > 0].push_back(place);
        }
    }
    addGridFaces(mesh, first, columns, swept.steps);
    if (measured.closed()) return;
    std::reverse(rings[0].begin(), rings[0].end());
    for (int end = 0; end < 2; ++end) {
        std::vector<std::uint32_t> cap;
        for (std::size_t c = 0; c < rings[end].size(); ++c) {
            const glm::vec2 p = section[end == 0 ? rings[end].size() - 1 - c : c];
            cap.push_back(addVertex(mesh, rings[end][c], {0, 1, 0}, p));
        }
        addPolygon(mesh, cap);
    }
}

ShapeForm make(const Swept& swept, const ShapeSource& source) {
    if (!swept.along) throw Error("Choose the curve that the profile is drawn along.");
    const auto section = sectionOf(swept, source);
    Mesh mesh;
    const auto along = source.shape(swept.along);
    for (const Curve& curve : along->curves) sweep(mesh, curve, section, swept);
    if (mesh.triangles.empty()) throw Error("What it is drawn along is no curve; choose a line, a path, a circle or a helix.");
    return {withNormals(mesh, swept.crease), {}, {}};
}

}  // namespace

const ShapeKind sweptShape = makes(
    DescribeShape<Swept>("swept", "Swept", "A profile drawn along a curve: cables, ribbons, horns, frames")
        .found("pipe tube extrude path sweep horn ribbon cable")
        .reference("along", &Swept::along, {ObjectType::shape}, "The curve that the profile is drawn along, with frames that never flip")
        .needs(Needs::curve)
        .choice("section", &Swept::section, {{"round", "Round"}, {"curve", "A curve"}}, "What is drawn along it")
        .label("Profile")
        .length("radius", &Swept::radius, 0.2, {0.01, 2}, "Of the round profile")
        .hard(1e-6, 1e5)
        .only("section", {"round"})
        .whole("sides", &Swept::sides, 16, {3, 64}, "Faces around the round profile")
        .hard(3, 1024)
        .only("section", {"round"})
        .reference("profile", &Swept::profile, {ObjectType::shape}, "Its outline, in the plane that it lies in; it is closed if it is not")
        .needs(Needs::curve)
        .only("section", {"curve"})
        .label("Curve")
        .whole("steps", &Swept::steps, 96, {2, 400}, "Rows along the curve")
        .hard(1, 20000)
        .number("start", &Swept::start, 100, {0, 200}, "How wide it is where it begins")
        .unit("%")
        .hard(-1e5, 1e5)
        .label("Width at the start")
        .number("end", &Swept::end, 100, {0, 200}, "How wide it is where it ends; halfway round a closed curve")
        .unit("%")
        .hard(-1e5, 1e5)
        .label("Width at the end")
        .angle("twist", &Swept::twist, 0, {-720, 720}, "From start to end, about the curve; whole turns on a closed one")
        .number("crease", &Swept::crease, 40, {0, 180}, "Edges sharper than this stay sharp")
        .unit("°")
        .hard(0, 180),
    make);

}  // namespace gswarm
