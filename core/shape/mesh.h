#pragma once
#include <cstdint>
#include <glm/vec2.hpp>
#include <glm/vec3.hpp>
#include <vector>

namespace gswarm {

/// Triangles with one normal and UV per vertex. Metres; counter-clockwise from outside.
struct Mesh {
    std::vector<glm::vec3> positions;
    std::vector<glm::vec3> normals;        ///< unit length, as many as positions
    std::vector<glm::vec2> uv;             ///< as many as positions
    std::vector<std::uint32_t> triangles;  ///< three indices each
};

struct Bounds {
    glm::vec3 low{1e30f}, high{-1e30f};
    bool empty() const { return low.x > high.x; }
    glm::vec3 centre() const { return (low + high) * 0.5f; }
    glm::vec3 size() const { return high - low; }
};

Bounds boundsOf(const Mesh& mesh);

/// Appends a grid of quads: (columns + 1) × (rows + 1) vertices are already at `first`, row by row.
void addGridTriangles(Mesh& mesh, std::uint32_t first, int columns, int rows);

}  // namespace gswarm
