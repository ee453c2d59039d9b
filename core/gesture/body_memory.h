#pragma once
#include "core/gesture/gesture_kind.h"
#include "core/physics/rigid_bodies.h"

/// What a card with bodies remembers from frame to frame, and how that is laid out in columns.
namespace gswarm {

/// What each body remembers; behind that what is shown of it.
enum BodyColumn : std::size_t {
    placeAt = 0,
    turnAt = 3,
    speedAt = 7,
    spinAt = 10,
    stillAt = 13,
    restsAt,
    modeAt,
    ageAt,
    idleAt,
    aimAt,
    aimTurnAt = aimAt + 3,
    rememberedColumns = aimTurnAt + 4,
    shownPlaceAt = rememberedColumns,
    shownTurnAt = shownPlaceAt + 3,
    contactsAt = shownTurnAt + 4,
    bodyColumns
};

/// A body waits where the cards before have it until it is woken, is free, or frozen where it is.
enum class BodyMode { waits, free, frozen };

/// An instance on its way: beside its state and task, what goes on from frame to frame.
struct BodyMember {
    glm::vec3 offset{0};  ///< from the instance's place to the middle of its collider, turned with it
    float size = 0;       ///< the longest side, metres
    float age = 0;        ///< seconds since it began
    float idle = 0;       ///< seconds since its weight would have woken it
    BodyMode mode = BodyMode::free;
};

/// What is remembered of no single body.
struct BodiesAround {
    std::vector<Obstacle> obstacles;  ///< as they stand now, on their way from how they stood
    std::vector<BodyContact> contacts;
    std::vector<BodyBond> bonds;
    int overlapping = 0;  ///< pairs of bodies, where they began
};

/// Takes up what columns remember of an instance; false where nothing is known of it yet.
bool recall(const std::vector<const float*>& columns, std::size_t i, BodyState& state, BodyMember& member);
/// Where a body is a share of the way from one frame to the next: on the course that its speeds tell of, or straight on where they
/// don't tell of all, since it met something.
BodyState between(const BodyState& from, const BodyState& to, float share, float seconds);
/// Takes up what was remembered of no single one, in a world of so many bodies; `obstacles` as they stand now. Bonds are of the swarm's
/// own bodies, contacts of all.
BodiesAround recallAround(const WholeMoment& moment, std::vector<Obstacle> obstacles, std::size_t bodies);

/// All columns, those that are shown blended over a seam of the loop; the last is what is remembered of no single body.
WholeColumns columnsOf(std::span<const BodyState> states, std::span<const BodyMember> members, const BodiesAround& around,
                       const WholeMoment& moment);
/// What the person should know of them, a sentence or two; empty for most.
std::string toldOfBodies(const WholeColumns& columns);

}  // namespace gswarm
