// A rectangle or disc that shines.
#include "core/light/light_kind.h"

namespace gswarm {
namespace {

enum class AreaForm { rectangle, disc };

struct AreaLight {
    bool on;
    glm::vec3 position, rotation;
    ObjectId aim;
    glm::vec4 colour;
    float strength;
    AreaForm form;
    float width, depth, radius;
    bool bothSides;
};

LampSetting make(const AreaLight& a) {
    LampSetting made;
    made.on = a.on;
    made.rotation = a.rotation;
    made.aim = a.aim;
    made.lamp.form = a.form == AreaForm::disc ? LampForm::disc : LampForm::rectangle;
    made.lamp.position = a.position;
    made.lamp.light = glm::vec3(a.colour) * a.strength;
    made.lamp.width = a.width;
    made.lamp.depth = a.depth;
    made.lamp.radius = a.radius;
    made.lamp.bothSides = a.bothSides;
    return made;
}

std::vector<LampHandle> handles(const AreaLight& a) {
    if (a.form == AreaForm::disc) return {{"radius", "radius", {a.radius, 0, 0}, {1, 0, 0}, 1}};
    return {{"width", "width", {a.width / 2, 0, 0}, {1, 0, 0}, 2}, {"depth", "depth", {0, 0, a.depth / 2}, {0, 0, 1}, 2}};
}

}  // namespace

const LightKind areaLight =
    lamp(DescribeLight<AreaLight>("area", "Area light", "A rectangle or disc that shines, as a window or a soft box does")
             .lamp("Nits: its brightness as it is seen", "cd/m²", 10, {0, 100})
             .turned()
             .found("soft box panel window lamp")
             .choice("form", &AreaLight::form, {{"rectangle", "Rectangle"}, {"disc", "Disc"}}, "Its outline")
             .length("width", &AreaLight::width, 2, {0.1, 10}, "Along its own X")
             .hard(1e-3, 1e4)
             .only("form", {"rectangle"})
             .length("depth", &AreaLight::depth, 1, {0.1, 10}, "Along its own Z")
             .hard(1e-3, 1e4)
             .only("form", {"rectangle"})
             .length("radius", &AreaLight::radius, 1, {0.1, 10}, "From its middle to its edge")
             .hard(1e-3, 1e4)
             .only("form", {"disc"})
             .toggle("bothSides", &AreaLight::bothSides, false, "Shines on its back too"),
         make, handles);

}  // namespace gswarm
