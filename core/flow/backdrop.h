#pragma once
#include <glm/vec4.hpp>
#include <memory>

#include "core/base/world_pose.h"
#include "core/scene/object_id.h"
#include "core/shape/shape_kind.h"

namespace gswarm {

/// A shape that is itself seen, because its own switch says so.
struct Backdrop {
    ObjectId shape;
    std::shared_ptr<const ShapeMeshes> meshes;
    WorldPose pose;
    glm::vec4 colour{1};  ///< linear
    bool dimmed = false;  ///< seen while working, left out of pictures and exports
};

}  // namespace gswarm
