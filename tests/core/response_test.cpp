// Responses: ranges, curves, steps, normalising and clips, each against its closed form.
#include <gtest/gtest.h>
#include <rapidcheck.h>
#include <rapidcheck/gtest.h>

#include <cmath>

#include "core/base/error.h"
#include "core/resolve/resolve.h"
#include "core/response/response.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;

namespace {

Response plain() {
    Response r = resolve(Scene{}, standardPart(responseKind), 0).as<Response>();
    r.table = tableOf(r.points);
    return r;
}
float after(const Response& r, float v, bool isSigned = false) { return respondOne(r, isSigned, v); }

}  // namespace

TEST(Response, TheDefaultLetsEverythingPassAlsoAnOvershoot) {
    for (const float v : {-3.0f, -0.2f, 0.0f, 0.4f, 1.0f, 7.5f}) EXPECT_EQ(after(plain(), v), v);
    EXPECT_TRUE(changesNothing(plain()));
}

RC_GTEST_PROP(Response, RangeToRangeIsALineThatGoesOnBothWays, ()) {
    const auto number = [](int low, int high) { return static_cast<float>(*rc::gen::inRange(low, high)) / 16; };
    Response r = plain();
    r.inLow = number(-32, 32);
    r.inHigh = r.inLow + number(1, 64);
    r.outLow = number(-64, 64);
    r.outHigh = number(-64, 64);
    const float v = number(-160, 160);
    const float wanted = r.outLow + (v - r.inLow) / (r.inHigh - r.inLow) * (r.outHigh - r.outLow);
    RC_ASSERT(std::abs(after(r, v) - wanted) <= 1e-4f * std::max(1.0f, std::abs(wanted)));
}

TEST(Response, InvertTurnsAboutAHalfOrAboutNothing) {
    Response r = plain();
    r.invert = true;
    EXPECT_FLOAT_EQ(after(r, 0.2f), 0.8f);
    EXPECT_FLOAT_EQ(after(r, 0.2f, true), -0.2f);
}

TEST(Response, CurvesBendBetweenAndLetPassBeyond) {
    Response r = plain();
    r.curve = ResponseCurve::slowStart;
    EXPECT_FLOAT_EQ(after(r, 0.5f), 0.25f);
    r.curve = ResponseCurve::slowEnd;
    EXPECT_FLOAT_EQ(after(r, 0.5f), 0.75f);
    r.curve = ResponseCurve::slowBoth;
    EXPECT_FLOAT_EQ(after(r, 0.25f), 0.25f * 0.25f * 2.5f);
    EXPECT_FLOAT_EQ(after(r, 1.5f), 1.5f);
}

TEST(Response, ADrawnCurveGoesThroughItsPointsWithTheirSlopes) {
    Response r = plain();
    r.curve = ResponseCurve::drawn;
    r.points = {{0.1, 0.2, 0.5, 2}, {0.4, 0.9, 0, -1}, {0.9, 0.3, 1, 3}};
    r.table = tableOf(r.points);
    for (const CurvePoint& p : r.points) EXPECT_NEAR(after(r, static_cast<float>(p.at)), p.value, 1e-6) << p.at;
    const auto slope = [&](double at, double step) {
        return (after(r, static_cast<float>(at + step)) - after(r, static_cast<float>(at))) / step;
    };
    EXPECT_NEAR(slope(0.1, 1e-3), 2, 0.05);
    EXPECT_NEAR(slope(0.4, -1e-3), 0, 0.05);
    EXPECT_NEAR(slope(0.4, 1e-3), -1, 0.05);
    // Straight on before the first point and after the last.
    EXPECT_NEAR(after(r, -0.9f), 0.2 - 0.5, 1e-5);
    EXPECT_NEAR(after(r, 1.9f), 0.3 + 3, 1e-5);
    // Between two points it is the cubic of Hermite.
    const double s = 0.5, d = 0.3;
    EXPECT_NEAR(after(r, 0.25f),
                (2 * s * s * s - 3 * s * s + 1) * 0.2 + (s * s * s - 2 * s * s + s) * d * 2 + (3 * s * s - 2 * s * s * s) * 0.9 +
                    (s * s * s - s * s) * d * 0,
                1e-6);
    // A new drawn curve changes nothing, so that no overshoot is lost by choosing it.
    Response fresh = plain();
    fresh.curve = ResponseCurve::drawn;
    for (const float v : {-0.5f, 0.3f, 1.7f}) EXPECT_NEAR(after(fresh, v), v, 1e-6f);
}

