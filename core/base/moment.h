#pragma once
#include <cmath>

namespace gswarm {

/// A moment of the project. The core keeps no clock: every evaluation is given its moment.
struct Moment {
    double frame = 0;
    double rate = 25;         ///< frames a second, above 0
    double loopStart = 0;     ///< frame
    double loopFrames = 100;  ///< length of the loop L, above 0

    double seconds() const { return frame / rate; }
    /// Place in the loop, 0 … 1 (1 excluded): fract((frame − loopStart) / L). Frames a whole loop apart give equal bits.
    double loop() const {
        const double into = std::fmod(frame - loopStart, loopFrames);
        const double place = (into < 0 ? into + loopFrames : into) / loopFrames;
        return place < 1 ? place : 0;
    }
};

}  // namespace gswarm
