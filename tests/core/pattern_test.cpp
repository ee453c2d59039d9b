// Patterns, zones, responses and staggers against closed forms.
#include <gtest/gtest.h>

#include <cmath>
#include <set>

#include "core/edit/rail_edits.h"
#include "core/picture/display.h"
#include "core/prepare/prepare.h"
#include "core/provide/store.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;

namespace {

/// A row along X whose height is what the pattern gives.
struct Row {
    Build b;
    ObjectId gesture;

    explicit Row(int count, const std::string& pattern = "steady") : b(Build::grid(count, 1, 1)), gesture(b.gesture(pattern)) {
        b.set(gesture, "position", true);
    }
    std::vector<float> heights(double frame = 0) const {
        std::vector<float> out;
        for (const auto& row : b.rows(frame)) out.push_back(row.position.y);
        return out;
    }
};

double smooth(double x) { return x <= 0 ? 0 : x >= 1 ? 1 : x * x * (3 - 2 * x); }

}  // namespace

TEST(NumberPattern, RunsFromTheFirstToTheLast) {
    Row row(5, "number");
    EXPECT_EQ(row.heights(), (std::vector<float>{0, 0.25f, 0.5f, 0.75f, 1}));
    row.b.set(row.gesture, "pattern-repeats", {2});
    EXPECT_EQ(row.heights(), (std::vector<float>{0, 0.5f, 1, 0.5f, 1}));
    row.b.set(row.gesture, "pattern-backAndForth", true);
    EXPECT_EQ(row.heights(), (std::vector<float>{0, 0.5f, 1, 0.5f, 0}));
}

TEST(NumberPattern, ASingleInstanceIsTheFirst) { EXPECT_EQ(Row(1, "number").heights()[0], 0); }

TEST(AlongAxis, AShareOfPlacesNowIsOfTheirRangeNow) {
    // A flat row that waves: its heights from lowest to highest are 0 to 1, although no home has a height.
    Row row(9, "number");
    row.b.set(row.gesture, "positionAmount", {0, 4, 0});
    row.b.scene = addNamedValue(row.b.scene, row.b.swarm, "height").scene;
    const ObjectId height = row.b.scene.at(row.b.swarm).list("namedValues").front(), g = row.b.gesture("alongAxis");
    row.b.set(g, "pattern-axis", std::string("y")).choose(g, "place", "current");
    row.b.set(g, "value", true).set(g, "valueOf", Value(height));
    row.b.set(row.b.swarm, "position", {0, 7, 0});
    for (const auto& r : row.b.rows()) EXPECT_NEAR(r.named[0], r.number / 8.0, 1e-6);
    row.b.choose(g, "place", "home");
    for (const auto& r : row.b.rows()) EXPECT_EQ(r.named[0], 0) << "homes lie flat";
    EXPECT_TRUE(row.b.plan().wantWhole.empty());
    Store store;
    Progress progress;
    PlanOptions some;
    some.rehearsal = 2;
    row.b.choose(g, "place", "current");
    EXPECT_EQ(prepare(row.b.scene, row.b.swarm, 0, some, store, progress).wantWhole.size(), 1u) << "it needs all instances";
}

TEST(AlongAxis, IsAShareOfTheSwarmOrMetres) {
    Row row(5, "alongAxis");
    EXPECT_EQ(row.heights(), (std::vector<float>{0, 0.25f, 0.5f, 0.75f, 1}));
    row.b.set(row.gesture, "pattern-measure", std::string("metres"));
    EXPECT_EQ(row.heights(), (std::vector<float>{-2, -1, 0, 1, 2}));
    row.b.set(row.gesture, "pattern-axis", std::string("z"));
    EXPECT_EQ(row.heights(), (std::vector<float>{0, 0, 0, 0, 0}));
}

TEST(Random, FillsItsRangeEvenlyAndKeepsToItsSteps) {
    Row row(20000, "random");
    row.b.set(row.gesture, "pattern-from", {2}).set(row.gesture, "pattern-to", {4});
    const auto even = row.heights();
    int bins[10] = {};
    for (const float h : even) {
        ASSERT_GE(h, 2);
        ASSERT_LT(h, 4);
        ++bins[static_cast<int>((h - 2) * 5)];
    }
    double chi = 0;
    for (const int bin : bins) chi += (bin - 2000.0) * (bin - 2000.0) / 2000;
    EXPECT_LT(chi, 27.9);  // 99.9 % of even throws with nine degrees of freedom
    row.b.set(row.gesture, "pattern-steps", {3});
    const auto stepped = row.heights();
    EXPECT_EQ(std::set<float>(stepped.begin(), stepped.end()), (std::set<float>{2, 3, 4}));
    row.b.set(row.gesture, "pattern-seed", {2});
    EXPECT_NE(row.heights(), stepped);
}

