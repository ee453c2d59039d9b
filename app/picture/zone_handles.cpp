#include "app/picture/zone_handles.h"

#include <algorithm>
#include <cmath>
#include <glm/gtc/constants.hpp>

using namespace gswarm;

namespace zone_handles {
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
    const glm::vec3 half = kind.halfSize(typed(state));
    const auto add = [&](const char* name, int a, float distance, const char* parameter, int component, double perMetre) {
        const glm::vec3 along = state.rotation * axis(a);
        handles.push_back({name, state.position + along * distance, along, parameter, component, perMetre});
    };
    if (kind.id == "ball") {
        add("radius", 0, half.x, "radius", -1, 1);
        add("softEdge", 2, std::max(0.0f, half.z - state.numbers[1]), "softEdge", -1, -1);
    } else if (kind.id == "slab") {
        add("thickness", 1, half.y, "thickness", -1, 2);
    } else {
        for (int a = 0; a < 3; ++a) add(axisNames[a], a, half[a], "size", a, 2);
    }
    return handles;
}

std::vector<glm::vec3> circle(const ZoneState& state, int around, float radius) {
    std::vector<glm::vec3> points;
    const glm::vec3 a = state.rotation * axis((around + 1) % 3), b = state.rotation * axis((around + 2) % 3);
    for (int k = 0; k <= 64; ++k) {
        const float angle = static_cast<float>(k) / 64 * glm::two_pi<float>();
        points.push_back(state.position + (a * std::cos(angle) + b * std::sin(angle)) * radius);
    }
    return points;
}

void addBox(std::vector<std::vector<glm::vec3>>& lines, const ZoneState& state, const glm::vec3& half) {
    const auto corner = [&](int x, int y, int z) { return state.position + state.rotation * (half * glm::vec3(x, y, z)); };
    for (const int y : {-1, 1})
        lines.push_back({corner(-1, y, -1), corner(1, y, -1), corner(1, y, 1), corner(-1, y, 1), corner(-1, y, -1)});
    for (const int x : {-1, 1})
        for (const int z : {-1, 1}) lines.push_back({corner(x, -1, z), corner(x, 1, z)});
}

}  // namespace

std::vector<Handle> handlesOf(const Scene& scene, ObjectId zone, double frame, Mode mode, float reach) {
    const ZoneState state = zoneStateAt(scene.at(zone), frame);
    if (mode == Mode::size) return sizeHandles(kindOf(scene, zone), state);
    std::vector<Handle> handles;
    for (int a = 0; a < 3; ++a) {
        if (mode == Mode::move)
            handles.push_back({axisNames[a], state.position + axis(a) * reach, axis(a), "position", a, 1});
        else
            handles.push_back({axisNames[a], state.position + state.rotation * axis((a + 1) % 3) * reach, glm::vec3(0), "rotation", a, 0});
    }
    if (mode == Mode::move) handles.push_back({"free", state.position, glm::vec3(0), "position", -1, 1});
    return handles;
}

Edit edited(const Scene& scene, const Drag& drag, QPointF to, double frame, const ViewCamera& view, QSizeF viewport, Mode mode) {
    const Handle& handle = drag.handle;
    const auto rounded = [](double v) { return std::round(v * 1000) / 1000; };
    const auto set = [&](const Scene& s, int component, double value) {
        return setNumber(s, addressOf(s, drag.zone, handle.parameter, component), value, frame);
    };
    if (mode == Mode::turn) {
        const double degrees = (to.x() - drag.from.x()) * 0.5;
        return set(scene, handle.component, rounded(drag.numbers[static_cast<std::size_t>(handle.component)] + degrees));
    }
    if (handle.along == glm::vec3(0)) {
        const glm::vec3 from = view.ray(drag.from, viewport), now = view.ray(to, viewport);
        const float depth = glm::length(drag.begun.position - view.camera().position);
        Edit edit{scene, {}, {}, {}};
        for (int c = 0; c < 3; ++c)
            edit = set(edit.scene, c, rounded(drag.numbers[static_cast<std::size_t>(c)] + (now[c] - from[c]) * depth));
        edit.label = scene.at(drag.zone).name + ": move";
        edit.mergeKey = toText(drag.zone) + "/move";
        return edit;
    }
    // How far the pointer went along the handle's line on screen, in metres.
    const auto a = view.project(handle.place, viewport), b = view.project(handle.place + handle.along * 0.1f, viewport);
    double metres = 0;
    if (a && b) {
        const QPointF line = (*b - *a) * 10, gone = to - drag.from;
        const double length = QPointF::dotProduct(line, line);
        if (length > 1) metres = QPointF::dotProduct(gone, line) / length;
    }
    const std::size_t number = handle.component < 0 ? 0 : static_cast<std::size_t>(handle.component);
    const double low = parameterAt(scene, addressOf(scene, drag.zone, handle.parameter)).hard.low;
    return set(scene, handle.component, std::max(low, rounded(drag.numbers[number] + metres * handle.perMetre)));
}

std::vector<std::vector<glm::vec3>> contours(const Scene& scene, ObjectId zone, double frame, bool core) {
    const ZoneState state = zoneStateAt(scene.at(zone), frame);
    const ZoneKind& kind = kindOf(scene, zone);
    glm::vec3 half = kind.halfSize(typed(state));
    const int softEdge = kind.id == "box" ? 3 : 1;
    if (core)
        half = glm::max(half - state.numbers[static_cast<std::size_t>(softEdge)] * (kind.id == "slab" ? glm::vec3(0, 1, 0) : glm::vec3(1)),
                        glm::vec3(0));
    std::vector<std::vector<glm::vec3>> lines;
    if (kind.id == "ball")
        for (int a = 0; a < 3; ++a) lines.push_back(circle(state, a, half.x));
    else
        addBox(lines, state, half);
    return lines;
}

std::vector<glm::vec3> path(const Scene& scene, ObjectId zone, int first, int last) {
    const auto& numbers = std::get<Numbers>(scene.at(zone).part("place")["position"]);
    std::vector<glm::vec3> places;
    if (std::none_of(numbers.begin(), numbers.end(), [](const Track& t) { return t.keyed(); })) return places;
    for (int f = first; f <= std::min(last, first + 2000); ++f) places.push_back(zoneStateAt(scene.at(zone), f).position);
    return places;
}

}  // namespace zone_handles
