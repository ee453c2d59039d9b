#include "app/scene/picture_of.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/arrange/fitted_edits.h"
#include "core/base/content_hash.h"
#include "core/edit/kept_start.h"
#include "core/edit/material_edits.h"
#include "core/edit/rail_edits.h"
#include "core/evaluate/evaluator.h"
#include "core/flow/extent.h"
#include "core/kinds/registry.h"
#include "core/light/light_kind.h"
#include "core/picture/trace.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"
#include "core/scene/frame_range.h"
#include "core/shape/shape_kind.h"

using namespace gswarm;

namespace {

constexpr int samples = 24;
constexpr float focalLength = 70, sensorWidth = 36;  ///< millimetres
constexpr double shownAt = 0.4;                      ///< of all frames

/// How far away a camera that looks along −`toward` at the middle of a box has to be for all of it to fill the picture.
float distanceFor(const Bounds& bounds, const glm::vec3& toward, QSize pixels) {
    const float across = sensorWidth / 2 / focalLength * 0.92f;
    const float along = across * static_cast<float>(pixels.height()) / static_cast<float>(pixels.width());
    const glm::vec3 right = glm::normalize(glm::cross({0, 1, 0}, toward)), up = glm::cross(toward, right);
    float distance = 1e-3f;
    for (int k = 0; k < 8; ++k) {
        const glm::vec3 p = glm::vec3(k & 1 ? 0.5f : -0.5f, k & 2 ? 0.5f : -0.5f, k & 4 ? 0.5f : -0.5f) * bounds.size();
        const float before = glm::dot(p, toward);
        distance = std::max({distance, before + std::abs(glm::dot(p, right)) / across, before + std::abs(glm::dot(p, up)) / along});
    }
    return distance;
}

/// All of a swarm, from above its right shoulder.
QImage pictureOfSwarm(const Scene& scene, ObjectId swarm, double frame, const std::filesystem::path& folder, QSize pixels,
                      Progress& progress) {
    Evaluator evaluator(1);
    const auto result = evaluator.evaluate(scene, swarm, frame, {{}, folder}, progress);
    const Bounds bounds = extentOf(*result);
    if (bounds.empty()) return {};
    Setting setting = settingAt(scene, frame, evaluator.store());
    const glm::vec3 toward = glm::normalize(glm::vec3(0.55f, 0.5f, 1));
    setting.light.ground.shown = false;
    setting.background = {0.0116f, 0.0097f, 0.0070f};  // of the panel, in linear light
    setting.camera.focalLength = focalLength;
    setting.camera.target = result->pose.toWorld(bounds.centre());
    setting.camera.position = setting.camera.target + result->pose.scale * distanceFor(bounds, toward, pixels) * toward;
    const std::vector<std::shared_ptr<const Result>> shown{result};
    const Image image = trace(drawListOf(shown), setting, {pixels.width(), pixels.height(), samples, 1}, progress);
    return QImage(image.pixels.data(), image.width, image.height, QImage::Format_RGBA8888).copy();
}

}  // namespace

QImage pictureOf(const ShapeKind& kind, QSize pixels, Progress& progress) {
    Edit shape = addShape(emptyScene(), kind);
    const ObjectId made = shape.made;
    // The outline of a vase stands for whatever curve it will be made of, its rings where it is made of several, and a ball with facets
    // for whatever surface.
    const Points vase{{0.5, 0, 0}, {0.95, 0.6, 0}, {0.6, 1.3, 0}, {0.3, 1.7, 0}, {0.5, 2, 0}};
    constexpr std::array rings{0.8, 1.1, 0.4};
    const auto takes = [&](const Parameter& p, Needs needs) { return p.needs == needs && applies(p, standardPart(kind)); };
    const auto curves =
        std::count_if(kind.parameters.begin(), kind.parameters.end(), [&](const Parameter& p) { return takes(p, Needs::curve); });
    std::size_t next = 0;
    for (const Parameter& p : kind.parameters) {
        const bool curve = takes(p, Needs::curve);
        if ((!curve && !takes(p, Needs::surface)) || next >= rings.size()) continue;
        const Edit of = addShape(shape.scene, !curve ? geodesicBallShape : curves > 1 ? circleShape : pathShape);
        shape = !curve       ? setValue(of.scene, addressOf(of.scene, of.made, "frequency"), fixedNumbers({2}))
                : curves > 1 ? setValue(of.scene, addressOf(of.scene, of.made, "radius"), fixedNumbers({rings[next]}))
                             : setValue(of.scene, addressOf(of.scene, of.made, "points"), vase);
        shape = setValue(shape.scene, addressOf(shape.scene, made, p.id), of.made);
        ++next;
    }
    shape.made = made;
    if (static_cast<const ShapeKind&>(kind).carried) {
        // What a swarm carries looks like nothing of its own before it is moved.
        const ObjectId carrier = shape.scene.all(ObjectType::swarm).front();
        const auto& all = gestureStarts();
        const auto drift = std::find_if(all.begin(), all.end(), [](const GestureStart& one) { return one.id == "drift"; });
        shape.scene = addGestureStart(shape.scene, carrier, *drift, {}, nullptr).scene;
    }
    if (const auto& of = static_cast<const ShapeKind&>(kind); of.swarm && !of.carried) {
        // A few balls that reach into each other.
        const ObjectId shown = shape.scene.all(ObjectType::swarm).front(), formation = shape.scene.at(shown).list("formations").front();
        const auto set = [&](ObjectId thing, const char* parameter, const Value& value) {
            shape.scene = setValue(shape.scene, addressOf(shape.scene, thing, parameter), value).scene;
        };
        set(formation, "count", fixedNumbers({3, 2, 1}));
        set(formation, "spacing", fixedNumbers({0.62, 0.7, 1}));
        set(shape.made, "display-as", std::string("hidden"));
        if (kind.indexOf("voxel") >= 0) set(shape.made, "voxel", fixedNumbers({0.06}));
    }
    const Edit swarm = addSwarmOf(shape.scene, shape.made);
    const ObjectId formation = swarm.scene.at(swarm.made).list("formations").front();
    const Scene scene = setValue(swarm.scene, addressOf(swarm.scene, formation, "count"), fixedNumbers({1, 1, 1})).scene;
    return pictureOfSwarm(scene, swarm.made, 0, {}, pixels, progress);
}

