// Which sides of instances their neighbours close, and what they mirror then.
#include "live/closed_sides.h"

#include <gtest/gtest.h>

#include <cmath>
#include <glm/gtc/matrix_transform.hpp>

#include "core/edit/rail_edits.h"
#include "core/exchange/exporter_kind.h"
#include "core/kinds/registry.h"
#include "live/headless.h"
#include "live/renderer.h"
#include "tests/core/paper.h"

using namespace gswarm;
using namespace gswarm::live;
using glm::mat4, glm::vec3;

namespace {

const Bounds unitBox{vec3(-0.5f), vec3(0.5f)};

void add(Batch& batch, const mat4& pose) {
    for (int row = 0; row < 3; ++row)
        for (int column = 0; column < 4; ++column) batch.matrices.push_back(pose[column][row]);
    batch.colours.push_back(~0u);
}

mat4 moved(float x, float y, float z) { return glm::translate(mat4(1), vec3(x, y, z)); }

/// −x, +x, −y, +y, −z, +z.
std::array<int, 6> sidesOf(const Batch& batch, std::size_t instance) {
    std::array<int, 6> sides{};
    for (std::size_t side = 0; side < 6; ++side) sides[side] = static_cast<int>(batch.closed.at(instance) >> (4 * side) & 15);
    return sides;
}

using Sides = std::array<int, 6>;

}  // namespace

TEST(ClosedSides, AGridClosesThoseInside) {
    std::array<Batch, detailLevels> batches;
    // Of different levels of detail, they stand beside each other as well.
    for (int z = -1; z <= 1; ++z)
        for (int y = -1; y <= 1; ++y)
            for (int x = -1; x <= 1; ++x) add(batches[x == 0 ? 0 : 1], moved(1.1f * x, 1.1f * y, 1.1f * z));
    closeSides(batches, unitBox);
    ASSERT_EQ(batches[0].closed.size(), 9u);
    ASSERT_EQ(batches[1].closed.size(), 18u);
    EXPECT_EQ(sidesOf(batches[0], 4), (Sides{15, 15, 15, 15, 15, 15})) << "the middle";
    EXPECT_EQ(sidesOf(batches[0], 0), (Sides{15, 15, 0, 15, 0, 15}));
    EXPECT_EQ(sidesOf(batches[1], 0), (Sides{0, 15, 0, 15, 0, 15})) << "a corner";
    EXPECT_EQ(sidesOf(batches[1], 17), (Sides{15, 0, 15, 0, 15, 0})) << "the opposite one";
}

TEST(ClosedSides, LessByAGapAndByWhatStandsAside) {
    const auto closedBy = [](const mat4& other) {
        std::array<Batch, detailLevels> batches;
        add(batches[0], mat4(1));
        add(batches[0], other);
        closeSides(batches, unitBox);
        return sidesOf(batches[0], 0);
    };
    EXPECT_EQ(closedBy(moved(1, 0, 0)), (Sides{0, 15, 0, 0, 0, 0}));
    EXPECT_EQ(closedBy(moved(1.22f, 0, 0)), (Sides{0, 9, 0, 0, 0, 0}));
    EXPECT_EQ(closedBy(moved(1.5f, 0, 0)), (Sides{0, 0, 0, 0, 0, 0}));
    EXPECT_EQ(closedBy(moved(0, -1, 0.5f)), (Sides{0, 0, 8, 0, 0, 0})) << "half of it is behind the side";
    EXPECT_EQ(closedBy(moved(0, 0, 9)), (Sides{0, 0, 0, 0, 0, 0}));
    EXPECT_EQ(closedBy(mat4(1)), (Sides{0, 0, 0, 0, 0, 0})) << "one in the same place is on no side";
    // Wider, turned by a quarter about Y: it reaches as far along Z.
    EXPECT_EQ(closedBy(moved(0, 0, 1.2f) * glm::rotate(mat4(1), 1.5707963f, vec3(0, 1, 0)) * glm::scale(mat4(1), vec3(1.4f, 1, 1))),
              (Sides{0, 0, 0, 0, 0, 15}));
}

