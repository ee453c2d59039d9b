#include "core/shape/nearest.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace gswarm {
namespace {

constexpr std::uint32_t leafSize = 4;

float boxDistance2(const Bounds& box, const glm::vec3& p) {
    const glm::vec3 outside = glm::max(glm::max(box.low - p, p - box.high), glm::vec3(0));
    return glm::dot(outside, outside);
}

glm::vec3 nearestOnLine(const glm::vec3& a, const glm::vec3& b, const glm::vec3& p) {
    const glm::vec3 ab = b - a;
    const float length2 = glm::dot(ab, ab);
    return length2 > 0 ? a + ab * std::clamp(glm::dot(p - a, ab) / length2, 0.0f, 1.0f) : a;
}

}  // namespace

NearestTree::NearestTree(std::vector<Part> parts) : parts_(std::move(parts)) {
    if (parts_.empty()) return;
    nodes_.reserve(parts_.size());
    build(0, static_cast<std::uint32_t>(parts_.size()));
}

NearestTree NearestTree::ofPoints(std::span<const glm::vec3> points) {
    std::vector<Part> parts;
    for (std::size_t i = 0; i < points.size(); ++i) parts.push_back({points[i], points[i], points[i], static_cast<std::uint32_t>(i)});
    return NearestTree(std::move(parts));
}

NearestTree NearestTree::ofCurves(std::span<const Curve> curves) {
    std::vector<Part> parts;
    for (const Curve& curve : curves) {
        const std::size_t pieces = curve.points.size() - (curve.closed ? 0 : 1);
        for (std::size_t i = 0; !curve.points.empty() && i < pieces; ++i) {
            const glm::vec3& b = curve.points[(i + 1) % curve.points.size()];
            parts.push_back({curve.points[i], b, b, static_cast<std::uint32_t>(parts.size())});
        }
    }
    return NearestTree(std::move(parts));
}

NearestTree NearestTree::ofMesh(const Mesh& mesh) {
    std::vector<Part> parts;
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t)
        parts.push_back({mesh.positions[mesh.triangles[3 * t]], mesh.positions[mesh.triangles[3 * t + 1]],
                         mesh.positions[mesh.triangles[3 * t + 2]], static_cast<std::uint32_t>(t)});
    return NearestTree(std::move(parts));
}

std::uint32_t NearestTree::build(std::uint32_t first, std::uint32_t count) {
    const auto index = static_cast<std::uint32_t>(nodes_.size());
    nodes_.push_back({{}, first, count});
    Bounds bounds, centres;
    for (std::uint32_t i = first; i < first + count; ++i) {
        const Part& part = parts_[i];
        for (const glm::vec3& p : {part.a, part.b, part.c}) bounds.add(p);
        centres.add((part.a + part.b + part.c) / 3.0f);
    }
    nodes_[index].bounds = bounds;
    if (count <= leafSize) return index;
    const glm::vec3 size = centres.size();
    const int axis = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
    const auto begin = parts_.begin() + first;
    const std::uint32_t half = count / 2;
    std::nth_element(begin, begin + half, begin + count, [axis](const Part& a, const Part& b) {
        const float ca = a.a[axis] + a.b[axis] + a.c[axis], cb = b.a[axis] + b.b[axis] + b.c[axis];
        return ca != cb ? ca < cb : a.which < b.which;
    });
    build(first, half);
    const std::uint32_t right = build(first + half, count - half);
    nodes_[index].first = right;
    nodes_[index].count = 0;
    return index;
}

/// Of a triangle by the regions of its corners, edges and face (Ericson, Real-Time Collision Detection, 5.1.5).
glm::vec3 NearestTree::nearestOn(const Part& part, const glm::vec3& p) {
    const auto& [a, b, c, which] = part;
    if (b == c) return nearestOnLine(a, b, p);
    const glm::vec3 ab = b - a, ac = c - a, ap = p - a;
    const float d1 = glm::dot(ab, ap), d2 = glm::dot(ac, ap);
    if (d1 <= 0 && d2 <= 0) return a;
    const glm::vec3 bp = p - b;
    const float d3 = glm::dot(ab, bp), d4 = glm::dot(ac, bp);
    if (d3 >= 0 && d4 <= d3) return b;
    const float vc = d1 * d4 - d3 * d2;
    if (vc <= 0 && d1 >= 0 && d3 <= 0) return nearestOnLine(a, b, p);
    const glm::vec3 cp = p - c;
    const float d5 = glm::dot(ab, cp), d6 = glm::dot(ac, cp);
    if (d6 >= 0 && d5 <= d6) return c;
    const float vb = d5 * d2 - d1 * d6;
    if (vb <= 0 && d2 >= 0 && d6 <= 0) return nearestOnLine(a, c, p);
    const float va = d3 * d6 - d5 * d4;
    if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) return nearestOnLine(b, c, p);
    const float total = va + vb + vc;
    return total > 0 ? a + ab * (vb / total) + ac * (vc / total) : a;
}

NearestTree::Found NearestTree::nearest(const glm::vec3& place, float within) const {
    Found found{within, glm::vec3(0), 0};
    if (nodes_.empty()) return found;
    float best = within < 1e18f ? within * within : 1e36f;
    bool any = false;
    std::uint32_t stack[64];
    int depth = 0;
    stack[depth++] = 0;
    while (depth > 0) {
        const std::uint32_t index = stack[--depth];
        const Node& node = nodes_[index];
        if (boxDistance2(node.bounds, place) > best) continue;
        if (node.count == 0) {
            const std::uint32_t left = index + 1, right = node.first;
            const bool leftFirst = boxDistance2(nodes_[left].bounds, place) <= boxDistance2(nodes_[right].bounds, place);
            stack[depth++] = leftFirst ? right : left;
            stack[depth++] = leftFirst ? left : right;
            continue;
        }
        for (std::uint32_t i = node.first; i < node.first + node.count; ++i) {
            const glm::vec3 on = nearestOn(parts_[i], place);
            const glm::vec3 away = on - place;
            const float distance2 = glm::dot(away, away);
            if (distance2 > best || (any && distance2 == best && parts_[i].which >= found.which)) continue;
            if (!any && distance2 == best && within < 1e18f) continue;
            best = distance2;
            any = true;
            found.place = on;
            found.which = parts_[i].which;
        }
    }
    if (any) found.distance = std::sqrt(best);
    return found;
}

}  // namespace gswarm
