#include "core/picture/view.h"

#include "core/base/error.h"
#include "core/provide/picture_files.h"
#include "core/provide/placing.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"

#include <algorithm>
#include <cmath>

namespace gswarm {

Setting settingAt(const Scene& scene, double frame, Store& store) { return settingThrough(scene, cameraOn(scene, frame), frame, store); }

Setting settingThrough(const Scene& scene, ObjectId camera, double frame, Store& store) {
    Setting setting;
    setting.camera = camera ? cameraAt(scene, camera, frame, store) : resolve(scene, standardPart(cameraKind), frame).as<Camera>();
    setting.light = farLightAt(scene, frame);
    for (const ObjectId light : scene.all(ObjectType::light)) {
        if (isRepeated(scene, light)) continue;
        if (const auto lamp = lampAt(scene, light, frame, store)) setting.lamps.push_back(*lamp);
    }
    const auto project = resolve(scene, scene.project().part("settings"), frame);
    setting.background = glm::vec3(project.as<ProjectSettings>().background);
    setting.exposure = std::exp2(project.as<ProjectSettings>().exposure);
    setting.display = project.as<ProjectSettings>().display;
    setting.pictureWidth = project.as<ProjectSettings>().pictureWidth;
    setting.pictureHeight = project.as<ProjectSettings>().pictureHeight;
    setting.after = resolve(scene, scene.project().part("after"), frame).as<After>();
    return setting;
}

void addPictures(Setting& setting, const std::filesystem::path& projectFolder, Store& store) {
    for (Surroundings& one : setting.light.surroundings) {
        try {
            one.picture = panoramaOf(one, projectFolder, store);
        } catch (const Error&) {
            one.picture = nullptr;
        }
    }
    if (setting.after.background != Background::picture || setting.after.backgroundPicture.empty()) return;
    try {
        setting.behind = pictureOf(setting.after.backgroundPicture, projectFolder, store);
    } catch (const Error&) {
        setting.behind = nullptr;
    }
}

bool isRepeated(const Scene& scene, ObjectId light) {
    const auto users = scene.referringTo(light);
    return std::any_of(users.begin(), users.end(), [](ObjectId user) { return user.type() == ObjectType::stock; });
}

namespace {

/// Leaves what a screen shows as it is and bends only what is brighter.
glm::vec3 softened(glm::vec3 c) {
    constexpr float start = 0.8f - 0.04f, desaturation = 0.15f;
    const float least = std::min({c.x, c.y, c.z});
    c -= least < 0.08f ? least - 6.25f * least * least : 0.04f;
    const float peak = std::max({c.x, c.y, c.z});
    if (peak < start) return c;
    const float room = 1 - start, newPeak = 1 - room * room / (peak + room - start);
    return glm::mix(c * (newPeak / peak), glm::vec3(newPeak), 1 - 1 / (desaturation * (peak - newPeak) + 1));
}

}  // namespace

namespace {

/// The sRGB encoding of 0 … 1, within 10⁻⁷: a table over the square root, along which it is nearly straight.
float encoded(float linear) {
    constexpr int steps = 4096;
    static const std::vector<float> table = [] {
        std::vector<float> made;
        for (int k = 0; k <= steps + 1; ++k) {
            const double root = static_cast<double>(k) / steps;
            made.push_back(static_cast<float>(srgbFromLinear(root * root)));
        }
        return made;
    }();
    const float at = std::sqrt(std::clamp(linear, 0.0f, 1.0f)) * steps;
    const auto cell = static_cast<std::size_t>(at);
    return table[cell] + (table[cell + 1] - table[cell]) * (at - static_cast<float>(cell));
}

}  // namespace

glm::vec3 display(const glm::vec3& linear, float exposure, DisplayTransform transform) {
    glm::vec3 light = glm::max(linear, glm::vec3(0)) * exposure;
    if (transform == DisplayTransform::soft) light = softened(light);
    return {encoded(light.x), encoded(light.y), encoded(light.z)};
}

std::pair<double, double> shutterOf(const Camera& camera, double frame) {
    const double open = camera.blurs ? camera.shutter / 100.0 : 0;
    const double first = camera.opens == ShutterOpens::around ? frame - open / 2 : frame;
    return {first, first + open};
}

}  // namespace gswarm
