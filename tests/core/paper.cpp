#include "tests/core/paper.h"

#include "core/kinds/registry.h"

namespace gswarm::making {

Paper::Paper() {
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "card")).scene;
    b.set(b.shape, "width", {40}).set(b.shape, "depth", {40}).set(b.material, "colour", {1, 1, 1, 1}).set(b.material, "roughness", {1});
    b.set(b.sky(), "on", false).set(b.sun(), "on", false).set(b.scene.project().id, "background", {0, 0, 0, 1});
    const ObjectId camera = b.scene.all(ObjectType::camera).front();
    b.set(camera, "projection", std::string("parallel")).set(camera, "width", {10});
    b.set(camera, "position", {0, 20, 0}).set(camera, "target", {0, 0, 0});
}

ObjectId Paper::add(const Kind& kind) {
    const Edit edit = addLight(b.scene, kind);
    b.scene = edit.scene;
    return edit.made;
}

DrawList Paper::list() const {
    std::vector<std::shared_ptr<const Result>> swarms;
    Evaluator evaluator;
    Progress progress;
    for (const ObjectId swarm : b.scene.all(ObjectType::swarm))
        swarms.push_back(evaluator.evaluate(b.scene, swarm, 0, {{}, temporaryFolder()}, progress));
    return drawListOf(swarms);
}

Setting Paper::setting() const {
    Setting setting = settingAt(b.scene, 0, store());
    addPictures(setting, temporaryFolder(), store());
    return setting;
}

}  // namespace gswarm::making
