#pragma once
#include <glm/gtc/quaternion.hpp>

#include "core/gesture/gesture_kind.h"

namespace gswarm {

enum class WarpAxis { x, y, z };

/// What all gestures that warp space begin with. They map the space around a centre, in coordinates whose Y runs along the axis, and
/// take instances along: their places, their turns by the turn that is nearest to what the space around them does (polar
/// decomposition of its Jacobian), and if wanted their sizes by how much it stretches along each of their own axes.
struct Warp : GestureBasics {
    WarpAxis axis;
    glm::vec3 centre;
    bool turns, sizes;

    /// From the coordinates in which the axis is Y and `toward` radians about it X, to those of the swarm.
    glm::quat frame(float toward = 0) const;
};

/// Warps that act between two limits along their axis: beyond, space goes on as it is there.
struct LimitedWarp : Warp {
    float from, to;  ///< metres from the centre
};

template <class T>
void describeWarp(DescribeGesture<T>& d) {
    d.choice("axis", static_cast<WarpAxis T::*>(&T::axis), {{"x", "X"}, {"y", "Y"}, {"z", "Z"}}, "Which way its axis runs, in the swarm")
        .standard("y")
        .length("centre", static_cast<glm::vec3 T::*>(&T::centre), {0, 0, 0}, {-10, 10}, "What stays where it is, in the swarm");
}

/// The last rows.
template <class T>
void describeTaken(DescribeGesture<T>& d) {
    d.toggle("turns", static_cast<bool T::*>(&T::turns), true, "Instances turn with the space around them")
        .toggle("sizes", static_cast<bool T::*>(&T::sizes), false, "Instances are stretched with the space around them");
}

template <class T>
void describeLimits(DescribeGesture<T>& d) {
    d.length("from", static_cast<float T::*>(&T::from), -1, {-10, 10}, "Where along the axis it begins, from the centre")
        .length("to", static_cast<float T::*>(&T::to), 1, {-10, 10}, "Where along the axis it ends, from the centre");
}

}  // namespace gswarm
