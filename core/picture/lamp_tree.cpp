#include "core/picture/lamp_tree.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <numbers>
#include <optional>

#include "core/picture/bsdf.h"

namespace gswarm {
float spotShare(const Lamp& lamp, const glm::vec3& away) {
    const float cosine = glm::dot(lamp.along, away);
    const float share = std::clamp((cosine - lamp.cosineNone) / (lamp.cosineFull - lamp.cosineNone), 0.0f, 1.0f);
    return share * share * (3 - 2 * share);
}

namespace {

using glm::vec3;

bool isFlat(const Lamp& lamp) { return lamp.form == LampForm::rectangle || lamp.form == LampForm::disc; }
float areaOf(const Lamp& lamp) {
    return lamp.form == LampForm::disc ? std::numbers::pi_v<float> * lamp.radius * lamp.radius : lamp.width * lamp.depth;
}
vec3 across(const Lamp& lamp) { return glm::cross(lamp.along, lamp.side); }

/// Whether a ray can meet it.
bool hasBody(const Lamp& lamp) { return isFlat(lamp) || lamp.radius > 0; }

LampCone coneOf(const Lamp& lamp) {
    constexpr float everywhere = std::numbers::pi_v<float>;
    if (lamp.form == LampForm::point || lamp.bothSides) return {lamp.along, everywhere};
    return {lamp.along, isFlat(lamp) ? everywhere / 2 : std::acos(std::clamp(lamp.cosineNone, -1.0f, 1.0f))};
}

/// The narrowest that holds both.
LampCone joined(LampCone a, LampCone b) {
    if (a.spread < b.spread) std::swap(a, b);
    const float between = std::acos(std::clamp(glm::dot(a.axis, b.axis), -1.0f, 1.0f));
    if (between + b.spread <= a.spread) return a;
    const float spread = (a.spread + between + b.spread) / 2, turn = spread - a.spread;
    const vec3 about = glm::cross(a.axis, b.axis);
    if (spread >= std::numbers::pi_v<float> || glm::length(about) < 1e-6f) return {a.axis, std::numbers::pi_v<float>};
    const vec3 n = glm::normalize(about);
    return {glm::normalize(a.axis * std::cos(turn) + glm::cross(n, a.axis) * std::sin(turn)), spread};
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

constexpr float shinesElsewhere = 1e-3f;

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

bool meetsBox(const vec3& low, const vec3& high, const vec3& from, const vec3& inverse, float distance) {
    const vec3 a = (low - from) * inverse, b = (high - from) * inverse, first = glm::min(a, b), last = glm::max(a, b);
    return std::max({first.x, first.y, first.z, 0.0f}) <= std::min({last.x, last.y, last.z, distance});
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

}  // namespace

LampTree::LampTree(std::vector<Lamp> lamps) : lamps_(std::move(lamps)) {
    std::erase_if(lamps_, [](const Lamp& lamp) { return !(powerOf(lamp) > 0); });
    std::vector<int> order;
    for (std::size_t i = 0; i < lamps_.size(); ++i) {
        order.push_back(static_cast<int>(i));
        solid_ = solid_ || hasBody(lamps_[i]);
    }
    leafOf_.resize(lamps_.size());
    if (!lamps_.empty()) build(order, 0, static_cast<int>(lamps_.size()), -1);
}

int LampTree::build(std::vector<int>& order, int first, int end, int parent) {
    const int number = static_cast<int>(nodes_.size());
    nodes_.emplace_back();
    parent_.push_back(parent);
    vec3 low(1e30f), high(-1e30f);
    float power = 0;
    LampCone cone = coneOf(lamps_[static_cast<std::size_t>(order[static_cast<std::size_t>(first)])]);
    for (int i = first; i < end; ++i) {
        const Lamp& lamp = lamps_[static_cast<std::size_t>(order[static_cast<std::size_t>(i)])];
        low = glm::min(low, lamp.position - halfOf(lamp));
        high = glm::max(high, lamp.position + halfOf(lamp));
        power += powerOf(lamp);
        cone = joined(cone, coneOf(lamp));
    }
    int left = -1, right = order[static_cast<std::size_t>(first)];
    if (end - first > 1) {
        const vec3 size = high - low;
        const int axis = size.x > size.y ? (size.x > size.z ? 0 : 2) : size.y > size.z ? 1 : 2;
        const int middle = (first + end) / 2;
        std::nth_element(order.begin() + first, order.begin() + middle, order.begin() + end, [&](int a, int b) {
            const float pa = lamps_[static_cast<std::size_t>(a)].position[axis], pb = lamps_[static_cast<std::size_t>(b)].position[axis];
            return pa != pb ? pa < pb : a < b;
        });
        left = build(order, first, middle, number);
        right = build(order, middle, end, number);
    } else {
        leafOf_[static_cast<std::size_t>(right)] = number;
    }
    nodes_[static_cast<std::size_t>(number)] = {low, high, cone, power, left, right};
    return number;
}

float LampTree::weight(const Node& node, const vec3& place) const {
    const vec3 nearest = glm::clamp(place, node.low, node.high), half = (node.high - node.low) * 0.5f;
    const float away = glm::dot(nearest - place, nearest - place);
    const float weight = node.power / std::max({away, glm::dot(half, half), 1e-6f});
    if (node.cone.spread >= std::numbers::pi_v<float>) return weight;
    // Where none of them can shine there they are hardly asked: the box may lie in a direction as far off as it is wide.
    const vec3 way = place - (node.low + node.high) * 0.5f;
    const float distance = glm::length(way), radius = glm::length(half);
    if (distance <= radius) return weight;
    const float off = std::acos(std::clamp(glm::dot(way, node.cone.axis) / distance, -1.0f, 1.0f));
    return off - std::asin(radius / distance) > node.cone.spread ? weight * shinesElsewhere : weight;
}

LampLight LampTree::sample(const vec3& place, float choose, float u, float v) const {
    LampLight out;
    if (lamps_.empty()) return out;
    int at = 0;
    float chance = 1;
    while (nodes_[static_cast<std::size_t>(at)].left >= 0) {
        const Node& node = nodes_[static_cast<std::size_t>(at)];
        const float l = weight(nodes_[static_cast<std::size_t>(node.left)], place),
                    r = weight(nodes_[static_cast<std::size_t>(node.right)], place);
        const float left = l / (l + r);
        if (choose < left) {
            choose /= left, chance *= left, at = node.left;
        } else {
            choose = (choose - left) / (1 - left), chance *= 1 - left, at = node.right;
        }
    }
    out.lamp = nodes_[static_cast<std::size_t>(at)].right;
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

float LampTree::chanceOf(int lamp, const vec3& place) const {
    float chance = 1;
    for (int at = leafOf_[static_cast<std::size_t>(lamp)], up = parent_[static_cast<std::size_t>(at)]; up >= 0;
         at = up, up = parent_[static_cast<std::size_t>(at)]) {
        const Node& node = nodes_[static_cast<std::size_t>(up)];
        const float l = weight(nodes_[static_cast<std::size_t>(node.left)], place),
                    r = weight(nodes_[static_cast<std::size_t>(node.right)], place);
        chance *= (at == node.left ? l : r) / (l + r);
    }
    return chance;
}

std::vector<LampTree::Met> LampTree::meets(const vec3& from, const vec3& direction, float distance) const {
    std::vector<Met> out;
    if (!solid_) return out;
    const vec3 inverse = 1.0f / direction;
    const auto look = [&](int i) {
        const Lamp& lamp = lamps_[static_cast<std::size_t>(i)];
        if (!hasBody(lamp)) return;
        if (isFlat(lamp)) {
            const auto met = meet(lamp, from, direction);
            if (!met || *met >= distance) return;
            const float cosine = std::abs(glm::dot(lamp.along, direction));
            out.push_back({*met, lamp.light, *met * *met / (cosine * areaOf(lamp)) * chanceOf(i, from), i});
            return;
        }
        const auto met = meetBall(lamp, from, direction);
        const auto ball = seenBall(lamp, from);
        if (met && ball && *met < distance) out.push_back({*met, radianceOf(lamp, *ball), ball->density() * chanceOf(i, from), i});
    };
    std::array<int, 64> open;
    std::size_t count = 0;
    open[count++] = 0;
    while (count > 0) {
        const Node& node = nodes_[static_cast<std::size_t>(open[--count])];
        if (!meetsBox(node.low, node.high, from, inverse, distance)) continue;
        if (node.left < 0) {
            look(node.right);
        } else {
            open[count++] = node.left, open[count++] = node.right;
        }
    }
    return out;
}

}  // namespace gswarm
