#pragma once
#include <string>
#include <vector>

namespace gswarm {

/// Figures of one run of the yardstick: medians, and what it takes while nothing else wants the cores.
struct YardstickFigures {
    int instances, threads, runs;
    std::string target;  ///< the vector instructions in use, such as "AVX3"
    double frameMilliseconds;
    double leastMilliseconds;  ///< the quickest of the runs
    double copyMilliseconds;   ///< one single-threaded memcpy of as many bytes as the result has
    double bytesPerInstance;
};

/// Evaluates the yardstick at `runs` different frames after one warm-up, into recycled buffers.
YardstickFigures measureYardstick(int instances, int threads, int runs);

/// What one kind costs: the rail with it less the rail without it, on one thread.
struct KindFigure {
    std::string family, kind;
    double nanoseconds;  ///< an instance
};
/// Every pattern (driving a position), zone and gesture that works block by block, and a formula of ten operations.
std::vector<KindFigure> measureKinds(int instances, int runs);

/// What a gesture costs a frame that looks at the neighbours of each instance, all of them moving.
struct NeighbourFigure {
    std::string kind;
    int instances;
    double milliseconds;
};
std::vector<NeighbourFigure> measureNeighbours(int instances, int threads, int runs);

/// Reaching a frame of a swarm whose places swing like springs: at first, from the beginning, and again, when the frames
/// on the way are known.
struct FollowFigure {
    int instances, frame;
    double coldMilliseconds, warmMilliseconds;
    double playMilliseconds;  ///< a frame after the one before it
};
FollowFigure measureFollowThrough(int instances, int frame, int threads);

}  // namespace gswarm
