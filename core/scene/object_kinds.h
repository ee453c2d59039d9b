#pragma once
#include <glm/vec3.hpp>
#include <glm/vec4.hpp>
#include <string>

#include "core/scene/kind.h"

namespace gswarm {

/// The scene's own objects are described by the same tables as kinds. Lengths in metres, angles in radians.

/// Settings of the whole piece. Frames may start anywhere, also below 0.
struct Piece {
    std::string rate;  ///< frames a second as a fraction, "25" or "30000/1001"
    float firstFrame, lastFrame, loopStart, loopFrames;
    glm::vec4 background;
    float exposure;  ///< stops
};
struct Pose {
    glm::vec3 position, rotation;
    bool on;
};
struct SwarmPlace {
    glm::vec3 position, rotation;
    float scale;
    bool shown;
    ObjectId formation;  ///< the version that is on
};
enum class Foot { base, centre, point };
struct StockEntry {
    ObjectId shape;
    Foot foot;
    glm::vec3 footPoint;
    float size;
    glm::vec4 colour;
    float metal, roughness;
};
struct RailEntry {
    ObjectId gesture;
    bool on;
};
enum class WeaveOperation { cut, add, times };
struct WeaveEntry {
    ObjectId zone;
    WeaveOperation operation;
    float amount;  ///< percent
    bool on;
};
struct SunAndSky {
    glm::vec3 sunDirection;  ///< angles: x height above the horizon, y around
    float sunStrength, sunSize, skyStrength;
    glm::vec4 sunColour, zenith, horizon;
    bool ground;
    float groundHeight;
    glm::vec4 groundColour;
};
struct Camera {
    glm::vec3 position, target;
    float focalLength;  ///< millimetres on a 36 mm wide frame
};

extern const Kind pieceKind, poseKind, swarmKind, stockKind, railKind, weaveKind, sunAndSkyKind, cameraKind;

/// Frames a second from "25", "23.976" or "30000/1001"; 0 when the text is no such thing or not in 0 … 1000.
double parseRate(const std::string& text);

}  // namespace gswarm
