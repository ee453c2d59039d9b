#include "core/prepare/stock.h"

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/flow/extent.h"
#include "core/flow/tree.h"
#include "core/light/light_kind.h"
#include "core/memory/memory.h"
#include "core/prepare/carried.h"
#include "core/prepare/fit.h"
#include "core/prepare/prepare.h"
#include "core/prepare/run_plan.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

glm::vec3 footOf(const StockEntry& entry, const ShapeMeshes& meshes) {
    const Bounds& bounds = meshes.bounds;
    if (entry.foot == Foot::base) return {bounds.centre().x, bounds.low.y, bounds.centre().z};
    if (entry.foot == Foot::centre) return bounds.centre();
    return entry.footPoint;
}

/// At a frame with the shapes as they are there.
void addVariants(StockPlan& plan, const Object& entryObject, const StockEntry& entry, const Look& look, const Shapes& shapes) {
    const int first = static_cast<int>(plan.variants.size());
    const auto add = [&](const std::shared_ptr<const ShapeMeshes>& meshes, const glm::vec3& foot) {
        if (plan.variants.size() >= mostVariants)
            throw Error("More than " + std::to_string(mostVariants) + " different things can't be repeated by one swarm.");
        plan.variants.push_back({entryObject.id, entry.shape, meshes, entry.size, foot, look, nullptr, nullptr, 0});
    };
    if (entry.pieces == PiecesOf::none) {
        const auto meshes = shapes.get(entry.shape);
        if (!meshes->note.empty()) plan.note = meshes->note;
        add(meshes, footOf(entry, *meshes));
    } else {
        const auto mode = entry.pieces == PiecesOf::parts ? PieceMode::parts : PieceMode::faces;
        for (const auto& piece : *shapes.pieces(entry.shape, mode)) add(piece, glm::vec3(0));
    }
    plan.entries.push_back({first, static_cast<int>(plan.variants.size()) - first, 0});
}

/// Nothing that is drawn, in a box that can be clicked and framed.
std::shared_ptr<const ShapeMeshes> placeOf(const Lamp& lamp, std::uint64_t hash) {
    auto meshes = std::make_shared<ShapeMeshes>();
    meshes->level.fill(std::make_shared<Mesh>());
    const float half = std::max(0.1f, lamp.radius);
    meshes->bounds.add(glm::vec3(-half)), meshes->bounds.add(glm::vec3(half));
    meshes->hash = hash;
    return meshes;
}

/// A light that is repeated; what it says of its place counts only where it stands on its own.
void addLamp(StockPlan& plan, const Scene& scene, const Object& entryObject, const StockEntry& entry, double frame) {
    const ResolvedPart part = resolve(scene, scene.at(entry.shape).part("light"), frame);
    const auto& kind = static_cast<const LightKind&>(*part.kind);
    if (!kind.lamp)
        throw Error("“" + scene.at(entry.shape).name + "” shines from far away and can't be repeated; choose a point, spot or area light.");
    const LampSetting setting = kind.lamp(part.data.get());
    auto lamp = std::make_shared<Lamp>(setting.lamp);
    lamp->position = glm::vec3(0);
    if (!setting.on) lamp->light = glm::vec3(0);
    Look white;
    white.plain.colour = glm::vec4(1);
    plan.entries.push_back({static_cast<int>(plan.variants.size()), 1, 0});
    plan.variants.push_back({entryObject.id, entry.shape, placeOf(*lamp, part.hash), entry.size, glm::vec3(0), white, lamp, nullptr, 0});
}

/// Bounds without triangles, for what is drawn by other means.
std::shared_ptr<const ShapeMeshes> boundsAlone(const Bounds& bounds, std::uint64_t hash) {
    auto meshes = std::make_shared<ShapeMeshes>();
    meshes->level.fill(std::make_shared<Mesh>());
    meshes->bounds = bounds.empty() ? Bounds{glm::vec3(0), glm::vec3(0)} : bounds;
    meshes->hash = hash;
    return meshes;
}

