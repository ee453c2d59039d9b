#include <cmath>
#include <numbers>

#include "core/light/light_kind.h"

namespace gswarm {
namespace {

using Line = std::vector<glm::vec3>;

/// A circle about `middle` spanned by two vectors.
Line circle(const glm::vec3& middle, const glm::vec3& a, const glm::vec3& b) {
    constexpr int corners = 48;
    Line line;
    for (int k = 0; k <= corners; ++k) {
        const float angle = 2 * std::numbers::pi_v<float> * static_cast<float>(k) / corners;
        line.push_back(middle + a * std::cos(angle) + b * std::sin(angle));
    }
    return line;
}

}  // namespace

std::vector<std::vector<glm::vec3>> outlineOf(const Lamp& lamp) {
    const glm::vec3 x(1, 0, 0), y(0, 1, 0), z(0, 0, 1);
    std::vector<Line> lines;
    const auto ball = [&](float r) {
        if (r > 0)
            lines.push_back(circle({}, x * r, y * r)), lines.push_back(circle({}, y * r, z * r)), lines.push_back(circle({}, z * r, x * r));
    };
    switch (lamp.form) {
        case LampForm::rectangle: {
            const float w = lamp.width / 2, d = lamp.depth / 2;
            lines.push_back({{-w, 0, -d}, {w, 0, -d}, {w, 0, d}, {-w, 0, d}, {-w, 0, -d}});
            lines.push_back({{}, {0, -0.5f, 0}});
            break;
        }
        case LampForm::disc:
            lines.push_back(circle({}, x * lamp.radius, z * lamp.radius));
            lines.push_back({{}, {0, -0.5f, 0}});
            break;
        case LampForm::point:
            ball(std::max(lamp.radius, 0.05f));
            ball(lamp.reach);
            break;
        case LampForm::spot: {
            const float r = lampConeLength * std::tan(std::acos(lamp.cosineNone));
            const glm::vec3 end(0, -lampConeLength, 0);
            lines.push_back(circle(end, x * r, z * r));
            for (const glm::vec3& side : {x, -x, z, -z}) lines.push_back({{}, end + side * r});
            ball(lamp.radius);
            if (lamp.reach > 0) lines.push_back({{}, {0, -lamp.reach, 0}});
            break;
        }
    }
    return lines;
}

}  // namespace gswarm
