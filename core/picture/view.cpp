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
    setting.light = farLightAt(scene, frame, store);
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

std::pair<double, double> shutterOf(const Camera& camera, double frame) {
    const double open = camera.blurs ? camera.shutter / 100.0 : 0;
    const double first = camera.opens == ShutterOpens::around ? frame - open / 2 : frame;
    return {first, first + open};
}

}  // namespace gswarm
