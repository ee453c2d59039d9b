// Swarms that repeat swarms: where their leaves are, at which moments, and what reads them.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <fstream>
#include <glm/gtc/matrix_transform.hpp>
#include <nlohmann/json.hpp>
#include <set>

#include "core/arrange/symmetry_edits.h"
#include "core/base/error.h"
#include "core/edit/gesture_starts.h"
#include "core/exchange/gltf.h"
#include "core/explain/loop_check.h"
#include "core/file/project_file.h"
#include "core/formula/bind.h"
#include "core/kinds/registry.h"
#include "core/picture/draw_list.h"
#include "core/picture/moments.h"
#include "core/prepare/carried.h"
#include "core/prepare/moments.h"
#include "core/resolve/resolve.h"
#include "core/symmetry/symmetry_kind.h"
#include "tests/core/making.h"

using namespace gswarm;
using glm::mat4;
using glm::vec3;
using glm::vec4;
using making::Build;

namespace {

/// A swarm of three boxes in a row along X, and one that repeats it twice along Z.
struct Nest {
    Build b;
    ObjectId inner, innerStock, entry;

    Nest() : b(Build::grid(3, 1, 1)) {
        inner = b.swarm;
        innerStock = b.stock;
        const Edit made = addSwarmOf(b.scene, inner);
        b.scene = made.scene;
        b.swarm = made.made;
        b.formation = b.scene.at(b.swarm).list("formations").front();
        b.stock = entry = b.scene.at(b.swarm).list("stock").front();
        b.set(b.swarm, "stock-rule-fit", Value(false));
        b.set(b.formation, "count", {1, 1, 2}).set(b.formation, "spacing", {5, 5, 5});
    }
    /// Shifts the time of each instance of the outer swarm by what a formula says.
    void shift(const char* formula, double frames) {
        const ObjectId gesture = b.gesture("formula");
        b.set(gesture, "pattern-value", Value(boundFormula(b.scene, formula)));
        b.set(gesture, "time", Value(true)).set(gesture, "timeAmount", {frames});
    }
    /// The inner swarm rises a metre in ten frames.
    void rise() {
        const ObjectId outer = b.swarm;
        b.swarm = inner;
        const ObjectId gesture = b.gesture("steady");
        b.set(gesture, "position", Value(true)).choose(gesture, "positionAxes", "swarm");
        b.key(gesture, "positionAmount", {{0, 0}, {10, 1}}, 1);
        b.key(gesture, "positionAmount", {{0, 0}}, 0).key(gesture, "positionAmount", {{0, 0}}, 2);
        b.swarm = outer;
    }
    std::vector<mat4> leaves(double frame = 0) const {
        std::vector<mat4> all;
        for (const StandingShape& shape : standingShapes(*b.result(frame), mat4(1))) all.push_back(shape.stand);
        return all;
    }
};

/// Between keys that begin and end at rest.
float eased(float share) { return share * share * (3 - 2 * share); }

float apart(const mat4& a, const mat4& b) {
    float most = 0;
    for (int c = 0; c < 4; ++c)
        for (int r = 0; r < 4; ++r) most = std::max(most, std::abs(a[c][r] - b[c][r]));
    return most;
}

std::set<const Result*> innersOf(const Result& result) {
    std::set<const Result*> all;
    for (const std::uint16_t v : result.columns->variant)
        if (v != notShown) all.insert(result.variants[v].inner.get());
    return all;
}

}  // namespace

TEST(Nested, LeavesStandInTheInstancesThatRepeatThem) {
    Nest n;
    const auto outer = n.b.result();
    EXPECT_EQ(outer->count, 2);
    EXPECT_EQ(outer->leaves, 6u);
    Build alone = n.b;
    alone.swarm = n.inner;
    const auto inner = alone.result();
    const auto leaves = n.leaves();
    ASSERT_EQ(leaves.size(), 6u);
    for (std::uint32_t o = 0; o < 2; ++o)
        for (std::uint32_t i = 0; i < 3; ++i)
            EXPECT_LT(apart(leaves[3 * o + i], matrixOf(*outer, o) * matrixOf(*inner, i)), 1e-6f) << o << ", " << i;
}

TEST(Nested, TheInnerSwarmStandsUnrepeatedInItsOwnSpace) {
    Nest n;
    const auto before = n.leaves();
    // Where the inner swarm itself stands, and whether it is seen there, is nothing to the copies.
    n.b.set(n.inner, "position", {7, 8, 9}).set(n.inner, "shown", Value(true));
    EXPECT_EQ(n.leaves(), before);
}

