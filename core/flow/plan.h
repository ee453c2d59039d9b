#pragma once
#include <array>
#include <filesystem>
#include <memory>
#include <vector>

#include "core/flow/backdrop.h"
#include "core/flow/home_plan.h"
#include "core/flow/memory_plan.h"
#include "core/flow/number_lane.h"
#include "core/flow/stock_plan.h"
#include "core/force/force_kind.h"
#include "core/gesture/gesture_kind.h"
#include "core/gesture/stagger.h"
#include "core/pattern/pattern_kind.h"
#include "core/response/response.h"
#include "core/scene/object_kinds.h"
#include "core/scene/scene.h"
#include "core/shape/shape_kind.h"
#include "core/time/follow_through.h"
#include "core/zone/zone_kind.h"

namespace gswarm {

struct Plan;

/// What whoever reads the result wants of every instance, beside what pictures are drawn from. It is written in the same pass.
struct Wanted {
    ObjectId weightsOf;       ///< a rail entry: how strongly its card acts
    bool placements = false;  ///< position, rotation and scale as the rail made them
    bool operator==(const Wanted&) const = default;
};

/// A zone's pose and numbers at one moment, in kernel units.
struct ZoneState {
    glm::vec3 position;
    glm::quat rotation;
    std::array<float, mostZoneNumbers> numbers;
};

/// One line of a weave, ready to run: a zone, or a group with lines of its own. A zone that moves under a gesture whose
/// instances have times of their own has a state for every whole frame from `firstFrame` on; any other has just one.
struct WeaveStep {
    ObjectId entry;
    const ZoneKind* kind = nullptr;  ///< null for a group
    std::shared_ptr<void> data;
    WeaveOperation operation = WeaveOperation::cut;
    float amount = 1;
    bool off = false;  ///< the zone itself is off: its weight is 0
    double firstFrame = 0;
    std::vector<ZoneState> states;
    std::vector<WeaveStep> group;
};

/// A force of the scene, ready to act.
struct ForceStep {
    ObjectId force;
    const ForceKind* kind = nullptr;
    std::shared_ptr<void> data;
    WorldPose pose;
    float strength = 1;
    std::vector<WeaveStep> weave;
    Response where{};
};

/// One gesture of the rail, ready to run.
struct Card {
    ObjectId entry, gesture;
    bool acts = true;   ///< off, another card is soloed, or it waits
    std::string waits;  ///< what it waits for, one sentence; empty for most
    ResolvedPart change, pattern;
    Response where{}, shaped{};
    Stagger stagger{};
    bool ownTime = false;  ///< instances see it at times of their own
    bool mayFail = false;  ///< a formula may give what is no number
    std::vector<WeaveStep> weave;
    std::vector<ForceStep> forces;                         ///< all that act, where the gesture feels them
    std::array<LaneNumber, mostGestureNumbers> numbers{};  ///< what may differ from instance to instance, where it is the same for all
    std::vector<std::pair<int, NumberLane>> lanes;         ///< of those that do differ, by their places among the numbers
    FollowThrough follow{};
    std::vector<bool> remembered;               ///< columns that it remembers of every instance; false for those it does without
    float seam = 0;                             ///< how far it has gone over into what it was one loop earlier, 0 … 1
    bool settles = true;                        ///< nothing is remembered yet at this frame
    int colourAt = -1;                          ///< which numbers are a colour, typed encoded; −1 for none
    Bounds range;                               ///< of what its pattern reads: all homes, or all places now
    std::shared_ptr<const WholeColumns> whole;  ///< of a gesture that needs all instances at once
    std::shared_ptr<const Plan> before, after;  ///< the rail up to this card half a frame away, where travel is read

    const GestureKind& kind() const { return static_cast<const GestureKind&>(*change.kind); }
    const GestureBasics& basics() const { return kind().basics(change.data.get()); }
    const PatternKind& patternKind() const { return static_cast<const PatternKind&>(*pattern.kind); }
};

/// A swarm at one frame, with every number resolved and everything slow made: what the flow needs and no more.
struct Plan {
    ObjectId swarm;
    Moment moment;
    WorldPose pose;
    std::vector<glm::mat4> copies{glm::mat4(1)};  ///< by its symmetries, in swarm space; the first is the original
    bool shown = true;
    HomePlan home;
    int count = 0;  ///< instances that are worked on
    int total = 0;  ///< of the whole swarm; more than `count` in a rehearsal
    Bounds homes;
    StockPlan stock;
    std::vector<std::pair<ObjectId, float>> named;  ///< named values and what they are at home
    bool keepsNamed = false;                        ///< the result has them
    std::vector<int> extraNumbers;                  ///< which of them each column that the homes bring along fills; −1 for none
    std::vector<Card> cards;
    MemoryPlan memory;
    std::vector<Backdrop> backdrops;
    std::vector<std::string> notes;   ///< what the person should know, one sentence each
    std::vector<ObjectId> wantWhole;  ///< rail entries that need the whole swarm, in a rehearsal
    Wanted wanted = {};
    std::uint64_t hash = 0;  ///< of all that the result depends on; 0 where that can't be told

    int blocks() const { return (count + blockSize - 1) / blockSize; }
};

/// Of which part of a swarm a plan is made.
struct PlanOptions {
    ObjectId solo;                        ///< a rail entry that acts alone, or none
    std::filesystem::path projectFolder;  ///< where outside files may lie
    int rehearsal = 1;                    ///< work on one of this many instances
    bool light = false;                   ///< show light stand-ins of stock where there are some
    int unmade = -1;                      ///< a card whose whole is not made: another swarm makes it for both
    int cards = mostCards;                ///< only that many of the rail, from its beginning
    bool backdrops = true;                ///< with the shapes that are themselves seen beside it
    int depth = 0;                        ///< how many swarms repeat this one, one in the other
    Wanted wanted = {};
};

}  // namespace gswarm
