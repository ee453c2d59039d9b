#include "tests/core/meshes.h"
#include "core/kinds/registry.h"
#include "core/resolve/resolve.h"
#include "core/shape/shape_kind.h"

#include <cmath>
#include <glm/geometric.hpp>

namespace gswarm::making {

ShapeMeshes shape(const std::string& kindId, const Numbered& numbers, const Chosen& choices, const ShapeSource& source) {
    const Kind& kind = *findKind(Family::shape, kindId);
    Part part = standardPart(kind);
    for (const auto& [id, values] : numbers) {
        Numbers tracks;
        for (const double v : values) tracks.push_back({v});
        part.values.at(static_cast<std::size_t>(kind.indexOf(id))) = tracks;
    }
    for (const auto& [id, value] : choices) {
        Value& at = part.values.at(static_cast<std::size_t>(kind.indexOf(id)));
        if (std::holds_alternative<bool>(at))
            at = value == "on";
        else if (std::holds_alternative<ObjectId>(at))
            at = parseObjectId(value);
        else
            at = value;
    }
    const ResolvedPart maker = resolve(Scene{}, part, 0);
    return makeShape(static_cast<const ShapeKind&>(kind), maker.data.get(), source);
}

Mesh mesh(const std::string& kind, const Numbered& numbers, const Chosen& choices, const ShapeSource& source) {
    return shape(kind, numbers, choices, source).mesh();
}

double signedVolume(const Mesh& mesh) {
    double sum = 0;
    for (std::size_t t = 0; t < mesh.triangles.size(); t += 3) {
        const glm::dvec3 a(mesh.positions[mesh.triangles[t]]), b(mesh.positions[mesh.triangles[t + 1]]),
            c(mesh.positions[mesh.triangles[t + 2]]);
        sum += glm::dot(a, glm::cross(b, c)) / 6;
    }
    return sum;
}

ObjectId shapeNumber(std::uint64_t number) { return {static_cast<std::uint64_t>(ObjectType::shape) << 56 | number}; }

void expectClosed(const Mesh& mesh, const std::string& what) {
    const Topology topology = topologyOf(mesh);
    std::size_t rim = 0;
    for (const Edge& e : topology.edges) rim += e.other == noFace;
    EXPECT_EQ(rim, 0u) << what << " has " << rim << " open sides of " << topology.edges.size();
    EXPECT_GT(signedVolume(mesh), 0) << what << " is inside out";
}

void expectSound(const Mesh& mesh, const std::string& what) {
    ASSERT_FALSE(mesh.triangles.empty()) << what;
    ASSERT_EQ(mesh.normals.size(), mesh.positions.size()) << what;
    ASSERT_EQ(mesh.tangents.size(), mesh.positions.size()) << what;
    ASSERT_EQ(mesh.uv.size(), mesh.positions.size()) << what;
    ASSERT_EQ(mesh.faces.size(), mesh.triangleCount()) << what;
    for (std::size_t i = 0; i < mesh.positions.size(); ++i) {
        ASSERT_NEAR(glm::length(mesh.normals[i]), 1, 1e-4) << what << " vertex " << i;
        ASSERT_NEAR(glm::length(mesh.tangents[i]), 1, 1e-4) << what << " vertex " << i;
        ASSERT_NEAR(glm::dot(mesh.normals[i], mesh.tangents[i]), 0, 1e-3) << what << " vertex " << i;
        ASSERT_TRUE(std::isfinite(mesh.uv[i].x) && std::isfinite(mesh.uv[i].y)) << what << " vertex " << i;
    }
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
        const std::uint32_t* v = &mesh.triangles[3 * t];
        for (int k = 0; k < 3; ++k) ASSERT_LT(v[k], mesh.positions.size()) << what;
        const glm::vec3 face = glm::cross(mesh.positions[v[1]] - mesh.positions[v[0]], mesh.positions[v[2]] - mesh.positions[v[0]]);
        const glm::vec3 mean = mesh.normals[v[0]] + mesh.normals[v[1]] + mesh.normals[v[2]];
        if (glm::length(face) < 1e-8f) continue;  // slivers have no side
        ASSERT_GE(glm::dot(face, mean), -1e-6f * glm::length(face)) << what << " triangle " << t << " faces against its normals";
        ASSERT_TRUE(t == 0 || mesh.faces[t] == mesh.faces[t - 1] || mesh.faces[t] == mesh.faces[t - 1] + 1) << what;
    }
}

}  // namespace gswarm::making
