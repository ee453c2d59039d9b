#pragma once
#include <gtest/gtest.h>

#include "core/kinds/registry.h"
#include "core/picture/draw_list.h"
#include "tests/core/making.h"

namespace gswarm::making {

/// A shape of a kind made of the swarm, as it is seen in its place.
struct MadeOfSwarm {
    Build b;
    ObjectId made;

    MadeOfSwarm(Build from, const char* kind) : b(std::move(from)) {
        const Edit edit = addShape(b.scene, *findKind(Family::shape, kind));
        b.scene = edit.scene;
        made = edit.made;
    }
    Backdrop backdrop(double frame = 0) const {
        const auto result = b.result(frame);
        for (const Backdrop& backdrop : result->backdrops)
            if (backdrop.shape == made) return backdrop;
        ADD_FAILURE() << (result->notes.empty() ? "it is not there" : result->notes.back());
        return {};
    }
    Mesh mesh(double frame = 0) const { return backdrop(frame).meshes->mesh(); }
    std::string sentence() const {
        const auto result = b.result();
        return result->notes.empty() ? "" : result->notes.back();
    }
};

/// Fine balls of radius 0.4 along X, so many radii apart.
inline Build balls(int count, double apart) {
    Build b = Build::grid(count, 1, 1);
    b.set(b.formation, "spacing", {0.4 * apart, 1, 1});
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "geodesicBall")).scene;
    b.set(b.shape, "radius", {0.4}).set(b.shape, "frequency", {12});
    return b;
}

}  // namespace gswarm::making
