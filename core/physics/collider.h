#pragma once
#include <glm/vec3.hpp>
#include <vector>

#include "core/shape/mesh.h"

namespace gswarm {

enum class ColliderForm { fitting, ball, box, tube, hull, hulls };

/// A simple solid that stands for a mesh where bodies meet, in the mesh's own metres.
struct Collider {
    ColliderForm form = ColliderForm::box;  ///< never `fitting`
    glm::vec3 centre{0};
    glm::vec3 half{0.5f};  ///< of the mesh's bounds: a ball's radii, a box's half sides, a tube's radii and half height along Y
    std::vector<std::vector<glm::vec3>> hulls;  ///< corners about the centre: of a hull one list, of hulls several, none of other forms

    float filled = 1;  ///< of hulls: by which share they fill their bounds

    float volume() const;
};

/// The solid of a form around a mesh. For `fitting` the simplest one that lies within a sixteenth of the hull's surface: ball, box, tube
/// along Y, or else the hull. A mesh without triangles counts as the box of its bounds. A hull has at most 64 corners; of more those that
/// reach farthest in even directions stay. Hulls follow a mesh of up to `mostTrianglesOfHulls` triangles to a fiftieth of its size; one
/// of more gets a single hull.
inline constexpr std::size_t mostTrianglesOfHulls = 3000;
Collider colliderOf(const Mesh& mesh, const Bounds& bounds, ColliderForm form);

/// Lines along its edges, or circles around what is round, in the mesh's own metres.
std::vector<std::vector<glm::vec3>> linesOf(const Collider& collider);

}  // namespace gswarm
