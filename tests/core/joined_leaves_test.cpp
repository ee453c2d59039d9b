// What inner swarms show, traced as one mesh, against the same taken apart.
#include <gtest/gtest.h>

#include <glm/geometric.hpp>

#include "core/arrange/symmetry_edits.h"
#include "core/picture/joined_leaves.h"
#include "core/picture/moments.h"
#include "core/picture/trace_world.h"
#include "core/shape/shape_kind.h"
#include "core/symmetry/symmetry_kind.h"
#include "tests/core/making.h"

using namespace gswarm;
using glm::vec3;
using making::Build;

namespace {

/// A wavy row of coloured boxes with a mirror image, repeated twenty times, turned, sized and tinted by chance.
Build nest() {
    Build b = Build::grid(12, 1, 1);
    b.set(b.shape, "rounding", {0});
    const auto vary = [&b](const char* channel, std::initializer_list<double> amount) {
        const ObjectId g = b.gesture("random");
        b.set(g, channel, true).set(g, std::string(channel) + "Amount", amount).set(g, "pattern-from", {-1});
    };
    vary("position", {0.3, 0.3, 0.3});
    vary("scale", {0.4, 0.1, 0.4});
    vary("rotation", {70, 80, 90});
    vary("colour", {1, 0.2, 0.1, 1});
    b.scene = addSymmetry(b.scene, b.swarm, mirroredSymmetry, nullptr).scene;
    const Edit made = addSwarmOf(b.scene, b.swarm);
    b.scene = made.scene;
    b.swarm = made.made;
    b.formation = b.scene.at(b.swarm).list("formations").front();
    b.set(b.swarm, "stock-rule-fit", Value(false)).set(b.formation, "count", {5, 1, 4}).set(b.formation, "spacing", {9, 3, 6});
    vary("rotation", {170, 180, 190});
    vary("scale", {0.3, 0.3, 0.3});
    vary("colour", {0.1, 0.9, 0.2, 1});
    return b;
}

/// The same without what says that they are inner ones: nothing is joined.
DrawList takenApart(DrawList list) {
    for (Surface& surface : list.surfaces) surface.path = 0;
    return list;
}

struct World {
    DrawList list;
    MeshTrees trees;
    TraceWorld world;
    static Progress& progress() {
        static Progress never;
        return never;
    }
    explicit World(DrawList from) : list(std::move(from)), world({&list, 1}, {}, trees, progress()) {}
};

int joinedOf(const DrawList& list) {
    const auto joined = joinedSurfaces({&list, 1});
    return static_cast<int>(std::count(joined.begin(), joined.end(), true));
}

}  // namespace

TEST(JoinedLeaves, AreMetAsIfEachWereAnInstance) {
    const Build b = nest();
    const DrawList list = drawListOf(std::vector{b.result()});
    ASSERT_EQ(joinedOf(list), 40) << "twenty copies with their mirror images";
    ASSERT_EQ(joinedOf(takenApart(list)), 0);
    const World whole(list), apart(takenApart(list));
    int met = 0;
    for (int k = 0; k < 20000; ++k) {
        const auto share = [k](int way) { return static_cast<float>(k * (way + 1) * 7919 % 10007) / 10007 - 0.5f; };
        const vec3 from(60 * share(0), 30, 40 * share(1)), to(40 * share(2), -5, 30 * share(3));
        const Hit one = whole.world.cast(from, glm::normalize(to - from), 0), other = apart.world.cast(from, glm::normalize(to - from), 0);
        if (one.mesh == nullptr && other.mesh == nullptr) continue;
        // Exactly on an edge either side is right.
        if (one.number != other.number && glm::distance(one.place, other.place) < 1e-4f) continue;
        ++met;
        ASSERT_EQ(one.number, other.number) << k;
        ASSERT_EQ(one.mesh, other.mesh);
        EXPECT_EQ(one.surface, other.surface);
        EXPECT_EQ(one.row, other.row);
        EXPECT_EQ(one.triangle, other.triangle);
        EXPECT_EQ(one.colour, other.colour);
        EXPECT_LT(glm::distance(one.place, other.place), 1e-4f);
        EXPECT_LT(glm::distance(one.normal, other.normal), 1e-4f);
        EXPECT_LT(glm::distance(one.flat, other.flat), 1e-4f);
        EXPECT_EQ(whole.world.materialAt(one, {0, 1, 0}).colour, apart.world.materialAt(other, {0, 1, 0}).colour);
    }
    EXPECT_GT(met, 3000);
}

TEST(JoinedLeaves, OnlyWhereThatTakesLess) {
    // What is repeated once is no smaller as a mesh, nor are a few instances of a very fine one.
    Build b = nest();
    b.set(b.formation, "count", {1, 1, 1});
    DrawList once = drawListOf(std::vector{b.result()});
    once.surfaces.pop_back();  // the mirror image
    EXPECT_EQ(joinedOf(once), 0);
    b = nest();
    b.set(b.shape, "rounding", {0.2}).set(b.shape, "steps", {30}).set(b.formation, "count", {2, 1, 1});
    EXPECT_EQ(joinedOf(drawListOf(std::vector{b.result()})), 0);
    // A swarm of its own never is.
    EXPECT_EQ(joinedOf(drawListOf(std::vector{Build::grid(50, 1, 50).result()})), 0);
}

TEST(JoinedLeaves, WhatMovesAgainstEachOtherIsTakenApartAndMovesStill) {
    Build b = nest();
    const DrawList open = drawListOf(std::vector{b.result(0)});
    // At another moment the inner swarm is the same, and its copies stand elsewhere.
    const ObjectId g = b.gesture();
    b.set(g, "position", true).choose(g, "positionAxes", "swarm").key(g, "positionAmount", {{0, 0}, {10, 5}}, 1);
    const std::vector<DrawList> moved{drawListOf(std::vector{b.result(4)}), drawListOf(std::vector{b.result(5)})};
    Progress progress;
    MeshTrees trees;
    const TraceWorld world(moved, {}, trees, progress);
    const auto joined = joinedSurfaces(moved);
    const vec3 from(0.3f, 30, 0.2f);
    bool differs = false;
    for (int k = 0; k < 400 && !differs; ++k) {
        const vec3 at = from + vec3(0.1f * float(k % 20) - 1, 0, 0.1f * float(k / 20) - 1);
        const Hit first = world.cast(at, {0, -1, 0}, 0), last = world.cast(at, {0, -1, 0}, 1);
        if (!first.mesh || !last.mesh || first.number != last.number) continue;
        differs = std::abs((first.place.y - last.place.y)) > 0.05f;
        for (const Hit& hit : {first, last}) EXPECT_NEAR(glm::length(hit.normal), 1, 1e-4f);
    }
    EXPECT_TRUE(differs) << "it rises while the shutter is open";
    EXPECT_EQ(joined.size(), moved.front().surfaces.size());
}
