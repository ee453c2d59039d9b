#pragma once
#include <glm/vec3.hpp>
#include <vector>

#include "core/shape/mesh.h"

namespace gswarm {

enum class ColliderForm { fitting, ball, box, tube, hull };

/// A simple solid that stands for a mesh where bodies meet, in the mesh's own metres.
struct Collider {
    ColliderForm form = ColliderForm::box;  ///< never `fitting`
    glm::vec3 centre{0};
    glm::vec3 half{0.5f};            ///< of the mesh's bounds: a ball's radii, a box's half sides, a tube's radii and half height along Y
    std::vector<glm::vec3> corners;  ///< of a hull, about the centre; none of other forms

    float volume() const;
};

/// The solid of a form around a mesh. For `fitting` the simplest one that lies within a sixteenth of the hull's surface: ball, box, tube
/// along Y, or else the hull. A mesh without triangles counts as the box of its bounds. A hull has at most 64 corners; of more those that
/// reach farthest in even directions stay.
Collider colliderOf(const Mesh& mesh, const Bounds& bounds, ColliderForm form);

}  // namespace gswarm
