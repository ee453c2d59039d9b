// Soft light from all around, and the floor below it that catches shadows.
#include "core/light/light_kind.h"

namespace gswarm {
namespace {

struct SkyLight {
    bool on;
    float strength;
    glm::vec4 zenith, horizon;
    bool ground;
    float groundHeight;
    glm::vec4 groundColour;
};

void shine(const SkyLight& s, FarLight& all) {
    if (!s.on) return;
    all.zenith += glm::vec3(s.zenith) * s.strength;
    all.horizon += glm::vec3(s.horizon) * s.strength;
    if (s.ground && !all.ground.shown) all.ground = {true, s.groundHeight, glm::vec3(s.groundColour)};
}

}  // namespace

const LightKind skyLight =
    fromEverywhere(farLight(DescribeLight<SkyLight>("sky", "Sky", "Soft light from all around in two colours, and ground")
                                .toggle("on", &SkyLight::on, true, "A sky that is off gives no light and has no ground")
                                .number("strength", &SkyLight::strength, 0.55, {0, 4}, "Brightness of the soft light")
                                .hard(0, 1e4)
                                .colour("zenith", &SkyLight::zenith, {0.42, 0.55, 0.62, 1}, "Colour of the light from above")
                                .opaque()
                                .colour("horizon", &SkyLight::horizon, {0.86, 0.78, 0.68, 1}, "Colour of the light from the side")
                                .opaque()
                                .toggle("ground", &SkyLight::ground, true, "A wide floor that catches shadows")
                                .length("groundHeight", &SkyLight::groundHeight, 0, {-5, 5}, "Height of the floor")
                                .only("ground", {"on"})
                                .colour("groundColour", &SkyLight::groundColour, {0.16, 0.14, 0.12, 1}, "Colour of the floor")
                                .only("ground", {"on"})
                                .opaque()
                                .found("ambient dome floor shadow catcher"),
                            shine));

}  // namespace gswarm
