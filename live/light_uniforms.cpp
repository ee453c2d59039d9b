#include "live/light_uniforms.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>

#include "live/lamp_groups.h"

namespace gswarm::live {
namespace {

// As common.glsl has them.
constexpr std::size_t mostSuns = 4;

/// As swarm.frag has it.
glm::vec3 skyAt(float y, const glm::vec3& zenith, const glm::vec3& horizon, const glm::vec3& floor) {
    const float down = std::clamp((0.05f - y) / 0.4f, 0.0f, 1.0f);
    return glm::mix(glm::mix(horizon, zenith, std::sqrt(std::clamp(y, 0.0f, 1.0f))), floor, down * down * (3 - 2 * down));
}

}  // namespace

int sunsOf(const FarLight& light) { return static_cast<int>(std::min(light.suns.size(), mostSuns)); }

void setView(Program& program, const Setting& setting, const Around::Light& around) {
    const FarLight& light = setting.light;
    program.set("eye", setting.camera.position);
    const bool parallel = setting.camera.projection == Projection::parallel;
    program.set("looks", glm::vec4(glm::normalize(setting.camera.target - setting.camera.position), parallel ? 1 : 0));
    std::array<glm::vec3, mostSuns> toward{}, shines{};
    for (std::size_t k = 0; k < static_cast<std::size_t>(sunsOf(light)); ++k)
        toward[k] = light.suns[k].toward, shines[k] = light.suns[k].light;
    program.set("sunToward", std::span<const glm::vec3>(toward));
    program.set("sunLight", std::span<const glm::vec3>(shines));
    const glm::vec3 zenith = light.zenith + around.evenly, horizon = light.horizon + around.evenly;
    const glm::vec3 floor = light.ground.colour * (0.3f * shines[0] + 0.5f * zenith);
    program.set("zenith", zenith);
    program.set("horizon", horizon);
    program.set("floorLight", floor);
    SmoothLight ambient = smoothed(mattScale, [&](const glm::vec3& d) { return skyAt(d.y, zenith, horizon, floor); });
    for (std::size_t k = 0; k < ambient.size(); ++k) ambient[k] += around.matt[k];
    program.set("ambientBy", std::span<const glm::vec3>(ambient));
    program.set("background", setting.background);
    program.set("exposure", setting.exposure);
    program.set("soft", setting.display == DisplayTransform::soft ? 1.0f : 0.0f);
    program.set("groundColour", light.ground.colour);
}

void setLamps(Program& program, const std::vector<Lamp>& lamps) {
    std::vector<glm::vec4> places(mostLamps), lights(mostLamps), ways(mostLamps);
    for (std::size_t i = 0; i < lamps.size(); ++i) {
        const Lamp& lamp = lamps[i];
        const bool flat = isFlat(lamp);
        places[i] = glm::vec4(lamp.position, lamp.form == LampForm::point ? -2 : flat ? (lamp.bothSides ? 3.0f : 2.0f) : lamp.cosineNone);
        // A flat one shines like a point, most along its middle.
        lights[i] = glm::vec4(intensityOf(lamp), flat ? 0 : lamp.reach);
        ways[i] = glm::vec4(lamp.along, lamp.cosineFull);
    }
    program.set("lampPlace", std::span<const glm::vec4>(places));
    program.set("lampLight", std::span<const glm::vec4>(lights));
    program.set("lampAlong", std::span<const glm::vec4>(ways));
}

}  // namespace gswarm::live
