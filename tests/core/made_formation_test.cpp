// Formations that stand on shapes, and what is done to any formation's homes.
#include <gtest/gtest.h>

#include <rapidcheck.h>
#include <rapidcheck/gtest.h>
#include <numbers>

#include <algorithm>
#include <cmath>
#include <fstream>
#include <glm/geometric.hpp>
#include <map>

#include "core/base/error.h"
#include "core/kinds/registry.h"
#include "core/prepare/prepare.h"
#include "core/provide/store.h"
#include "tests/core/making.h"
#include "tests/core/meshes.h"

using namespace gswarm;
using making::Build;
using making::byId;
using making::up;

namespace {

using std::numbers::pi;

}  // namespace

// ---- line and ring

TEST(Line, StepsTurnsAndSizesAddUp) {
    Build b;
    b.formationKind("line")
        .set(b.formation, "count", {6})
        .set(b.formation, "step", {2, 0, 0})
        .set(b.formation, "turn", {0, 30, 0})
        .set(b.formation, "sizeFactor", {0.5});
    b.choose(b.formation, "anchor", "start");
    const auto rows = b.rows();
    for (const auto& row : rows) {
        EXPECT_LT(glm::distance(row.position, glm::vec3(2 * row.number, 0, 0)), 1e-5f);
        EXPECT_NEAR(row.scale.x, std::pow(0.5, row.number), 1e-6);
        EXPECT_NEAR((row.rotation * glm::vec3(0, 0, 1)).x, std::sin(row.number * pi / 6), 1e-5);
    }
    b.choose(b.formation, "measure", "total").set(b.formation, "total", {10, 0, 0});
    EXPECT_LT(glm::distance(b.rows().back().position, glm::vec3(10, 0, 0)), 1e-5f);
}

TEST(Line, CompoundingIsTheSameAsTakingStepAfterStep) {
    Build b;
    b.formationKind("line")
        .set(b.formation, "count", {40})
        .set(b.formation, "step", {1, 0.2, 0.1})
        .set(b.formation, "turn", {7, 25, -11})
        .set(b.formation, "sizeFactor", {0.93});
    b.set(b.formation, "compounding", true);
    glm::dvec3 place(0);
    glm::dquat turn(1, 0, 0, 0);
    double size = 1;
    const auto about = [](double degrees, const glm::dvec3& axis) { return glm::angleAxis(degrees * pi / 180, axis); };
    const glm::dquat each = about(-11, {0, 0, 1}) * about(25, {0, 1, 0}) * about(7, {1, 0, 0});
    for (const auto& row : b.rows()) {
        EXPECT_LT(glm::distance(glm::dvec3(row.position), place), 1e-5) << row.number;
        EXPECT_NEAR(std::abs(glm::dot(glm::dquat(row.rotation), turn)), 1, 1e-6) << row.number;
        EXPECT_NEAR(row.scale.x, size, 1e-6);
        place += turn * glm::dvec3(1, 0.2, 0.1) * size;
        turn = turn * each;
        size *= 0.93;
    }
}

RC_GTEST_PROP(Line, SlidingByAWholeCountComesBackAndIdsStay, ()) {
    const int count = *rc::gen::inRange(1, 20);
    const double slide = *rc::gen::inRange(-300, 300) / 10.0;
    Build b;
    b.formationKind("line").set(b.formation, "count", {double(count)}).set(b.formation, "slide", {slide});
    const auto there = byId(b.rows());
    b.set(b.formation, "slide", {slide + count});
    const auto back = byId(b.rows());
    RC_ASSERT(there.size() == static_cast<std::size_t>(count));
    for (const auto& [id, place] : there) RC_ASSERT(glm::distance(back.at(id), place) < 1e-4f);
}

TEST(Ring, HalfTurnPutsEndsAcrossAndAWholeOneLeavesOutTheLast) {
    Build b;
    b.formationKind("ring").set(b.formation, "count", {5}).set(b.formation, "radius", {2}).set(b.formation, "end", {180});
    auto rows = b.rows();
    EXPECT_NEAR(glm::distance(rows[0].position, rows[4].position), 4, 1e-5f);
    b.set(b.formation, "end", {360});
    rows = b.rows();
    for (std::size_t i = 0; i < 5; ++i)
        EXPECT_NEAR(glm::distance(rows[i].position, rows[(i + 1) % 5].position), 4 * std::sin(pi / 5), 1e-5f);
    b.choose(b.formation, "facing", "outward");
    for (const auto& row : b.rows()) EXPECT_LT(glm::distance(up(row), row.position / 2.0f), 1e-5f);
    b.choose(b.formation, "plane", "front");
    for (const auto& row : b.rows()) {
        EXPECT_NEAR(row.position.z, 0, 1e-6f);
        EXPECT_LT(glm::distance(up(row), row.position / 2.0f), 1e-5f);
    }
}

