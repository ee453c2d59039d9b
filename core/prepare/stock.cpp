#include "core/prepare/stock.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/light/light_kind.h"
#include "core/prepare/fit.h"
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

void addVariants(StockPlan& plan, const Object& entryObject, const StockEntry& entry, const Look& look, const Shapes& shapes) {
    const int first = static_cast<int>(plan.variants.size());
    const auto add = [&](const std::shared_ptr<const ShapeMeshes>& meshes, const glm::vec3& foot) {
        if (plan.variants.size() >= mostVariants)
            throw Error("More than " + std::to_string(mostVariants) + " different things can't be repeated by one swarm.");
        plan.variants.push_back({entryObject.id, entry.shape, meshes, entry.size, foot, look, nullptr});
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
    plan.variants.push_back({entryObject.id, entry.shape, placeOf(*lamp, part.hash), entry.size, glm::vec3(0), white, lamp});
}

/// Every entry is sized on its own, so that any two of them touch at most.
void fitToSpacing(StockPlan& plan, const HomePlan& homes) {
    if (homes.spacing.neighbours.empty() && homes.spacing.reach <= 0) {
        plan.note = homes.kind->label + " has no spacing of its own, so nothing is fitted; the stock keeps its size.";
        return;
    }
    for (Variant& variant : plan.variants) {
        if (variant.lamp) continue;
        const float size = fitSize(homes.spacing, variant.meshes->mesh(), variant.foot);
        if (size > 0) variant.size = size * (1 - plan.stockRule.gap / 100);
    }
}

}  // namespace

StockPlan prepareStock(const Scene& scene, const Object& swarm, double frame, const Shapes& shapes, const HomePlan& homes, Looks& looks) {
    if (swarm.list("stock").empty()) throw Error("“" + swarm.name + "” has nothing to repeat; add a shape in the Stock card.");
    StockPlan plan;
    plan.stockRule = resolve(scene, swarm.part("stockRule"), frame).as<StockRule>();
    plan.pattern = resolve(scene, swarm.part("stockPattern"), frame);
    std::vector<float> odds;
    for (const ObjectId id : swarm.list("stock")) {
        const Object& entryObject = scene.at(id);
        const auto resolved = resolve(scene, entryObject.part("entry"), frame);
        const auto& entry = resolved.as<StockEntry>();
        if (!scene.find(entry.shape))
            throw Error("“" + entryObject.name + "” in the stock has lost its shape; choose another one in the Stock card.");
        if (entry.shape.type() == ObjectType::light)
            addLamp(plan, scene, entryObject, entry, frame);
        else
            addVariants(plan, entryObject, entry, looks.of(entry.material, plainClay()), shapes);
        odds.push_back(entry.odds);
    }
    float sum = 0, before = 0;
    for (const float o : odds) sum += o;
    if (plan.stockRule.by != StockRuleBy::turn && !(sum > 0))
        throw Error("All odds of “" + swarm.name + "” are 0; give one of its shapes odds above 0.");
    for (std::size_t e = 0; e < odds.size(); ++e) plan.entries[e].until = sum > 0 ? (before += odds[e]) / sum : 1;
    if (plan.stockRule.fit) fitToSpacing(plan, homes);
    plan.mixedBy = looks.columns();
    if (!looks.note().empty()) plan.note = looks.note();
    return plan;
}

}  // namespace gswarm
