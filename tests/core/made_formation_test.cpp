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
#include <set>

#include "core/base/error.h"
#include "core/formation/evenly_spaced.h"
#include "core/kinds/registry.h"
#include "core/prepare/prepare.h"
#include "core/provide/store.h"
#include "core/shape/inside.h"
#include "tests/core/making.h"
#include "tests/core/meshes.h"

using namespace gswarm;
using making::Build;
using making::byId;
using making::up;

namespace {

using std::numbers::pi;

float nearestPair(const std::vector<InstanceRow>& rows) {
    float nearest = 1e30f;
    for (std::size_t i = 0; i < rows.size(); ++i)
        for (std::size_t j = i + 1; j < rows.size(); ++j) nearest = std::min(nearest, glm::distance(rows[i].position, rows[j].position));
    return nearest;
}

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

// ---- along curves

TEST(AlongCurve, IsEvenByArcLengthWithinATenthOfAPercent) {
    for (const char* kind : {"helix", "circle", "path", "line"}) {
        Build b;
        const ObjectId curve = b.standOn("alongCurve", kind);
        b.set(curve, "steps", {400}).set(b.formation, "count", {41});
        const MeasuredCurve measured(making::shape(kind, {{"steps", {400}}}).curves[0]);
        const double step = measured.length() / (measured.closed() ? 41 : 40);
        for (const auto& row : b.rows()) {
            const auto nearest = measured.nearestTo(row.position);
            EXPECT_NEAR(nearest.away, 0, 1e-5) << kind;
            double off = nearest.distance - step * row.number;
            if (measured.closed()) off -= std::round(off / measured.length()) * measured.length();
            EXPECT_LT(std::abs(off), 0.001 * step) << kind << " " << row.number;
        }
    }
}

TEST(AlongCurve, SlideWrapsAndIdsStay) {
    Build b;
    b.standOn("alongCurve", "circle");
    b.set(b.formation, "count", {12});
    const auto still = byId(b.rows());
    b.set(b.formation, "slide", {100.0 / 12});
    const auto slid = byId(b.rows());
    for (const auto& [id, place] : slid) EXPECT_LT(glm::distance(place, still.at((id + 1) % 12)), 1e-4f);
    b.set(b.formation, "slide", {100});
    for (const auto& [id, place] : byId(b.rows())) EXPECT_LT(glm::distance(place, still.at(id)), 1e-4f);
}

TEST(AlongCurve, SeveralCurvesEachOrTogether) {
    // A line of 2 m along X, one of 1 m along Z, and a circle.
    Build b = Build::grid(1, 1, 1);
    const ObjectId line = b.standOn("alongCurve", "line");
    b.set(line, "from", {0, 0, 0}).set(line, "to", {2, 0, 0});
    const auto add = [&](const char* kind) {
        const Edit made = addShape(b.scene, *findKind(Family::shape, kind));
        b.scene = made.scene;
        return made.made;
    };
    const ObjectId other = add("line");
    b.set(other, "from", {5, 0, 0}).set(other, "to", {5, 0, 1});
    b.set(b.formation, "second", Value(other)).set(b.formation, "count", {7});
    auto rows = b.rows();
    ASSERT_EQ(rows.size(), 14u);
    making::expectNear(rows[6].position, {2, 0, 0});
    making::expectNear(rows[7].position, {5, 0, 0});
    making::expectNear(rows[13].position, {5, 0, 1});
    b.choose(b.formation, "over", "all");
    rows = b.rows();
    ASSERT_EQ(rows.size(), 7u);
    for (int k = 0; k < 7; ++k) making::expectNear(rows[k].position, k <= 4 ? glm::vec3(0.5f * k, 0, 0) : glm::vec3(5, 0, 0.5f * k - 2));
    EXPECT_EQ(making::byId(rows).size(), 7u);
    // By spacing the step goes on over the gap; sliding moves through all.
    b.choose(b.formation, "measure", "spacing").set(b.formation, "spacing", {0.4});
    rows = b.rows();
    ASSERT_EQ(rows.size(), 8u);
    making::expectNear(rows[5].position, {2, 0, 0});
    making::expectNear(rows[7].position, {5, 0, 0.8f});
    b.set(b.formation, "slide", {50});
    making::expectNear(b.rows()[3].position, {5, 0, 0.7f});
    // Closed curves together go around: the last does not fall on the first.
    const ObjectId circle = add("circle"), ring = add("circle");
    b.set(ring, "radius", {1});
    b.set(b.formation, "slide", {0}).set(b.formation, "shape", Value(circle)).set(b.formation, "second", Value(ring));
    b.choose(b.formation, "measure", "count").set(b.formation, "count", {6});
    rows = b.rows();
    ASSERT_EQ(rows.size(), 6u);
    for (std::size_t i = 0; i < 6; ++i)
        for (std::size_t k = 0; k < i; ++k) EXPECT_GT(glm::distance(rows[i].position, rows[k].position), 0.5f) << i << k;
}

TEST(AlongCurve, SaysWhenTheShapeHasNoCurve) {
    Build b;
    b.standOn("alongCurve", "box");
    EXPECT_THROW(b.plan(), Error);
}

// ---- on meshes

TEST(Elements, CountsFollowTheMesh) {
    const std::vector<std::tuple<const char*, int, int, int>> solids = {
        {"tetrahedron", 4, 6, 4}, {"cube", 6, 12, 8}, {"icosahedron", 20, 30, 12}, {"dodecahedron", 12, 30, 20}};
    for (const auto& [solid, faces, edges, corners] : solids) {
        Build b;
        const ObjectId shape = b.standOn("elements", "regularSolid");
        b.choose(shape, "solid", solid).set(shape, "radius", {2});
        for (const auto& [element, wanted] : {std::pair{"faces", faces}, {"edges", edges}, {"corners", corners}}) {
            const auto rows = b.choose(b.formation, "element", element).rows();
            EXPECT_EQ(rows.size(), static_cast<std::size_t>(wanted)) << solid << " " << element;
            for (const auto& row : rows) EXPECT_LT(glm::distance(up(row), glm::normalize(row.position)), 1e-4f) << solid << " " << element;
        }
    }
}

TEST(RandomOnMesh, IsUniformByAreaAndStandsOnTheSurface) {
    Build b;
    const ObjectId box = b.standOn("randomOnMesh", "box");
    b.set(box, "size", {1, 2, 4}).set(box, "rounding", {0}).set(b.formation, "count", {14000});
    std::array<int, 3> onAxis{};
    for (const auto& row : b.rows()) {
        const glm::vec3 n = up(row);
        for (int a = 0; a < 3; ++a)
            if (std::abs(n[a]) > 0.99f) {
                ++onAxis[static_cast<std::size_t>(a)];
                EXPECT_NEAR(std::abs(row.position[a]), (a == 0 ? 1 : a == 1 ? 2 : 4) / 2.0, 1e-5);
            }
    }
    const double areas[] = {16, 8, 4}, total = 28;
    double chi = 0;
    for (std::size_t a = 0; a < 3; ++a) chi += std::pow(onAxis[a] - 14000 * areas[a] / total, 2) / (14000 * areas[a] / total);
    EXPECT_LT(chi, 13.8);  // two degrees of freedom, one in a thousand
}

RC_GTEST_PROP(RandomFormations, RaisingACountChangesNeitherPlacesNorRandomValues, ()) {
    const std::string kind =
        *rc::gen::element(std::string("randomOnMesh"), std::string("scatterInMesh"), std::string("loose"), std::string("ring"));
    const int few = *rc::gen::inRange(1, 60), more = *rc::gen::inRange(1, 60);
    const auto at = [&](int count) {
        Build b;
        if (kind == "loose" || kind == "ring")
            b.formationKind(kind);
        else
            b.standOn(kind, "ball");
        if (kind == "ring") b.set(b.formation, "end", {double(count)});
        b.set(b.formation, "count", {double(count)});
        const ObjectId g = b.gesture("random");
        b.set(g, "scale", true).set(g, "pattern-from", {0.0});
        std::map<std::uint64_t, std::pair<glm::vec3, float>> out;
        for (const auto& row : b.rows()) out[row.id] = {row.position, row.scale.x};
        return out;
    };
    const auto before = at(few), after = at(few + more);
    RC_ASSERT(before.size() == static_cast<std::size_t>(few));
    RC_ASSERT(after.size() == static_cast<std::size_t>(few + more));
    for (const auto& [id, value] : before) {
        RC_ASSERT(after.at(id).second == value.second);
        if (kind != "ring") RC_ASSERT(after.at(id).first == value.first);
    }
}

TEST(RandomOnMesh, IsCarriedByAMovingMeshAndNeverScattersAgain) {
    Build b;
    const ObjectId ball = b.standOn("randomOnMesh", "ball");
    b.key(ball, "radius", {{0, 1, Ease::linear}, {10, 3, Ease::linear}}).set(b.formation, "count", {50});
    const auto small = byId(b.rows(0)), large = byId(b.rows(10));
    for (const auto& [id, place] : small) EXPECT_LT(glm::distance(large.at(id), place * 3.0f), 1e-3f);
}

TEST(EvenlySpaced, KeepsItsDistanceAndLeavesNoGap) {
    Build b;
    const ObjectId ball = b.standOn("evenlySpaced", "ball");
    b.set(ball, "radius", {1}).choose(b.formation, "measure", "distance").set(b.formation, "distance", {0.25});
    const auto rows = b.rows();
    EXPECT_GE(nearestPair(rows), 0.25f);
    EXPECT_NEAR(static_cast<double>(rows.size()), evenlySpacedGuess(4 * pi, 0.25), 40);
    // Wherever a dart lands, a point is near enough to have refused it.
    const Mesh mesh = making::mesh("ball", {{"radius", {1}}});
    std::uint32_t state = 7;
    const auto die = [&] { return static_cast<float>((state = state * 747796405u + 2891336453u) >> 8) / 16777216.0f; };
    for (int trial = 0; trial < 4000; ++trial) {
        float x = die(), y = die();
        if (x + y > 1) x = 1 - x, y = 1 - y;
        const auto t = std::min(static_cast<std::uint32_t>(die() * static_cast<float>(mesh.triangleCount())),
                                static_cast<std::uint32_t>(mesh.triangleCount() - 1));
        const glm::vec3 place = placeOn(mesh, {t, x, y, 0});
        float nearest = 1e30f;
        for (const auto& row : rows) nearest = std::min(nearest, glm::distance(row.position, place));
        EXPECT_LT(nearest, 0.25f * 1.03f);
    }
}

TEST(EvenlySpaced, ByCountIsExactAndStillEven) {
    Build b;
    b.standOn("evenlySpaced", "ball");
    b.choose(b.formation, "measure", "count");
    for (const int count : {1, 2, 50, 333}) {
        const auto rows = b.set(b.formation, "count", {double(count)}).rows();
        EXPECT_EQ(rows.size(), static_cast<std::size_t>(count));
        if (count > 2) {
            EXPECT_GT(nearestPair(rows), 0.7 * std::sqrt(4 * pi * 0.25 * 0.547 / (0.785 * count)));
        }
    }
}

// ---- inside meshes

TEST(Cells, FillABoxExactlyAndTheModesNest) {
    Build b;
    const ObjectId box = b.standOn("cells", "box");
    b.set(box, "size", {2, 1, 1}).set(box, "rounding", {0}).set(b.formation, "spacing", {0.25}).choose(b.formation, "anchor", "corner");
    EXPECT_EQ(b.rows().size(), 8u * 4 * 4);
    EXPECT_EQ(b.choose(b.formation, "keep", "whole").rows().size(), 8u * 4 * 4);
    const auto skin = b.choose(b.formation, "keep", "centre").set(b.formation, "skin", true).rows();
    EXPECT_EQ(skin.size(), 8u * 4 * 4 - 6u * 2 * 2);
    Build ball;
    ball.standOn("cells", "ball");
    ball.set(ball.formation, "spacing", {0.08});
    const auto count = [&](const char* keep) { return byId(ball.choose(ball.formation, "keep", keep).rows()); };
    const auto whole = count("whole"), centre = count("centre"), touching = count("touching");
    EXPECT_LT(whole.size(), centre.size());
    EXPECT_LT(centre.size(), touching.size());
    for (const auto& [id, place] : whole) EXPECT_TRUE(centre.contains(id));
    for (const auto& [id, place] : centre) EXPECT_TRUE(touching.contains(id));
    for (const auto& [id, place] : whole) EXPECT_LE(glm::length(place) + 0.04f * 1.7320508f, 0.502f);
}

TEST(Cells, ASmallHoleDoesNotLeak) {
    Mesh ball = making::mesh("ball", {{"radius", {1}}, {"sides", {48}}, {"rings", {24}}});
    const Mesh sound = ball;
    const InsideTest whole(sound);
    // One face near the equator is taken out.
    ball.triangles.erase(ball.triangles.begin() + 48 * 12 * 6 + 60, ball.triangles.begin() + 48 * 12 * 6 + 66);
    ball.faces.erase(ball.faces.begin() + 48 * 12 * 2 + 20, ball.faces.begin() + 48 * 12 * 2 + 22);
    ASSERT_FALSE(topologyOf(ball).closed());
    const InsideTest holed(ball);
    int wrong = 0, all = 0;
    for (int x = -30; x <= 30; ++x)
        for (int y = -30; y <= 30; ++y)
            for (int z = -30; z <= 30; ++z, ++all) {
                const glm::vec3 p = glm::vec3(x, y, z) / 28.3f;
                if (std::abs(glm::length(p) - 1) > 0.05f) wrong += holed(p) != whole(p);
            }
    EXPECT_EQ(wrong, 0) << "of " << all;
}

TEST(Cells, OverlappingPartsFillTheirUnion) {
    Mesh two = making::mesh("box", {{"rounding", {0}}}), other = two;
    for (auto& p : other.positions) p.x += 0.5f;
    append(two, other);
    const InsideTest inside(two);
    for (int k = 0; k < 40; ++k) {
        const float x = -0.99f + 0.05f * static_cast<float>(k);
        EXPECT_EQ(inside({x, 0.1f, 0.2f}), x > -0.5f && x < 1) << x;
    }
}

TEST(ScatterInMesh, StaysInsideAndEvenKeepsItsDistance) {
    Build b;
    const ObjectId ring = b.standOn("scatterInMesh", "ring");
    b.set(ring, "radius", {2}).set(ring, "thickness", {1}).set(b.formation, "count", {500});
    const auto inTorus = [](const glm::vec3& p) { return std::hypot(std::hypot(p.x, p.z) - 2, p.y) < 0.505; };
    const auto random = b.rows();
    EXPECT_EQ(random.size(), 500u);
    for (const auto& row : random) EXPECT_TRUE(inTorus(row.position));
    const auto even = b.choose(b.formation, "scatter", "even").set(b.formation, "distance", {0.3}).rows();
    EXPECT_GE(nearestPair(even), 0.3f);
    EXPECT_GT(even.size(), 150u);
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
