#include "core/exchange/usd_things.h"

#include "core/provide/placing.h"

namespace gswarm::usd {

void FrameNow::go(int frame) {
    if (frame_ == frame) return;
    frame_ = frame;
    results_.clear();
    setting_.reset();
    lamps_.reset();
}

std::shared_ptr<const Result> FrameNow::held(ObjectId swarm, int frame) {
    go(frame);
    auto& found = results_[swarm];
    if (!found) {
        PlanOptions options = frames_.options;
        options.wanted.placements = true;
        Progress quiet;  // the writer tells how far it is
        progress_.check();
        found = apart_.of(frames_.evaluator.evaluate(frames_.scene, swarm, moment(frame), options, quiet));
    }
    return found;
}

const Setting& FrameNow::setting(int frame) {
    go(frame);
    if (!setting_) setting_ = frames_.setting(moment(frame));
    return *setting_;
}

const std::vector<Lamp>& FrameNow::lamps(int frame) {
    go(frame);
    if (!lamps_) {
        std::vector<Lamp> all = setting(frame).lamps;
        for (const ObjectId swarm : frames_.scene.all(ObjectType::swarm)) {
            const auto its = held(swarm, frame);
            if (!its->shown) continue;
            const auto repeated = lampsOf(its);
            all.insert(all.end(), repeated.begin(), repeated.end());
        }
        lamps_ = std::move(all);
    }
    return *lamps_;
}

Camera FrameNow::camera(ObjectId camera, int frame) { return cameraAt(frames_.scene, camera, moment(frame), frames_.evaluator.store()); }

std::string displayName(const std::string& name) { return "displayName = " + quoted(name); }

void addPlacing(Prim& prim, const std::function<WorldPose(int frame)>& pose) {
    addPlacing(prim, [pose](int f) {
        const WorldPose p = pose(f);
        return SimilarityParts{p.position, p.rotation, glm::vec3(p.scale)};
    });
}

void addPlacing(Prim& prim, const std::function<SimilarityParts(int frame)>& pose) {
    const std::vector<Attribute> placing{{"double3 xformOp:translate",
                                          [pose](int f) {
                                              const auto p = pose(f).position;
                                              return three(p.x, p.y, p.z);
                                          },
                                          {}},
                                         {"quatf xformOp:orient",
                                          [pose](int f) {
                                              const auto q = pose(f).rotation;
                                              return Value{{q.w, q.x, q.y, q.z}, {}, {}, 4, false};
                                          },
                                          {}},
                                         {"float3 xformOp:scale",
                                          [pose](int f) {
                                              const auto s = pose(f).scale;
                                              return three(s.x, s.y, s.z);
                                          },
                                          {}}};
    prim.attributes.insert(prim.attributes.end(), placing.begin(), placing.end());
    prim.lines.push_back("uniform token[] xformOpOrder = [\"xformOp:translate\", \"xformOp:orient\", \"xformOp:scale\"]");
}

}  // namespace gswarm::usd
