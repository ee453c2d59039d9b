#include "core/provide/camera_view.h"

#include <algorithm>
#include <cmath>
#include <glm/ext/matrix_clip_space.hpp>
#include <glm/ext/matrix_transform.hpp>
#include <glm/geometric.hpp>

#include "core/resolve/resolve.h"

namespace gswarm {

ObjectId cameraOn(const Scene& scene, double frame) {
    const auto cameras = scene.all(ObjectType::camera);
    for (const ObjectId camera : cameras)
        if (switchAt(scene, scene.at(camera).part("camera"), "on", frame)) return camera;
    return cameras.empty() ? ObjectId{} : cameras.front();
}

double pictureAspect(const Scene& scene) {
    const Part& project = scene.project().part("settings");
    const auto pixels = [&](const char* parameter) { return std::get<Numbers>(project[parameter]).front().value; };
    return pixels("pictureWidth") / pixels("pictureHeight");
}

float verticalFieldOfView(const Camera& camera, float aspect) { return 2 * std::atan(18.0f / camera.focalLength / aspect); }

glm::mat4 viewMatrix(const Camera& camera) {
    const glm::vec3 forward = camera.target - camera.position;
    const bool straight = std::abs(forward.x) + std::abs(forward.z) < 1e-5f * std::abs(forward.y);
    const glm::vec3 target = glm::length(forward) > 0 ? camera.target : camera.position - glm::vec3(0, 0, 1);
    return glm::lookAt(camera.position, target, straight ? glm::vec3(0, 0, -1) : glm::vec3(0, 1, 0));
}

glm::mat4 clipMatrix(const Camera& camera, float aspect) {
    const bool parallel = camera.projection == Projection::parallel;
    const float distance = glm::length(camera.position - camera.target);
    const float near = std::max(camera.nearCut, parallel ? 0.0f : std::max(distance * 0.01f, 0.002f));
    const float far = camera.farCut > near ? camera.farCut : std::max(distance * 60 + 100, 2 * near);
    const float half = camera.width / 2;
    const glm::mat4 lens = parallel ? glm::ortho(-half, half, -half / aspect, half / aspect, near, far)
                                    : glm::perspective(verticalFieldOfView(camera, aspect), aspect, near, far);
    return lens * viewMatrix(camera);
}

}  // namespace gswarm
