#include "core/shape/inside.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace gswarm {
namespace {

glm::dvec2 across(const glm::vec3& p, int axis) { return {p[(axis + 1) % 3], p[(axis + 2) % 3]}; }

/// On which side of the line a → b a place lies. Both directions give exactly opposite values, and a place on the line
/// counts to the side that a tiny move toward +u, and then +v, would bring it to.
double sideOf(glm::dvec2 a, glm::dvec2 b, const glm::dvec2& p) {
    const bool swapped = a.x != b.x ? a.x > b.x : a.y > b.y;
    if (swapped) std::swap(a, b);
    double side = (b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x);
    if (side == 0) side = b.y != a.y ? a.y - b.y : b.x - a.x;
    return swapped ? -side : side;
}

}  // namespace

InsideTest::InsideTest(const Mesh& mesh) : mesh_(mesh), bounds_(boundsOf(mesh)) {
    for (int axis = 0; axis < 3; ++axis) sheets_[static_cast<std::size_t>(axis)] = sheetAcross(axis);
}

InsideTest::Sheet InsideTest::sheetAcross(int axis) const {
    Sheet sheet;
    const int most = std::clamp(static_cast<int>(std::sqrt(static_cast<double>(mesh_.triangleCount()) / 2)), 1, 1024);
    sheet.columns = sheet.rows = most;
    sheet.low = across(bounds_.low, axis);
    const glm::dvec2 size = across(bounds_.high, axis) - sheet.low;
    sheet.perBin = glm::dvec2(most) / glm::max(size, glm::dvec2(1e-30));
    const auto bins = [&](std::size_t t, auto take) {
        glm::dvec2 low(1e300), high(-1e300);
        for (std::size_t k = 0; k < 3; ++k) {
            const glm::dvec2 p = across(mesh_.positions[mesh_.triangles[3 * t + k]], axis);
            low = glm::min(low, p);
            high = glm::max(high, p);
        }
        const auto bin = [&](const glm::dvec2& p) {
            return glm::clamp(glm::ivec2(glm::floor((p - sheet.low) * sheet.perBin)), glm::ivec2(0), glm::ivec2(most - 1));
        };
        const glm::ivec2 from = bin(low), to = bin(high);
        for (int r = from.y; r <= to.y; ++r)
            for (int c = from.x; c <= to.x; ++c) take(static_cast<std::size_t>(r * most + c));
    };
    sheet.start.assign(static_cast<std::size_t>(most) * static_cast<std::size_t>(most) + 1, 0);
    for (std::size_t t = 0; t < mesh_.triangleCount(); ++t) bins(t, [&](std::size_t bin) { ++sheet.start[bin + 1]; });
    for (std::size_t b = 1; b < sheet.start.size(); ++b) sheet.start[b] += sheet.start[b - 1];
    sheet.triangles.resize(sheet.start.back());
    auto next = sheet.start;
    for (std::size_t t = 0; t < mesh_.triangleCount(); ++t)
        bins(t, [&](std::size_t bin) { sheet.triangles[next[bin]++] = static_cast<std::uint32_t>(t); });
    return sheet;
}

int InsideTest::windingToward(int axis, const glm::vec3& place) const {
    const Sheet& sheet = sheets_[static_cast<std::size_t>(axis)];
    const glm::dvec2 p = across(place, axis);
    const glm::ivec2 bin = glm::clamp(glm::ivec2(glm::floor((p - sheet.low) * sheet.perBin)), glm::ivec2(0), glm::ivec2(sheet.columns - 1));
    const auto b = static_cast<std::size_t>(bin.y * sheet.columns + bin.x);
    int winding = 0;
    for (std::uint32_t i = sheet.start[b]; i < sheet.start[b + 1]; ++i) {
        const std::uint32_t* v = &mesh_.triangles[3 * std::size_t{sheet.triangles[i]}];
        const glm::vec3 &c0 = mesh_.positions[v[0]], &c1 = mesh_.positions[v[1]], &c2 = mesh_.positions[v[2]];
        if (c0[axis] < place[axis] && c1[axis] < place[axis] && c2[axis] < place[axis]) continue;
        const glm::dvec2 q0 = across(c0, axis), q1 = across(c1, axis), q2 = across(c2, axis);
        const double s0 = sideOf(q1, q2, p), s1 = sideOf(q2, q0, p), s2 = sideOf(q0, q1, p);
        const bool left = s0 > 0;
        if (left != (s1 > 0) || left != (s2 > 0)) continue;
        const double whole = s0 + s1 + s2;
        if (whole == 0) continue;
        if ((s0 * c0[axis] + s1 * c1[axis] + s2 * c2[axis]) / whole > place[axis]) winding += left ? 1 : -1;
    }
    return winding;
}

bool InsideTest::operator()(const glm::vec3& p) const {
    for (int axis = 0; axis < 3; ++axis)
        if (!(p[axis] > bounds_.low[axis] && p[axis] < bounds_.high[axis])) return false;
    const bool x = windingToward(0, p) != 0, y = windingToward(1, p) != 0;
    return x == y ? x : windingToward(2, p) != 0;
}

double signedVolumeOf(const Mesh& mesh) {
    double sum = 0;
    for (std::size_t t = 0; t < mesh.triangles.size(); t += 3) {
        const glm::dvec3 a(mesh.positions[mesh.triangles[t]]), b(mesh.positions[mesh.triangles[t + 1]]),
            c(mesh.positions[mesh.triangles[t + 2]]);
        sum += glm::dot(a, glm::cross(b, c));
    }
    return sum / 6;
}

double volumeOf(const Mesh& mesh) { return std::abs(signedVolumeOf(mesh)); }

double areaOf(const Mesh& mesh) {
    double sum = 0;
    for (std::size_t t = 0; t < mesh.triangles.size(); t += 3) {
        const glm::dvec3 a(mesh.positions[mesh.triangles[t]]), b(mesh.positions[mesh.triangles[t + 1]]),
            c(mesh.positions[mesh.triangles[t + 2]]);
        const glm::dvec3 n = glm::cross(b - a, c - a);
        sum += std::sqrt(glm::dot(n, n)) / 2;
    }
    return sum;
}

}  // namespace gswarm