TEST(Ring, SeveralRingsRiseAndKeepIdsWhenMoreAreAdded) {
    Build b;
    b.formationKind("ring")
        .set(b.formation, "count", {8})
        .set(b.formation, "rings", {3})
        .set(b.formation, "ringStep", {0.5})
        .set(b.formation, "rise", {2})
        .set(b.formation, "radius", {1});
    const auto few = byId(b.rows());
    ASSERT_EQ(few.size(), 24u);
    b.set(b.formation, "rings", {5});
    const auto many = byId(b.rows());
    for (const auto& [id, place] : few) EXPECT_EQ(many.at(id), place);
    for (const auto& row : b.rows()) {
        const int ring = row.number / 8;
        EXPECT_NEAR(std::hypot(row.position.x, row.position.z), 1 + 0.5 * ring, 1e-5);
        EXPECT_NEAR(row.position.y, 2 * (ring + (row.number % 8) / 8.0), 1e-5);
    }
}

TEST(Ring, VariationStaysWithItsInstanceWhenTheCountIsRaised) {
    const auto strays = [](int count, double variation) {
        Build b;
        b.formationKind("ring")
            .set(b.formation, "count", {double(count)})
            .set(b.formation, "end", {double(count)})
            .set(b.formation, "unevenness", {variation});
        std::map<std::uint64_t, double> angle;
        for (const auto& row : b.rows()) angle[row.id] = std::atan2(row.position.x, row.position.z);
        return angle;
    };
    const auto few = strays(10, 20), fewPlain = strays(10, 0), many = strays(30, 20), manyPlain = strays(30, 0);
    for (const auto& [id, angle] : few) {
        EXPECT_NEAR(angle - fewPlain.at(id), many.at(id) - manyPlain.at(id), 1e-5);
        EXPECT_LE(std::abs(angle - fewPlain.at(id)), 20 * pi / 180 + 1e-5);
    }
}

TEST(Grid, FillsABallAndATubeAndShiftsRows) {
    Build b = Build::grid(9, 9, 9);
    b.choose(b.formation, "fill", "ball");
    const auto ball = b.rows();
    for (const auto& row : ball) EXPECT_LE(glm::length(row.position), 4.001f);
    EXPECT_NEAR(static_cast<double>(ball.size()), 4 * pi / 3 * 64, 40);
    b.choose(b.formation, "fill", "tube");
    for (const auto& row : b.rows()) EXPECT_LE(std::hypot(row.position.x, row.position.z), 4.001f);
    Build rows = Build::grid(4, 1, 4);
    const auto straight = byId(rows.rows());
    rows.set(rows.formation, "shift", {50});
    for (const auto& [id, place] : byId(rows.rows())) {
        const bool unshifted = static_cast<int>(std::lround(straight.at(id).z + 10.5)) % 2 == 1;
        EXPECT_NEAR(place.x - straight.at(id).x, unshifted ? 0 : 0.5, 1e-6) << straight.at(id).z;
    }
}

TEST(ClosePacking, EveryInnerInstanceHasTwelveNeighboursOneSpacingAway) {
    for (const char* layers : {"abc", "ab"}) {
        Build b;
        b.formationKind("closePacking")
            .set(b.formation, "count", {7, 7, 7})
            .set(b.formation, "spacing", {0.7})
            .choose(b.formation, "layers", layers);
        const auto rows = b.rows();
        const auto& middle = *std::min_element(
            rows.begin(), rows.end(), [](const auto& x, const auto& y) { return glm::length(x.position) < glm::length(y.position); });
        int touching = 0;
        for (const auto& row : rows) {
            const float away = glm::distance(row.position, middle.position);
            EXPECT_TRUE(row.id == middle.id || away > 0.699f);
            touching += row.id != middle.id && away < 0.701f;
        }
        EXPECT_EQ(touching, 12) << layers;
    }
}

// ---- points, other swarms, pieces

TEST(Loose, BallAndBoxHoldThemAll) {
    Build b;
    b.formationKind("loose").set(b.formation, "count", {2000}).set(b.formation, "size", {2, 4, 6});
    for (const auto& row : b.rows())
        for (int a = 0; a < 3; ++a) EXPECT_LE(std::abs(row.position[a]), a + 1);
    b.choose(b.formation, "in", "ball").set(b.formation, "radius", {2});
    int inner = 0;
    for (const auto& row : b.rows()) {
        EXPECT_LE(glm::length(row.position), 2.0001f);
        inner += glm::length(row.position) < 1;
    }
    EXPECT_NEAR(inner, 250, 60);  // an eighth of the volume
}

