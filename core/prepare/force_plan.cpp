#include "core/prepare/force_plan.h"

#include "core/base/error.h"
#include "core/base/text.h"
#include "core/prepare/instances.h"
#include "core/prepare/weave_plan.h"
#include "core/provide/placing.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"

namespace gswarm {

ForceStep forceAt(const Scene& scene, const Object& force, RailSource& source, Store& store) {
    const double frame = source.moment.frame;
    const ResolvedPart part = resolve(scene, force.part("force"), frame);
    ForceStep step;
    step.force = force.id;
    step.kind = static_cast<const ForceKind*>(part.kind);
    step.data = part.data;
    step.pose = poseAt(scene, force.id, frame, store);
    step.strength = static_cast<const ForceBasics*>(part.data.get())->strength / 100;
    source.hash->add(part.hash);
    addPose(*source.hash, step.pose);
    if (step.kind->moves && step.kind->moves(part.data.get())) source.hash->add(frame);
    try {
        if (step.kind->prepare) step.kind->prepare(step.data.get(), source);
        bool mayFail = false;  // what is no number is left out where forces act
        step.where = responseOf(scene, force.part("where"), source);
        step.weave = weaveOf({scene, source, store, frame, frame, mayFail}, force.list("weave"));
    } catch (const Error& error) {
        throw Error("The force “" + force.name + "”: " + goingOn(error.what()));
    }
    return step;
}

std::vector<ForceStep> forcesOf(const Scene& scene, RailSource& source, Store& store) {
    std::vector<ForceStep> steps;
    for (const ObjectId id : scene.all(ObjectType::force)) {
        const Object& force = scene.at(id);
        const bool on = switchAt(scene, force.part("place"), "on", source.moment.frame);
        source.hash->add(id.bits);
        source.hash->add(std::uint64_t{on});
        if (on) steps.push_back(forceAt(scene, force, source, store));
    }
    return steps;
}

}  // namespace gswarm
