// A lamp that shines the same all around.
#include "core/light/light_kind.h"

namespace gswarm {
namespace {

struct PointLight {
    bool on;
    glm::vec3 position;
    glm::vec4 colour;
    float strength, radius, reach;
};

LampSetting make(const PointLight& p) {
    LampSetting made;
    made.on = p.on;
    made.lamp.form = LampForm::point;
    made.lamp.position = p.position;
    made.lamp.light = glm::vec3(p.colour) * p.strength;
    made.lamp.radius = p.radius;
    made.lamp.reach = p.reach;
    return made;
}

std::vector<LampHandle> handles(const PointLight& p) {
    std::vector<LampHandle> all{{"radius", "radius", {p.radius, 0, 0}, {1, 0, 0}, 1}};
    if (p.reach > 0) all.push_back({"reach", "reach", {0, 0, p.reach}, {0, 0, 1}, 1});
    return all;
}

}  // namespace

const LightKind pointLight =
    lamp(DescribeLight<PointLight>("point", "Point light", "A lamp that shines the same all around")
             .lamp("Candela: its light falls with the square of the distance", "cd", 60, {0, 500})
             .found("omni bulb lamp")
             .length("radius", &PointLight::radius, 0.1, {0, 1}, "Of the ball that shines: larger gives softer shadows")
             .hard(0, 1e4)
             .length("reach", &PointLight::reach, 0, {0, 20}, "Beyond this it gives no light; 0 for as far as it goes")
             .hard(0, 1e6),
         make, handles);

}  // namespace gswarm
