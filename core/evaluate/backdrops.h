#pragma once
#include <glm/vec4.hpp>
#include <memory>
#include <vector>

#include "core/evaluate/home_plan.h"
#include "core/evaluate/shapes.h"

namespace gswarm {

/// A shape that is itself seen, because its own switch says so.
struct Backdrop {
    ObjectId shape;
    std::shared_ptr<const ShapeMeshes> meshes;
    WorldPose pose;
    glm::vec4 colour{1};  ///< linear
    bool dimmed = false;  ///< seen while working, left out of pictures and exports
};

/// The shapes that are seen with a swarm: those its formation stands on, where the swarm stands; those that only its
/// stock, gestures or other shapes use, with the first swarm that uses them; those that only a zone lies along, where the zone
/// is; and those that nothing uses, at the middle of the world, with the first swarm of all.
std::vector<Backdrop> backdropsOf(const Scene& scene, ObjectId swarm, double frame, const Shapes& shapes);

}  // namespace gswarm