QString pictureKey(const Scene& scene, ObjectId material) {
    ContentHash hash;
    for (const ObjectId id : materialsBehind(scene, material))
        for (const Part& part : scene.at(id).parts) hash.add(resolve(scene, part, 0).hash);
    return QString("own-%1").arg(hash.value(), 0, 16);
}

QImage pictureOf(const MaterialStart& start, QSize pixels, Progress& progress) {
    const Edit added = addMaterial(emptyScene(), start);
    return pictureOf(added.scene, added.made, {}, pixels, progress);
}

QImage pictureOf(const Scene& scene, ObjectId material, const std::filesystem::path& projectFolder, QSize pixels, Progress& progress) {
    // Alone with all it is mixed from: nothing else of the project is made.
    Scene stage = emptyScene();
    for (const ObjectId id : everythingBehind(scene, {material})) stage.objects[id] = std::make_shared<Object>(scene.at(id));
    for (const ObjectId id : materialsBehind(scene, material)) stage.order.push_back(id);
    const auto set = [&](ObjectId object, const char* parameter, const Value& value) {
        stage = setValue(stage, addressOf(stage, object, parameter), value).scene;
    };
    const Edit shape = addShape(stage, ballShape), swarm = addSwarmOf(shape.scene, shape.made);
    const ObjectId ball = swarm.made;
    stage = useMaterial(swarm.scene, swarm.scene.at(ball).list("stock").front(), material).scene;
    set(shape.made, "radius", fixedNumbers({1}));
    set(stage.at(ball).list("formations").front(), "count", fixedNumbers({1, 1, 1}));
    const Edit light = addLight(stage, areaLight);
    stage = light.scene;
    set(light.made, "position", fixedNumbers({-2.5, 4, 3}));
    set(light.made, "rotation", fixedNumbers({-40, 0, -30}));
    set(light.made, "strength", fixedNumbers({9}));
    Evaluator evaluator(1);
    const std::vector<std::shared_ptr<const Result>> shown{evaluator.evaluate(stage, ball, 0, {{}, projectFolder}, progress)};
    Setting setting = settingAt(stage, 0, evaluator.store());
    for (Sun& sun : setting.light.suns) sun.light *= 0.5f;
    setting.light.ground.height = 0;
    setting.background = {0.0116f, 0.0097f, 0.0070f};
    setting.camera.focalLength = focalLength;
    setting.camera.target = {0, 0.95f, 0};
    setting.camera.position = {1.4f, 2.3f, 6.2f};
    const Image image = trace(drawListOf(shown), setting, {pixels.width(), pixels.height(), 2 * samples, 1}, progress);
    return QImage(image.pixels.data(), image.width, image.height, QImage::Format_RGBA8888).copy();
}

QImage pictureOf(const KeptStart& start, const std::filesystem::path& folder, QSize pixels, Progress& progress) {
    if (start.of == StartOf::material) return pictureOf(start.scene, start.id, folder, pixels, progress);
    Scene scene = start.scene;
    const ObjectId swarm = scene.all(ObjectType::swarm).front();
    if (start.of == StartOf::zone) {
        const auto& all = gestureStarts();
        const auto gild = std::find_if(all.begin(), all.end(), [](const GestureStart& one) { return one.id == "gild"; });
        const Edit coloured = addGestureStart(scene, swarm, *gild, {}, nullptr);
        scene = weaveZone(coloured.scene, coloured.made, start.id).scene;
    }
    const FrameRange frames = framesOf(scene);
    return pictureOfSwarm(scene, swarm, std::round(frames.first + shownAt * (frames.last - frames.first)), folder, pixels, progress);
}
