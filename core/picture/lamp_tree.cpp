#include "core/picture/lamp_tree.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <numbers>
#include <optional>

#include "core/picture/cone.h"

namespace gswarm {
float spotShare(const Lamp& lamp, const glm::vec3& away) {
    const float cosine = glm::dot(lamp.along, away);
    const float share = std::clamp((cosine - lamp.cosineNone) / (lamp.cosineFull - lamp.cosineNone), 0.0f, 1.0f);
    return share * share * (3 - 2 * share);
}

namespace {

using glm::vec3;

vec3 across(const Lamp& lamp) { return glm::cross(lamp.along, lamp.side); }

/// Whether a ray can meet it.
bool hasBody(const Lamp& lamp) { return isFlat(lamp) || lamp.radius > 0; }

LightCone coneOf(const Lamp& lamp) {
    constexpr float everywhere = std::numbers::pi_v<float>;
    if (lamp.form == LampForm::point || lamp.bothSides) return {lamp.along, everywhere};
    return {lamp.along, isFlat(lamp) ? everywhere / 2 : std::acos(std::clamp(lamp.cosineNone, -1.0f, 1.0f))};
}

/// In candela, about.
float powerOf(const Lamp& lamp) {
    const float bright = std::max({lamp.light.x, lamp.light.y, lamp.light.z, 0.0f});
    return isFlat(lamp) ? bright * areaOf(lamp) : bright;
}

float halfOf(const Lamp& lamp) {
    return lamp.form == LampForm::rectangle ? 0.5f * std::sqrt(lamp.width * lamp.width + lamp.depth * lamp.depth) : lamp.radius;
}

/// Light is cut off softly at its reach, as KHR_lights_punctual recommends.
float within(const Lamp& lamp, float distance) {
    if (lamp.reach <= 0) return 1;
    const float share = distance / lamp.reach, s4 = share * share * share * share;
    return std::clamp(1 - s4, 0.0f, 1.0f) * std::clamp(1 - s4, 0.0f, 1.0f);
}

/// The ball of a point or spot as a place outside of it sees it.
struct SeenBall {
    vec3 toward;            ///< unit, to its middle
    float distance, share;  ///< of its middle, and one minus the cosine of its edge
    float density() const { return 1 / (2 * std::numbers::pi_v<float> * share); }
};
std::optional<SeenBall> seenBall(const Lamp& lamp, const vec3& place) {
    const vec3 way = lamp.position - place;
    const float distance = glm::length(way), sine = lamp.radius / distance;
    if (!(sine < 1)) return std::nullopt;
    return SeenBall{way / distance, distance, sine * sine / (1 + std::sqrt(1 - sine * sine))};
}

/// What the ball shines with toward a place: all over it the light of its candela.
vec3 radianceOf(const Lamp& lamp, const SeenBall& ball) {
    const float area = std::numbers::pi_v<float> * lamp.radius * lamp.radius;
    return lamp.light * (within(lamp, ball.distance) / area * (lamp.form == LampForm::spot ? spotShare(lamp, -ball.toward) : 1));
}

std::optional<float> meetBall(const Lamp& lamp, const vec3& from, const vec3& direction) {
    const vec3 way = lamp.position - from;
    const float along = glm::dot(way, direction), beside = glm::dot(way, way) - along * along;
    if (along <= 0 || beside >= lamp.radius * lamp.radius) return std::nullopt;
    return along - std::sqrt(lamp.radius * lamp.radius - beside);
}

/// Where a ray meets the lamp's plane inside its outline.
std::optional<float> meet(const Lamp& lamp, const vec3& from, const vec3& direction) {
    const float slope = glm::dot(direction, lamp.along);
    if (std::abs(slope) < 1e-7f || (slope > 0 && !lamp.bothSides)) return std::nullopt;
    const float distance = glm::dot(lamp.position - from, lamp.along) / slope;
    if (distance <= 1e-4f) return std::nullopt;
    const vec3 at = from + direction * distance - lamp.position;
    const float x = glm::dot(at, lamp.side), z = glm::dot(at, across(lamp));
    const bool inside = lamp.form == LampForm::disc ? x * x + z * z <= lamp.radius * lamp.radius
                                                    : std::abs(x) <= lamp.width / 2 && std::abs(z) <= lamp.depth / 2;
    return inside ? std::optional(distance) : std::nullopt;
}

/// Of those that shine at all.
std::vector<Lamp> shining(std::vector<Lamp> lamps) {
    std::erase_if(lamps, [](const Lamp& lamp) { return !(powerOf(lamp) > 0); });
    return lamps;
}

std::vector<LightBox> boxesOf(const std::vector<Lamp>& lamps) {
    std::vector<LightBox> boxes;
    for (const Lamp& lamp : lamps)
        boxes.push_back({lamp.position - halfOf(lamp), lamp.position + halfOf(lamp), coneOf(lamp), powerOf(lamp)});
    return boxes;
}

}  // namespace

LampTree::LampTree(std::vector<Lamp> lamps)
    : lamps_(shining(std::move(lamps))), tree_(boxesOf(lamps_)), solid_(std::any_of(lamps_.begin(), lamps_.end(), hasBody)) {}

LampLight LampTree::sample(const vec3& place, float choose, float u, float v) const {
    LampLight out;
    if (lamps_.empty()) return out;
    const LightTree::Picked picked = tree_.pick(place, choose);
    const float chance = picked.chance;
    out.lamp = picked.light;
    const Lamp& lamp = lamps_[static_cast<std::size_t>(out.lamp)];
    vec3 from = lamp.position;
    if (lamp.form == LampForm::rectangle) {
        from += lamp.side * ((u - 0.5f) * lamp.width) + across(lamp) * ((v - 0.5f) * lamp.depth);
    } else if (lamp.form == LampForm::disc) {
        const float r = lamp.radius * std::sqrt(u), around = 2 * std::numbers::pi_v<float> * v;
        from += lamp.side * (r * std::cos(around)) + across(lamp) * (r * std::sin(around));
    } else if (lamp.radius > 0) {
        const auto ball = seenBall(lamp, place);
        if (!ball) return out;
        const float z = 1 - u * ball->share, r = std::sqrt(std::max(0.0f, 1 - z * z)), around = 2 * std::numbers::pi_v<float> * v;
        vec3 a, b;
        basis(ball->toward, a, b);
        out.direction = glm::normalize(a * (r * std::cos(around)) + b * (r * std::sin(around)) + ball->toward * z);
        out.distance = meetBall(lamp, place, out.direction).value_or(ball->distance);
        out.density = ball->density() * chance;
        out.light = radianceOf(lamp, *ball) / out.density;
        return out;
    }
    const vec3 way = from - place;
    const float d2 = glm::dot(way, way);
    if (d2 < 1e-10f) return out;
    out.distance = std::sqrt(d2);
    out.direction = way / out.distance;
    if (isFlat(lamp)) {
        const float facing = glm::dot(lamp.along, -out.direction), cosine = lamp.bothSides ? std::abs(facing) : facing;
        if (cosine <= 0) return out;
        const float density = d2 / (cosine * areaOf(lamp));
        out.light = lamp.light / (density * chance);
        out.density = density * chance;
    } else {
        out.light = lamp.light * (within(lamp, out.distance) / (d2 * chance));
        if (lamp.form == LampForm::spot) out.light *= spotShare(lamp, -out.direction);
    }
    return out;
}

std::vector<LampTree::Met> LampTree::meets(const vec3& from, const vec3& direction, float distance) const {
    std::vector<Met> out;
    if (!solid_) return out;
    const auto look = [&](int i) {
        const Lamp& lamp = lamps_[static_cast<std::size_t>(i)];
        if (!hasBody(lamp)) return;
        if (isFlat(lamp)) {
            const auto met = meet(lamp, from, direction);
            if (!met || *met >= distance) return;
            const float cosine = std::abs(glm::dot(lamp.along, direction));
            out.push_back({*met, lamp.light, *met * *met / (cosine * areaOf(lamp)) * tree_.chanceOf(i, from), i});
            return;
        }
        const auto met = meetBall(lamp, from, direction);
        const auto ball = seenBall(lamp, from);
        if (met && ball && *met < distance) out.push_back({*met, radianceOf(lamp, *ball), ball->density() * tree_.chanceOf(i, from), i});
    };
    tree_.meet(from, direction, distance, look);
    return out;
}

}  // namespace gswarm