TEST(Response, StepsGiveThatManyValues) {
    Response r = plain();
    r.steps = 5;
    std::set<float> values;
    for (int k = 0; k <= 1000; ++k) values.insert(after(r, static_cast<float>(k) / 1000));
    EXPECT_EQ(values.size(), 5u);
    EXPECT_EQ(*values.begin(), 0);
    EXPECT_EQ(*values.rbegin(), 1);
}

TEST(Response, AClipCountsWhatItCuts) {
    Build b = Build::grid(11, 1, 1);
    const ObjectId g = b.gesture("alongAxis");
    b.set(g, "position", true).set(g, "positionAmount", {0, 1, 0});
    b.set(g, "shaped-inLow", {0.25}).set(g, "shaped-inHigh", {0.75}).set(g, "shaped-clip", true);
    const auto result = b.result();
    int cut = 0;
    for (const auto& row : b.rows()) {
        const float u = static_cast<float>(row.number) / 10, raw = (u - 0.25f) / 0.5f;
        EXPECT_NEAR(row.position.y, std::clamp(raw, 0.0f, 1.0f), 1e-6f);
        cut += raw < 0 || raw > 1;
    }
    EXPECT_EQ(result->cards[0].clippedShaped, cut);
    EXPECT_GT(cut, 0);
    b.set(g, "shaped-clip", false);
    EXPECT_EQ(b.result()->cards[0].clippedShaped, 0);
    EXPECT_NEAR(b.rows()[10].position.y, 1.5f, 1e-6f);  // the overshoot passes
}

TEST(Response, NormaliseSpreadsWhatThereIsOverTheWholeSwarm) {
    Build b = Build::grid(3000, 1, 1);
    const ObjectId g = b.gesture("noise");
    b.set(g, "position", true).set(g, "positionAmount", {0, 1, 0}).set(g, "pattern-sameOnAllAxes", true).set(g, "pattern-size", {7});
    const auto before = b.rows();
    float least = 9, most = -9;
    for (const auto& row : before) least = std::min(least, row.position.y), most = std::max(most, row.position.y);
    b.set(g, "shaped-normalise", true);
    const auto after = b.rows();
    for (std::size_t i = 0; i < after.size(); ++i)
        ASSERT_NEAR(after[i].position.y, (before[i].position.y - least) / (most - least) * 2 - 1, 2e-5f) << i;
}

TEST(Response, NormaliseOfEqualWeightsIsNoDivisionByNothing) {
    Build b = Build::grid(4, 1, 1);
    const ObjectId g = b.gesture();
    b.set(g, "position", true).set(g, "where-normalise", true);
    for (const auto& row : b.rows()) EXPECT_TRUE(std::isfinite(row.position.y));
}

TEST(Response, CurvesWithTooFewOrUnsortedPointsAreRefused) {
    Build b;
    const ObjectId g = b.gesture();
    EXPECT_THROW(b.set(g, "where-points", Value(CurvePoints{{0, 0, 1, 1}})), Error);
    EXPECT_THROW(b.set(g, "where-points", Value(CurvePoints{{0.8, 0, 1, 1}, {0.2, 1, 1, 1}})), Error);
    EXPECT_THROW(b.set(g, "where-points", Value(CurvePoints{{0, 0, 1, 1}, {0, 1, 1, 1}})), Error);
    EXPECT_THROW(b.set(g, "where-points", Value(CurvePoints{{0, NAN, 1, 1}, {1, 1, 1, 1}})), Error);
    EXPECT_THROW(b.set(g, "where-points", Value(CurvePoints(mostCurvePoints + 1))), Error);
}
