#pragma once
#include "core/flow/home_plan.h"
#include "core/scene/scene.h"
#include "core/shape/homes.h"

namespace gswarm {

class Store;
struct PlanOptions;

/// The homes of a formation with standing and order applied. Throws Error if there would be more than may be.
HomePlan prepareHomes(const Scene& scene, ObjectId swarm, const Object& formation, double frame, const PlanOptions& options, Store& store,
                      Progress& progress);

/// All homes of a plan in number order, as one list.
Homes listOf(const HomePlan& plan, Progress& progress);

/// How many instances a formation would have, and whether that is only near; nothing is made but the shapes it stands
/// on. May be beyond any limit.
struct CountTold {
    double count = 0;
    bool guess = false;
};
CountTold countOf(const Scene& scene, ObjectId swarm, const Object& formation, double frame, const PlanOptions& options, Store& store,
                  Progress& progress);

}  // namespace gswarm
