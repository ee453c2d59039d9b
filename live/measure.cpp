#include "live/measure.h"

#include <chrono>

#include "core/shape/shape_kind.h"

namespace gswarm::live {
namespace {

constexpr int width = 240, height = 160;
constexpr double screenMilliseconds = 1000.0 / 60, viewsInPicture = 12;  ///< a view is so much larger

/// Cards side by side that fill the whole picture.
LivePicture wall() {
    auto meshes = std::make_shared<ShapeMeshes>();
    Mesh mesh;
    for (int k = 0; k < 4; ++k) addVertex(mesh, {k & 1 ? 0.5f : -0.5f, k & 2 ? 0.5f : -0.5f, 0}, {0, 0, 1}, {0, 0});
    addFace(mesh, {0, 1, 3, 0, 3, 2});
    meshes->bounds = boundsOf(mesh);
    meshes->level.fill(std::make_shared<const Mesh>(std::move(mesh)));
    LivePicture picture{};
    picture.list.looks.emplace_back();
    for (int x = -2; x <= 2; ++x) {
        Surface surface{};
        surface.meshes = meshes;
        surface.pose = matrixOf({{8 * static_cast<float>(x), 0, 0.1f * static_cast<float>(x)}, {1, 0, 0, 0}, 16});
        picture.list.surfaces.push_back(surface);
    }
    picture.setting.camera.position = {0, 0, 20};
    picture.setting.camera.focalLength = 36;
    picture.setting.light.suns = {{{0, 0.6f, 0.8f}, glm::vec3(1), 0.05f}};
    picture.setting.light.zenith = picture.setting.light.horizon = glm::vec3(0.5f);
    return picture;
}

}  // namespace

Steps stepsWhileMoving(Renderer& renderer) {
    LivePicture picture = wall();
    const std::atomic<bool> never{false};
    const auto fits = [&](const Steps& steps) {
        picture.steps = steps;
        double least = 1e9;
        // The first makes shaders.
        for (int k = 0; k < 3 && least * viewsInPicture > screenMilliseconds; ++k) {
            // Other light, other shadows: they are drawn anew as they are when things move.
            picture.setting.light.suns[0].size *= 1.001f;
            const auto start = std::chrono::steady_clock::now();
            renderer.draw(picture, width, height, never);
            least = std::min(least, std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count());
        }
        return least * viewsInPicture < screenMilliseconds;
    };
    // From the least on: a slow machine is done after one.
    Steps found{false, false, false, false};
    for (const Steps& steps :
         {Steps{true, false, false, false}, Steps{true, true, false, false}, Steps{true, true, false, true}, Steps{}}) {
        if (!fits(steps)) return found;
        found = steps;
    }
    return found;
}

}  // namespace gswarm::live
