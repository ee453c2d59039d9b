// A lamp that shines in a cone.
#include <algorithm>
#include <cmath>

#include "core/light/light_kind.h"

namespace gswarm {
namespace {

struct SpotLight {
    bool on;
    glm::vec3 position, rotation;
    ObjectId aim;
    glm::vec4 colour;
    float strength, angle, softEdge, radius, reach;
};

LampSetting make(const SpotLight& s) {
    LampSetting made;
    made.on = s.on;
    made.rotation = s.rotation;
    made.aim = s.aim;
    made.lamp.form = LampForm::spot;
    made.lamp.position = s.position;
    made.lamp.light = glm::vec3(s.colour) * s.strength;
    made.lamp.radius = s.radius;
    made.lamp.reach = s.reach;
    const float outer = s.angle * 0.5f;
    made.lamp.cosineNone = std::cos(outer);
    made.lamp.cosineFull = std::max(std::cos(outer * (1 - std::clamp(s.softEdge / 100, 0.0f, 1.0f))), made.lamp.cosineNone + 1e-4f);
    return made;
}

std::vector<LampHandle> handles(const SpotLight& s) {
    const float outer = s.angle * 0.5f, slope = std::tan(outer);
    // Degrees of the whole cone for a metre of its edge, where the cone is drawn to.
    const double perMetre = 2 * 57.29577951 / (lampConeLength * (1 + slope * slope));
    std::vector<LampHandle> all{{"angle", "angle", {slope * lampConeLength, -lampConeLength, 0}, {1, 0, 0}, perMetre},
                                {"radius", "radius", {0, 0, s.radius}, {0, 0, 1}, 1}};
    if (s.reach > 0) all.push_back({"reach", "reach", {0, -s.reach, 0}, {0, -1, 0}, 1});
    return all;
}

}  // namespace

const LightKind spotLight =
    lamp(DescribeLight<SpotLight>("spot", "Spot light", "A lamp that shines in a cone")
             .lamp("Candela along its middle", "cd", 60, {0, 500})
             .turned()
             .found("torch beam lamp")
             .angle("angle", &SpotLight::angle, 50, {1, 170}, "Width of the cone, from edge to edge")
             .hard(0.1, 179)
             .number("softEdge", &SpotLight::softEdge, 40, {0, 100}, "How much of the cone its light takes to fade out")
             .unit("%")
             .hard(0, 100)
             .length("radius", &SpotLight::radius, 0.1, {0, 1}, "Of the ball that shines: larger gives softer shadows")
             .hard(0, 1e4)
             .length("reach", &SpotLight::reach, 0, {0, 20}, "Beyond this it gives no light; 0 for as far as it goes")
             .hard(0, 1e6),
         make, handles);

}  // namespace gswarm