TEST(Wave, HasItsFormsAndItsLength) {
    Row row(9, "wave");
    row.b.set(row.gesture, "pattern-along", std::string("direction")).set(row.gesture, "pattern-length", {4});
    const std::vector<std::pair<std::string, std::vector<float>>> forms = {
        {"sine", {0, 1, 0, -1, 0}}, {"triangle", {0, 1, 0, -1, 0}}, {"square", {1, 1, -1, -1, 1}}, {"saw", {-1, -0.5f, 0, 0.5f, -1}}};
    for (const auto& [form, wanted] : forms) {
        row.b.set(row.gesture, "pattern-form", form);
        const auto heights = row.heights();
        for (std::size_t i = 0; i < wanted.size(); ++i) EXPECT_NEAR(heights[i], wanted[i], 2e-6f) << form << " " << i;
    }
}

TEST(Wave, PassesItsLapsInALoop) {
    Row row(4, "wave");
    row.b.set(row.b.scene.project().id, "loopFrames", {80}).set(row.gesture, "pattern-laps", {2});
    const auto start = row.heights(0);
    EXPECT_EQ(row.heights(40), start);
    EXPECT_EQ(row.heights(80), start);
    const auto half = row.heights(20);
    for (std::size_t i = 0; i < start.size(); ++i) EXPECT_NEAR(half[i], -start[i], 2e-6f);
}

TEST(Wave, RunsOutwardFromTheMiddleOfTheSwarm) {
    Build b = Build::grid(11, 1, 11);
    const ObjectId g = b.gesture("wave");
    b.set(g, "position", true).set(g, "pattern-along", std::string("radius")).set(g, "pattern-length", {5});
    for (const auto& row : b.rows()) {
        const double radius = std::hypot(row.position.x, row.position.z);
        EXPECT_NEAR(row.position.y, std::sin(2 * 3.14159265358979 * radius / 5), 5e-6);
    }
}

TEST(Noise, LoopsToTheBitAndSpeedMovesOn) {
    Build b = Build::grid(6, 1, 6);
    const ObjectId g = b.gesture("noise");
    b.set(g, "position", true).set(g, "positionAmount", {1, 1, 1}).set(g, "pattern-octaves", {3}).set(g, "pattern-laps", {3});
    const auto start = b.result(10)->columns->matrix;
    EXPECT_EQ(b.result(10 + 125)->columns->matrix, start);
    EXPECT_NE(b.result(30)->columns->matrix, start);
    b.set(g, "pattern-motion", std::string("speed"));
    EXPECT_NE(b.result(10 + 125)->columns->matrix, b.result(10)->columns->matrix);
    b.set(g, "pattern-motion", std::string("still"));
    EXPECT_EQ(b.result(77)->columns->matrix, b.result(10)->columns->matrix);
}

TEST(Zone, BoxAndSlabFadeOverTheirSoftEdge) {
    for (const std::string kind : {"box", "slab"}) {
        Row row(21);
        const ObjectId z = row.b.zone(row.gesture, kind);
        if (kind == "slab")
            row.b.set(z, "thickness", {12}).set(z, "rotation", {0, 0, 90});
        else
            row.b.set(z, "size", {12, 100, 100});
        row.b.set(z, "softEdge", {4});
        const auto heights = row.heights();
        for (int i = 0; i < 21; ++i)
            EXPECT_NEAR(heights[static_cast<std::size_t>(i)], smooth((6 - std::abs(i - 10)) / 4.0), 2e-5) << kind << " " << i;
    }
}

TEST(Zone, ASoftEdgeOfNothingIsAStep) {
    Row row(9);
    const ObjectId z = row.b.zone(row.gesture, "ball");
    row.b.set(z, "radius", {2.5}).set(z, "softEdge", {0});
    EXPECT_EQ(row.heights(), (std::vector<float>{0, 0, 1, 1, 1, 1, 1, 0, 0}));
}

