// A surface over several curves, from one to the next.
#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <tuple>

#include "core/base/error.h"
#include "core/shape/inside.h"
#include "core/shape/read_mesh.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

enum class LoftedWay { smooth, straight };

struct Lofted {
    ObjectId first, second, third, fourth, fifth, sixth;
    float apart;
    int columns, rows;
    LoftedWay way;
    bool ring, lids;
    float crease;
};

/// Places evenly along a curve: of a closed one as many as columns, of an open one one more.
std::vector<glm::vec3> placesAlong(const Curve& curve, int columns) {
    const MeasuredCurve measured(curve);
    std::vector<glm::vec3> places;
    for (int c = 0; c < columns + (curve.closed ? 0 : 1); ++c) places.push_back(measured.at(measured.length() * c / columns).place);
    return places;
}

float farApart(const std::vector<glm::vec3>& a, const std::vector<glm::vec3>& b, std::size_t shift, bool back) {
    float sum = 0;
    const std::size_t n = a.size();
    for (std::size_t k = 0; k < n; ++k) {
        const glm::vec3 away = a[k] - b[(back ? shift + n - k : shift + k) % n];
        sum += glm::dot(away, away);
    }
    return sum;
}

/// The same places begun and run through so that the way over from those before is shortest.
std::vector<glm::vec3> aligned(const std::vector<glm::vec3>& before, std::vector<glm::vec3> places, bool closed) {
    const std::size_t n = places.size();
    if (!closed) {
        auto turned = places;
        std::reverse(turned.begin(), turned.end());
        return farApart(before, turned, 0, false) < farApart(before, places, 0, false) ? turned : places;
    }
    // About their own middles: what lies far away is begun where it points alike.
    const auto centred = [](std::vector<glm::vec3> all) {
        glm::vec3 middle(0);
        for (const glm::vec3& p : all) middle += p / static_cast<float>(all.size());
        for (glm::vec3& p : all) p -= middle;
        return all;
    };
    const auto from = centred(before), to = centred(places);
    float least = 1e30f;
    std::size_t best = 0;
    bool back = false;
    for (const bool turned : {false, true})
        for (std::size_t shift = 0; shift < n; ++shift)
            if (const float apart = farApart(from, to, shift, turned); apart < least * 0.9999f) least = apart, best = shift, back = turned;
    std::vector<glm::vec3> out;
    for (std::size_t k = 0; k < n; ++k) out.push_back(places[(back ? best + n - k : best + k) % n]);
    return out;
}

/// Between the second and the third of four: a line, or the cubic of E. Catmull and R. Rom, A class of local interpolating splines, 1974.
glm::vec3 between(const std::array<glm::vec3, 4>& p, float t, LoftedWay way) {
    if (way == LoftedWay::straight) return glm::mix(p[1], p[2], t);
    const glm::vec3 leaves = (p[2] - p[0]) * 0.5f, arrives = (p[3] - p[1]) * 0.5f;
    const float t2 = t * t, t3 = t2 * t;
    return p[1] * (2 * t3 - 3 * t2 + 1) + leaves * (t3 - 2 * t2 + t) + p[2] * (3 * t2 - 2 * t3) + arrives * (t3 - t2);
}

struct Sections {
    std::vector<std::vector<glm::vec3>> all;
    bool closed = false;
};

Sections sectionsOf(const Lofted& lofted, const ShapeSource& source) {
    Sections sections;
    for (const ObjectId id : {lofted.first, lofted.second, lofted.third, lofted.fourth, lofted.fifth, lofted.sixth}) {
        if (!id) continue;
        const auto shape = source.shape(id);
        for (const Curve& curve : shape->curves) {
            if (curve.points.size() < 2) continue;
            if (!sections.all.empty() && curve.closed != sections.closed)
                throw Error("Some of its curves are closed and some are open; take all of one kind.");
            sections.closed = curve.closed;
            auto places = placesAlong(curve, lofted.columns);
            for (glm::vec3& p : places) p.y += lofted.apart * static_cast<float>(sections.all.size());
            sections.all.push_back(sections.all.empty() ? std::move(places)
                                                        : aligned(sections.all.back(), std::move(places), curve.closed));
        }
    }
    if (sections.all.size() < 2) throw Error("A loft needs two curves at least; choose another one.");
    return sections;
}

