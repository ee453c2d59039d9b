#include "core/prepare/instances.h"

#include <cmath>

#include "core/base/error.h"
#include "core/base/precise.h"
#include "core/flow/finish.h"
#include "core/flow/flow.h"
#include "core/flow/result.h"
#include "core/provide/store.h"
#include "core/shape/ray_targets.h"

namespace gswarm {
namespace {

Homes inWorld(const Scene& scene, const Plan& plan, Store& store, Progress& progress) {
    const WorldPose& pose = plan.pose;
    FlowSpace& space = store.spaces().local();
    Homes homes;
    for (int b = 0; b < plan.blocks(); ++b) {
        progress.check();
        runBlock(plan, b, space);
        const Block& block = space.block;
        for (int i = 0; i < block.count; ++i) {
            const glm::vec3 p(block.position.x[i], block.position.y[i], block.position.z[i]);
            if (!shownAt(plan, block, i)) continue;
            const float volume = block.scale.x[i] * block.scale.y[i] * block.scale.z[i];
            const glm::quat turn(block.rotation.w[i], block.rotation.x[i], block.rotation.y[i], block.rotation.z[i]);
            homes.add(pose.toWorld(p), pose.rotation * turn, static_cast<std::uint64_t>(block.home.idHigh[i]) << 32 | block.home.idLow[i],
                      static_cast<float>(precise::power(volume, 1.0 / 3)) * pose.scale);
        }
    }
    if (homes.count() == 0) throw Error("“" + scene.at(plan.swarm).name + "” shows no instance at this frame.");
    return homes;
}

Plan wholeOf(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, Store& store, Progress& progress) {
    if (!scene.find(swarm)) throw Error("The swarm it stands on was deleted; choose another one.");
    PlanOptions whole;
    whole.projectFolder = options.projectFolder;
    whole.backdrops = false;
    return prepare(scene, swarm, frame, whole, store, progress);
}

StandingShapes shapesInWorld(const Scene& scene, const Plan& plan, Store& store, Progress& progress) {
    FlowSpace& space = store.spaces().local();
    std::vector<Placement> placements(static_cast<std::size_t>(plan.count));
    StandingShapes shapes;
    for (int b = 0; b < plan.blocks(); ++b) {
        progress.check();
        runBlock(plan, b, space);
        placeBlock(plan, space.block, placements);
        for (int i = 0; i < space.block.count; ++i) {
            const Variant& variant = plan.stock.variants[space.block.variant[i]];
            if (variant.lamp || !shownAt(plan, space.block, i)) continue;
            const Placement& p = placements[static_cast<std::size_t>(space.block.first + i)];
            shapes.push_back(
                {variant.meshes, plan.pose.toWorld(p.translation), plan.pose.rotation * p.rotation, p.scale * plan.pose.scale});
        }
    }
    if (shapes.empty()) throw Error("“" + scene.at(plan.swarm).name + "” shows no shape at this frame.");
    return shapes;
}

}  // namespace

InstancesShown instancesShown(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, Store& store,
                              Progress& progress) {
    const Plan plan = wholeOf(scene, swarm, frame, options, store, progress);
    const std::function<std::shared_ptr<const Homes>()> make = [&] {
        return std::make_shared<const Homes>(inWorld(scene, plan, store, progress));
    };
    ContentHash key;
    key.add("instances");
    key.add(plan.hash);
    return {plan.hash ? store.get<Homes>(key.value(), make, [](const Homes& h) { return h.bytes(); }) : make(), plan.hash};
}

ShownShapes shapesShown(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, Store& store, Progress& progress) {
    const Plan plan = wholeOf(scene, swarm, frame, options, store, progress);
    const std::function<std::shared_ptr<const StandingShapes>()> make = [&] {
        return std::make_shared<const StandingShapes>(shapesInWorld(scene, plan, store, progress));
    };
    ContentHash key;
    key.add("shapes shown");
    key.add(plan.hash);
    const auto bytes = [](const StandingShapes& shapes) { return shapes.size() * sizeof(StandingShape); };
    return {plan.hash ? store.get<StandingShapes>(key.value(), make, bytes) : make(), plan.hash};
}

void addPose(ContentHash& hash, const WorldPose& pose) {
    for (const float v : {pose.position.x, pose.position.y, pose.position.z, pose.rotation.x, pose.rotation.y, pose.rotation.z,
                          pose.rotation.w, pose.scale})
        hash.add(double(v));
}

}  // namespace gswarm
