#include "core/shape/pieces.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <unordered_map>

#include "core/base/error.h"
#include "core/shape/homes.h"
#include "core/shape/topology.h"

namespace gswarm {
namespace {

/// Which piece each face belongs to.
std::vector<std::uint32_t> pieceOfFace(const Mesh& mesh, PieceMode mode, std::size_t& pieces) {
    if (mode == PieceMode::faces) {
        std::vector<std::uint32_t> out(mesh.faceCount());
        for (std::uint32_t f = 0; f < out.size(); ++f) out[f] = f;
        pieces = out.size();
        return out;
    }
    Topology topology = topologyOf(mesh);
    pieces = topology.components;
    return std::move(topology.component);
}

void placePiece(BrokenPiece& piece) {
    glm::dvec3 middle(0), normal(0), tangent(0);
    glm::dvec2 uv(0);
    double area = 0;
    const Mesh& m = piece.mesh;
    for (std::size_t t = 0; t < m.triangles.size(); t += 3) {
        const std::uint32_t* v = &m.triangles[t];
        const glm::dvec3 a(m.positions[v[0]]), b(m.positions[v[1]]), c(m.positions[v[2]]), n = glm::cross(b - a, c - a) * 0.5;
        const double here = std::sqrt(glm::dot(n, n));
        area += here;
        normal += n;
        middle += (a + b + c) * (here / 3);
        uv += glm::dvec2(m.uv[v[0]] + m.uv[v[1]] + m.uv[v[2]]) * (here / 3);
        tangent += glm::dvec3(m.tangents[v[0]]) * here;
    }
    piece.home = area > 0 ? glm::vec3(middle / area) : m.positions.front();
    piece.uvCentre = area > 0 ? glm::vec2(uv / area) : m.uv.front();
    const double length = std::sqrt(glm::dot(normal, normal));
    piece.rotation =
        length > 1e-3 * area && length > 0 ? standingOn(glm::vec3(normal / length), glm::vec3(tangent)) : glm::quat(1, 0, 0, 0);
    const glm::quat back = glm::conjugate(piece.rotation);
    for (auto& p : piece.mesh.positions) p = back * (p - piece.home);
    for (auto& n : piece.mesh.normals) n = back * n;
    for (auto& t : piece.mesh.tangents) t = back * t;
}

}  // namespace

std::size_t countPieces(const Mesh& mesh, PieceMode mode) {
    return mode == PieceMode::faces ? mesh.faceCount() : topologyOf(mesh).components;
}

std::vector<BrokenPiece> piecesOf(const Mesh& mesh, PieceMode mode, Progress* progress) {
    std::size_t count = 0;
    const auto pieceOf = pieceOfFace(mesh, mode, count);
    if (count > mostPieces)
        throw Error("It breaks into " + std::to_string(count) + " pieces, more than the limit of " + std::to_string(mostPieces) +
                    "; lower its divisions.");
    std::vector<BrokenPiece> pieces(count);
    std::unordered_map<std::uint64_t, std::uint32_t> made;
    std::uint32_t lastFace = noFace;
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
        if (progress && t % 65536 == 0) progress->check();
        const std::uint32_t number = pieceOf[mesh.faces[t]];
        Mesh& piece = pieces[number].mesh;
        const std::uint32_t face = mesh.faces[t] == lastFace ? piece.faceCount() - 1 : piece.faceCount();
        lastFace = mesh.faces[t];
        for (std::size_t k = 0; k < 3; ++k) {
            const std::uint32_t v = mesh.triangles[3 * t + k];
            const auto [entry, fresh] =
                made.try_emplace(static_cast<std::uint64_t>(number) << 32 | v, static_cast<std::uint32_t>(piece.positions.size()));
            if (fresh) {
                addVertex(piece, mesh.positions[v], mesh.normals[v], mesh.uv[v]);
                piece.tangents.push_back(mesh.tangents[v]);
                if (!mesh.colours.empty()) piece.colours.push_back(mesh.colours[v]);
            }
            piece.triangles.push_back(entry->second);
        }
        piece.faces.push_back(face);
    }
    for (BrokenPiece& piece : pieces) placePiece(piece);
    return pieces;
}

}  // namespace gswarm
