// The faces of another shape divided in four, again and again.
// E. Catmull, J. Clark: Recursively generated B-spline surfaces on arbitrary topological meshes, 1978; sharp edges as T. DeRose,
// M. Kass, T. Truong: Subdivision surfaces in character animation, 1998.
#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/error.h"
#include "core/base/precise.h"
#include "core/shape/polygons.h"
#include "core/shape/read_mesh.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

enum class DividedForm { rounded, kept };

struct Subdivided {
    ObjectId of;
    int times;
    DividedForm form;
    float crease;
};

/// A mesh of polygons on its way: each round makes one of four-sided faces.
struct Cage {
    std::vector<glm::vec3> places;
    Polygons faces;
    std::vector<bool> sharp;  ///< of each side of faces.sides
};

glm::vec3 normalOf(const Cage& cage, std::uint32_t face) {
    const auto corners = cage.faces.cornersOf(face);
    glm::vec3 sum(0);
    for (std::size_t k = 0; k < corners.size(); ++k)
        sum += glm::cross(cage.places[corners[k]] - cage.places[corners[0]],
                          cage.places[corners[(k + 1) % corners.size()]] - cage.places[corners[0]]);
    const float length = glm::length(sum);
    return length > 0 ? sum / length : glm::vec3(0);
}

/// Sides that stay as sharp as they are: rims, and where faces meet at more than the crease.
std::vector<bool> sharpSides(const Cage& cage, float creaseDegrees) {
    const auto least = static_cast<float>(precise::sineCosineOfTurns(double(creaseDegrees) / 360).cosine - 1e-6);
    std::vector<bool> sharp;
    for (const Polygons::Side& side : cage.faces.sides)
        sharp.push_back(side.faces[1] == noFace || side.more ||
                        glm::dot(normalOf(cage, side.faces[0]), normalOf(cage, side.faces[1])) < least);
    return sharp;
}

/// Where each corner goes: by how many of its sides are sharp it is smooth, on an edge, or a corner that stays.
std::vector<glm::vec3> movedCorners(const Cage& cage, const std::vector<glm::vec3>& faceMiddles) {
    const std::size_t count = cage.places.size();
    std::vector<glm::vec3> faces(count, glm::vec3(0)), sides(count, glm::vec3(0)), edges(count, glm::vec3(0));
    std::vector<int> faceCount(count), sideCount(count), sharpCount(count);
    for (std::uint32_t f = 0; f < cage.faces.count(); ++f)
        for (const std::uint32_t c : cage.faces.cornersOf(f)) faces[c] += faceMiddles[f], ++faceCount[c];
    for (std::size_t s = 0; s < cage.faces.sides.size(); ++s) {
        const auto& [a, b] = cage.faces.sides[s].corners;
        for (const auto& [from, to] : {std::pair{a, b}, std::pair{b, a}}) {
            sides[from] += cage.places[to], ++sideCount[from];
            if (cage.sharp[s]) edges[from] += cage.places[to], ++sharpCount[from];
        }
    }
    std::vector<glm::vec3> moved = cage.places;
    for (std::size_t c = 0; c < count; ++c) {
        if (sharpCount[c] == 2) {
            moved[c] = cage.places[c] * 0.75f + edges[c] * 0.125f;
        } else if (sharpCount[c] < 2 && sideCount[c] > 0) {
            const auto n = static_cast<float>(sideCount[c]);
            // Middles of sides are half the corner itself.
            const glm::vec3 middles = (sides[c] / n + cage.places[c]) * 0.5f;
            moved[c] = (faces[c] / static_cast<float>(faceCount[c]) + middles * 2.0f + cage.places[c] * (n - 3)) / n;
        }
    }
    return moved;
}

