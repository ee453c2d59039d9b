#pragma once
#include <algorithm>
#include <glm/gtc/quaternion.hpp>

#include "core/base/turns.h"
#include "core/gesture/gesture_kind.h"

namespace gswarm {

/// What all gestures that warp space begin with. They map the space around a centre, in coordinates turned by a rotation, whose Y is
/// their axis, and take instances along: their places, their turns by the turn that is nearest to what the space around them does (polar
/// decomposition of its Jacobian), and if wanted their sizes by how much it stretches along each of their own axes.
struct Warp : GestureBasics {
    glm::vec3 centre, rotation;  ///< metres, radians
    bool turns, sizes;

    /// From the coordinates in which the axis is Y to those of the swarm.
    glm::quat frame() const { return rotationFromTurns(rotation); }
};

/// Warps that act between two limits along their axis: beyond, space goes on as it is there.
struct LimitedWarp : Warp {
    float from, to;  ///< metres from the centre

    float low() const { return std::min(from, to); }
    float high() const { return std::max({from, to, low() + 1e-6f}); }
};

/// Those of the limits, which every limited warp has.
inline std::vector<GestureHandle> limitHandles(const LimitedWarp& warp) {
    const glm::vec3 up(0, 1, 0);
    return {{"from", up * warp.from, up, "from"}, {"to", up * warp.to, up, "to"}};
}

template <class T>
void describeWarp(DescribeGesture<T>& d) {
    d.length("centre", static_cast<glm::vec3 T::*>(&T::centre), {0, 0, 0}, {-10, 10}, "What stays where it is, in the swarm")
        .angle("rotation", static_cast<glm::vec3 T::*>(&T::rotation), {0, 0, 0}, {-180, 180},
               "Its axis is Y; this turns it: about X, then Y, then Z");
}

template <class T>
void describeLimits(DescribeGesture<T>& d) {
    d.length("from", static_cast<float T::*>(&T::from), -1, {-10, 10}, "Where along the axis it begins, from the centre")
        .length("to", static_cast<float T::*>(&T::to), 1, {-10, 10}, "Where along the axis it ends, from the centre");
}

/// The kind of a warp: its last rows, and what can be dragged of it.
template <class T>
GestureKind makesWarp(DescribeGesture<T>& d, void (*apply)(const GestureInput&, Block&, EffectColumns&),
                      std::vector<GestureHandle> (*handles)(const T&)) {
    d.toggle("turns", static_cast<bool T::*>(&T::turns), true, "Instances turn with the space around them")
        .toggle("sizes", static_cast<bool T::*>(&T::sizes), false, "Instances are stretched with the space around them");
    GestureKind kind = makes(d, apply);
    kind.handles = [handles](const void* data) { return handles(*static_cast<const T*>(data)); };
    return kind;
}

}  // namespace gswarm