TEST(PointsFile, ReadsCsvWithNormalsAndRefusesDamage) {
    const std::filesystem::path& folder = making::temporaryFolder();
    const auto write = [&](const char* name, const std::string& text) { std::ofstream(folder / name, std::ios::binary) << text; };
    Build b;
    b.formationKind("pointsFile").choose(b.formation, "file", "points.csv");
    const auto rows = [&] {
        std::vector<InstanceRow> out;
        readInstances(b.plan(0, folder), b.scene, [&](const InstanceRow& row) { return out.push_back(row), true; });
        return out;
    };
    EXPECT_THROW(rows(), Error);
    write("points.csv", "x,y,z,nx,ny,nz\n1,2,3,1,0,0\r\n-4.5;0;1e1;0;0;2\n\n");
    const auto read = rows();
    ASSERT_EQ(read.size(), 2u);
    EXPECT_EQ(read[0].position, glm::vec3(1, 2, 3));
    EXPECT_EQ(read[1].position, glm::vec3(-4.5f, 0, 10));
    EXPECT_LT(glm::distance(up(read[0]), glm::vec3(1, 0, 0)), 1e-6f);
    EXPECT_LT(glm::distance(up(read[1]), glm::vec3(0, 0, 1)), 1e-6f);
    for (const char* bad : {"1,2\n", "1,2,nan\n", "1,2,hello\n", "", "x,y,z\n", "1,2,3\n4,5,1e999\n"}) {
        write("points.csv", bad);
        EXPECT_THROW(rows(), Error) << bad;
    }
    write("points.csv",
          "ply\nformat ascii 1.0\nelement vertex 2\nproperty float x\nproperty float y\nproperty float z\nend_header\n1 2 3\n4 5 6\n");
    EXPECT_EQ(rows().size(), 2u);
}

TEST(OnSwarm, StandsWhereTheOthersInstancesAreAfterTheirGestures) {
    Build b = Build::grid(3, 1, 2);
    const ObjectId lift = b.gesture();
    b.set(lift, "position", true);
    b.set(b.swarm, "position", {1, 2, 3}).set(b.swarm, "scale", {2});
    const auto ground = b.rows();
    Edit edit = addSwarm(b.scene);
    b.scene = edit.scene;
    const ObjectId first = b.swarm;
    b.swarm = edit.made;
    b.formation = b.scene.at(edit.made).list("formations").front();
    b.formationKind("onSwarm").set(b.formation, "swarm", Value(first));
    b.set(b.swarm, "position", {-5, 0, 0}).set(b.swarm, "rotation", {0, 90, 0});
    const auto rows = b.rows();
    ASSERT_EQ(rows.size(), ground.size());
    for (std::size_t i = 0; i < rows.size(); ++i) {
        EXPECT_EQ(rows[i].id, ground[i].id);
        EXPECT_LT(glm::distance(rows[i].position, ground[i].position), 1e-4f);
    }
    // The other way round would be a circle.
    const ObjectId firstFormation = b.scene.at(first).list("formations").front();
    b.scene = setKind(b.scene, firstFormation, "formation", *findKind(Family::formation, "onSwarm")).scene;
    EXPECT_THROW(setValue(b.scene, addressOf(b.scene, firstFormation, "swarm"), b.swarm), Error);
}

TEST(Pieces, OfABrokenBallPutItTogetherAgain) {
    Edit edit = addShape(emptyScene(), *findKind(Family::shape, "geodesicBall"));
    edit = breakUp(edit.scene, edit.made);
    Store store;
    Progress progress;
    const Plan plan = prepare(edit.scene, edit.made, 0, {}, store, progress);
    Evaluator evaluator(2);
    const auto result = evaluator.run(plan, progress);
    ASSERT_EQ(result->count, 180);  // 20 · 3²
    ASSERT_EQ(result->variants.size(), 180u);
    for (std::size_t i = 0; i < 180; ++i) {
        ASSERT_EQ(result->columns->variant[i], i);
        const float* m = &result->columns->matrix[12 * i];
        for (const auto& p : result->variants[i].meshes->mesh().positions) {
            const glm::vec3 world(m[0] * p.x + m[1] * p.y + m[2] * p.z + m[3], m[4] * p.x + m[5] * p.y + m[6] * p.z + m[7],
                                  m[8] * p.x + m[9] * p.y + m[10] * p.z + m[11]);
            EXPECT_NEAR(glm::length(world), 0.5, 1e-5);
        }
    }
}
