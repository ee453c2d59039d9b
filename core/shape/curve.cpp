#include "core/shape/curve.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/precise.h"

namespace gswarm {
namespace {

glm::vec3 unit(const glm::vec3& v, const glm::vec3& otherwise) {
    const float length = std::sqrt(glm::dot(v, v));
    return length > 1e-20f ? v / length : otherwise;
}

/// The frame whose +Z is the tangent and whose +Y lies nearest to `up`.
glm::quat frameOf(const glm::vec3& tangent, const glm::vec3& up) {
    const glm::vec3 x = unit(glm::cross(up, tangent), {1, 0, 0});
    return glm::normalize(glm::quat_cast(glm::mat3(x, glm::cross(tangent, x), tangent)));
}

glm::quat turned(const glm::quat& q, double radians) {
    const auto half = precise::sineCosine(radians * 0.5);
    return q * glm::quat(static_cast<float>(half.cosine), 0, 0, static_cast<float>(half.sine));
}

}  // namespace

MeasuredCurve::MeasuredCurve(const Curve& curve) : closed_(curve.closed) {
    for (const auto& p : curve.points)
        if (points_.empty() || glm::distance(p, points_.back()) > 0) points_.push_back(p);
    if (closed_ && points_.size() > 2 && points_.front() == points_.back()) points_.pop_back();
    if (points_.size() < 2) {
        points_.clear();
        return;
    }
    const std::size_t own = points_.size();
    if (closed_) points_.push_back(points_.front());
    at_.push_back(0);
    for (std::size_t i = 1; i < points_.size(); ++i)
        at_.push_back(at_.back() + std::sqrt(glm::dot(glm::dvec3(points_[i] - points_[i - 1]), glm::dvec3(points_[i] - points_[i - 1]))));

    std::vector<glm::vec3> tangents;
    for (std::size_t i = 0; i < points_.size(); ++i) {
        const bool ends = !closed_ && (i == 0 || i + 1 == points_.size());
        const glm::vec3 before = points_[closed_ ? (i + own - 1) % own : i - (i > 0)];
        const glm::vec3 after = points_[closed_ ? (i + 1) % own : i + (i + 1 < points_.size())];
        const glm::vec3 in = unit(points_[i] - before, glm::vec3(0)), out = unit(after - points_[i], glm::vec3(0));
        tangents.push_back(ends ? unit(in + out, {0, 0, 1}) : unit(in + out, out));
    }
    const glm::vec3 up = std::abs(tangents[0].y) < 0.99f ? glm::vec3(0, 1, 0) : glm::vec3(0, 0, -1);
    glm::vec3 normal = unit(up - tangents[0] * glm::dot(up, tangents[0]), {1, 0, 0});
    frames_.push_back(frameOf(tangents[0], normal));
    for (std::size_t i = 1; i < points_.size(); ++i) {
        const glm::vec3 step = points_[i] - points_[i - 1];
        const float c1 = glm::dot(step, step);
        const glm::vec3 n1 = normal - step * (2 / c1 * glm::dot(step, normal));
        const glm::vec3 t1 = tangents[i - 1] - step * (2 / c1 * glm::dot(step, tangents[i - 1]));
        const glm::vec3 v2 = tangents[i] - t1;
        const float c2 = glm::dot(v2, v2);
        normal = c2 > 1e-14f ? n1 - v2 * (2 / c2 * glm::dot(v2, n1)) : n1;
        normal = unit(normal - tangents[i] * glm::dot(normal, tangents[i]), normal);
        frames_.push_back(frameOf(tangents[i], normal));
    }
    if (!closed_) return;
    // What the last frame is turned by against the first, about the tangent, is given back along the way.
    const glm::quat rest = glm::conjugate(frames_.back()) * frames_.front();
    double turn = 2 * std::atan2(static_cast<double>(rest.z), static_cast<double>(rest.w));
    if (turn > 3.14159265358979) turn -= 2 * 3.14159265358979323846;
    if (turn < -3.14159265358979) turn += 2 * 3.14159265358979323846;
    for (std::size_t i = 0; i < frames_.size(); ++i) frames_[i] = turned(frames_[i], turn * at_[i] / length());
}

std::pair<std::size_t, float> MeasuredCurve::pieceAt(double distance) const {
    if (closed_) distance -= std::floor(distance / length()) * length();
    distance = std::clamp(distance, 0.0, length());
    const auto after = std::upper_bound(at_.begin() + 1, at_.end() - 1, distance);
    const auto i = static_cast<std::size_t>(after - at_.begin());
    return {i, static_cast<float>((distance - at_[i - 1]) / (at_[i] - at_[i - 1]))};
}

glm::quat MeasuredCurve::frameAt(std::size_t end, float share) const {
    const glm::quat a = frames_[end - 1], b = glm::dot(a, frames_[end]) < 0 ? -frames_[end] : frames_[end];
    return glm::normalize(a * (1 - share) + b * share);
}

MeasuredCurve::Station MeasuredCurve::at(double distance) const {
    const auto [i, share] = pieceAt(distance);
    return {points_[i - 1] + (points_[i] - points_[i - 1]) * share, frameAt(i, share)};
}

MeasuredCurve::Station MeasuredCurve::smoothAt(double distance) const {
    const auto [i, t] = pieceAt(distance);
    const auto piece = static_cast<float>(at_[i] - at_[i - 1]);
    const glm::vec3 a = points_[i - 1], b = points_[i], ahead(0, 0, 1), da = frames_[i - 1] * ahead * piece,
                    db = frames_[i] * ahead * piece;
    const float u = 1 - t;
    const glm::vec3 place = a * (u * u * (1 + 2 * t)) + b * (t * t * (1 + 2 * u)) + (da * u - db * t) * (t * u);
    const glm::vec3 way = (b - a) * (6 * t * u) + da * (u * (1 - 3 * t)) + db * (t * (3 * t - 2));
    const glm::quat frame = frameAt(i, t);
    if (glm::length(way) < 1e-6f * piece) return {place, frame};
    return {place, glm::normalize(glm::quat(frame * ahead, glm::normalize(way)) * frame)};
}

MeasuredCurve::Nearest MeasuredCurve::nearestTo(const glm::vec3& place) const {
    Nearest best{0, 1e30f};
    for (std::size_t i = 1; i < points_.size(); ++i) {
        const glm::vec3 step = points_[i] - points_[i - 1];
        const float share = std::clamp(glm::dot(place - points_[i - 1], step) / glm::dot(step, step), 0.0f, 1.0f);
        const float away = glm::distance(place, points_[i - 1] + step * share);
        if (away < best.away) best = {at_[i - 1] + (at_[i] - at_[i - 1]) * share, away};
    }
    return best;
}

Mesh rodAlong(const Curve& curve, float thickness, int sides) {
    Mesh mesh;
    const MeasuredCurve measured(curve);
    if (thickness <= 0 || measured.length() <= 0) return mesh;
    const float radius = thickness * 0.5f;
    const std::size_t own = curve.points.size() + (curve.closed ? 1 : 0);
    double along = 0;
    std::vector<glm::vec3> firstRing, lastRing;
    int rows = -1;
    for (std::size_t i = 0; i < own; ++i) {
        const glm::vec3& p = curve.points[i % curve.points.size()];
        if (i > 0) {
            const glm::dvec3 step = glm::dvec3(p) - glm::dvec3(curve.points[i - 1]);
            if (step == glm::dvec3(0)) continue;
            along += std::sqrt(glm::dot(step, step));
        }
        // The last ring of a closed rod is the first again, to the bit.
        const bool again = curve.closed && i + 1 == own;
        const auto frame = measured.at(again ? 0 : std::min(along, measured.length())).frame;
        lastRing.clear();
        for (int s = 0; s <= sides; ++s) {
            const auto turn = precise::sineCosineOfTurns(double(s % sides) / sides);
            const glm::vec3 out = frame * glm::vec3(turn.cosine, turn.sine, 0);
            addVertex(mesh, p + out * radius, out, {static_cast<float>(s) / sides, along / measured.length()});
            if (s < sides) lastRing.push_back(p + out * radius);
        }
        if (firstRing.empty()) firstRing = lastRing;
        ++rows;
    }
    addGridFaces(mesh, 0, sides, rows);
    if (!curve.closed) {
        std::reverse(firstRing.begin(), firstRing.end());
        addFlatPolygon(mesh, firstRing);
        addFlatPolygon(mesh, lastRing);
    }
    return mesh;
}

}  // namespace gswarm
