#include "core/shape/flat_profile.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace gswarm {

float doubleArea(const std::vector<glm::vec2>& corners) {
    float area = 0;
    for (std::size_t i = 0; i < corners.size(); ++i) {
        const glm::vec2 a = corners[i], b = corners[(i + 1) % corners.size()];
        area += a.x * b.y - a.y * b.x;
    }
    return area;
}

std::vector<float> sharesAlong(const std::vector<glm::vec2>& corners, bool closed) {
    std::vector<float> shares{0};
    const std::size_t pieces = corners.size() - (closed ? 0 : 1);
    for (std::size_t i = 0; i < pieces; ++i) shares.push_back(shares.back() + glm::distance(corners[i], corners[(i + 1) % corners.size()]));
    const float whole = std::max(shares.back(), 1e-12f);
    for (float& share : shares) share /= whole;
    return shares;
}

std::vector<glm::vec2> flatProfile(const Curve& curve) {
    glm::vec3 across(0);
    const auto& points = curve.points;
    for (std::size_t i = 0; i < points.size(); ++i)
        across += glm::cross(points[i] - points[0], points[(i + 1) % points.size()] - points[0]);
    const glm::vec3 size = glm::abs(across);
    const int axis = size.z >= size.x && size.z >= size.y ? 2 : size.y >= size.x ? 1 : 0;
    std::vector<glm::vec2> corners;
    for (const glm::vec3& p : points) {
        const glm::vec2 corner(p[(axis + 1) % 3], p[(axis + 2) % 3]);
        if (corners.empty() || corner != corners.back()) corners.push_back(corner);
    }
    while (corners.size() > 1 && corners.back() == corners.front()) corners.pop_back();
    const float area = doubleArea(corners);
    if (corners.size() < 3 || !(std::abs(area) > 0)) return {};
    if (area < 0) std::reverse(corners.begin(), corners.end());
    return corners;
}

}  // namespace gswarm
