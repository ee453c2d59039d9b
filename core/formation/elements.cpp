// One instance for each corner, edge or face of a mesh: the count follows the mesh.
#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/error.h"
#include "core/formation/surface_darts.h"
#include "core/shape/homes.h"
#include "core/shape/shape_kind.h"
#include "core/shape/topology.h"

namespace gswarm {
namespace {

enum class Element { faces, edges, corners };

struct Elements {
    ObjectId shape;
    Element element;
    bool fitSize;
};

std::shared_ptr<const ShapeMeshes> shapeOf(const Elements& e, const FormationSource& source) {
    if (!e.shape) throw Error("Choose the shape to stand on.");
    auto shape = source.shape(e.shape);
    meshOf(shape);
    return shape;
}

double count(const Elements& e, const FormationSource& source) {
    const auto shape = shapeOf(e, source);
    if (e.element == Element::faces) return shape->mesh().faceCount();
    const Topology topology = topologyOf(shape->mesh());
    return static_cast<double>(e.element == Element::edges ? topology.edges.size() : topology.places.size());
}

glm::vec3 unit(const glm::vec3& v, const glm::vec3& otherwise) {
    const float length = std::sqrt(glm::dot(v, v));
    return length > 0 ? v / length : otherwise;
}

/// Where on the ground's UV each stands.
void addGround(Homes& homes, const std::vector<glm::vec2>& uv) {
    for (const bool upward : {false, true}) {
        homes.extras.push_back({upward ? HomeExtra::What::groundV : HomeExtra::What::groundU, {}, {}, false, {}});
        for (const glm::vec2& at : uv) homes.extras.back().values.push_back(upward ? at.y : at.x);
    }
}

/// Middle, area and the sum of normals of every face.
struct FaceSums {
    std::vector<glm::vec3> middle, normal, tangent;
    std::vector<float> area;
};

FaceSums sumsOf(const Mesh& mesh) {
    FaceSums sums;
    const std::size_t faces = mesh.faceCount();
    sums.middle.resize(faces, glm::vec3(0));
    sums.normal.resize(faces, glm::vec3(0));
    sums.tangent.resize(faces, glm::vec3(0));
    sums.area.resize(faces, 0);
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
        const std::uint32_t* v = &mesh.triangles[3 * t];
        const glm::vec3 &a = mesh.positions[v[0]], &b = mesh.positions[v[1]], &c = mesh.positions[v[2]];
        const glm::vec3 normal = glm::cross(b - a, c - a);
        const float area = std::sqrt(glm::dot(normal, normal)) / 2;
        const std::uint32_t f = mesh.faces[t];
        sums.middle[f] += (a + b + c) * (area / 3);
        sums.normal[f] += normal;
        sums.tangent[f] += mesh.tangents[v[0]] + mesh.tangents[v[1]] + mesh.tangents[v[2]];
        sums.area[f] += area;
    }
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
        const std::uint32_t f = mesh.faces[t];
        if (sums.area[f] == 0) sums.middle[f] = mesh.positions[mesh.triangles[3 * t]];
    }
    for (std::size_t f = 0; f < faces; ++f) {
        if (sums.area[f] > 0) sums.middle[f] /= sums.area[f];
        sums.normal[f] = unit(sums.normal[f], {0, 1, 0});
    }
    return sums;
}

Homes onFaces(const Mesh& mesh, bool fit) {
    const FaceSums sums = sumsOf(mesh);
    Homes homes;
    for (std::size_t f = 0; f < sums.middle.size(); ++f) {
        homes.add(sums.middle[f], standingOn(sums.normal[f], sums.tangent[f]), f, fit ? std::sqrt(sums.area[f]) : 1);
    }
    std::vector<glm::vec2> uv(sums.middle.size(), glm::vec2(0));
    std::vector<float> parts(uv.size(), 0);
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t)
        for (int k = 0; k < 3; ++k)
            uv[mesh.faces[t]] += mesh.uv[mesh.triangles[3 * t + static_cast<std::size_t>(k)]], ++parts[mesh.faces[t]];
    for (std::size_t f = 0; f < uv.size(); ++f) uv[f] /= std::max(parts[f], 1.0f);
    addGround(homes, uv);
    return homes;
}

