#include "app/picture/handles.h"

#include <algorithm>
#include <cmath>
#include <glm/gtc/constants.hpp>

#include "app/document/shown_zones.h"
#include "core/base/turns.h"
#include "core/gesture/gesture_kind.h"
#include "core/light/light_kind.h"
#include "core/pattern/pattern_kind.h"
#include "core/prepare/backdrops.h"
#include "core/prepare/prepare.h"
#include "core/provide/placing.h"
#include "core/resolve/resolve.h"
#include "core/shape/shape_kind.h"
#include "core/symmetry/symmetry_kind.h"
#include "core/time/track.h"

using namespace gswarm;

namespace handles {
namespace {

const char* const axisNames[] = {"x", "y", "z"};

glm::vec3 axis(int a) {
    glm::vec3 v(0);
    v[a] = 1;
    return v;
}

std::vector<double> typed(const ZoneState& state) { return {state.numbers.begin(), state.numbers.end()}; }

const ZoneKind& kindOf(const Scene& scene, ObjectId zone) { return static_cast<const ZoneKind&>(*scene.at(zone).part("form").kind); }

std::vector<Handle> sizeHandles(const ZoneKind& kind, const ZoneState& state) {
    std::vector<Handle> handles;
    if (!kind.handles) return handles;
    for (const ZoneHandle& h : kind.handles(typed(state)))
        handles.push_back(
            {h.name, state.position + state.rotation * h.place, state.rotation * h.along, h.parameter, h.component, h.perMetre});
    return handles;
}

bool isPath(const Scene& scene, ObjectId id) {
    return id.type() == ObjectType::shape && scene.at(id).part("maker").kind->indexOf("points") >= 0;
}
const Points& pointsOf(const Scene& scene, ObjectId path) { return std::get<Points>(scene.at(path).part("maker")["points"]); }

bool isLamp(const Scene& scene, ObjectId id) {
    return id.type() == ObjectType::light && static_cast<const LightKind&>(*scene.at(id).part("light").kind).lamp;
}

std::vector<Handle> lampHandles(const Scene& scene, ObjectId light, double frame, Store& store) {
    const ResolvedPart part = resolve(scene, scene.at(light).part("light"), frame);
    const auto lamp = lampAt(scene, light, frame, store);
    std::vector<Handle> handles;
    if (!lamp) return handles;
    const glm::mat3 turn = turnOf(*lamp);
    for (const LampHandle& h : static_cast<const LightKind&>(*part.kind).handles(part.data.get()))
        handles.push_back({QString::fromStdString(h.name), lamp->position + turn * h.place, turn * h.along, h.parameter, -1, h.perMetre});
    return handles;
}

/// Where the pattern of a gesture is put into its swarm; nothing for all others.
std::optional<PatternPlace> patternPlace(const Scene& scene, ObjectId id, double frame) {
    if (!placedPatternIn(scene, id)) return std::nullopt;
    const ResolvedPart part = resolve(scene, scene.at(id).part("pattern"), frame);
    return static_cast<const PatternKind&>(*part.kind).place(part.data.get());
}

/// The place of a pattern's rectangle, whose own X and Y go along its sides.
WorldPose poseOfPattern(const PatternPlace& place, const WorldPose& swarm) {
    const glm::vec3 x = glm::normalize(place.right), z = glm::normalize(place.normal), y = glm::cross(z, x);
    return {swarm.toWorld(place.centre), swarm.rotation * glm::quat_cast(glm::mat3(x, y, z)), swarm.scale};
}

std::vector<Handle> patternHandles(const PatternPlace& place, const WorldPose& swarm, Mode mode, float reach) {
    const WorldPose pose = poseOfPattern(place, swarm);
    const glm::vec3 right = pose.rotation * axis(0), up = pose.rotation * axis(1);
    if (mode == Mode::turn) return {{"angle", pose.position + up * reach, glm::vec3(0), "pattern-angle", -1, 0}};
    if (mode == Mode::move) {
        std::vector<Handle> handles;
        for (int a = 0; a < 3; ++a)
            handles.push_back({axisNames[a], pose.position + swarm.rotation * axis(a) * reach, swarm.rotation * axis(a), "pattern-centre",
                               a, 1 / swarm.scale});
        handles.push_back({"free", pose.position, glm::vec3(0), "pattern-centre", -1, 1 / swarm.scale});
        return handles;
    }
    // Both sides grow from the middle.
    std::vector<Handle> handles{
        {"width", pose.position + right * (0.5f * glm::length(place.right) * swarm.scale), right, "pattern-width", -1, 2 / swarm.scale}};
    if (place.up != glm::vec3(0))
        handles.push_back(
            {"height", pose.position + up * (0.5f * glm::length(place.up) * swarm.scale), up, "pattern-height", -1, 2 / swarm.scale});
    return handles;
}

/// What has its place within a swarm: its gestures that warp space or have a placed pattern, and its symmetries.
bool isWithinSwarm(ObjectId id) { return id.type() == ObjectType::gesture || id.type() == ObjectType::symmetry; }
const Part& placedPart(const Scene& scene, ObjectId id) {
    return scene.at(id).part(id.type() == ObjectType::gesture ? "change" : "symmetry");
}

/// The swarm that a thing is of; of several on whose rail a gesture is the first.
WorldPose swarmOf(const Scene& scene, ObjectId id, double frame, Store& store) {
    if (id.type() == ObjectType::symmetry) return poseAt(scene, scene.ownerOf(id), frame, store);
    for (const ObjectId entry : scene.referringTo(id))
        if (const ObjectId swarm = scene.ownerOf(entry); swarm.type() == ObjectType::swarm) return poseAt(scene, swarm, frame, store);
    return {};
}

/// What a thing stands in: what it hangs from, or its swarm.
WorldPose around(const Scene& scene, ObjectId id, double frame, Store& store) {
    return isWithinSwarm(id) ? swarmOf(scene, id, frame, store) : baseOf(scene, id, frame, store);
}

/// The own space of a warp or a symmetry.
WorldPose poseWithin(const Scene& scene, ObjectId id, double frame, Store& store) {
    if (const auto pattern = patternPlace(scene, id, frame)) return poseOfPattern(*pattern, swarmOf(scene, id, frame, store));
    const Part& change = placedPart(scene, id);
    const auto three = [&](const char* id) {
        glm::vec3 value;
        for (int c = 0; c < 3; ++c)
            value[c] = static_cast<float>(valueAt(scene, std::get<Numbers>(change[id])[static_cast<std::size_t>(c)], frame));
        return value;
    };
    const WorldPose swarm = swarmOf(scene, id, frame, store);
    return {swarm.toWorld(three("centre")), swarm.rotation * rotationFromTurns(glm::radians(three("rotation"))), swarm.scale};
}

std::vector<Handle> warpHandles(const Scene& scene, ObjectId gesture, double frame, Store& store) {
    const ResolvedPart part = resolve(scene, scene.at(gesture).part("change"), frame);
    const WorldPose pose = poseWithin(scene, gesture, frame, store);
    std::vector<Handle> handles;
    for (const GestureHandle& h : static_cast<const GestureKind&>(*part.kind).handles(part.data.get()))
        handles.push_back(
            {QString::fromUtf8(h.name), pose.toWorld(h.place), pose.rotation * h.along, h.parameter, -1, h.perMetre / pose.scale});
    return handles;
}

double rounded(double v) { return std::round(v * 1000) / 1000; }

/// How far the pointer went along a line in the world as it is seen on screen, in metres.
double metresAlong(const Handle& handle, QPointF gone, const ViewCamera& view, QSizeF viewport) {
    const auto a = view.project(handle.place, viewport), b = view.project(handle.place + handle.along * 0.1f, viewport);
    if (!a || !b) return 0;
    const QPointF line = (*b - *a) * 10;
    const double length = QPointF::dotProduct(line, line);
    return length > 1 ? QPointF::dotProduct(gone, line) / length : 0;
}

Edit movePoint(const Scene& scene, const Drag& drag, const glm::dvec3& place) {
    Points points = pointsOf(scene, drag.object);
    const auto which = static_cast<std::size_t>(drag.handle.component);
    if (which < points.size())
        for (int c = 0; c < 3; ++c) points[which][static_cast<std::size_t>(c)] = rounded(place[c]);
    Edit edit = setValue(scene, addressOf(scene, drag.object, "points"), points);
    edit.label = scene.at(drag.object).name + ": move " + drag.handle.name.toStdString();
    return edit;
}

}  // namespace

WorldPose poseOf(const Scene& scene, ObjectId id, double frame, Store& store) {
    if (isWithinSwarm(id)) return poseWithin(scene, id, frame, store);
    if (id.type() != ObjectType::shape) return poseAt(scene, id, frame, store);
    return shapePoseAt(scene, id, frame, store);
}

bool hasHandles(const Scene& scene, ObjectId id) {
    return id && scene.find(id) &&
           (id.type() == ObjectType::zone || isLamp(scene, id) || id.type() == ObjectType::swarm || id.type() == ObjectType::mount ||
            id.type() == ObjectType::force || isPath(scene, id) || warpIn(scene, id) || placedPatternIn(scene, id) ||
            id.type() == ObjectType::symmetry);
}

std::vector<Handle> handlesOf(const Scene& scene, ObjectId id, double frame, Mode mode, float reach, Store& store) {
    const WorldPose pose = poseOf(scene, id, frame, store);
    std::vector<Handle> handles;
    if (id.type() == ObjectType::shape) {
        const Points& points = pointsOf(scene, id);
        for (std::size_t p = 0; p < points.size() && p < 200; ++p)
            handles.push_back({QString("point %1").arg(p + 1), pose.toWorld(glm::vec3(points[p][0], points[p][1], points[p][2])),
                               glm::vec3(0), "points", static_cast<int>(p), 0});
        return handles;
    }
    if (const auto pattern = patternPlace(scene, id, frame)) return patternHandles(*pattern, swarmOf(scene, id, frame, store), mode, reach);
    if (id.type() == ObjectType::gesture && mode == Mode::size) return warpHandles(scene, id, frame, store);
    if (id.type() == ObjectType::light && mode == Mode::size) return lampHandles(scene, id, frame, store);
    if (mode == Mode::turn && id.type() == ObjectType::light && scene.at(id).part("light").kind->indexOf("rotation") < 0) return {};
    if (mode == Mode::size && (id.type() == ObjectType::symmetry || id.type() == ObjectType::force)) return {};
    if (mode == Mode::size && id.type() != ObjectType::mount) {
        if (id.type() == ObjectType::zone) return sizeHandles(kindOf(scene, id), zoneStateAt(scene, scene.at(id), frame, store));
        return {{"scale", pose.position + axis(0) * reach, axis(0), "scale", -1, pose.scale / reach}};
    }
    // What hangs is moved along the axes of what it hangs from.
    const WorldPose base = around(scene, id, frame, store);
    const char* place = isWithinSwarm(id) ? "centre" : "position";
    const double perMetre = isWithinSwarm(id) ? 1 / base.scale : 1;
    for (int a = 0; a < 3; ++a) {
        if (mode == Mode::move)
            handles.push_back({axisNames[a], pose.position + base.rotation * axis(a) * reach, base.rotation * axis(a), place, a, perMetre});
        else
            handles.push_back({axisNames[a], pose.position + pose.rotation * axis((a + 1) % 3) * reach, glm::vec3(0), "rotation", a, 0});
    }
    if (mode == Mode::move) handles.push_back({"free", pose.position, glm::vec3(0), place, -1, perMetre});
    return handles;
}

Drag begin(const Scene& scene, ObjectId object, const Handle& handle, QPointF from, double frame) {
    Drag drag{object, handle, from, {}};
    const Value& value = valueOf(scene, addressOf(scene, object, handle.parameter));
    if (const auto* points = std::get_if<Points>(&value)) {
        const auto& p = (*points)[static_cast<std::size_t>(handle.component)];
        drag.numbers.assign(p.begin(), p.end());
    } else {
        for (const Track& t : std::get<Numbers>(value)) drag.numbers.push_back(valueAt(scene, t, frame));
    }
    return drag;
}

Edit edited(const Scene& scene, const Drag& drag, QPointF to, double frame, const ViewCamera& view, QSizeF viewport, Mode mode,
            Store& store) {
    const Handle& handle = drag.handle;
    const auto set = [&](const Scene& s, int component, double value) {
        return setNumber(s, addressOf(s, drag.object, handle.parameter, component), value, frame);
    };
    const bool points = handle.parameter == "points";
    if (mode == Mode::turn && !points) {
        const double degrees = (to.x() - drag.from.x()) * 0.5;
        return set(scene, handle.component, rounded(drag.numbers[static_cast<std::size_t>(std::max(0, handle.component))] + degrees));
    }
    if (handle.along == glm::vec3(0)) {
        const float depth = glm::length(handle.place - view.camera().position);
        const ViewCamera::Ray now = view.ray(to, viewport), before = view.ray(drag.from, viewport);
        const glm::vec3 gone = now.from - before.from + (now.direction - before.direction) * depth;
        const glm::dvec3 begun(drag.numbers[0], drag.numbers[1], drag.numbers[2]);
        if (points) {
            const WorldPose pose = poseOf(scene, drag.object, frame, store);
            return movePoint(scene, drag, begun + glm::dvec3(glm::conjugate(pose.rotation) * gone / pose.scale));
        }
        Edit edit{scene, {}, {}, {}};
        const glm::vec3 moved =
            glm::conjugate(around(scene, drag.object, frame, store).rotation) * gone * static_cast<float>(handle.perMetre);
        for (int c = 0; c < 3; ++c) edit = set(edit.scene, c, rounded(begun[c] + moved[c]));
        edit.label = scene.at(drag.object).name + ": move";
        edit.mergeKey = toText(drag.object) + "/move";
        return edit;
    }
    const double metres = metresAlong(handle, to - drag.from, view, viewport);
    const std::size_t number = handle.component < 0 ? 0 : static_cast<std::size_t>(handle.component);
    const double low = parameterAt(scene, addressOf(scene, drag.object, handle.parameter)).hard.low;
    return set(scene, handle.component, std::max(low, rounded(drag.numbers[number] + metres * handle.perMetre)));
}

std::vector<std::vector<glm::vec3>> lampLines(const Scene& scene, ObjectId light, double frame, Store& store) {
    const auto lamp = lampAt(scene, light, frame, store);
    if (!lamp) return {};
    auto lines = outlineOf(*lamp);
    const glm::mat3 turn = turnOf(*lamp);
    for (auto& line : lines)
        for (glm::vec3& p : line) p = lamp->position + turn * p;
    return lines;
}

std::vector<std::vector<glm::vec3>> patternLines(const Scene& scene, ObjectId gesture, double frame, Store& store) {
    const auto place = patternPlace(scene, gesture, frame);
    if (!place) return {};
    const WorldPose swarm = swarmOf(scene, gesture, frame, store);
    const auto at = [&](float right, float up) { return swarm.toWorld(place->centre + 0.5f * (place->right * right + place->up * up)); };
    if (place->up == glm::vec3(0)) return {{at(-1, 0), at(1, 0)}};
    // The upper edge is doubled.
    return {{at(-1, -1), at(1, -1), at(1, 1), at(-1, 1), at(-1, -1)}, {at(-1, 0.94f), at(1, 0.94f)}};
}

std::vector<std::vector<glm::vec3>> warpLines(const Scene& scene, ObjectId gesture, double frame, Store& store) {
    if (!warpIn(scene, gesture)) return {};
    const ResolvedPart part = resolve(scene, scene.at(gesture).part("change"), frame);
    const WorldPose pose = poseWithin(scene, gesture, frame, store);
    std::vector<std::vector<glm::vec3>> lines;
    const auto ring = [&](float height, float radius) {
        std::vector<glm::vec3> line;
        for (int k = 0; k <= 48; ++k) {
            const float turn = static_cast<float>(k) / 48 * glm::two_pi<float>();
            line.push_back(pose.toWorld({radius * std::cos(turn), height, radius * std::sin(turn)}));
        }
        lines.push_back(std::move(line));
    };
    float low = -1, high = 1;
    for (const GestureHandle& h : static_cast<const GestureKind&>(*part.kind).handles(part.data.get())) {
        if (std::string_view(h.name) == "from") low = h.place.y;
        if (std::string_view(h.name) == "to") high = h.place.y;
        if (std::string_view(h.name) == "radius") low = -h.place.x, high = h.place.x, ring(0, h.place.x);
    }
    for (const float height : {low, high}) ring(height, std::abs(high - low) / 6);
    lines.push_back({pose.toWorld({0, low, 0}), pose.toWorld({0, high, 0})});
    return lines;
}

std::vector<std::vector<glm::vec3>> symmetryLines(const Scene& scene, ObjectId symmetry, double frame, float reach, Store& store) {
    if (symmetry.type() != ObjectType::symmetry || !scene.find(symmetry)) return {};
    const ResolvedPart part = resolve(scene, placedPart(scene, symmetry), frame);
    const WorldPose swarm = swarmOf(scene, symmetry, frame, store);
    auto lines = static_cast<const SymmetryKind&>(*part.kind).outline(part.data.get(), reach / swarm.scale);
    for (auto& line : lines)
        for (glm::vec3& p : line) p = swarm.toWorld(p);
    return lines;
}

std::vector<std::vector<glm::vec3>> contours(const Scene& scene, ObjectId zone, double frame, bool core, Store& store) {
    const ZoneKind& kind = kindOf(scene, zone);
    if (!kind.outline) return {};
    const ZoneState state = zoneStateAt(scene, scene.at(zone), frame, store);
    ZoneLines lines = kind.outline(typed(state), core);
    for (auto& line : lines)
        for (glm::vec3& p : line) p = state.position + state.rotation * p;
    return lines;
}

std::vector<glm::vec3> path(const Scene& scene, ObjectId zone, int first, int last, Store& store) {
    const auto& numbers = std::get<Numbers>(scene.at(zone).part("place")["position"]);
    std::vector<glm::vec3> places;
    if (std::none_of(numbers.begin(), numbers.end(), [](const Track& t) { return t.keyed(); })) return places;
    for (int f = first; f <= std::min(last, first + 2000); ++f) places.push_back(zoneStateAt(scene, scene.at(zone), f, store).position);
    return places;
}

}  // namespace handles
