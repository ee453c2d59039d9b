#pragma once
#include <glm/gtc/quaternion.hpp>

#include "core/base/block.h"
#include "core/base/lane_number.h"
#include "core/scene/describe.h"

namespace gswarm {

enum class GesturePlace { home, current };
enum class ChangeMode { by, to };
enum class ByAxes { swarm, world, own, normal };
enum class ToAxes { swarm, world };
enum class ColourBlend { mix, multiply, add };
enum class ColourSource { single, ramp };

/// The general gesture: adds to or goes toward a position, rotation, scale and colour, each channel on its own switch.
struct Change {
    float strength;  ///< percent
    GesturePlace place;
    bool position, rotation, scale, colour;
    ChangeMode positionMode, rotationMode, scaleMode;
    ByAxes positionAxes, rotationAxes;
    ToAxes positionIn, rotationIn;
    glm::vec3 positionAmount, rotationAmount, scaleAmount;
    ColourBlend blend;
    ColourSource source;
    glm::vec4 colourAmount;
    RampTable ramp;
};

/// The numbers of a Change that may differ from instance to instance, in kernel units (strength as a factor).
enum ChangeNumber { strengthNumber, positionNumber, rotationNumber = 4, scaleNumber = 7, colourNumber = 10, changeNumberCount = 14 };

/// Where an instance was really changed, one bit per card and channel; rails hold at most 64 cards.
inline constexpr int mostCards = 64;
struct EffectColumns {
    WordColumn channel[4][mostCards / 32];  ///< position, rotation, scale, colour
};

struct ChangeInput {
    const Change& change;
    const LaneNumber* numbers;  ///< changeNumberCount of them
    bool patternSigned;
    int components;  ///< of block.driven: 1 or 3
    glm::vec3 swarmPosition;
    glm::quat swarmRotation;
    float swarmScale;
    int card;  ///< number in the rail, for the effect bits
};

/// Applies the channels that are on to the block's transform and colour, and marks in `effect` where they did.
void applyChange(const ChangeInput& in, Block& block, EffectColumns& effect);

extern const Kind changeGesture;

}  // namespace gswarm
