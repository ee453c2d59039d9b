#include "core/prepare/instances.h"

#include <cmath>

#include "core/base/error.h"
#include "core/base/precise.h"
#include "core/flow/finish.h"
#include "core/flow/flow.h"
#include "core/flow/result.h"
#include "core/flow/tree.h"
#include "core/prepare/run_plan.h"
#include "core/provide/store.h"
#include "core/shape/standing_shape.h"
#include "core/symmetry/copies.h"

namespace gswarm {
namespace {

/// Ids of copies are their own, and the same at every frame.
std::uint64_t idInCopy(std::uint64_t id, std::uint64_t copy) {
    ContentHash hash;
    hash.add("copy");
    hash.add(id);
    hash.add(copy);
    return hash.value();
}

/// Sees all blocks of a plan as its last card leaves them.
template <class See>
void eachBlock(const Plan& plan, Store& store, Progress& progress, const See& see) {
    FlowSpace& space = store.spaces().local();
    for (int b = 0; b < plan.blocks(); ++b) {
        progress.check();
        runBlock(plan, b, space);
        see(space.block);
    }
}

Homes inWorld(const Scene& scene, const Plan& plan, Store& store, Progress& progress) {
    const WorldPose& pose = plan.pose;
    const std::vector<CopyInWorld> copies = furtherCopies(plan.pose, plan.copies);
    Homes homes;
    std::vector<Homes> mirrored(copies.size());
    eachBlock(plan, store, progress, [&](const Block& block) {
        for (int i = 0; i < block.count; ++i) {
            const glm::vec3 p(block.position.x[i], block.position.y[i], block.position.z[i]);
            if (!shownAt(plan, block, i)) continue;
            const float volume = block.scale.x[i] * block.scale.y[i] * block.scale.z[i];
            const glm::quat turn(block.rotation.w[i], block.rotation.x[i], block.rotation.y[i], block.rotation.z[i]);
            const auto id = static_cast<std::uint64_t>(block.home.idHigh[i]) << 32 | block.home.idLow[i];
            const auto size = static_cast<float>(precise::power(volume, 1.0 / 3));
            homes.add(pose.toWorld(p), pose.rotation * turn, id, size * pose.scale);
            for (std::size_t k = 0; k < copies.size(); ++k)
                mirrored[k].add(copies[k].place(p), copies[k].rotation(turn), idInCopy(id, k + 1), size * copies[k].parts.scale.y);
        }
    });
    for (const Homes& copy : mirrored) homes.append(copy);
    if (homes.count() == 0) throw Error("“" + scene.at(plan.swarm).name + "” shows no instance at this frame.");
    return homes;
}

StandingShapes shapesInWorld(const Scene& scene, const Plan& plan, Store& store, Progress& progress) {
    const auto result = runPlan(plan, std::make_shared<ResultColumns>(), store, progress);
    StandingShapes shapes = standingShapes(*result, matrixOf(plan.pose));
    if (shapes.empty()) throw Error("“" + scene.at(plan.swarm).name + "” shows no shape at this frame.");
    return shapes;
}

/// Of the whole swarm with all its cards, kept in the store by the hash of all that it depends on, where that can be told.
template <class T, class Make, class Bytes>
std::pair<std::shared_ptr<const T>, std::uint64_t> ofWhole(const char* what, const Scene& scene, ObjectId swarm, double frame,
                                                           const PlanOptions& options, Store& store, Progress& progress, const Make& make,
                                                           const Bytes& bytes) {
    if (!scene.find(swarm)) throw Error("The swarm it stands on was deleted; choose another one.");
    PlanOptions whole;
    whole.projectFolder = options.projectFolder;
    whole.backdrops = false;
    const Plan plan = prepare(scene, swarm, frame, whole, store, progress);
    const std::function<std::shared_ptr<const T>()> made = [&] { return std::make_shared<const T>(make(scene, plan, store, progress)); };
    ContentHash key;
    key.add(what);
    key.add(plan.hash);
    return {plan.hash ? store.get<T>(key.value(), made, bytes) : made(), plan.hash};
}

}  // namespace

InstancesShown instancesShown(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, Store& store,
                              Progress& progress) {
    const auto [homes, hash] =
        ofWhole<Homes>("instances", scene, swarm, frame, options, store, progress, inWorld, [](const Homes& h) { return h.bytes(); });
    return {homes, hash};
}

ShownShapes shapesShown(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, Store& store, Progress& progress) {
    const auto [shapes, hash] = ofWhole<StandingShapes>("shapes shown", scene, swarm, frame, options, store, progress, shapesInWorld,
                                                        [](const StandingShapes& all) { return all.size() * sizeof(StandingShape); });
    return {shapes, hash};
}

void addPose(ContentHash& hash, const WorldPose& pose) {
    for (const float v : {pose.position.x, pose.position.y, pose.position.z, pose.rotation.x, pose.rotation.y, pose.rotation.z,
                          pose.rotation.w, pose.scale})
        hash.add(double(v));
}

}  // namespace gswarm
