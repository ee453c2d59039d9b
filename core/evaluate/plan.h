#pragma once
#include <array>
#include <glm/gtc/quaternion.hpp>
#include <memory>
#include <vector>

#include "core/base/progress.h"
#include "core/evaluate/backdrops.h"
#include "core/evaluate/home_plan.h"
#include "core/evaluate/stock_plan.h"
#include "core/gesture/change.h"
#include "core/gesture/response.h"
#include "core/gesture/stagger.h"
#include "core/pattern/pattern_kind.h"
#include "core/scene/object_kinds.h"
#include "core/scene/scene.h"
#include "core/shape/shape_kind.h"
#include "core/time/track.h"
#include "core/zone/zone_kind.h"

namespace gswarm {

class Store;

/// A zone's pose and numbers at one moment, in kernel units.
struct ZoneState {
    glm::vec3 position;
    glm::quat rotation;
    std::array<float, 8> numbers;
};

/// One line of a weave, ready to run. A zone that moves under a staggered gesture has a state for every whole frame
/// from `firstFrame` on; any other has just one.
struct WeaveStep {
    const ZoneKind* kind = nullptr;
    WeaveOperation operation = WeaveOperation::cut;
    float amount = 1;
    double firstFrame = 0;
    std::vector<ZoneState> states;
};

/// One gesture of the rail, ready to run.
struct Card {
    ObjectId entry, gesture;
    bool acts = true;  ///< off, or another card is soloed
    ResolvedPart change, pattern;
    Response where{}, shaped{};
    Stagger stagger{};
    std::vector<WeaveStep> weave;
    std::array<float, changeNumberCount> numbers{};
    /// Numbers that are keyed under a stagger: read at each instance's own time. Empty pieces mean the constant.
    std::array<TrackPieces, changeNumberCount> lanes;

    const Change& changes() const { return change.as<Change>(); }
    const PatternKind& patternKind() const { return static_cast<const PatternKind&>(*pattern.kind); }
};

/// A swarm at one frame, with every number resolved and everything slow made: what the flow needs and no more.
struct Plan {
    ObjectId swarm;
    Moment moment;
    glm::vec3 position{0};
    glm::quat rotation{1, 0, 0, 0};
    float scale = 1;
    bool shown = true;
    HomePlan home;
    int count = 0;
    Bounds homes;
    StockPlan stock;
    std::vector<Card> cards;
    std::vector<Backdrop> backdrops;
    std::vector<std::string> notes;  ///< what the person should know, one sentence each

    int blocks() const { return (count + blockSize - 1) / blockSize; }
};

struct PlanOptions {
    ObjectId solo;                        ///< a rail entry that acts alone, or none
    std::filesystem::path projectFolder;  ///< where outside files may lie
};

/// Throws Error if the swarm has more instances than may be, nothing to repeat, or a shape that can't be made.
Plan prepare(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, Store& store, Progress& progress);

/// Rotation from three turns about X, then Y, then Z (radians).
glm::quat rotationFromTurns(const glm::vec3& radians);
/// A zone's state at a frame.
ZoneState zoneStateAt(const Object& zone, double frame);

}  // namespace gswarm
