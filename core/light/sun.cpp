// Light from so far away that its rays are parallel.
#include "core/light/light_kind.h"

namespace gswarm {
namespace {

struct SunLight {
    bool on;
    float height, around;
    ObjectId from;
    float strength, size;
    glm::vec4 colour;
};

void shine(const SunLight& s, FarLight& all) {
    if (s.on) all.suns.push_back({towardSun(s.height, s.around), glm::vec3(s.colour) * s.strength, s.size, {}, s.from});
}

}  // namespace

const LightKind sunLight =
    farLight(DescribeLight<SunLight>("sun", "Sun", "Light from one direction, as from very far away")
                 .toggle("on", &SunLight::on, true, "A light that is off gives none")
                 .angle("height", &SunLight::height, 38, {-90, 90}, "Above the horizon")
                 .angle("around", &SunLight::around, -50, {-180, 180}, "The way around to it, from the front")
                 .reference("from", &SunLight::from, {ObjectType::mount, ObjectType::swarm, ObjectType::zone, ObjectType::camera},
                            "Shines from where this is, seen from the middle of the world, instead of by its height and way around")
                 .label("Comes from")
                 .optional()
                 .since(2)
                 .number("strength", &SunLight::strength, 1.7, {0, 10}, "What white paper that faces it sends back")
                 .hard(0, 1e4)
                 .angle("size", &SunLight::size, 3, {0.5, 20}, "How wide it is: wider gives softer shadows")
                 .hard(0.01, 90)
                 .colour("colour", &SunLight::colour, {1, 0.94, 0.84, 1}, "Colour of its light")
                 .opaque()
                 .found("directional daylight key moon")
                 .migrated({2, {}, nullptr}),
             shine);

}  // namespace gswarm
