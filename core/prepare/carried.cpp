#include "core/prepare/carried.h"

#include <atomic>
#include <cmath>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/flow/flow.h"
#include "core/formation/formation_kind.h"
#include "core/prepare/prepare.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"
#include "core/scene/object_kinds.h"

namespace gswarm {
namespace {

/// The mesh on whose corners a swarm stands, with what stays the same of it.
std::shared_ptr<const CarriedRest> restOf(const Scene& scene, const Object& swarm, double frame, const PlanOptions& options, Store& store,
                                          Progress& progress) {
    const Object& formation = scene.at(referenceOf(swarm.part("place"), "formation"));
    const ResolvedPart rule = resolve(scene, formation.part("formation"), frame);
    const auto& kind = static_cast<const FormationKind&>(*rule.kind);
    const ObjectId shape = kind.corners ? kind.corners(rule.data.get()) : ObjectId{};
    if (!shape)
        throw Error("“" + swarm.name + "” does not stand on the corners of a mesh; choose “Faces and corners” as its formation, one for " +
                    "every corner.");
    const auto base = shapesAt(scene, frame, options, store, progress).get(shape);
    const std::function<std::shared_ptr<const CarriedRest>()> make = [&] {
        progress.say(swarm.name + ": taking up the mesh that it carries");
        return std::make_shared<const CarriedRest>(carriedRest(base));
    };
    ContentHash key;
    key.add("carried rest");
    key.add(base->hash);
    return store.get<CarriedRest>(key.value(), make, [](const CarriedRest& rest) {
        return rest.places.size() * sizeof rest.places[0] + (rest.corner.size() + rest.ring.size() + rest.ringStart.size()) * 4;
    });
}

Carried carriedBy(const Plan& plan, std::shared_ptr<const CarriedRest> rest, Store& store, const Progress& progress) {
    Carried carried(std::move(rest));
    const std::size_t corners = carried.x.size();
    std::vector<glm::vec4> colours(corners, glm::vec4(1));
    std::atomic<bool> coloured = false;
    forRanges(static_cast<std::size_t>(plan.blocks()), 1, [&](std::size_t first, std::size_t end) {
        FlowSpace& space = store.spaces().local();
        for (std::size_t b = first; b < end && !progress.cancelled(); ++b) {
            runBlock(plan, static_cast<int>(b), space);
            const Block& block = space.block;
            if (space.effect.used[colourEffect]) coloured = true;
            for (int i = 0; i < block.count; ++i) {
                const std::size_t corner = plan.home.elementOf(block.first + i);
                const float sum = block.position.x[i] + block.position.y[i] + block.position.z[i];
                if (corner >= corners || block.shown[i] == 0 || !(std::abs(sum) < 1e30f)) continue;
                carried.x[corner] = block.position.x[i];
                carried.y[corner] = block.position.y[i];
                carried.z[corner] = block.position.z[i];
                colours[corner] = {block.colour.x[i], block.colour.y[i], block.colour.z[i], block.colour.w[i]};
            }
        }
    });
    progress.check();
    if (coloured) carried.colours = std::move(colours);
    return carried;
}

}  // namespace

Shapes shapesAt(const Scene& scene, double frame, const PlanOptions& options, Store& store, Progress& progress) {
    return {scene,
            frame,
            options.projectFolder,
            store,
            progress,
            [&scene, frame, folder = options.projectFolder, &store, &progress](ObjectId id) {
                const Object* swarm = scene.find(id);
                if (!swarm) throw Error("The swarm that carries it was deleted; choose another one.");
                PlanOptions options;
                options.projectFolder = folder;
                options.backdrops = false;
                auto rest = restOf(scene, *swarm, frame, options, store, progress);
                auto plan = std::make_shared<const Plan>(prepare(scene, id, frame, options, store, progress));
                ContentHash hash;
                hash.add("carried");
                hash.add(plan->hash);
                hash.add(rest->base->hash);
                return CarriedSwarm{plan->hash ? hash.value() : 0,
                                    [plan, rest, &store, &progress] { return carriedBy(*plan, rest, store, progress); }};
            }};
}

}  // namespace gswarm
