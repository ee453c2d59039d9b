#pragma once
#include <memory>

#include "core/base/world_pose.h"
#include "core/material/material.h"
#include "core/scene/object_id.h"
#include "core/shape/shape_kind.h"

namespace gswarm {

/// A shape that is itself seen, because its own switch says so.
struct Backdrop {
    ObjectId shape;
    std::shared_ptr<const ShapeMeshes> meshes;
    WorldPose pose;
    Look look;
    bool dimmed = false;  ///< seen while working, left out of pictures and exports
    bool alone = false;   ///< it is made of the swarm: seen also where the swarm's own switch is off
    bool copied = false;  ///< the swarm's symmetries copy it
};

}  // namespace gswarm