/// Another swarm as it is at a frame, in its own space.
std::shared_ptr<const Result> innerAt(const Scene& scene, const Object& inner, double frame, const PlanOptions& options, Store& store,
                                      Progress& progress) {
    PlanOptions within;
    within.projectFolder = options.projectFolder;
    within.depth = options.depth + 1;
    within.light = options.light;
    within.wanted.placements = options.wanted.placements;
    if (within.depth > deepestNesting)
        throw Error("Swarms repeat swarms more than " + std::to_string(deepestNesting) + " deep; let “" + inner.name + "” repeat a shape.");
    try {
        const Plan plan = prepare(scene, inner.id, frame, within, store, progress);
        const std::function<std::shared_ptr<const Result>()> run = [&] {
            return runPlan(plan, std::make_shared<ResultColumns>(), store, progress);
        };
        ContentHash key;
        key.add("inner");
        key.add(plan.hash);
        key.add(std::uint64_t{within.wanted.placements});
        if (plan.hash == 0) return run();
        return store.get<Result>(key.value(), run, [](const Result& r) { return sizeof(Result) + static_cast<std::size_t>(r.count) * 54; });
    } catch (const Error& error) {
        throw Error("“" + inner.name + "”, which it repeats: " + error.what());
    }
}

Variant swarmVariant(const Object& entryObject, const StockEntry& entry, std::shared_ptr<const Result> inner) {
    Look white;
    white.plain.colour = glm::vec4(1);
    const auto bounds = boundsAlone(extentOf(*inner), inner->hash);
    return {entryObject.id, entry.shape, bounds, entry.size, entry.foot == Foot::point ? entry.footPoint : glm::vec3(0),
            white,          nullptr,     inner,  0};
}

void addSwarm(StockPlan& plan, const Scene& scene, const Object& entryObject, const StockEntry& entry, double frame,
              const PlanOptions& options, Store& store, Progress& progress) {
    const auto inner = innerAt(scene, scene.at(entry.shape), frame, options, store, progress);
    if (inner->visible == 0) plan.note = "“" + scene.at(entry.shape).name + "”, which it repeats, shows nothing at this frame.";
    plan.entries.push_back({static_cast<int>(plan.variants.size()), 1, 0});
    plan.variants.push_back(swarmVariant(entryObject, entry, inner));
}

/// An entry with what it shows: its stand-in where light stock is wanted.
StockEntry entryShown(const Scene& scene, ObjectId id, double frame, const PlanOptions& options) {
    StockEntry entry = resolve(scene, scene.at(id).part("entry"), frame).as<StockEntry>();
    if (options.light && scene.find(entry.standIn)) entry.shape = entry.standIn;
    return entry;
}

/// So many frames later; round the loop where that is wanted.
double frameLater(const Scene& scene, const StockEntry& entry, double frame, int frames) {
    const Moment moment = momentAt(scene, frame + frames);
    return entry.roundLoop ? moment.loopStart + moment.loop() * moment.loopFrames : moment.frame;
}

/// How what an entry shows is made at other moments. What is slow is kept in the store.
void addClips(StockPlan& plan, const std::shared_ptr<const Scene>& scene, ObjectId entryId, double frame, const PlanOptions& options,
              Store& store) {
    const StockPlan::Entry own = plan.entries.back();
    for (int k = 0; k < own.count; ++k) {
        const auto variant = static_cast<std::size_t>(own.first + k);
        const Variant now = plan.variants[variant];
        plan.clips.push_back({variant, [=, &store](int frames, Progress& progress) {
                                  const StockEntry entry = entryShown(*scene, entryId, frame, options);
                                  const double later = std::round(frameLater(*scene, entry, frame, frames) * 1e6) / 1e6;
                                  Variant then = now;
                                  then.now = static_cast<std::uint16_t>(variant);
                                  if (entry.shape.type() == ObjectType::swarm) {
                                      then.inner = innerAt(*scene, scene->at(entry.shape), later, options, store, progress);
                                      then.meshes = boundsAlone(extentOf(*then.inner), then.inner->hash);
                                      return then;
                                  }
                                  const Shapes shapes = shapesAt(*scene, later, options, store, progress);
                                  if (entry.pieces == PiecesOf::none) {
                                      then.meshes = shapes.get(entry.shape);
                                      then.foot = footOf(entry, *then.meshes);
                                      return then;
                                  }
                                  const auto mode = entry.pieces == PiecesOf::parts ? PieceMode::parts : PieceMode::faces;
                                  const auto pieces = shapes.pieces(entry.shape, mode);
                                  // It may fall in other pieces there.
                                  if (static_cast<std::size_t>(k) < pieces->size()) then.meshes = (*pieces)[static_cast<std::size_t>(k)];
                                  return then;
                              }});
    }
}