TEST(Nested, TurnsAndSizesAreThoseOfTheWholeCopy) {
    Nest n;
    const ObjectId gesture = n.b.gesture("steady");
    n.b.set(gesture, "rotation", Value(true)).set(gesture, "rotationAmount", {0, 90, 0});
    n.b.set(gesture, "scale", Value(true)).set(gesture, "scaleAmount", {200, 200, 200});
    const auto outer = n.b.result();
    const auto leaves = n.leaves();
    // The row along X lies along Z now, and reaches as far as the instances are larger.
    const vec3 along(leaves[2][3] - leaves[0][3]);
    EXPECT_NEAR(along.x, 0, 1e-4f);
    EXPECT_NEAR(std::abs(along.z), 2 * glm::length(vec3(matrixOf(*outer, 0)[0])), 1e-4f);
}

TEST(Nested, ColoursAreTimesThoseOfTheInstance) {
    Nest n;
    const ObjectId gesture = n.b.gesture("formula");
    n.b.set(gesture, "pattern-value", Value(boundFormula(n.b.scene, "i")));
    n.b.set(gesture, "colour", Value(true)).set(gesture, "colourAmount", {0.5, 0.25, 1, 1});
    const auto outer = n.b.result();
    const DrawList list = drawListOf(std::array{outer});
    ASSERT_EQ(list.surfaces.size(), 2u);
    for (const Surface& surface : list.surfaces) {
        const vec4 own = linearColour(surface.swarm->columns->colour[0]),
                   outside = linearColour(outer->columns->colour[surface.within.row]);
        EXPECT_EQ(surface.colourOf(0), outside * own);
        EXPECT_EQ(surface.within.swarm, outer);
    }
    EXPECT_NE(list.surfaces[0].tint, list.surfaces[1].tint);
    EXPECT_NE(list.surfaces[0].path, list.surfaces[1].path);
    EXPECT_EQ(list.surfaces[0].rows, list.surfaces[1].rows) << "what is the same is there once";
}

TEST(Nested, EachCopyIsAtTheMomentToWhichItsTimeWasShifted) {
    Nest n;
    n.rise();
    n.shift("i", 4);
    const auto height = [](const mat4& leaf) { return leaf[3].y; };
    const float low = height(n.leaves(0)[0]);
    const auto at = n.leaves(3);
    EXPECT_NEAR(height(at[0]) - low, eased(0.3f), 1e-5f);
    EXPECT_NEAR(height(at[3]) - low, eased(0.7f), 1e-5f);
    // Of a copy it is what the inner swarm is at that frame.
    Build alone = n.b;
    alone.swarm = n.inner;
    EXPECT_EQ(n.b.result(3)->variants[n.b.result(3)->columns->variant[1]].inner->columns->matrix, alone.result(7)->columns->matrix);
    // With the switch off all are at the same.
    n.b.set(n.entry, "ownMoment", Value(false));
    EXPECT_EQ(innersOf(*n.b.result(3)).size(), 1u);
    EXPECT_NEAR(height(n.leaves(3)[3]) - low, eased(0.3f), 1e-5f);
}

TEST(Nested, EachFrameIsEvaluatedOnce) {
    Nest n;
    n.rise();
    n.b.set(n.b.formation, "count", {10, 10, 10});
    n.shift("floor(i / 100)", 1);
    const auto outer = n.b.result(0);
    EXPECT_EQ(outer->count, 1000);
    EXPECT_EQ(outer->leaves, 3000u);
    EXPECT_EQ(innersOf(*outer).size(), 10u);
    // The next frame shows nine of them again.
    Evaluator evaluator;
    Progress progress;
    const auto first = evaluator.evaluate(n.b.scene, n.b.swarm, 0, {}, progress),
               next = evaluator.evaluate(n.b.scene, n.b.swarm, 1, {}, progress);
    const auto had = innersOf(*first);
    int again = 0;
    for (const Result* inner : innersOf(*next)) again += had.contains(inner);
    EXPECT_EQ(again, 9);
}

TEST(Nested, WhatDoesNotMoveIsOneHoweverTimesAreShifted) {
    Nest n;
    n.shift("i", 4);
    EXPECT_EQ(innersOf(*n.b.result(0)).size(), 1u);
}

