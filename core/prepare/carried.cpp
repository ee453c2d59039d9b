#include "core/prepare/carried.h"

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/flow/flow.h"
#include "core/flow/tree.h"
#include "core/formation/formation_kind.h"
#include "core/prepare/prepare.h"
#include "core/prepare/run_plan.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"
#include "core/scene/object_kinds.h"

namespace gswarm {
namespace {

/// The meshes of those on whose corners a swarm stands, with what stays the same of them.
std::shared_ptr<CarriedMeshes> meshesOf(const Scene& scene, const Object& swarm, double frame, const PlanOptions& options, Store& store,
                                        Progress& progress) {
    const Object& formation = scene.at(referenceOf(swarm.part("place"), "formation"));
    const ResolvedPart rule = resolve(scene, formation.part("formation"), frame);
    const auto& kind = static_cast<const FormationKind&>(*rule.kind);
    const ObjectId shape = kind.corners ? kind.corners(rule.data.get()) : ObjectId{};
    if (!shape)
        throw Error("“" + swarm.name + "” does not stand on the corners of a mesh; choose “Faces and corners” as its formation, one for " +
                    "every corner.");
    const auto base = shapesAt(scene, frame, options, store, progress).get(shape);
    ContentHash key;
    key.add("carried");
    key.add(base->hash);
    // What it holds of the last few frames changes all the time; it is the same for whoever asks.
    struct Kept {
        std::shared_ptr<CarriedMeshes> meshes;
    };
    const std::function<std::shared_ptr<const Kept>()> make = [&] {
        progress.say(swarm.name + ": taking up the mesh that it carries");
        return std::make_shared<const Kept>(Kept{std::make_shared<CarriedMeshes>(std::make_shared<const CarriedRest>(carriedRest(base)))});
    };
    return store
        .get<Kept>(key.value(), make,
                   [](const Kept& kept) {
                       const Mesh& mesh = kept.meshes->rest().base->mesh();
                       constexpr std::size_t frames = 4;
                       return kept.meshes->rest().bytes() + frames * (mesh.positions.size() * 44 + mesh.triangles.size() * 5);
                   })
        ->meshes;
}

/// Whether a gesture of the rail may colour.
bool colours(const Scene& scene, const Object& swarm, double frame) {
    const auto& rail = swarm.list("rail");
    return std::any_of(rail.begin(), rail.end(), [&](ObjectId entry) {
        const Object* gesture = scene.find(referenceOf(scene.at(entry).part("entry"), "gesture"));
        if (!gesture) return false;
        const auto& channels = gestureKindOf(gesture->part("change")).channels;
        return std::find(channels.begin(), channels.end(), "colour") != channels.end() &&
               switchAt(scene, gesture->part("change"), "colour", frame);
    });
}

/// Whether all of a block are shown, at places, and one of them follows the other on the corners, as it mostly is.
bool inOrder(const Block& block, const std::vector<std::uint32_t>& elements) {
    bool so = true;
    for (int i = 0; i < block.count; ++i) {
        const float sum = block.position.x[i] + block.position.y[i] + block.position.z[i];
        so &= elements[static_cast<std::size_t>(block.first + i)] == static_cast<std::uint32_t>(block.first + i);
        so &= (block.shown[i] != 0) & (std::abs(sum) < 1e30f);
    }
    return so;
}

/// Room for so many of each of a plan's named values, as they are where no instance says otherwise.
std::vector<NamedNumbers> roomForNumbers(const Scene& scene, const Plan& plan, std::size_t count) {
    std::vector<NamedNumbers> room;
    for (const auto& [value, home] : plan.named) room.push_back({scene.at(value).name, std::vector<float>(count, home)});
    return room;
}

void fill(const Plan& plan, const CarriedRest& rest, bool coloured, Store& store, const Progress& progress, Carried& carried) {
    const std::size_t corners = rest.places.size();
    const std::vector<std::uint32_t>& elements = plan.home.stored->element;
    const auto atRest = [&](std::size_t corner) {
        carried.x[corner] = rest.places[corner].x;
        carried.y[corner] = rest.places[corner].y;
        carried.z[corner] = rest.places[corner].z;
    };
    if (static_cast<std::size_t>(plan.count) < corners)
        for (std::size_t c = 0; c < corners; ++c) atRest(c);
    if (coloured) carried.colours.assign(corners, glm::vec4(1));
    forRanges(static_cast<std::size_t>(plan.blocks()), 1, [&](std::size_t first, std::size_t end) {
        FlowSpace& space = store.spaces().local();
        for (std::size_t b = first; b < end && !progress.cancelled(); ++b) {
            runBlock(plan, static_cast<int>(b), space);
            const Block& block = space.block;
            if (inOrder(block, elements)) {
                const auto at = static_cast<std::size_t>(block.first), count = static_cast<std::size_t>(block.count);
                std::copy_n(block.position.x, count, carried.x.data() + at);
                std::copy_n(block.position.y, count, carried.y.data() + at);
                std::copy_n(block.position.z, count, carried.z.data() + at);
            } else
                for (int i = 0; i < block.count; ++i) {
                    const std::size_t corner = elements[static_cast<std::size_t>(block.first + i)];
                    if (corner >= corners) continue;
                    const float x = block.position.x[i], y = block.position.y[i], z = block.position.z[i];
                    if (block.shown[i] == 0 || !(std::abs(x + y + z) < 1e30f)) {
                        atRest(corner);
                        continue;
                    }
                    carried.x[corner] = x;
                    carried.y[corner] = y;
                    carried.z[corner] = z;
                }
            for (int i = 0; coloured && i < block.count; ++i)
                if (const std::size_t corner = elements[static_cast<std::size_t>(block.first + i)]; corner < corners)
                    carried.colours[corner] = {block.colour.x[i], block.colour.y[i], block.colour.z[i], block.colour.w[i]};
            for (std::size_t n = 0; n < carried.numbers.size(); ++n)
                for (int i = 0; i < block.count; ++i)
                    if (const std::size_t corner = elements[static_cast<std::size_t>(block.first + i)]; corner < corners)
                        carried.numbers[n].numbers[corner] = block.named[n][i];
        }
    });
    progress.check();
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
                if (!swarm) throw Error("The swarm that it is made of was deleted; choose another one.");
                PlanOptions options;
                options.projectFolder = folder;
                options.backdrops = false;
                auto whole = prepare(scene, id, frame, options, store, progress);
                whole.keepsNamed = true;
                ContentHash named;
                named.add(whole.hash);
                for (const auto& [value, home] : whole.named) named.add(scene.at(value).name);
                whole.hash = whole.hash ? named.value() : 0;
                const auto plan = std::make_shared<const Plan>(std::move(whole));
                const auto carried = [=, &scene, &store, &progress] {
                    const auto meshes = meshesOf(scene, *swarm, frame, options, store, progress);
                    ContentHash hash;
                    hash.add("carried");
                    hash.add(plan->hash);
                    hash.add(meshes->rest().base->hash);
                    const bool coloured = colours(scene, *swarm, frame);
                    return meshes->get(plan->hash ? hash.value() : 0, [&](Carried& carried) {
                        carried.numbers = roomForNumbers(scene, *plan, meshes->rest().places.size());
                        fill(*plan, meshes->rest(), coloured, store, progress, carried);
                    });
                };
                const auto shown = [=, &scene, &store, &progress] {
                    const auto result = runPlan(*plan, std::make_shared<ResultColumns>(), store, progress);
                    const auto count = static_cast<std::size_t>(plan->count);
                    auto all = std::make_shared<SwarmShown>(
                        SwarmShown{standingShapes(*result, glm::mat4(1)), roomForNumbers(scene, *plan, count)});
                    if (all->shapes.empty()) throw Error("“" + swarm->name + "” shows no shape at this frame.");
                    for (std::size_t n = 0; n < all->numbers.size(); ++n)
                        std::copy_n(result->columns->named.begin() + static_cast<std::ptrdiff_t>(n * count), count,
                                    all->numbers[n].numbers.begin());
                    return std::shared_ptr<const SwarmShown>(std::move(all));
                };
                return SwarmForm{plan->hash, carried, shown};
            }};
}

}  // namespace gswarm
