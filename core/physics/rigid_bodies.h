#pragma once
#include <glm/gtc/quaternion.hpp>
#include <glm/vec3.hpp>
#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/physics/collider.h"
#include "core/physics/obstacle.h"

/// Rigid bodies from one frame to the next, on Bullet. All that goes on from a frame is in the states: the same states and the same
/// task give the same bits, whichever way one came to the frame.
namespace gswarm {

/// A body at one moment, in world metres, seconds and radians.
struct BodyState {
    glm::vec3 place{0};  ///< of the collider's centre
    glm::quat turn{1, 0, 0, 0};
    glm::vec3 speed{0}, spin{0};
    float still = 0;  ///< seconds that it has lain still
    bool asleep = false;
    bool lost = false;  ///< ran out of the world, or nowhere, and sleeps where it was
    glm::vec3 aim{0};   ///< where it was to be
    glm::quat aimTurn{1, 0, 0, 0};
    int contacts = 0;  ///< with how many others it touches
};

/// What is asked of a body for one step.
struct BodyTask {
    int rules = 0;      ///< by which of the rules it goes
    int collider = -1;  ///< which of the colliders it is; −1 for one that is not there and only follows its aim
    glm::vec3 scale{1};
    glm::vec3 aim{0};  ///< where it is to be at the end of the step
    glm::quat aimTurn{1, 0, 0, 0};
    glm::vec3 push{0};   ///< acceleration
    float grip = 0;      ///< by which share a second it is slowed as well
    bool held = false;   ///< goes with its aim, whatever it meets; from elsewhere it comes there within half a second
    bool still = false;  ///< stays where it is, whatever it meets
    bool fresh = false;  ///< has no state yet: begins at its aim, at rest
};

/// Where two bodies touch, and how strongly they pressed: the next frame's solver begins with it.
struct BodyContact {
    int one = 0, other = 0;  ///< numbers of bodies; −1 for the ground, −2 − k for obstacle k
    glm::vec3 at{0};         ///< on `one`, in its own turned space, sizes of a body
    float impulse = 0;
};

/// Two bodies that are glued: the other one's place and turn as the one sees it, in metres.
struct BodyBond {
    int one = 0, other = 0;
    glm::vec3 place{0};
    glm::quat turn{1, 0, 0, 0};
};

/// Bodies after a frame, in their order.
struct BodyFrame {
    std::vector<BodyState> states;
    std::vector<BodyContact> contacts;
    std::vector<BodyBond> bonds;  ///< those that hold
};

/// Tells each body with how many others it touches.
void countContacts(BodyFrame& frame);

/// By which some bodies of a world go, all of one rate. The world takes as many steps as the one that asks for most.
struct BodyRules {
    double rate = 25;  ///< frames a second
    int steps = 4;     ///< a frame
    glm::vec3 gravity{0, -9.81f, 0};
    bool ground = true;
    float groundHeight = 0;
    float friction = 0.5f, bounce = 0;    ///< 0 … 1 and more
    float damping = 0, spinDamping = 0;   ///< lost in a second, 0 … 1
    float strive = 0, striveDamping = 1;  ///< back to the aim: swings a second, and 1 for no swinging
    float turnStrive = 0, turnDamping = 1;
    bool meet = true;  ///< bodies collide with each other
    bool sleep = true;
    bool massBySize = true;  ///< else all weigh the same
    float density = 1;       ///< how heavy they are for their size, or each, against others of the world
    bool parting = false;    ///< what overlaps parts in half a second instead of at once
    float bondHolds = 0;     ///< a bond breaks where a step would change a speed by more than this acceleration; 0 for never
};

/// How far from the middle of the world bodies go at most, in sizes of a body; beyond that they are put to sleep.
inline constexpr float bodyWorldSizes = 1e5f;

/// Two bodies that touch where they begin, or nearly.
struct BodyNear {
    BodyBond bond;          ///< if they were glued
    bool overlaps = false;  ///< by more than a hundredth of their size
};
struct BodyStart {
    std::vector<BodyNear> near;  ///< in the order of their bodies
};
BodyStart startOf(const BodyFrame& frame, std::span<const BodyTask> tasks, std::span<const Collider> colliders,
                  std::span<const BodyRules> rules);

/// At most so many rules in one world.
inline constexpr std::size_t mostBodyRules = 16;

/// Bodies after `frames` (0 … 1) of a step. Throws Cancelled between steps.
BodyFrame advanced(const BodyFrame& from, std::span<const BodyTask> tasks, std::span<const Collider> colliders,
                   std::span<const Obstacle> obstacles, std::span<const BodyRules> rules, double frames, Progress& progress);

}  // namespace gswarm
