#include "core/prepare/weave_plan.h"

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/text.h"
#include "core/prepare/prepare.h"
#include "core/provide/store.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"

namespace gswarm {

void addState(ContentHash& hash, const ZoneState& state) {
    for (const float v :
         {state.position.x, state.position.y, state.position.z, state.rotation.x, state.rotation.y, state.rotation.z, state.rotation.w})
        hash.add(double(v));
    for (const float v : state.numbers) hash.add(double(v));
}

namespace {

/// Whether a zone moves, by itself or with what it hangs from.
bool movesInTime(const Scene& scene, ObjectId id) {
    const std::vector<ObjectId> behind = everythingBehind(scene, {id});
    return std::any_of(behind.begin(), behind.end(), [&](ObjectId other) {
        const Object& object = scene.at(other);
        return std::any_of(object.parts.begin(), object.parts.end(), [](const Part& part) { return moves(part); });
    });
}

/// A zone at the frame, or at every whole frame that an instance may see it at.
void addZone(const WeavePreparing& p, const Object& zone, WeaveStep& step) {
    ResolvedPart form = resolve(p.scene, zone.part("form"), p.source.moment.frame);
    step.kind = static_cast<const ZoneKind*>(form.kind);
    step.off = !switchAt(p.scene, zone.part("place"), "on", p.source.moment.frame);
    p.source.hash->add(form.hash);
    p.source.hash->add(std::uint64_t{step.off});
    if (!step.off && step.kind->prepare) step.kind->prepare(form.data.get(), p.source);
    step.data = form.data;
    p.mayFail = p.mayFail || step.kind->mayFail;
    if (step.kind->moves && step.kind->moves(form.data.get())) p.source.hash->add(p.source.moment.frame);
    step.firstFrame = p.source.moment.frame;
    if (p.earliest < p.latest && movesInTime(p.scene, zone.id)) {
        p.source.hash->add(p.source.moment.frame);
        step.firstFrame = std::floor(p.earliest);
        for (double f = step.firstFrame; f <= std::ceil(p.latest) + 1; ++f) step.states.push_back(zoneStateAt(p.scene, zone, f, p.store));
    } else {
        step.states.push_back(zoneStateAt(p.scene, zone, p.source.moment.frame, p.store));
    }
    for (const ZoneState& state : step.states) addState(*p.source.hash, state);
}

std::vector<WeaveStep> stepsOf(const WeavePreparing& p, const std::vector<ObjectId>& entries, int depth) {
    std::vector<WeaveStep> steps;
    for (const ObjectId id : entries) {
        const Object& object = p.scene.at(id);
        const auto resolved = resolve(p.scene, object.part("entry"), p.source.moment.frame);
        const auto& entry = resolved.as<WeaveEntry>();
        p.source.hash->add(resolved.hash);
        if (!entry.on) continue;
        WeaveStep step;
        step.entry = id;
        step.operation = entry.operation;
        step.amount = entry.amount / 100;
        const auto& group = object.list("group");
        if (group.empty()) {
            const Object* zone = p.scene.find(entry.zone);
            if (!zone) throw Error("A zone of its weave was deleted; take the entry out or choose another zone.");
            try {
                addZone(p, *zone, step);
            } catch (const Error& error) {
                throw Error("Its zone “" + zone->name + "”: " + goingOn(error.what()));
            }
        } else {
            if (depth >= deepestWeave)
                throw Error("Groups of its weave lie deeper in each other than " + std::to_string(deepestWeave) + "; take one apart.");
            step.group = stepsOf(p, group, depth + 1);
        }
        steps.push_back(std::move(step));
    }
    return steps;
}

}  // namespace

std::vector<WeaveStep> weaveOf(const WeavePreparing& preparing, const std::vector<ObjectId>& entries) {
    return stepsOf(preparing, entries, 0);
}

Response responseOf(const Scene& scene, const Part& part, RailSource& source) {
    const ResolvedPart resolved = resolve(scene, part, source.moment.frame);
    source.hash->add(resolved.hash);
    Response response = resolved.as<Response>();
    response.table = tableOf(response.points);
    return response;
}

}  // namespace gswarm
