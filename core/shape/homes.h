#pragma once
#include <cstdint>
#include <glm/gtc/quaternion.hpp>
#include <string>
#include <vector>

#include "core/shape/mesh.h"

namespace gswarm {

/// What homes may bring along from a file, besides place, turn and size: one column of all of them.
struct HomeExtra {
    enum class What { scaleX, scaleY, scaleZ, red, green, blue, alpha, shown, named };
    What what;
    std::string name;           ///< of a named value
    std::vector<float> values;  ///< one a home; colours in linear light
};

/// Homes that are stored because they are slow to make. Swarm space, in number order. The rotation's +Y is the home
/// normal and its +Z the tangent.
struct Homes {
    std::vector<glm::vec3> position;     ///< metres
    std::vector<glm::quat> rotation;     ///< as many, or none where nothing is turned
    std::vector<float> size;             ///< as many, or none where all are 1
    std::vector<std::uint64_t> id;       ///< as many, each once
    std::vector<std::uint32_t> element;  ///< source face, edge, corner or piece; as many, or none
    std::vector<HomeExtra> extras;
    std::string note;  ///< something the person should know, one sentence

    std::size_t count() const { return position.size(); }
    std::size_t bytes() const;
    void add(const glm::vec3& place, const glm::quat& turn, std::uint64_t number);
};

/// The rotation whose +Y is a unit normal and whose +Z lies nearest to a tangent.
glm::quat standingOn(const glm::vec3& normal, const glm::vec3& tangent);

/// A point of a mesh that moves with it: (1 − b − c, b, c) of a triangle's corners.
struct SurfacePoint {
    std::uint32_t triangle;
    float b, c;
    std::uint64_t id;
};
using SurfacePoints = std::vector<SurfacePoint>;

/// Homes at points of a surface, turned to its smooth normals, with its tangents.
Homes homesOn(const Mesh& mesh, const SurfacePoints& points);
glm::vec3 placeOn(const Mesh& mesh, const SurfacePoint& point);

}  // namespace gswarm