TEST(ClosedSides, AreThoseOfTheInstanceItself) {
    std::array<Batch, detailLevels> batches;
    const mat4 turned = glm::rotate(mat4(1), 1.5707963f, vec3(0, 1, 0));  // its +X looks along −Z
    add(batches[0], turned);
    add(batches[0], moved(0, 0, -1) * turned);
    closeSides(batches, unitBox);
    EXPECT_EQ(sidesOf(batches[0], 0), (Sides{0, 15, 0, 0, 0, 0}));
    EXPECT_EQ(sidesOf(batches[0], 1), (Sides{15, 0, 0, 0, 0, 0}));
}

TEST(ClosedSides, WhatIsNoPlaceOrSizeClosesNothing) {
    std::array<Batch, detailLevels> batches;
    add(batches[0], mat4(1));
    add(batches[0], moved(NAN, 0, 0));
    add(batches[0], moved(1, 0, 0) * glm::scale(mat4(1), vec3(0)));
    add(batches[0], moved(1, 0, 0));
    closeSides(batches, unitBox);
    EXPECT_EQ(sidesOf(batches[0], 0), (Sides{0, 15, 0, 0, 0, 0}));
    EXPECT_EQ(sidesOf(batches[0], 1), (Sides{0, 0, 0, 0, 0, 0}));
}

TEST(ClosedSides, WhatIsFlatClosesNothing) {
    std::array<Batch, detailLevels> batches;
    // Cards side by side, and one in the place of the first.
    for (const mat4& pose : {mat4(1), moved(1, 0, 0), moved(0, 0, 0)}) add(batches[0], pose);
    closeSides(batches, {vec3(-0.5f, -0.5f, 0), vec3(0.5f, 0.5f, 0)});
    EXPECT_EQ(sidesOf(batches[0], 0), (Sides{0, 0, 0, 0, 0, 0})) << "an edge without thickness hides nothing";
    EXPECT_EQ(sidesOf(batches[0], 1), (Sides{0, 0, 0, 0, 0, 0}));
}

TEST(ClosedSides, RoundedEdgesMirrorSurroundingsOnlyWhereNoNeighbourIs) {
    constexpr int size = 100;
    Headless context;
    Renderer renderer;
    const std::atomic<bool> never{false};
    // Red of three mirroring blocks in a row, seen from above, so many metres right of their middle.
    const auto rowOf = [&](double spacing) {
        making::Paper paper;
        const Edit box = addShape(paper.b.scene, *findKind(Family::shape, "box")), swarm = addSwarmOf(box.scene, box.made);
        paper.b.scene = swarm.scene;
        paper.b.set(box.made, "size", fixedNumbers({2, 2, 2})).set(box.made, "rounding", {0.6});
        const ObjectId formation = swarm.scene.at(swarm.made).list("formations").front();
        paper.b.set(swarm.made, "position", {0, 3, 0}).set(formation, "count", {3, 1, 1}).set(formation, "spacing", {spacing, 1, 1});
        paper.b.set(paper.b.material, "metal", {1}).set(paper.b.material, "roughness", {0.1});
        paper.add(surroundingsLight);
        LivePicture picture;
        picture.list = paper.list();
        for (Look& look : picture.list.looks) look.plain.metal = 1, look.plain.roughness = 0.1f, look.plain.colour = {1, 1, 1, 1};
        picture.setting = paper.setting();
        picture.setting.light.surroundings.at(0).picture =
            std::make_shared<const Panorama>(FloatPicture{64, 32, std::vector<vec3>(64 * 32, vec3(0.4f))});
        picture.ground = false;
        picture.steps.smoothEdges = false;
        return *renderer.draw(picture, size, size, never);
    };
    const auto redAt = [](const Image& image, float right) {
        const auto x = static_cast<std::size_t>(size / 2 + right * size / 10);
        return int{image.pixels[4 * (std::size_t{size / 2} * size + x)]};
    };
    const Image alone = rowOf(3.2), beside = rowOf(2.1);
    ASSERT_GT(redAt(alone, 0), 100);
    EXPECT_NEAR(redAt(beside, 0), redAt(alone, 0), 2) << "what looks up mirrors what is there";
    EXPECT_LT(redAt(beside, 0.93f), 0.8 * redAt(alone, 0.93f)) << "what looks aside mirrors the neighbour";
    EXPECT_LT(redAt(beside, -0.93f), 0.8 * redAt(alone, -0.93f));
    // The last of the row looks out freely.
    EXPECT_NEAR(redAt(beside, 2.1f + 0.8f), redAt(alone, 3.2f + 0.8f), 12);
}
