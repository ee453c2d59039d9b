#pragma once
#include <filesystem>
#include <glm/gtc/matrix_transform.hpp>
#include <glm/vec3.hpp>
#include <memory>
#include <utility>
#include <vector>

#include "core/light/light_kind.h"
#include "core/provide/camera_view.h"
#include "core/scene/object_kinds.h"
#include "core/scene/scene.h"

namespace gswarm {

class Store;

/// What a picture is made with, from the scene's light, camera and settings.
struct Setting {
    Camera camera;
    FarLight light;
    std::vector<Lamp> lamps;
    glm::vec3 background{0};  ///< linear
    float exposure = 1;       ///< factor
    DisplayTransform display = DisplayTransform::plain;
    After after{};                                 ///< colours linear
    std::shared_ptr<const FloatPicture> behind;    ///< the background, where it is a picture and was read
    int pictureWidth = 1280, pictureHeight = 720;  ///< pixels, of the project
};
Setting settingAt(const Scene& scene, double frame, Store& store);
/// The same through a camera, whichever is on; the standard one if it is none.
Setting settingThrough(const Scene& scene, ObjectId camera, double frame, Store& store);
/// Reads the pictures that surroundings and background are of. Those that can't be read give no light and are the background's colour;
/// explain/findings.h tells why. May take seconds for large ones the first time.
void addPictures(Setting& setting, const std::filesystem::path& projectFolder, Store& store);

/// Whether a swarm repeats a light: it shines where the instances are, and no longer where it stands itself.
bool isRepeated(const Scene& scene, ObjectId light);

/// When the shutter of a camera opens and closes around a frame; the frame twice where nothing is blurred.
std::pair<double, double> shutterOf(const Camera& camera, double frame);

}  // namespace gswarm
