// Takes instances to what they meet: shot along a way of their own at meshes or at another swarm's shapes.
#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/error.h"
#include "core/gesture/against.h"
#include "core/gesture/gesture_kind.h"
#include "core/shape/ray_targets.h"

namespace gswarm {
namespace {

enum class PressAlong { normal, own, x, y, z, place };
enum class PressMeets { first, last };

struct Press : GestureBasics {
    ObjectId against;
    PressAlong along;
    glm::vec3 toward;
    bool bothWays;
    PressMeets meets;
    float reach, gap;
    ObjectId far, met, which;

    // Prepared.
    std::shared_ptr<const RayTargets> targets;
    int farColumn = -1, metColumn = -1, whichColumn = -1;
};

void prepare(Press& press, const RailSource& source) {
    if (!press.against) throw Error("It has nothing to press against yet; choose a shape or another swarm.");
    for (const auto& [number, column] :
         {std::pair{press.far, &press.farColumn}, {press.met, &press.metColumn}, {press.which, &press.whichColumn}})
        if (number) *column = source.column(number);
    std::uint64_t hash = 0;
    StandingShapes shapes = standingAgainst(press.against, source, hash);
    const std::size_t bytes = shapes.size() * 1000;
    const auto treeOf = [&](const ShapeMeshes& meshes) {
        ContentHash key;
        key.add("ray tree");
        key.add(meshes.hash);
        return source.keptAs<RayTree>(key.value(), meshes.mesh().triangleCount() * 100, [&] { return RayTree(meshes.mesh(), true); });
    };
    const auto make = [&] { return RayTargets(std::move(shapes), treeOf); };
    ContentHash key;
    key.add("ray targets");
    key.add(hash);
    press.targets = hash ? source.keptAs<RayTargets>(key.value(), bytes, make) : std::make_shared<const RayTargets>(make());
}

glm::vec3 wayOf(const Press& press, const Block& block, int i) {
    const auto upOf = [i](const Columns4& q) { return glm::quat(q.w[i], q.x[i], q.y[i], q.z[i]) * glm::vec3(0, 1, 0); };
    switch (press.along) {
        case PressAlong::normal:
            return upOf(block.home.rotation);
        case PressAlong::own:
            return upOf(block.rotation);
        case PressAlong::x:
            return {1, 0, 0};
        case PressAlong::y:
            return {0, 1, 0};
        case PressAlong::z:
            return {0, 0, 1};
        case PressAlong::place:
            break;
    }
    const glm::vec3 way = press.toward - glm::vec3(block.position.x[i], block.position.y[i], block.position.z[i]);
    const float length = std::sqrt((way.x * way.x + way.y * way.y) + way.z * way.z);
    return length > 0 ? way / length : glm::vec3(0);
}

using Rays = std::array<RayTargets::Ray, RayTargets::packet>;
using Hits = std::array<RayTargets::Hit, RayTargets::packet>;

/// One way only; the last surface is met from beyond.
Hits shot(const Press& press, const Rays& rays, int count, float reach, float way) {
    const bool last = press.meets == PressMeets::last;
    Rays towards = rays;
    for (RayTargets::Ray& ray : towards) {
        const glm::vec3 along = ray.along * way;
        ray = last ? RayTargets::Ray{ray.from + along * reach, -along} : RayTargets::Ray{ray.from, along};
    }
    Hits hits;
    press.targets->first(towards.data(), count, reach, hits.data());
    for (RayTargets::Hit& hit : hits)
        if (last && hit.which >= 0) hit = {reach - hit.distance, hit.which, !hit.inside};
    return hits;
}

/// How far along its way each instance has to go, and whether and what it meets.
void measure(const Press& press, const WorldPose& swarm, Block& block) {
    const float scale = swarm.scale, reach = press.reach * scale;
    const std::size_t others = press.targets->count();
    for (int first = 0; first < block.count; first += RayTargets::packet) {
        const int count = std::min(RayTargets::packet, block.count - first);
        Rays rays;
        for (int k = 0; k < count; ++k) {
            const int i = first + k;
            const glm::vec3 place(block.position.x[i], block.position.y[i], block.position.z[i]);
            if (!(std::abs(place.x + place.y + place.z) < 1e30f)) continue;
            rays[static_cast<std::size_t>(k)] = {swarm.toWorld(place), swarm.rotation * wayOf(press, block, i)};
        }
        const Hits ahead = shot(press, rays, count, reach, 1);
        const Hits behind = press.bothWays ? shot(press, rays, count, reach, -1) : Hits{};
        for (int k = 0; k < count; ++k) {
            const auto at = static_cast<std::size_t>(k);
            RayTargets::Hit hit = ahead[at];
            float sign = 1;
            const RayTargets::Hit& back = behind[at];
            const bool better = press.meets == PressMeets::first ? back.distance < hit.distance : back.distance > hit.distance;
            if (back.which >= 0 && (hit.which < 0 || better)) hit = back, sign = -1;
            const bool met = hit.which >= 0;
            const int i = first + k;
            block.measured[0][i] = met ? sign * (hit.distance / scale + (hit.inside ? press.gap : -press.gap)) : 0;
            block.measured[1][i] = met;
            if (press.metColumn >= 0) block.named[press.metColumn][i] = met;
            if (press.whichColumn >= 0 && met)
                block.named[press.whichColumn][i] = others > 1 ? static_cast<float>(hit.which) / static_cast<float>(others - 1) : 0;
        }
    }
}

void apply(const GestureInput& in, Block& block, EffectColumns& effect) {
    const auto& press = in.as<Press>();
    const auto mark = [&](EffectChannel channel, int i) { effect.use(channel, in.effectWords)[in.card / 32][i] |= 1u << (in.card % 32); };
    const bool numbers = press.farColumn >= 0 || press.metColumn >= 0 || press.whichColumn >= 0;
    for (int i = 0; i < block.count; ++i) {
        const float x = in.patternSigned ? (block.driven->x[i] + in.towards[i]) * 0.5f : block.driven->x[i];
        const float far = x * block.measured[0][i];
        if (press.farColumn >= 0) block.named[press.farColumn][i] = far;
        if (block.measured[1][i] == 0) continue;
        if (numbers) mark(otherEffect, i);
        if (far == 0) continue;
        const glm::vec3 way = wayOf(press, block, i);
        block.position.x[i] += way.x * far;
        block.position.y[i] += way.y * far;
        block.position.z[i] += way.z * far;
        mark(positionEffect, i);
    }
}

GestureKind pressKind() {
    DescribeGesture<Press> d("press", "Press", "Takes instances to what they meet along a way of their own");
    d.found("shrink wrap project drape ray cast collide push skin attach conform")
        .reference("against", &Press::against, {ObjectType::swarm, ObjectType::shape},
                   "The shapes of another swarm at this frame, or a shape that stands where this swarm does")
        .needs(Needs::surface)
        .choice("along", &Press::along,
                {{"normal", "The normal at home"}, {"own", "Its own Y"}, {"x", "X"}, {"y", "Y"}, {"z", "Z"}, {"place", "Toward a place"}},
                "The way along which each instance looks for something, and goes")
        .length("toward", &Press::toward, {0, 0, 0}, {-10, 10}, "The place, in the swarm")
        .only("along", {"place"})
        .toggle("bothWays", &Press::bothWays, false, "Looks backward along its way too, and goes to what is nearer")
        .choice("meets", &Press::meets, {{"first", "The first surface"}, {"last", "The last surface within reach"}},
                "Where several are met: the last one is the outside of all that pushes from within")
        .length("reach", &Press::reach, 2, {0.05, 10}, "What is farther away is not met")
        .hard(1e-4, 1e6)
        .length("gap", &Press::gap, 0, {-0.5, 0.5}, "How far outside of the surface it stays; below 0 it goes in")
        .reference("far", &Press::far, {ObjectType::namedValue}, "A named value that gets how far it went, metres")
        .label("How far")
        .begins("far")
        .reference("met", &Press::met, {ObjectType::namedValue}, "A named value that gets 1 where something is met, 0 where not")
        .label("Whether")
        .optional()
        .reference("which", &Press::which, {ObjectType::namedValue},
                   "A named value that gets which instance is met, from 0 for the first to 1 for the last; the stagger may go by it")
        .label("Which")
        .begins("which");
    GestureKind kind = preparing(makes(d, apply), prepare);
    kind.measure = [](const void* data, const WorldPose& swarm, Block& block) { measure(*static_cast<const Press*>(data), swarm, block); };
    kind.stillReason = "nothing that it could meet is within its reach along that way";
    return kind;
}

}  // namespace

const GestureKind pressGesture = pressKind();

}  // namespace gswarm
