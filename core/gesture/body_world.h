#pragma once
#include <functional>
#include <memory>
#include <span>
#include <vector>

#include "core/gesture/body_memory.h"
#include "core/shape/standing_shape.h"

/// A world of bodies on its way from one frame to the next: of one swarm, or of several that share it.
namespace gswarm {

enum class BodyWakes { always, where };
enum class BodyThen { home, freeze };
enum class BodyGlue { none, blow, weight };

/// The card as its table has it, in metres and seconds; shares of 100 as percent.
struct Bodies : GestureBasics {
    ColliderForm collider;
    bool meet, massBySize, ground, sleeps, loops;
    float blend;
    float groundHeight, friction, bounce, damping, spinDamping, gravity;
    glm::vec3 push;
    float forces;
    float strive, striveDamping, turnStrive, turnDamping;
    BodyWakes wakes;
    BodyThen then;
    float from;
    BodyGlue glue;
    float glueHolds, partsFrom;
    float density;
    int steps;
    ObjectId against, with;
    ObjectId speed, spin, away, touching, resting;

    // Prepared.
    std::function<std::shared_ptr<const Collider>(const ShapeMeshes&)> colliderFor{};
    StandingShapes standing{};
    std::vector<std::shared_ptr<const ObstacleMesh>> walls{};  ///< of each that stands there
    int speedColumn = -1, spinColumn = -1, awayColumn = -1, touchingColumn = -1, restingColumn = -1;
};

/// What the swarms of a world are at a frame, each as columns, from what they remember.
std::vector<WholeColumns> carriedOn(std::span<const WholeShare> shares, Progress& progress);

}  // namespace gswarm