TEST(Nested, MoreMomentsThanMayBeAreToldAndTakenTogether) {
    Nest n;
    n.rise();
    n.b.set(n.b.formation, "count", {1, 1, 1000});
    n.shift("i - 500", 1);
    const auto outer = n.b.result(0);
    EXPECT_LE(innersOf(*outer).size(), static_cast<std::size_t>(mostMoments));
    ASSERT_FALSE(outer->notes.empty());
    EXPECT_NE(outer->notes.back().find("1000 moments"), std::string::npos) << outer->notes.back();
}

TEST(Nested, AnEditOfWhatIsRepeatedIsSeenAtEveryMoment) {
    Nest n;
    n.rise();
    n.shift("i", 4);
    Evaluator evaluator;
    Progress progress;
    const auto before = evaluator.evaluate(n.b.scene, n.b.swarm, 0, {}, progress);
    // This changes nothing at the frame itself.
    Nest edited = n;
    for (const ObjectId gesture : n.b.scene.all(ObjectType::gesture))
        if (std::get<Numbers>(valueOf(n.b.scene, addressOf(n.b.scene, gesture, "positionAmount")))[1].keyed())
            edited.b.key(gesture, "positionAmount", {{0, 0}, {10, 3}}, 1);
    const auto after = evaluator.evaluate(edited.b.scene, n.b.swarm, 0, {}, progress);
    EXPECT_NE(before->hash, after->hash);
    EXPECT_NEAR(edited.leaves(0)[3][3].y - n.leaves(0)[3][3].y, 2 * eased(0.4f), 1e-5f);
    EXPECT_EQ(edited.leaves(0)[0], n.leaves(0)[0]);
}

TEST(Nested, ShapesThatMoveHaveMomentsToo) {
    Build b = Build::grid(1, 1, 3);
    b.key(b.shape, "size", {{0, 1}, {10, 3}}, 1);
    b.choose(b.stock, "foot", "base");
    const ObjectId gesture = b.gesture("formula");
    b.set(gesture, "pattern-value", Value(boundFormula(b.scene, "i"))).set(gesture, "time", Value(true)).set(gesture, "timeAmount", {5});
    const auto result = b.result(0);
    for (std::uint32_t row = 0; row < 3; ++row) {
        const Variant& variant = result->variants[result->columns->variant[row]];
        EXPECT_NEAR(variant.meshes->bounds.size().y, 1 + row, 1e-4f);
        // It stands on its home whatever its height.
        const vec4 foot = matrixOf(*result, row) * vec4(variant.foot, 1);
        EXPECT_NEAR(foot.y, matrixOf(*result, 0)[3].y + (matrixOf(*result, 0) * vec4(result->variants[0].foot, 0)).y, 1e-5f) << row;
    }
}

TEST(Nested, SymmetriesInsideAndOutsideCopyTheWhole) {
    Nest n;
    Build inside = n.b;
    inside.swarm = n.inner;
    inside.set(n.b.formation, "count", {1, 1, 1});
    const Edit mirrored = addSymmetry(inside.scene, n.inner, mirroredSymmetry, nullptr);
    n.b.scene = addSymmetry(mirrored.scene, n.b.swarm, turnedSymmetry, nullptr).scene;
    const auto outer = n.b.result();
    const std::size_t inner = outer->variants[0].inner->copies.size(), whole = outer->copies.size();
    EXPECT_EQ(inner, 2u);
    EXPECT_EQ(outer->leaves, 3 * inner * whole);
    EXPECT_EQ(n.leaves().size(), 3 * inner * whole);
    EXPECT_EQ(thingCount(drawListOf(std::array{outer})), 3 * inner * whole);
}

TEST(Nested, CirclesAreRefusedWithTheirChain) {
    Nest n;
    for (const ObjectId back : {n.b.swarm, n.inner}) {
        try {
            addStock(n.b.scene, n.inner, back);
            ADD_FAILURE() << "it was taken";
        } catch (const Error& error) {
            EXPECT_NE(std::string(error.what()).find("→"), std::string::npos) << error.what();
        }
    }
    EXPECT_THROW(setValue(n.b.scene, addressOf(n.b.scene, n.innerStock, "shape"), Value(n.b.swarm)), Error);
}