void addLid(Mesh& mesh, std::vector<glm::vec3> corners, bool turned) {
    if (turned) std::reverse(corners.begin(), corners.end());
    std::vector<std::uint32_t> lid;
    glm::vec3 middle(0);
    for (const glm::vec3& p : corners) middle += p / static_cast<float>(corners.size());
    const glm::vec3 across = glm::normalize(corners.front() - middle + glm::vec3(1e-12f, 0, 0));
    glm::vec3 up(0);
    for (std::size_t k = 0; k < corners.size(); ++k) up += glm::cross(corners[k] - middle, corners[(k + 1) % corners.size()] - middle);
    const glm::vec3 aside = glm::length(up) > 0 ? glm::cross(glm::normalize(up), across) : glm::vec3(0, 1, 0);
    for (const glm::vec3& p : corners)
        lid.push_back(addVertex(mesh, p, {0, 1, 0}, {glm::dot(p - middle, across), glm::dot(p - middle, aside)}));
    addPolygon(mesh, lid);
}

ShapeForm make(const Lofted& lofted, const ShapeSource& source) {
    const Sections sections = sectionsOf(lofted, source);
    const auto& all = sections.all;
    const auto count = static_cast<int>(all.size());
    const bool ring = lofted.ring && count > 2;
    const int spans = ring ? count : count - 1, rows = spans * lofted.rows;
    const auto section = [&](int k) -> const std::vector<glm::vec3>& {
        return all[static_cast<std::size_t>(ring ? (k + count) % count : std::clamp(k, 0, count - 1))];
    };
    Mesh mesh;
    std::vector<glm::vec3> first, last;
    for (int row = 0; row <= rows; ++row) {
        const int span = std::min(row / lofted.rows, spans - 1);
        const float t = row == rows ? 1.0f : static_cast<float>(row - span * lofted.rows) / static_cast<float>(lofted.rows);
        for (int c = 0; c <= lofted.columns; ++c) {
            const auto at = static_cast<std::size_t>(sections.closed ? c % lofted.columns : c);
            // The last row of a ring is the first, to the bit.
            const glm::vec3 place =
                ring && row == rows
                    ? section(0)[at]
                    : between({section(span - 1)[at], section(span)[at], section(span + 1)[at], section(span + 2)[at]}, t, lofted.way);
            addVertex(mesh, place, {0, 1, 0},
                      {static_cast<float>(c) / static_cast<float>(lofted.columns), static_cast<float>(row) / static_cast<float>(rows)});
            if (row == 0 && c < lofted.columns) first.push_back(place);
            if (row == rows && c < lofted.columns) last.push_back(place);
        }
    }
    addGridFaces(mesh, 0, lofted.columns, rows);
    const bool lids = sections.closed && !ring && lofted.lids;
    if (lids) addLid(mesh, first, true), addLid(mesh, last, false);
    if ((lids || (ring && sections.closed)) && signedVolumeOf(mesh) < 0)
        for (std::size_t t = 0; t + 2 < mesh.triangles.size(); t += 3) std::swap(mesh.triangles[t + 1], mesh.triangles[t + 2]);
    return {withNormals(mesh, lofted.crease), {}, {}};
}

ShapeKind loftedKind() {
    DescribeShape<Lofted> d("lofted", "Lofted", "A surface over several curves, from one to the next");
    d.found("loft skin hull bridge surface between curves");
    const std::tuple<const char*, const char*, ObjectId Lofted::*> curves[] = {
        {"first", "First curve", &Lofted::first},    {"second", "Second curve", &Lofted::second}, {"third", "Third curve", &Lofted::third},
        {"fourth", "Fourth curve", &Lofted::fourth}, {"fifth", "Fifth curve", &Lofted::fifth},    {"sixth", "Sixth curve", &Lofted::sixth}};
    for (const auto& [id, label, curve] : curves) {
        d.reference(id, curve, {ObjectType::shape},
                    "A curve that it goes through; of a shape of several curves it goes through all of them")
            .needs(Needs::curve)
            .label(label);
        if (curve != &Lofted::first && curve != &Lofted::second) d.optional();
    }
    d.length("apart", &Lofted::apart, 1, {-2, 2},
             "Each is raised by so much beyond the one before; 0 for curves that lie apart by themselves")
        .hard(-1e4, 1e4);
    d.whole("columns", &Lofted::columns, 48, {3, 200}, "Faces along each curve")
        .hard(2, 4000)
        .whole("rows", &Lofted::rows, 12, {1, 60}, "Rows of faces from one curve to the next")
        .hard(1, 1000)
        .choice("way", &Lofted::way, {{"smooth", "Smooth"}, {"straight", "Straight"}},
                "From curve to curve in one sweep, or each by itself")
        .toggle("ring", &Lofted::ring, false, "Goes on from the last curve to the first, from three curves on")
        .label("Back to the first")
        .toggle("lids", &Lofted::lids, true, "Closed curves at its ends are filled")
        .only("ring", {"off"})
        .number("crease", &Lofted::crease, 40, {0, 180}, "Edges sharper than this stay sharp")
        .unit("°")
        .hard(0, 180);
    return makes(d, make);
}

}  // namespace

const ShapeKind loftedShape = loftedKind();

}  // namespace gswarm
