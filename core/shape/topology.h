#pragma once
#include <cstdint>
#include <vector>

#include "core/shape/mesh.h"

namespace gswarm {

/// A side shared by faces, or the rim of one. Edges inside a polygon don't count.
struct Edge {
    std::uint32_t from, to;  ///< corners
    std::uint32_t face;      ///< on the left when going from → to
    std::uint32_t other;     ///< the face that goes to → from, or noFace at a rim
};
inline constexpr std::uint32_t noFace = ~0u;

/// How a mesh hangs together once vertices that lie at the same place count as one corner.
struct Topology {
    std::vector<std::uint32_t> corner;  ///< of each vertex
    std::vector<glm::vec3> places;      ///< of each corner, in the order in which vertices first name them
    std::vector<Edge> edges;
    std::uint32_t faces = 0;
    std::vector<std::uint32_t> component;  ///< of each face: connected over edges, numbered by their first face
    std::uint32_t components = 0;

    /// No rim: every side has another face on its other side.
    bool closed() const;
};

/// Vertices nearer than a millionth of the mesh's size are one corner.
Topology topologyOf(const Mesh& mesh);

/// The corners around each face, counter-clockwise from outside; a face with holes or in several bits gives its
/// longest loop.
std::vector<std::vector<std::uint32_t>> facePolygons(const Mesh& mesh, const Topology& topology);

/// Mesh of the middles of faces around each corner: every corner becomes a face. Corners on a rim are left out. The
/// source of an algorithm is Euler's duality; faces keep the order of the corners.
Mesh dualOf(const Mesh& mesh);

}  // namespace gswarm
