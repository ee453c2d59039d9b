#pragma once
#include "core/gesture/gesture_kind.h"

namespace gswarm {

enum class ChangeMode { by, to };
enum class ByAxes { swarm, world, own, normal };
enum class ToAxes { swarm, world };
enum class TurnAbout { angles, x, y, z, normal, across, toward };
enum class ColourBlend { mix, multiply, add };
enum class ColourSource { single, ramp, driven };
enum class ShapeBy { driven, one };
enum class ShowingAs { hide, show };

/// The general gesture: adds to or goes toward a position, rotation, scale, colour and more, each channel on its own
/// switch. With an elsewhere value a channel goes from that value, where the weight is 0, to its own, where it is 1.
struct Change : GestureBasics {
    bool position, rotation, scale, colour, shape, showing, time, value;
    ChangeMode positionMode, rotationMode, scaleMode, valueMode;
    ByAxes positionAxes, rotationAxes;
    ToAxes positionIn, rotationIn;
    TurnAbout turnAbout;
    ObjectId turnToward;
    glm::vec3 positionAmount, rotationAmount, scaleAmount;
    float rotationAngle;
    bool positionHasElsewhere, rotationHasElsewhere, scaleHasElsewhere, colourHasElsewhere;
    glm::vec3 positionElsewhere, rotationElsewhere, scaleElsewhere;
    float angleElsewhere;
    glm::vec4 colourElsewhere;
    ColourBlend blend;
    ColourSource source;
    glm::vec4 colourAmount;
    RampTable ramp;
    ShapeBy shapeBy;
    ObjectId shapeEntry;
    ShowingAs showingAs;
    float timeAmount;  ///< frames
    ObjectId valueOf;
    float valueAmount;

    // Prepared.
    glm::vec3 towardPlace{0};  ///< swarm space
    int valueColumn = 0;
    StockTold stock;
    int shapeVariant = 0, shapeVariants = 1;

    bool anyElsewhere() const {
        return (position && positionHasElsewhere) || (rotation && rotationHasElsewhere) || (scale && scaleHasElsewhere) ||
               (colour && colourHasElsewhere && source == ColourSource::single);
    }
};

/// The numbers of a Change that may differ from instance to instance, in kernel units, in the order of its table.
enum ChangeNumber {
    strengthNumber,
    positionNumber,
    rotationNumber = 4,
    angleNumber = 7,
    scaleNumber,
    colourNumber = 11,
    valueNumber = 15,
    changeNumberCount
};

/// Its lanes.
void applyChange(const GestureInput& in, Block& block, EffectColumns& effect);

}  // namespace gswarm
