#pragma once
#include <glm/vec3.hpp>

namespace gswarm {

enum class WaveForm { sine, triangle, square, saw };
enum class WaveAlong { number, direction, radius };
enum class WaveMotion { laps, speed, still };

/// −1 … 1. In laps the wave passes `laps` whole crests a loop, so that frames a loop apart are equal to the bit.
struct Wave {
    WaveForm form;
    WaveAlong along;
    float crests;         ///< over the swarm, along the number
    float length;         ///< metres from crest to crest, along a direction or a radius
    glm::vec3 direction;  ///< need not be of unit length
    WaveMotion motion;
    int laps;
    float speed;  ///< crests a second
    float phase;  ///< radians
};

}  // namespace gswarm