Homes onEdges(const Mesh& mesh, bool fit) {
    const Topology topology = topologyOf(mesh);
    const FaceSums sums = sumsOf(mesh);
    Homes homes;
    for (std::size_t e = 0; e < topology.edges.size(); ++e) {
        const Edge& edge = topology.edges[e];
        const glm::vec3 &a = topology.places[edge.from], &b = topology.places[edge.to];
        const glm::vec3 normal = sums.normal[edge.face] + (edge.other == noFace ? glm::vec3(0) : sums.normal[edge.other]);
        const glm::vec3 along = unit(b - a, {0, 0, 1});
        const glm::vec3 upright = unit(normal - along * glm::dot(along, normal), sums.normal[edge.face]);
        homes.add((a + b) * 0.5f, standingOn(upright, along), e, fit ? glm::distance(a, b) : 1);
    }
    return homes;
}

Homes onCorners(const Mesh& mesh, bool fit) {
    const Topology topology = topologyOf(mesh);
    std::vector<glm::vec3> normals(topology.places.size(), glm::vec3(0)), tangents(topology.places.size(), glm::vec3(0));
    std::vector<float> reach(topology.places.size(), 0);
    std::vector<int> sides(topology.places.size(), 0);
    for (std::size_t v = 0; v < mesh.positions.size(); ++v) {
        normals[topology.corner[v]] += mesh.normals[v];
        tangents[topology.corner[v]] += mesh.tangents[v];
    }
    for (const Edge& edge : topology.edges)
        for (const std::uint32_t corner : {edge.from, edge.to}) {
            reach[corner] += glm::distance(topology.places[edge.from], topology.places[edge.to]);
            ++sides[corner];
        }
    Homes homes;
    for (std::size_t c = 0; c < topology.places.size(); ++c) {
        homes.add(topology.places[c], standingOn(unit(normals[c], {0, 1, 0}), tangents[c]), c,
                  fit && sides[c] ? reach[c] / static_cast<float>(sides[c]) : 1);
    }
    addGround(homes, [&] {
        std::vector<glm::vec2> uv(topology.places.size());
        for (std::size_t v = mesh.positions.size(); v-- > 0;) uv[topology.corner[v]] = mesh.uv[v];
        return uv;
    }());
    for (const NamedNumbers& named : mesh.numbers) {
        homes.extras.push_back({HomeExtra::What::named, named.name, {}, false, std::vector<float>(topology.places.size())});
        for (std::size_t v = 0; v < mesh.positions.size(); ++v) homes.extras.back().values[topology.corner[v]] = named.numbers[v];
    }
    return homes;
}

Homes make(const Elements& e, const FormationSource& source) {
    const auto shape = shapeOf(e, source);
    static const std::array<Homes (*)(const Mesh&, bool), 3> makers = {onFaces, onEdges, onCorners};
    Homes homes = makers[static_cast<std::size_t>(e.element)](shape->mesh(), e.fitSize);
    for (std::size_t i = 0; i < homes.count(); ++i) homes.element.push_back(static_cast<std::uint32_t>(i));
    return homes;
}

FormationKind elementsKind() {
    FormationKind kind =
        stores(DescribeFormation<Elements>("elements", "Faces and corners", "One for every face, edge or corner of a mesh")
                   .found("vertices vertex points faces edges polygons corners mesh")
                   .reference("shape", &Elements::shape, {ObjectType::shape}, "The mesh they stand on")
                   .needs(Needs::faces)
                   .choice("element", &Elements::element, {{"faces", "Every face"}, {"edges", "Every edge"}, {"corners", "Every corner"}},
                           "What gets an instance each")
                   .label("One for")
                   .toggle("fitSize", &Elements::fitSize, false,
                           "Size follows the element: a face's width, an edge's length, a corner's mean distance to its neighbours")
                   .label("Follow size"),
               count, make);
    kind.corners = [](const void* data) {
        const auto& e = *static_cast<const Elements*>(data);
        return e.element == Element::corners ? e.shape : ObjectId{};
    };
    return kind;
}

}  // namespace

const FormationKind elementsFormation = elementsKind();

}  // namespace gswarm
