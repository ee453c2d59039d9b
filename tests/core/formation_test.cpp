// Places, ids and counts of the formations.
#include <gtest/gtest.h>
#include <rapidcheck.h>
#include <rapidcheck/gtest.h>

#include <cmath>
#include <map>
#include <set>

#include "core/base/error.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;
using making::byId;

namespace {

Build hexagons(int rings) {
    Build b;
    b.formationKind("hexagons").set(b.formation, "rings", {double(rings)}).set(b.formation, "spacing", {0.5});
    return b;
}

}  // namespace

TEST(Grid, SpacingAndOverallSizeAgree) {
    Build b = Build::grid(5, 2, 3);
    const auto spaced = b.rows();
    b.set(b.formation, "measure", std::string("overall")).set(b.formation, "overall", {4, 1, 2});
    const auto overall = b.rows();
    ASSERT_EQ(spaced.size(), 30u);
    for (std::size_t i = 0; i < spaced.size(); ++i) {
        EXPECT_NEAR(glm::distance(spaced[i].position, overall[i].position), 0, 1e-6f);
        const auto n = static_cast<int>(i);
        EXPECT_EQ(spaced[i].position, glm::vec3(n % 5 - 2, n / 15 - 0.5f, n / 5 % 3 - 1));
    }
}

RC_GTEST_PROP(Grid, IdsAreUniqueAndStayWhenACountIsRaised, ()) {
    const auto count = [] { return *rc::gen::inRange(1, 9); };
    const int x = count(), y = count(), z = count(), more = *rc::gen::inRange(1, 5);
    Build b = Build::grid(x, y, z);
    b.set(b.formation, "anchor", *rc::gen::element(std::string("centre"), std::string("corner")));
    const auto before = byId(b.rows());
    RC_ASSERT(before.size() == static_cast<std::size_t>(x * y * z));
    b.set(b.formation, "count", {double(x + more), double(y), double(z + more)});
    const auto after = byId(b.rows());
    for (const auto& [id, place] : before) RC_ASSERT(after.contains(id));
}

TEST(Grid, CornerAnchorKeepsHomesWhenACountIsRaised) {
    Build b = Build::grid(4, 1, 4);
    b.set(b.formation, "anchor", std::string("corner"));
    const auto before = byId(b.rows());
    b.set(b.formation, "count", {9, 1, 6});
    const auto after = byId(b.rows());
    for (const auto& [id, place] : before) EXPECT_EQ(after.at(id), place);
}

TEST(Hexagons, HasAsManyAsItsRingsAndEveryNeighbourOneSpacingAway) {
    for (const int rings : {0, 1, 4, 25}) {
        Build b = hexagons(rings);
        const auto rows = b.rows();
        ASSERT_EQ(rows.size(), static_cast<std::size_t>(1 + 3 * rings * (rings + 1)));
        EXPECT_EQ(byId(rows).size(), rows.size());
        if (rings != 4) continue;
        for (const auto& row : rows) {
            float nearest = 1e9f;
            for (const auto& other : rows)
                if (other.id != row.id) nearest = std::min(nearest, glm::distance(row.position, other.position));
            EXPECT_NEAR(nearest, 0.5f, 1e-5f);
            EXPECT_LE(glm::length(row.position), 0.5f * 4 + 1e-5f);
        }
    }
}

TEST(Hexagons, MoreRingsKeepIdsAndHomes) {
    const auto before = byId(hexagons(5).rows()), after = byId(hexagons(9).rows());
    for (const auto& [id, place] : before) EXPECT_LT(glm::distance(after.at(id), place), 1e-6f);
}

TEST(Hexagons, RectangleHasColumnsTimesRows) {
    Build b = hexagons(1);
    b.set(b.formation, "outline", std::string("rectangle")).set(b.formation, "columns", {7}).set(b.formation, "rows", {5});
    const auto rows = b.rows();
    EXPECT_EQ(rows.size(), 35u);
    EXPECT_EQ(byId(rows).size(), 35u);
    for (const auto& row : rows) EXPECT_LT(std::abs(row.position.x), 0.5f * 4.5f);
}

TEST(GoldenSpiral, FlatGrowsWithTheRootAndTurnsByTheGoldenAngle) {
    Build b;
    b.formationKind("goldenSpiral").set(b.formation, "count", {3000}).set(b.formation, "spacing", {0.3});
    const auto rows = b.rows();
    for (const std::size_t i : {0u, 1u, 17u, 1023u, 1024u, 2999u}) {
        const double radius = 0.3 / 1.7003 * std::sqrt(static_cast<double>(i) + 0.5), angle = static_cast<double>(i) * 2.39996322972865332;
        EXPECT_NEAR(rows[i].position.x, radius * std::cos(angle), 2e-5 * radius + 1e-5);
        EXPECT_NEAR(rows[i].position.z, radius * std::sin(angle), 2e-5 * radius + 1e-5);
    }
}

TEST(GoldenSpiral, OnADomeEveryInstanceStandsOutwardAndNoneBelowTheShare) {
    Build b;
    b.formationKind("goldenSpiral")
        .set(b.formation, "count", {500})
        .set(b.formation, "onto", std::string("dome"))
        .set(b.formation, "radius", {2})
        .set(b.formation, "share", {50});
    for (const auto& row : b.rows()) {
        EXPECT_NEAR(glm::length(row.position), 2, 1e-5f);
        EXPECT_GT(row.position.y, 0);
        EXPECT_LT(glm::distance(row.rotation * glm::vec3(0, 1, 0), row.position / 2.0f), 2e-6f);
    }
    b.set(b.formation, "share", {100});
    for (const auto& row : b.rows()) EXPECT_LT(glm::distance(row.rotation * glm::vec3(0, 1, 0), row.position / 2.0f), 1e-3f);
}

TEST(Formation, RandomValuesStayWithTheirInstancesWhenACountIsRaised) {
    const auto offsets = [](int side) {
        Build b = Build::grid(side, 1, side);
        const auto homes = byId(b.rows());
        const ObjectId g = b.gesture("random");
        b.set(g, "position", true);
        std::map<std::uint64_t, float> out;
        for (const auto& row : b.rows()) out[row.id] = row.position.y - homes.at(row.id).y;
        return out;
    };
    const auto few = offsets(5), many = offsets(8);
    for (const auto& [id, value] : few) EXPECT_EQ(many.at(id), value);
}

TEST(Formation, MoreThanTheLimitIsRefusedWithTheFigure) {
    Build b = Build::grid(1, 1, 1);
    b.set(b.formation, "count", {10000, 1, 10000});
    try {
        b.plan();
        FAIL();
    } catch (const Error& error) {
        EXPECT_NE(std::string(error.what()).find("100 000 000"), std::string::npos) << error.what();
    }
}