TEST(Response, InvertsBendsAndMapsRanges) {
    Row row(5, "number");
    const auto with = [&](const std::string& parameter, const Value& value) {
        Row changed = row;
        changed.b.set(changed.gesture, parameter, value);
        return changed.heights();
    };
    EXPECT_EQ(with("shaped-invert", true), (std::vector<float>{1, 0.75f, 0.5f, 0.25f, 0}));
    EXPECT_EQ(with("shaped-curve", std::string("slowStart")), (std::vector<float>{0, 0.0625f, 0.25f, 0.5625f, 1}));
    EXPECT_EQ(with("shaped-curve", std::string("slowEnd")), (std::vector<float>{0, 0.4375f, 0.75f, 0.9375f, 1}));
    EXPECT_EQ(with("shaped-curve", std::string("slowBoth")), (std::vector<float>{0, 0.15625f, 0.5f, 0.84375f, 1}));
    EXPECT_EQ(with("shaped-inHigh", fixedNumbers({0.5})), (std::vector<float>{0, 0.5f, 1, 1.5f, 2}));
    EXPECT_EQ(with("shaped-outLow", fixedNumbers({-1})), (std::vector<float>{-1, -0.5f, 0, 0.5f, 1}));
}

TEST(Response, ASignedPatternInvertsAboutZero) {
    Row row(9, "wave");
    const auto plain = row.heights();
    row.b.set(row.gesture, "shaped-invert", true);
    const auto inverted = row.heights();
    for (std::size_t i = 0; i < plain.size(); ++i) EXPECT_EQ(inverted[i], -plain[i]);
}

TEST(Stagger, SpreadsByAxisChanceAndEase) {
    Row row(5);
    row.b.key(row.gesture, "strength", {{0, 0, Ease::linear}, {100, 100, Ease::linear}}).set(row.gesture, "when-over", {40});
    const auto delays = [&](double frame) {
        std::vector<float> out;
        for (const float h : row.heights(frame)) out.push_back(std::round((static_cast<float>(frame) - h * 100) * 1000) / 1000);
        return out;
    };
    row.b.set(row.gesture, "when-by", std::string("axis"));
    EXPECT_EQ(delays(60), (std::vector<float>{0, 10, 20, 30, 40}));
    row.b.set(row.gesture, "when-reversed", true);
    EXPECT_EQ(delays(60), (std::vector<float>{40, 30, 20, 10, 0}));
    row.b.set(row.gesture, "when-reversed", false).set(row.gesture, "when-ease", std::string("slowStart"));
    EXPECT_EQ(delays(60), (std::vector<float>{0, 2.5f, 10, 22.5f, 40}));
    row.b.set(row.gesture, "when-by", std::string("random")).set(row.gesture, "when-ease", std::string("straight"));
    const auto chance = delays(60);
    for (const float d : chance) EXPECT_TRUE(d >= 0 && d <= 40) << d;
    EXPECT_GT(std::set<float>(chance.begin(), chance.end()).size(), 3u);
}

TEST(Stagger, KeyedColoursAreReadInEncodedSpaceAtEachOwnTime) {
    Row row(3);
    row.b.set(row.b.material, "colour", {0, 0, 0, 1}).set(row.gesture, "colour", true).set(row.gesture, "position", false);
    row.b.key(row.gesture, "colourAmount", {{0, 0, Ease::linear}, {20, 1, Ease::linear}}, 0)
        .set(row.gesture, "when-by", std::string("number"));
    row.b.set(row.gesture, "when-over", {20});
    const auto rows = row.b.rows(20);
    EXPECT_NEAR(rows[0].colour.x, 1, 1e-4f);
    EXPECT_NEAR(rows[1].colour.x, 0.5f, 1e-4f);
    EXPECT_NEAR(rows[2].colour.x, 0, 1e-4f);
}

TEST(Display, EncodesAsTheStandardSays) {
    EXPECT_NEAR(display(glm::vec3(0.5f), 1).x, 0.735357f, 1e-5f);
    EXPECT_NEAR(display(glm::vec3(0.25f), 2).y, 0.735357f, 1e-5f);
    EXPECT_EQ(display(glm::vec3(9), 1).z, 1);
    for (const double v : {0.0, 0.001, 0.01, 0.2, 0.9}) EXPECT_NEAR(linearFromSrgb(srgbFromLinear(v)), v, 1e-12);
}

TEST(Moment, LoopPlaceIsTheSameALoopApartAlsoBelowZero) {
    for (const double frame : {-260.0, -10.0, 0.0, 37.0, 149.0, 1000.0}) {
        const Moment a{frame, 25, 5, 150}, b{frame + 150, 25, 5, 150};
        EXPECT_EQ(a.loop(), b.loop()) << frame;
        EXPECT_GE(a.loop(), 0);
        EXPECT_LT(a.loop(), 1);
    }
}