TEST(Nested, EightDeepAndNoDeeper) {
    Build b = Build::grid(1, 1, 1);
    for (int depth = 1; depth <= deepestNesting; ++depth) {
        const Edit made = addSwarmOf(b.scene, b.swarm);
        b.scene = made.scene;
        b.swarm = made.made;
        b.set(b.scene.at(b.swarm).list("formations").front(), "count", {2, 1, 1});
    }
    EXPECT_EQ(b.result()->leaves, 256u);
    const Edit made = addSwarmOf(b.scene, b.swarm);
    b.scene = made.scene;
    b.swarm = made.made;
    try {
        b.result();
        ADD_FAILURE() << "it was made";
    } catch (const Error& error) {
        EXPECT_NE(std::string(error.what()).find("8 deep"), std::string::npos) << error.what();
    }
}

TEST(Nested, WhatIsRepeatedIsSeenThereAlone) {
    Build b = Build::grid(2, 1, 1);
    const ObjectId inner = b.swarm;
    const Edit made = addSwarmOf(b.scene, inner);
    EXPECT_FALSE(switchAt(made.scene, made.scene.at(inner).part("place"), "shown", 0));
    EXPECT_NE(made.told.find("own switch"), std::string::npos);
    b.scene = made.scene;
    b.swarm = made.made;
    EXPECT_GT(b.result()->leaves, 0u);
    // It begins as large as its places are apart.
    const Result whole = *b.result();
    EXPECT_LE(whole.variants[0].meshes->bounds.size().x * whole.variants[0].size, 1.251f);
}

TEST(Nested, AnEmptyOneIsToldAndTheRestWorks) {
    Nest n;
    Build inside = n.b;
    inside.swarm = n.inner;
    const ObjectId hide = inside.gesture("steady");
    inside.set(hide, "showing", Value(true));
    n.b.scene = inside.scene;
    const auto outer = n.b.result();
    EXPECT_EQ(outer->leaves, 0u);
    ASSERT_FALSE(outer->notes.empty());
    EXPECT_NE(outer->notes.back().find("shows nothing"), std::string::npos) << outer->notes.back();
}

TEST(Nested, TheSameBitsOnAnyThreads) {
    Nest n;
    n.rise();
    n.b.set(n.b.formation, "count", {20, 10, 10});
    n.shift("i - 7 * floor(i / 7)", 1);
    Evaluator one(1), two(2);
    Progress progress;
    const auto a = one.evaluate(n.b.scene, n.b.swarm, 3, {}, progress), c = two.evaluate(n.b.scene, n.b.swarm, 3, {}, progress);
    EXPECT_EQ(a->columns->variant, c->columns->variant);
    const auto mine = standingShapes(*a, mat4(1)), theirs = standingShapes(*c, mat4(1));
    ASSERT_EQ(mine.size(), theirs.size());
    for (std::size_t k = 0; k < mine.size(); ++k) ASSERT_EQ(mine[k].stand, theirs[k].stand) << k;
}

TEST(Nested, LightsShineFromEveryCopy) {
    Build b = Build::grid(2, 1, 1);
    const Edit lamp = addLight(b.scene, *findKind(Family::light, "point"));
    b.scene = setValue(lamp.scene, addressOf(lamp.scene, b.stock, "shape"), Value(lamp.made)).scene;
    const auto once = lampsOf(b.result());
    ASSERT_EQ(once.size(), 2u);
    const Edit made = addSwarmOf(b.scene, b.swarm);
    b.scene = made.scene;
    b.swarm = made.made;
    b.set(b.swarm, "stock-rule-fit", Value(false));
    b.set(b.scene.at(b.swarm).list("formations").front(), "count", {1, 1, 3});
    const auto all = lampsOf(b.result());
    ASSERT_EQ(all.size(), 6u);
    for (const Lamp& one : all) EXPECT_NEAR(one.light.x, once[0].light.x, 1e-4f * once[0].light.x);
}

