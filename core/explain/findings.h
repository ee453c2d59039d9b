#pragma once
#include <string>
#include <vector>

#include "core/flow/plan.h"
#include "core/provide/store.h"

namespace gswarm {

/// Something in a project that keeps a part of it from being seen, while everything else works on.
struct Finding {
    ObjectId object;       ///< where it hurts
    std::string sentence;  ///< for people, with the names
};

/// What is wrong with a sound project at a frame: files that have gone, references to what was deleted, swarms that can't
/// be made and cards that wait. Each swarm is prepared once; nothing is evaluated.
std::vector<Finding> findingsIn(const Scene& scene, double frame, const PlanOptions& options, Store& store, Progress& progress);

}  // namespace gswarm
