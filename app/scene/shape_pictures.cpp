#include "app/scene/shape_pictures.h"

#include <glm/geometric.hpp>
#include <thread>

#include "core/edit/edit.h"
#include "core/evaluate/evaluator.h"
#include "core/kinds/registry.h"
#include "core/picture/trace.h"
#include "core/provide/shapes.h"

using namespace gswarm;

namespace {

constexpr int samples = 24;

/// One instance that repeats the shape.
struct Sample {
    Scene scene;
    ObjectId shape;
};

Sample sampleOf(const ShapeKind& kind) {
    const Edit swarm = addSwarm(emptyScene()), shape = addShape(swarm.scene, kind);
    const Object& made = shape.scene.at(swarm.made);
    const ObjectId formation = made.list("formations").front(), entry = made.list("stock").front();
    Scene scene = setValue(shape.scene, addressOf(shape.scene, formation, "count"), fixedNumbers({1, 1, 1})).scene;
    return {setValue(scene, addressOf(scene, entry, "shape"), shape.made).scene, shape.made};
}

}  // namespace

QImage pictureOf(const ShapeKind& kind, QSize pixels, Progress& progress) {
    try {
        const auto [scene, shape] = sampleOf(kind);
        Evaluator evaluator(1);
        const auto result = evaluator.evaluate(scene, scene.all(ObjectType::swarm).front(), 0, {}, progress);
        const Shapes shapes(scene, 0, {}, evaluator.store(), progress);
        const Bounds bounds = shapes.get(shape)->bounds;
        Setting setting = settingAt(scene, 0, evaluator.store());
        const glm::vec3 middle = bounds.centre() - result->variants.front().foot;
        const float reach = std::max(glm::length(bounds.size()) / 2, 1e-3f);
        setting.light.ground = false;
        setting.background = {0.0116f, 0.0097f, 0.0070f};  // of the panel it stands on, in linear light
        setting.camera.focalLength = 70;
        setting.camera.target = middle;
        setting.camera.position = middle + glm::normalize(glm::vec3(0.55f, 0.5f, 1)) * reach * 4.6f;
        const std::vector<std::shared_ptr<const Result>> shown{result};
        const Image image = trace(drawListOf(shown), setting, {pixels.width(), pixels.height(), samples, 1}, progress);
        return QImage(image.pixels.data(), image.width, image.height, QImage::Format_RGBA8888).copy();
    } catch (const Cancelled&) {
        return {};
    } catch (const std::exception&) {
        return {};
    }
}

struct ShapePictures::Maker {
    std::thread thread;
    Progress progress;
    ~Maker() {
        progress.cancel();
        if (thread.joinable()) thread.join();
    }
};

ShapePictures::ShapePictures(QSize pixels, QObject* parent) : QObject(parent), pixels_(pixels) {}
ShapePictures::~ShapePictures() = default;

void ShapePictures::start() {
    if (maker_) return;
    maker_ = std::make_unique<Maker>();
    maker_->thread = std::thread([this, &progress = maker_->progress] {
        for (const Kind* kind : kindsOf(Family::shape)) {
            if (progress.cancelled()) return;
            const QImage picture = pictureOf(static_cast<const ShapeKind&>(*kind), pixels_, progress);
            if (!picture.isNull()) emit made(QString::fromStdString(kind->id), picture);
        }
    });
}
