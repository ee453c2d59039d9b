#pragma once
#include <glm/vec3.hpp>

#include "core/base/block.h"
#include "core/base/lane_number.h"
#include "core/base/moment.h"

namespace gswarm {

enum class NoiseForm { gradient, value, ridged, cellular };
enum class NoiseMotion { laps, speed, still, drift };

/// Noise −1 … 1 over place and time. In laps the time dimension closes on itself after `changes` lattice cells, and a
/// drifting field repeats along its drift, so that frames a loop apart are equal to the bit.
struct Noise {
    NoiseForm form;
    float size;         ///< metres from one hill to the next
    glm::vec3 stretch;  ///< factors on the size, per axis
    int octaves;        ///< 1 … 8, each half as large and half as strong
    int seed;
    NoiseMotion motion;
    glm::vec3 drift;    ///< metres that it flows in one lap
    int laps, changes;  ///< laps a loop; new fields a lap
    float speed;        ///< new fields a second
    bool sameOnAllAxes;
    bool beyond = false;  ///< what rarely goes beyond ± 1 stays, for whoever needs its slopes
};

/// The places whose noise is wanted, metres; `offset` is each one's own time minus the moment's, frames.
struct NoiseInput {
    const Columns3& place;
    const LaneNumber& offset;
    const Moment& moment;
    int count;  ///< a multiple of 16
};

/// Fills out.x, or all three.
void runNoise(const Noise& noise, const NoiseInput& in, Columns3& out);

}  // namespace gswarm
