#include "core/shape/joined_mesh.h"

#include <algorithm>
#include <cmath>
#include <glm/gtc/matrix_inverse.hpp>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

/// Where each shape's share of the whole begins.
struct Share {
    std::size_t vertex, index;
    std::uint32_t face;
};

glm::vec3 unitOr(const glm::vec3& v, const glm::vec3& otherwise) {
    const float length = glm::length(v);
    return length > 0 ? v / length : otherwise;
}

void put(const StandingShape& shape, const Mesh& from, const std::vector<NamedNumbers>& numbers, const Share& at, Mesh& out) {
    const glm::mat3 turn(shape.stand);
    const float turned = glm::determinant(turn);
    const glm::mat3 forNormals = turned != 0 ? glm::inverseTranspose(turn) : turn;
    for (std::size_t v = 0; v < from.positions.size(); ++v) {
        const std::size_t to = at.vertex + v;
        out.positions[to] = glm::vec3(shape.stand * glm::vec4(from.positions[v], 1));
        const glm::vec3 normal = unitOr(forNormals * from.normals[v], from.normals[v]);
        out.normals[to] = normal;
        const glm::vec3 along = turn * from.tangents[v];
        out.tangents[to] = unitOr(along - normal * glm::dot(along, normal), from.tangents[v]);
        out.uv[to] = from.uv[v];
        out.colours[to] = from.colours.empty() ? shape.colour : shape.colour * from.colours[v];
    }
    for (std::size_t n = 0; n < numbers.size(); ++n)
        std::fill_n(out.numbers[n].numbers.begin() + static_cast<std::ptrdiff_t>(at.vertex), from.positions.size(),
                    numbers[n].numbers[shape.row]);
    const auto first = static_cast<std::uint32_t>(at.vertex);
    for (std::size_t t = 0; t + 2 < from.triangles.size(); t += 3) {
        const std::size_t second = turned < 0 ? 2 : 1;
        out.triangles[at.index + t] = first + from.triangles[t];
        out.triangles[at.index + t + 1] = first + from.triangles[t + second];
        out.triangles[at.index + t + 2] = first + from.triangles[t + 3 - second];
        out.faces[(at.index + t) / 3] = at.face + from.faces[t / 3];
    }
}

}  // namespace

Mesh joinedMesh(const SwarmShown& shown, int detail, Progress* progress) {
    const StandingShapes& shapes = shown.shapes;
    std::vector<Share> shares;
    Share next{};
    for (const StandingShape& shape : shapes) {
        const Mesh& mesh = *shape.meshes->level[static_cast<std::size_t>(detail)];
        shares.push_back(next);
        next.vertex += mesh.positions.size();
        next.index += mesh.triangles.size();
        next.face += mesh.faceCount();
    }
    if (next.index / 3 > mostTriangles)
        throw Error("Joined they would have " + std::to_string(next.index / 3) + " triangles, more than the limit of " +
                    std::to_string(mostTriangles) + "; repeat lighter shapes, or fewer.");
    Mesh out;
    out.positions.resize(next.vertex), out.normals.resize(next.vertex), out.tangents.resize(next.vertex);
    out.uv.resize(next.vertex), out.colours.resize(next.vertex);
    out.triangles.resize(next.index), out.faces.resize(next.index / 3);
    for (const NamedNumbers& named : shown.numbers) out.numbers.push_back({named.name, std::vector<float>(next.vertex)});
    forRanges(shapes.size(), 16, [&](std::size_t begin, std::size_t end) {
        for (std::size_t k = begin; k < end && !(progress && progress->cancelled()); ++k)
            put(shapes[k], *shapes[k].meshes->level[static_cast<std::size_t>(detail)], shown.numbers, shares[k], out);
    });
    if (progress) progress->check();
    return out;
}

}  // namespace gswarm
