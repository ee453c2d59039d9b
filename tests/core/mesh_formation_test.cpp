// Formations that stand on meshes and inside them.
#include <gtest/gtest.h>

#include <rapidcheck.h>
#include <rapidcheck/gtest.h>
#include <numbers>

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <map>
#include <tuple>

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
