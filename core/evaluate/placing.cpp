#include "core/evaluate/placing.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/error.h"
#include "core/evaluate/shapes.h"
#include "core/scene/edit_parts.h"
#include "core/scene/hanging.h"
#include "core/scene/resolve.h"
#include "core/time/track.h"

namespace gswarm {
namespace {

/// Longer ways of hanging come only from files that were not checked; what hangs deeper stands in the world.
constexpr int deepestHanging = 64;

WorldPose poseWithin(const Scene& scene, ObjectId object, double frame, int depth);

/// Curves that are followed, measured once.
std::shared_ptr<const MeasuredCurve> measured(const Scene& scene, ObjectId shape, double frame) {
    static Store store(std::size_t{64} << 20);
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

WorldPose curvePose(const Scene& scene, const Hang& hang, double frame, int depth) {
    try {
        const auto curve = measured(scene, hang.curve, frame);
        if (!curve) return {};
        const double share = hang.along / 100.0;
        const MeasuredCurve::Station station = curve->at((curve->closed() ? share - std::floor(share) : share) * curve->length());
        const ObjectId carrier = carrierOf(scene, hang.curve);
        const WorldPose lies = carrier ? poseWithin(scene, carrier, frame, depth + 1) : WorldPose{};
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

WorldPose baseWithin(const Scene& scene, ObjectId id, double frame, int depth) {
    const Part* part = hangPart(scene.at(id));
    if (!part || depth > deepestHanging || choiceOf(*part, "by") == "none") return {};
    const ResolvedPart resolved = resolve(scene, *part, frame);
    const auto& hang = resolved.as<Hang>();
    if (hang.by == HangBy::curve) return scene.find(hang.curve) ? curvePose(scene, hang, frame, depth) : WorldPose{};
    if (!scene.find(hang.from)) return {};
    WorldPose base = poseWithin(scene, hang.from, frame, depth + 1);
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
        case ObjectType::camera:
            return {resolved.as<Camera>().position, {1, 0, 0, 0}, 1};
        default: {
            const auto& place = resolved.as<Pose>();
            return {place.position, rotationFromTurns(place.rotation), 1};
        }
    }
}

WorldPose poseWithin(const Scene& scene, ObjectId id, double frame, int depth) {
    const WorldPose own = ownPose(scene, id, frame);
    const WorldPose base = baseWithin(scene, id, frame, depth);
    return {base.toWorld(own.position), base.rotation * own.rotation, own.scale};
}

bool readsFiles(const Part& maker) {
    return std::any_of(maker.kind->parameters.begin(), maker.kind->parameters.end(),
                       [&](const Parameter& p) { return p.type == ParameterType::file && !choiceOf(maker, p.id).empty(); });
}

/// Frames at which an object's place or turn has keys, and one more.
std::set<double> framesOfPlace(const Part& place, double also) {
    std::set<double> frames;
    for (const char* name : {"position", "rotation", "target"}) {
        if (place.kind->indexOf(name) < 0) continue;
        for (const Track& track : std::get<Numbers>(place[name]))
            if (track.keyed())
                for (const Key& key : *track.keys) frames.insert(key.frame);
    }
    if (frames.empty()) frames.insert(also);
    return frames;
}

bool movedInWords(const Track& track) { return track.formula || track.link; }

/// Sets three numbers at a frame: their keys where they have some. What a formula or a link moves stays as it is written.
void setThree(Part& place, const char* name, const glm::dvec3& values, double frame, bool keyed) {
    auto& numbers = std::get<Numbers>(place.values[static_cast<std::size_t>(place.kind->indexOf(name))]);
    for (int c = 0; c < 3; ++c) {
        Track& track = numbers[static_cast<std::size_t>(c)];
        if (movedInWords(track)) continue;
        const double rounded = std::round(values[c] * 1e6) / 1e6;
        track = keyed ? withKey(track, frame, rounded, Ease::eased) : Track{rounded};
    }
}

}  // namespace

glm::quat rotationFromTurns(const glm::vec3& radians) {
    return glm::angleAxis(radians.z, glm::vec3(0, 0, 1)) * glm::angleAxis(radians.y, glm::vec3(0, 1, 0)) *
           glm::angleAxis(radians.x, glm::vec3(1, 0, 0));
}

glm::vec3 turnsFromRotation(const glm::quat& q) {
    const float sine = std::clamp(2 * (q.w * q.y - q.z * q.x), -1.0f, 1.0f);
    if (std::abs(sine) > 0.999999f) return {0, std::copysign(1.5707963f, sine), -2 * std::copysign(1.0f, sine) * std::atan2(q.x, q.w)};
    return {std::atan2(2 * (q.w * q.x + q.y * q.z), 1 - 2 * (q.x * q.x + q.y * q.y)), std::asin(sine),
            std::atan2(2 * (q.w * q.z + q.x * q.y), 1 - 2 * (q.y * q.y + q.z * q.z))};
}

WorldPose baseOf(const Scene& scene, ObjectId object, double frame) { return baseWithin(scene, object, frame, 0); }
WorldPose poseAt(const Scene& scene, ObjectId object, double frame) { return poseWithin(scene, object, frame, 0); }

WorldPose shapePoseAt(const Scene& scene, ObjectId shape, double frame) {
    const ObjectId carrier = carrierOf(scene, shape);
    return carrier ? poseAt(scene, carrier, frame) : WorldPose{};
}

Camera cameraAt(const Scene& scene, ObjectId id, double frame) {
    Camera camera = resolve(scene, placePart(scene.at(id)), frame).as<Camera>();
    const WorldPose base = baseOf(scene, id, frame);
    camera.position = base.toWorld(camera.position);
    camera.target = base.toWorld(camera.target);
    return camera;
}

Edit hang(const Scene& scene, ObjectId id, ObjectId to, double frame) {
    const Object& object = scene.at(id);
    if (!hangPart(object)) throw Error("“" + object.name + "” has no position of its own that could hang from something.");
    if (to) {
        const int from = hangKind.indexOf(to.type() == ObjectType::shape ? "curve" : "from");
        checkValue(hangKind.parameters[static_cast<std::size_t>(from)], to, "What “" + object.name + "” hangs from");
    }
    const bool curve = to.type() == ObjectType::shape;
    if (curve && readsFiles(scene.at(to).part("maker")))
        throw Error("“" + scene.at(to).name +
                    "” reads its curves from a file, and a position can't follow those; draw a path along it instead.");
    Edit edit{scene, {}, {}, id};
    edit.label = !to ? object.name + ": stands on its own" : object.name + (curve ? ": follows " : ": hangs from ") + scene.at(to).name;
    Object& changed = edits::changed(edit.scene, id);
    edits::setText(changed, "hang", "by", !to ? "none" : curve ? "curve" : "object");
    if (to) edits::setReference(changed, "hang", curve ? "curve" : "from", to);
    if (const std::string circle = circleOfHanging(edit.scene, id); !circle.empty())
        throw Error("That would make a circle of hanging: " + circle + ". It was kept as it was.");
    Part& place = changed.parts.front();
    if (curve) {
        for (const char* name : {"position", "rotation"})
            if (place.kind->indexOf(name) >= 0) setThree(place, name, {0, 0, 0}, frame, false);
        return edit;
    }
    const auto hasWords = [&place](const char* name) {
        if (place.kind->indexOf(name) < 0) return false;
        const auto& numbers = std::get<Numbers>(place[name]);
        return std::any_of(numbers.begin(), numbers.end(), movedInWords);
    };
    if (hasWords("position") || hasWords("rotation") || hasWords("target")) edit.label += "; its formulas and links count from there";
    const auto frames = framesOfPlace(place, frame);
    const bool keyed = framesOfPlace(place, -1e9).count(-1e9) == 0;
    const Scene hung = edit.scene;  // bases are read before the place is changed
    for (const double at : frames) {
        const WorldPose base = baseOf(hung, id, at), world = poseAt(scene, id, at);
        setThree(place, "position", base.fromWorld(world.position), at, keyed);
        if (id.type() == ObjectType::camera)
            setThree(place, "target", base.fromWorld(cameraAt(scene, id, at).target), at, keyed);
        else
            setThree(place, "rotation", glm::dvec3(turnsFromRotation(glm::conjugate(base.rotation) * world.rotation)) * 57.29577951308232,
                     at, keyed);
    }
    return edit;
}

}  // namespace gswarm
