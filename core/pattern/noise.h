#pragma once

namespace gswarm {

enum class NoiseMotion { laps, speed, still };

/// Gradient noise −1 … 1 over place and time. In laps the time dimension closes on itself after `changes` lattice
/// cells, so that frames a loop apart are equal to the bit.
struct Noise {
    float size;   ///< metres from one hill to the next
    int octaves;  ///< 1 … 8, each half as large and half as strong
    int seed;
    NoiseMotion motion;
    int laps, changes;  ///< laps a loop; new fields a lap
    float speed;        ///< new fields a second
    bool sameOnAllAxes;
};

}  // namespace gswarm
