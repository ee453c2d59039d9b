#pragma once
#include <string>

namespace gswarm {

/// Figures of one run of the yardstick; medians.
struct YardstickFigures {
    int instances, threads, runs;
    std::string target;  ///< the vector instructions in use, such as "AVX3"
    double frameMilliseconds;
    double copyMilliseconds;  ///< one single-threaded memcpy of as many bytes as the result has
    double bytesPerInstance;
};

/// Evaluates the yardstick at `runs` different frames after one warm-up, into recycled buffers.
YardstickFigures measureYardstick(int instances, int threads, int runs);

}  // namespace gswarm
