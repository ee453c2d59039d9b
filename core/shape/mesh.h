#pragma once
#include <cstdint>
#include <glm/vec2.hpp>
#include <glm/vec3.hpp>
#include <glm/vec4.hpp>
#include <initializer_list>
#include <span>
#include <vector>

#include "core/shape/named_numbers.h"

namespace gswarm {

/// Triangles with one normal, tangent and UV per vertex. Metres; counter-clockwise from outside. Vertices are repeated
/// where normals or UV differ; topology.h tells which of them are one corner.
struct Mesh {
    std::vector<glm::vec3> positions;
    std::vector<glm::vec3> normals;        ///< unit length, as many as positions
    std::vector<glm::vec3> tangents;       ///< unit length, toward growing u, at a right angle to the normal
    std::vector<glm::vec2> uv;             ///< as many as positions
    std::vector<glm::vec4> colours;        ///< linear light with straight alpha, as many as positions; empty: white
    std::vector<std::uint32_t> triangles;  ///< three indices each
    std::vector<std::uint32_t> faces;      ///< which polygon each triangle is a part of, ascending from 0
    /// Of what is made of a swarm: its named values, a number of each vertex. Meshes that are cut or refined from it have none.
    std::vector<NamedNumbers> numbers;

    std::size_t triangleCount() const { return triangles.size() / 3; }
    std::uint32_t faceCount() const { return faces.empty() ? 0 : faces.back() + 1; }
};

struct Bounds {
    glm::vec3 low{1e30f}, high{-1e30f};
    bool empty() const { return low.x > high.x; }
    glm::vec3 centre() const { return (low + high) * 0.5f; }
    glm::vec3 size() const { return high - low; }
    void add(const glm::vec3& p);
};

Bounds boundsOf(const Mesh& mesh);

/// A named value at a place of a triangle, (1 − b − c, b, c) of its corners; 0 where the vertices don't have it.
float numberAt(const Mesh& mesh, const std::string& value, std::uint32_t triangle, float b, float c);

/// Appends a vertex and returns its index.
std::uint32_t addVertex(Mesh& mesh, const glm::vec3& position, const glm::vec3& normal, const glm::vec2& uv);
/// Appends one face made of triangles over vertices that are there: three indices a triangle.
void addFace(Mesh& mesh, std::initializer_list<std::uint32_t> triangles);
/// Appends a grid of quads: (columns + 1) × (rows + 1) vertices are already at `first`, row by row.
void addGridFaces(Mesh& mesh, std::uint32_t first, int columns, int rows);
/// Appends a flat convex polygon with vertices of its own; UV cover its bounds.
void addFlatPolygon(Mesh& mesh, std::span<const glm::vec3> corners);
/// Appends everything of another mesh behind what is there.
void append(Mesh& mesh, const Mesh& more);

/// Fills the tangents in from UV; where UV say nothing, any direction along the surface. Replaces what was there.
void addTangents(Mesh& mesh);

/// The triangles with vertices of their own wherever neighbouring faces meet at more than `creaseDegrees`: smooth
/// within, sharp across. Positions are compared exactly. Keeps UV, colours and faces; normals are made anew, weighted
/// by the angle at the corner.
Mesh withNormals(const Mesh& mesh, float creaseDegrees);

}  // namespace gswarm
