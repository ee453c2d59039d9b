#include "core/picture/light_tree.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace gswarm {
namespace {

using glm::vec3;

constexpr float everywhere = std::numbers::pi_v<float>;
constexpr float shinesElsewhere = 1e-3f;

/// The narrowest that holds both.
LightCone joined(LightCone a, LightCone b) {
    if (a.spread < b.spread) std::swap(a, b);
    if (a.spread >= everywhere) return a;
    const float between = std::acos(std::clamp(glm::dot(a.axis, b.axis), -1.0f, 1.0f));
    if (between + b.spread <= a.spread) return a;
    const float spread = (a.spread + between + b.spread) / 2, turn = spread - a.spread;
    const vec3 about = glm::cross(a.axis, b.axis);
    if (spread >= everywhere || glm::length(about) < 1e-6f) return {a.axis, everywhere};
    const vec3 n = glm::normalize(about);
    return {glm::normalize(a.axis * std::cos(turn) + glm::cross(n, a.axis) * std::sin(turn)), spread};
}

vec3 middleOf(const LightBox& box) { return (box.low + box.high) * 0.5f; }

}  // namespace

LightTree::LightTree(std::vector<LightBox> lights) : leafOf_(lights.size()) {
    std::vector<int> order(lights.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = static_cast<int>(i);
    nodes_.reserve(2 * lights.size());
    if (!lights.empty()) build(lights, order, -1);
}

int LightTree::build(const std::vector<LightBox>& lights, std::span<int> order, int parent) {
    const auto at = [&](int light) -> const LightBox& { return lights[static_cast<std::size_t>(light)]; };
    const int number = static_cast<int>(nodes_.size());
    nodes_.emplace_back();
    parent_.push_back(parent);
    LightBox all = at(order.front());
    for (const int light : order.subspan(1)) {
        const LightBox& box = at(light);
        all.low = glm::min(all.low, box.low), all.high = glm::max(all.high, box.high);
        all.cone = joined(all.cone, box.cone);
        all.power += box.power;
    }
    int left = -1, right = order.front();
    if (order.size() > 1) {
        const vec3 size = all.high - all.low;
        const int axis = size.x > size.y ? (size.x > size.z ? 0 : 2) : size.y > size.z ? 1 : 2;
        const std::size_t middle = order.size() / 2;
        std::nth_element(order.begin(), order.begin() + static_cast<std::ptrdiff_t>(middle), order.end(), [&](int a, int b) {
            const float pa = middleOf(at(a))[axis], pb = middleOf(at(b))[axis];
            return pa != pb ? pa < pb : a < b;
        });
        left = build(lights, order.first(middle), number);
        right = build(lights, order.subspan(middle), number);
    } else {
        leafOf_[static_cast<std::size_t>(right)] = number;
    }
    nodes_[static_cast<std::size_t>(number)] = {all, left, right};
    return number;
}

float LightTree::weight(int node, const vec3& place) const {
    const LightBox& box = nodes_[static_cast<std::size_t>(node)].box;
    const vec3 nearest = glm::clamp(place, box.low, box.high), half = (box.high - box.low) * 0.5f;
    const float away = glm::dot(nearest - place, nearest - place);
    const float weight = box.power / std::max({away, glm::dot(half, half), 1e-6f});
    if (box.cone.spread >= everywhere) return weight;
    // Where none of them can shine there they are hardly asked: the box may lie in a direction as far off as it is wide.
    const vec3 way = place - middleOf(box);
    const float distance = glm::length(way), radius = glm::length(half);
    if (distance <= radius) return weight;
    const float off = std::acos(std::clamp(glm::dot(way, box.cone.axis) / distance, -1.0f, 1.0f));
    return off - std::asin(radius / distance) > box.cone.spread ? weight * shinesElsewhere : weight;
}

float LightTree::leftShare(const Node& node, const vec3& place) const {
    const float left = weight(node.left, place), right = weight(node.right, place);
    return left / (left + right);
}

LightTree::Picked LightTree::pick(const vec3& place, float choose) const {
    Picked picked;
    int at = 0;
    while (nodes_[static_cast<std::size_t>(at)].left >= 0) {
        const Node& node = nodes_[static_cast<std::size_t>(at)];
        const float left = leftShare(node, place);
        if (choose < left) {
            choose /= left, picked.chance *= left, at = node.left;
        } else {
            choose = (choose - left) / (1 - left), picked.chance *= 1 - left, at = node.right;
        }
    }
    picked.light = nodes_[static_cast<std::size_t>(at)].right;
    return picked;
}

float LightTree::chanceOf(int light, const vec3& place) const {
    float chance = 1;
    for (int at = leafOf_[static_cast<std::size_t>(light)], up = parent_[static_cast<std::size_t>(at)]; up >= 0;
         at = up, up = parent_[static_cast<std::size_t>(at)]) {
        const Node& node = nodes_[static_cast<std::size_t>(up)];
        const float left = leftShare(node, place);
        chance *= at == node.left ? left : 1 - left;
    }
    return chance;
}

bool LightTree::meetsBox(const LightBox& box, const vec3& from, const vec3& inverse, float distance) {
    const vec3 a = (box.low - from) * inverse, b = (box.high - from) * inverse, first = glm::min(a, b), last = glm::max(a, b);
    return std::max({first.x, first.y, first.z, 0.0f}) <= std::min({last.x, last.y, last.z, distance});
}

}  // namespace gswarm
