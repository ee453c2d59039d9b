#include "core/provide/placing.h"

#include <algorithm>
#include <cmath>
#include <glm/gtx/quaternion.hpp>

#include "core/base/error.h"
#include "core/base/turns.h"
#include "core/provide/shapes.h"
#include "core/provide/store.h"
#include "core/resolve/hanging.h"
#include "core/resolve/resolve.h"
#include "core/shape/curve.h"

namespace gswarm {
namespace {

/// Longer ways of hanging come only from files that were not checked; what hangs deeper stands in the world.
constexpr int deepestHanging = 64;

WorldPose poseWithin(const Scene& scene, ObjectId object, double frame, Store& store, int depth);

/// A curve that is followed.
std::shared_ptr<const MeasuredCurve> measured(const Scene& scene, ObjectId shape, double frame, Store& store) {
    Progress progress;
    const auto made = Shapes(scene, frame, {}, store, progress).get(shape);
    if (made->curves.empty()) return nullptr;
    ContentHash key;
    key.add("measured");
    key.add(made->hash);
    const std::function<std::shared_ptr<const MeasuredCurve>()> measure = [&] {
        return std::make_shared<const MeasuredCurve>(made->curves.front());
    };
    return store.get<MeasuredCurve>(key.value(), measure, [&](const MeasuredCurve&) { return made->curves.front().points.size() * 48; });
}

WorldPose curvePose(const Scene& scene, const Hang& hang, double frame, Store& store, int depth) {
    try {
        const auto curve = measured(scene, hang.curve, frame, store);
        if (!curve) return {};
        const double share = hang.along / 100.0;
        const MeasuredCurve::Station station = curve->at((curve->closed() ? share - std::floor(share) : share) * curve->length());
        const ObjectId carrier = carrierOf(scene, hang.curve);
        const WorldPose lies = carrier ? poseWithin(scene, carrier, frame, store, depth + 1) : WorldPose{};
        return {lies.toWorld(station.place), hang.turned ? lies.rotation * station.frame : glm::quat(1, 0, 0, 0), 1};
    } catch (const Error&) {
        return {};
    }
}

const Part* hangPart(const Object& object) {
    for (const Part& part : object.parts)
        if (part.kind == &hangKind) return &part;
    return nullptr;
}

WorldPose baseWithin(const Scene& scene, ObjectId id, double frame, Store& store, int depth) {
    const Part* part = hangPart(scene.at(id));
    if (!part || depth > deepestHanging || choiceOf(*part, "by") == "none") return {};
    const ResolvedPart resolved = resolve(scene, *part, frame);
    const auto& hang = resolved.as<Hang>();
    if (hang.by == HangBy::curve) return scene.find(hang.curve) ? curvePose(scene, hang, frame, store, depth) : WorldPose{};
    if (!scene.find(hang.from)) return {};
    WorldPose base = poseWithin(scene, hang.from, frame, store, depth + 1);
    base.scale = 1;
    return base;
}

/// The part that holds an object's place.
const Part& placePart(const Object& object) { return object.parts.front(); }

WorldPose ownPose(const Scene& scene, ObjectId id, double frame) {
    const ResolvedPart resolved = resolve(scene, placePart(scene.at(id)), frame);
    switch (id.type()) {
        case ObjectType::swarm: {
            const auto& place = resolved.as<SwarmPlace>();
            return {place.position, rotationFromTurns(place.rotation), place.scale};
        }
        case ObjectType::light: {
            const auto& kind = static_cast<const LightKind&>(*resolved.kind);
            if (!kind.lamp) return {};
            const LampSetting lamp = kind.lamp(resolved.data.get());
            return {lamp.lamp.position, rotationFromTurns(lamp.rotation), 1};
        }
        case ObjectType::camera:
            return {resolved.as<Camera>().position, {1, 0, 0, 0}, 1};
        default: {
            const auto& place = resolved.as<Pose>();
            return {place.position, rotationFromTurns(place.rotation), 1};
        }
    }
}

WorldPose poseWithin(const Scene& scene, ObjectId id, double frame, Store& store, int depth) {
    const WorldPose own = ownPose(scene, id, frame);
    const WorldPose base = baseWithin(scene, id, frame, store, depth);
    return {base.toWorld(own.position), base.rotation * own.rotation, own.scale};
}

}  // namespace

WorldPose baseOf(const Scene& scene, ObjectId object, double frame, Store& store) { return baseWithin(scene, object, frame, store, 0); }
WorldPose poseAt(const Scene& scene, ObjectId object, double frame, Store& store) { return poseWithin(scene, object, frame, store, 0); }

WorldPose shapePoseAt(const Scene& scene, ObjectId shape, double frame, Store& store) {
    const ObjectId carrier = carrierOf(scene, shape);
    return carrier ? poseAt(scene, carrier, frame, store) : WorldPose{};
}

FarLight farLightAt(const Scene& scene, double frame, Store& store) {
    FarLight all;
    for (const ObjectId id : scene.all(ObjectType::light)) {
        const ResolvedPart part = resolve(scene, placePart(scene.at(id)), frame);
        const auto& kind = static_cast<const LightKind&>(*part.kind);
        if (!kind.far) continue;
        const std::size_t suns = all.suns.size(), surroundings = all.surroundings.size();
        kind.far(part.data.get(), all);
        for (std::size_t k = suns; k < all.suns.size(); ++k) {
            Sun& sun = all.suns[k];
            sun.of = id;
            if (!scene.find(sun.from)) continue;
            const glm::vec3 from = poseAt(scene, sun.from, frame, store).position;
            if (glm::length(from) > 0) sun.toward = glm::normalize(from);
        }
        for (std::size_t k = surroundings; k < all.surroundings.size(); ++k) all.surroundings[k].of = id;
    }
    return all;
}

std::optional<Lamp> lampAt(const Scene& scene, ObjectId id, double frame, Store& store) {
    const ResolvedPart part = resolve(scene, placePart(scene.at(id)), frame);
    const auto& kind = static_cast<const LightKind&>(*part.kind);
    if (!kind.lamp) return std::nullopt;
    const LampSetting setting = kind.lamp(part.data.get());
    if (!setting.on) return std::nullopt;
    const WorldPose base = baseOf(scene, id, frame, store);
    Lamp lamp = setting.lamp;
    lamp.of = id;
    lamp.position = base.toWorld(lamp.position);
    glm::quat turn = base.rotation * rotationFromTurns(setting.rotation);
    if (scene.find(setting.aim)) {
        const glm::vec3 toward = poseAt(scene, setting.aim, frame, store).position - lamp.position;
        if (glm::length(toward) > 0) turn = glm::rotation(turn * glm::vec3(0, -1, 0), glm::normalize(toward)) * turn;
    }
    lamp.along = turn * glm::vec3(0, -1, 0);
    lamp.side = turn * glm::vec3(1, 0, 0);
    return lamp;
}

Camera cameraAt(const Scene& scene, ObjectId id, double frame, Store& store) {
    Camera camera = resolve(scene, placePart(scene.at(id)), frame).as<Camera>();
    const WorldPose base = baseOf(scene, id, frame, store);
    camera.position = base.toWorld(camera.position);
    camera.target = base.toWorld(camera.target);
    if (camera.looksAt == LooksAt::thing && scene.find(camera.thing))
        camera.target = poseAt(scene, camera.thing, frame - camera.lag, store).position;
    return camera;
}

}  // namespace gswarm