/// For what has no mesh of its own.
Mesh boxOf(const Bounds& bounds) {
    Mesh mesh;
    for (int k = 0; k < 8; ++k)
        addVertex(mesh, {k & 1 ? bounds.high.x : bounds.low.x, k & 2 ? bounds.high.y : bounds.low.y, k & 4 ? bounds.high.z : bounds.low.z},
                  {0, 1, 0}, {0, 0});
    addFace(mesh, {0, 2, 1, 1, 2, 3}), addFace(mesh, {4, 5, 6, 5, 7, 6});
    addFace(mesh, {0, 1, 4, 1, 5, 4}), addFace(mesh, {2, 6, 3, 3, 6, 7});
    addFace(mesh, {0, 4, 2, 2, 4, 6}), addFace(mesh, {1, 3, 5, 3, 7, 5});
    return mesh;
}

/// Every entry is sized on its own, so that any two of them touch at most.
void fitToSpacing(StockPlan& plan, const HomePlan& homes) {
    if (homes.spacing.neighbours.empty() && homes.spacing.reach <= 0) {
        plan.note = homes.kind->label + " has no spacing of its own, so nothing is fitted; the stock keeps its size.";
        return;
    }
    for (Variant& variant : plan.variants) {
        if (variant.lamp) continue;
        const float size = fitSize(homes.spacing, variant.inner ? boxOf(variant.meshes->bounds) : variant.meshes->mesh(), variant.foot);
        if (size > 0) variant.size = size * (1 - plan.stockRule.gap / 100);
    }
}

}  // namespace

StockPlan prepareStock(const Scene& scene, const Object& swarm, double frame, const Shapes& shapes, const HomePlan& homes, Looks& looks,
                       const PlanOptions& options, Store& store, Progress& progress) {
    if (swarm.list("stock").empty()) throw Error("“" + swarm.name + "” has nothing to repeat; add a shape in the Stock card.");
    StockPlan plan;
    plan.stockRule = resolve(scene, swarm.part("stockRule"), frame).as<StockRule>();
    plan.pattern = resolve(scene, swarm.part("stockPattern"), frame);
    std::vector<float> odds;
    // What is made later has to have the scene as it is now.
    const auto kept = shiftsTimes(scene, swarm.id) ? std::make_shared<const Scene>(scene) : nullptr;
    for (const ObjectId id : swarm.list("stock")) {
        const Object& entryObject = scene.at(id);
        const StockEntry entry = entryShown(scene, id, frame, options);
        if (!scene.find(entry.shape))
            throw Error("“" + entryObject.name + "” in the stock has lost its shape; choose another one in the Stock card.");
        if (entry.shape.type() == ObjectType::light)
            addLamp(plan, scene, entryObject, entry, frame);
        else if (entry.shape.type() == ObjectType::swarm)
            addSwarm(plan, scene, entryObject, entry, frame, options, store, progress);
        else
            addVariants(plan, entryObject, entry, looks.of(entry.material, plainClay()), shapes);
        if (kept && entry.ownMoment && entry.shape.type() != ObjectType::light) addClips(plan, kept, id, frame, options, store);
        odds.push_back(entry.odds);
    }
    float sum = 0, before = 0;
    for (const float o : odds) sum += o;
    if (plan.stockRule.by != StockRuleBy::turn && !(sum > 0))
        throw Error("All odds of “" + swarm.name + "” are 0; give one of its shapes odds above 0.");
    for (std::size_t e = 0; e < odds.size(); ++e) plan.entries[e].until = sum > 0 ? (before += odds[e]) / sum : 1;
    if (plan.stockRule.fit) fitToSpacing(plan, homes);
    for (std::size_t v = 0; v < plan.variants.size(); ++v) plan.variants[v].now = static_cast<std::uint16_t>(v);
    plan.mixedBy = looks.columns();
    if (!looks.note().empty()) plan.note = looks.note();
    return plan;
}

}  // namespace gswarm