Cage divided(const Cage& cage, DividedForm form) {
    Cage next;
    std::vector<glm::vec3> middles;
    std::vector<glm::vec2> middleUv;
    for (std::uint32_t f = 0; f < cage.faces.count(); ++f) {
        const auto corners = cage.faces.cornersOf(f);
        const auto uv = cage.faces.uvOf(f);
        glm::vec3 sum(0);
        glm::vec2 across(0);
        for (std::size_t k = 0; k < corners.size(); ++k) sum += cage.places[corners[k]], across += uv[k];
        middles.push_back(sum / static_cast<float>(corners.size()));
        middleUv.push_back(across / static_cast<float>(corners.size()));
    }
    next.places = form == DividedForm::rounded ? movedCorners(cage, middles) : cage.places;
    const auto firstSide = static_cast<std::uint32_t>(next.places.size());
    for (std::size_t s = 0; s < cage.faces.sides.size(); ++s) {
        const Polygons::Side& side = cage.faces.sides[s];
        const glm::vec3 middle = (cage.places[side.corners[0]] + cage.places[side.corners[1]]) * 0.5f;
        const bool moves = form == DividedForm::rounded && !cage.sharp[s];
        next.places.push_back(moves ? middle * 0.5f + (middles[side.faces[0]] + middles[side.faces[1]]) * 0.25f : middle);
    }
    const auto firstFace = static_cast<std::uint32_t>(next.places.size());
    next.places.insert(next.places.end(), middles.begin(), middles.end());
    for (std::uint32_t f = 0; f < cage.faces.count(); ++f) {
        const auto corners = cage.faces.cornersOf(f);
        const auto uv = cage.faces.uvOf(f);
        const auto sides = cage.faces.sidesOf(f);
        const std::size_t n = corners.size();
        for (std::size_t k = 0; k < n; ++k) {
            const std::size_t before = (k + n - 1) % n, after = (k + 1) % n;
            const std::array quarter{corners[k], firstSide + sides[k], firstFace + f, firstSide + sides[before]};
            const std::array quarterUv{uv[k], (uv[k] + uv[after]) * 0.5f, middleUv[f], (uv[k] + uv[before]) * 0.5f};
            next.faces.add(quarter, quarterUv);
        }
    }
    next.faces.join();
    // Halves of a sharp side are sharp, and nothing else.
    for (const Polygons::Side& side : next.faces.sides) {
        const auto [low, high] = std::minmax(side.corners[0], side.corners[1]);
        next.sharp.push_back(low < firstSide && high >= firstSide && high < firstFace && cage.sharp[high - firstSide]);
    }
    return next;
}

ShapeForm make(const Subdivided& subdivided, const ShapeSource& source) {
    if (!subdivided.of) throw Error("Choose the shape whose faces are divided.");
    const auto from = source.shape(subdivided.of);
    Cage cage;
    cage.faces = polygonsOf(from->mesh(), cage.places);
    if (cage.faces.count() == 0) throw Error("The shape has no faces to divide.");
    const double corners = static_cast<double>(cage.faces.corners.size());
    if (corners * 2 * std::pow(4.0, subdivided.times - 1) > 20e6)
        throw Error("It would have more triangles than the limit of 20 million; divide it fewer times.");
    cage.sharp = sharpSides(cage, subdivided.crease);
    for (int round = 0; round < subdivided.times; ++round) {
        if (source.progress) source.progress->check();
        cage = divided(cage, subdivided.form);
    }
    Mesh mesh;
    for (std::uint32_t f = 0; f < cage.faces.count(); ++f) {
        const auto corners = cage.faces.cornersOf(f);
        const auto uv = cage.faces.uvOf(f);
        const auto first = static_cast<std::uint32_t>(mesh.positions.size());
        for (std::size_t k = 0; k < corners.size(); ++k) addVertex(mesh, cage.places[corners[k]], {0, 1, 0}, uv[k]);
        addFace(mesh, {first, first + 1, first + 2, first, first + 2, first + 3});
    }
    return {withNormals(mesh, subdivided.crease), {}, {}};
}

}  // namespace

const ShapeKind subdividedShape =
    makes(DescribeShape<Subdivided>("subdivided", "Subdivided", "Another shape with every face divided in four, rounded or as it is")
              .found("smooth subdivision finer denser catmull clark divide")
              .reference("of", &Subdivided::of, {ObjectType::shape}, "The shape whose faces are divided")
              .label("Shape")
              .needs(Needs::surface)
              .whole("times", &Subdivided::times, 2, {1, 5}, "How often; each makes four faces of one")
              .hard(1, 8)
              .choice("form", &Subdivided::form, {{"rounded", "Rounded"}, {"kept", "As it is"}},
                      "Rounded takes corners to where a smooth surface through the faces would be; as it is leaves all in place")
              .number("crease", &Subdivided::crease, 60, {0, 180}, "Edges sharper than this stay sharp; at 180 none does but rims")
              .unit("°")
              .hard(0, 180),
          make);

}  // namespace gswarm