TEST(Nested, TheLoopCheckSeesWhatIsInsideAndMendsIt) {
    Nest n;
    n.rise();
    // Up and down in one loop, and still before and behind it.
    for (const ObjectId gesture : n.b.scene.all(ObjectType::gesture))
        if (std::get<Numbers>(valueOf(n.b.scene, addressOf(n.b.scene, gesture, "positionAmount")))[1].keyed())
            n.b.key(gesture, "positionAmount", {{0, 0}, {50, 3}, {100, 0}}, 1);
    n.b.set(n.b.scene.project().id, "loopFrames", {100});
    n.shift("i", 30);
    Evaluator evaluator;
    Progress progress;
    const auto of = [&](const LoopCheck& check) {
        return *std::find_if(check.swarms.begin(), check.swarms.end(), [&](const SwarmLoop& loop) { return loop.swarm == n.b.swarm; });
    };
    const LoopCheck open = checkLoop(n.b.scene, {}, evaluator, progress);
    EXPECT_FALSE(of(open).closed);
    EXPECT_EQ(of(open).breaks, n.entry);
    EXPECT_NE(of(open).told.find("“Stock”"), std::string::npos) << of(open).told;
    const auto mend = std::find_if(open.mends.begin(), open.mends.end(), [&](const LoopMend& m) { return m.object == n.entry; });
    ASSERT_NE(mend, open.mends.end());
    EXPECT_TRUE(of(checkLoop(mend->edit.scene, {}, evaluator, progress)).closed);
}

TEST(Nested, LightStockShowsStandInsAtEveryDepth) {
    Nest n;
    const Edit ball = addShape(n.b.scene, *findKind(Family::shape, "ball"));
    n.b.scene = ball.scene;
    n.b.set(n.innerStock, "standIn", Value(ball.made));
    const auto shapeOf = [&](bool light) {
        Evaluator evaluator;
        Progress progress;
        PlanOptions options;
        options.light = light;
        const auto outer = evaluator.evaluate(n.b.scene, n.b.swarm, 0, options, progress);
        return outer->variants[0].inner->variants[0].shape;
    };
    EXPECT_EQ(shapeOf(true), ball.made);
    EXPECT_EQ(shapeOf(false), n.b.shape);
    // A whole swarm may be stood in for by one shape.
    n.b.set(n.entry, "standIn", Value(ball.made));
    PlanOptions light;
    light.light = true;
    Evaluator evaluator;
    Progress progress;
    EXPECT_EQ(evaluator.evaluate(n.b.scene, n.b.swarm, 0, light, progress)->leaves, 2u);
}

TEST(Nested, OldFilesKeepWhatTheyShowed) {
    const Scene old = loadProject(GSWARM_SOURCE "/tests/files/kelp-6.gswarm");
    for (const ObjectId swarm : old.all(ObjectType::swarm))
        for (const ObjectId entry : old.at(swarm).list("stock")) {
            EXPECT_FALSE(switchOf(old.at(entry).part("entry"), "ownMoment"));
            EXPECT_FALSE(switchOf(old.at(entry).part("entry"), "roundLoop"));
        }
}

TEST(Nested, GltfKeepsTheTreeAndSharesWhatIsTheSame) {
    Nest n;
    const ObjectId tint = n.b.gesture("formula");
    n.b.set(tint, "pattern-value", Value(boundFormula(n.b.scene, "i")));
    n.b.set(tint, "colour", Value(true)).set(tint, "colourAmount", {0.5, 0.25, 1, 1});
    Evaluator evaluator;
    Progress progress;
    PlanOptions options;
    options.wanted.placements = true;
    const auto result = evaluator.evaluate(n.b.scene, n.b.swarm, 0, options, progress);
    const auto path = making::temporaryFolder() / "nested.glb";
    writeGltfStill(n.b.scene, drawListOf(std::array{result}), settingAt(n.b.scene, 0, evaluator.store()), path, progress);
    std::ifstream in(path, std::ios::binary);
    std::uint32_t head[5];
    in.read(reinterpret_cast<char*>(head), sizeof head);
    std::string text(head[3], ' ');
    in.read(text.data(), static_cast<std::streamsize>(text.size()));
    const auto json = nlohmann::json::parse(text);
    std::set<int> meshes, places, colours;
    int instanced = 0;
    for (const auto& node : json["nodes"]) {
        if (!node.contains("extensions") || !node["extensions"].contains("EXT_mesh_gpu_instancing")) continue;
        const auto& attributes = node["extensions"]["EXT_mesh_gpu_instancing"]["attributes"];
        ++instanced;
        meshes.insert(node["mesh"].get<int>());
        places.insert(attributes["TRANSLATION"].get<int>());
        colours.insert(attributes["_COLOR_0"].get<int>());
    }
    EXPECT_EQ(instanced, 2);
    EXPECT_EQ(meshes.size(), 1u);
    EXPECT_EQ(places.size(), 1u);
    EXPECT_EQ(colours.size(), 2u) << "each copy has its own tint";
}
