// The formula engine: what is understood and what is refused where, every function against the C++ library, names, and
// what is no number.
#include <gtest/gtest.h>
#include <hwy/targets.h>
#include <rapidcheck.h>
#include <rapidcheck/gtest.h>

#include <cmath>
#include <cstring>
#include <fstream>

#include "core/base/error.h"
#include "core/edit/rail_edits.h"
#include "core/formula/bind.h"
#include "core/formula/instance_formula.h"
#include "core/formula/operation.h"
#include "core/formula/parse.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;

namespace {

/// Runs a formula over 16 values of x and 16 of y.
std::vector<float> run(std::string_view text, const std::vector<float>& x, const std::vector<float>& y = std::vector<float>(16, 0)) {
    const FormulaScope scope = [](const std::string& name) -> std::optional<FormulaSource> {
        if (name == "x") return FormulaSource{true, 0, 0};
        if (name == "y") return FormulaSource{true, 0, 1};
        if (name == "seven") return FormulaSource{false, 7, 0};
        return std::nullopt;
    };
    const FormulaProgram program = compileFormula(parseFormula(text), scope);
    struct Space {
        alignas(64) float x[16], y[16];
        alignas(64) Column work[formulaColumns];
        alignas(64) float out[16];
    };
    const auto space = std::make_unique<Space>();
    std::copy_n(x.begin(), 16, space->x);
    std::copy_n(y.begin(), 16, space->y);
    FormulaColumns columns;
    columns.input[0] = space->x;
    columns.input[1] = space->y;
    runFormula(program, columns, 16, space->work, space->out);
    return {space->out, space->out + 16};
}
float one(std::string_view text, float x = 0, float y = 0) { return run(text, std::vector<float>(16, x), std::vector<float>(16, y))[0]; }

/// Where a formula is refused, and what is said.
std::pair<int, std::string> refused(std::string_view text) {
    try {
        run(text, std::vector<float>(16, 0));
        return {-1, ""};
    } catch (const FormulaError& error) {
        return {static_cast<int>(error.place), error.what()};
    }
}

}  // namespace

TEST(Formula, BindsAsMathematicsDoes) {
    EXPECT_EQ(one("1 + 2 * 3"), 7);
    EXPECT_EQ(one("(1 + 2) * 3"), 9);
    EXPECT_EQ(one("2 - 3 - 4"), -5);
    EXPECT_EQ(one("24 / 4 / 2"), 3);
    EXPECT_EQ(one("-2 ^ 2"), -4);
    EXPECT_EQ(one("2 ^ 3 ^ 2"), 512);
    EXPECT_EQ(one("2 * -3"), -6);
    EXPECT_EQ(one("seven - .5e1"), 2);
    EXPECT_EQ(one("1 < 2 && 3 >= 4 || 5 != 6 ? 10 : 20"), 10);
    EXPECT_EQ(one("1 > 2 ? 1 : 2 > 1 ? 5 : 6"), 5);
    EXPECT_EQ(one("!(x < 1) ? 3 : 4", 2), 3);
}

TEST(Formula, EveryFunctionMatchesTheLibrary) {
    struct Case {
        const char* text;
        double (*wanted)(double, double);
        double low, high, tolerance;
    };
    const Case cases[] = {
        {"abs(x)", [](double x, double) { return std::abs(x); }, -5, 5, 0},
        {"sign(x)", [](double x, double) { return double(x > 0) - double(x < 0); }, -5, 5, 0},
        {"floor(x)", [](double x, double) { return std::floor(x); }, -5, 5, 0},
        {"ceil(x)", [](double x, double) { return std::ceil(x); }, -5, 5, 0},
        {"trunc(x)", [](double x, double) { return std::trunc(x); }, -5, 5, 0},
        {"round(x)", [](double x, double) { return std::floor(x + 0.5); }, -5, 5, 0},
        {"fract(x)", [](double x, double) { return x - std::floor(x); }, -5, 5, 1e-6},
        {"sqrt(x)", [](double x, double) { return std::sqrt(x); }, 0, 50, 1e-6},
        {"inversesqrt(x)", [](double x, double) { return 1 / std::sqrt(x); }, 0.1, 50, 1e-6},
        {"exp(x)", [](double x, double) { return std::exp(x); }, -20, 20, 3e-6},
        {"log(x)", [](double x, double) { return std::log(x); }, 0.001, 1000, 3e-6},
        {"exp2(x)", [](double x, double) { return std::exp2(x); }, -20, 20, 3e-6},
        {"log2(x)", [](double x, double) { return std::log2(x); }, 0.001, 1000, 3e-6},
        {"sin(x)", [](double x, double) { return std::sin(x); }, -50, 50, 4e-6},
        {"cos(x)", [](double x, double) { return std::cos(x); }, -50, 50, 4e-6},
        {"tan(x)", [](double x, double) { return std::tan(x); }, -1.4, 1.4, 4e-5},
        {"asin(x)", [](double x, double) { return std::asin(x); }, -1, 1, 3e-6},
        {"acos(x)", [](double x, double) { return std::acos(x); }, -1, 1, 3e-6},
        {"atan(x)", [](double x, double) { return std::atan(x); }, -50, 50, 2e-6},
        {"radians(x)", [](double x, double) { return x * 0.017453292519943295; }, -360, 360, 1e-5},
        {"degrees(x)", [](double x, double) { return x * 57.29577951308232; }, -6, 6, 1e-4},
        {"min(x, y)", [](double x, double y) { return std::min(x, y); }, -5, 5, 0},
        {"max(x, y)", [](double x, double y) { return std::max(x, y); }, -5, 5, 0},
        {"mod(x, y)", [](double x, double y) { return x - y * std::floor(x / y); }, 0.5, 9, 1e-5},
        {"pow(x, y)", [](double x, double y) { return std::pow(x, y); }, 0.2, 4, 2e-5},
        {"step(x, y)", [](double x, double y) { return y < x ? 0.0 : 1.0; }, -5, 5, 0},
        {"clamp(x, -1, 2)", [](double x, double) { return std::clamp(x, -1.0, 2.0); }, -5, 5, 0},
        {"mix(x, y, 0.25)", [](double x, double y) { return x + (y - x) * 0.25; }, -5, 5, 1e-6},
        {"smoothstep(-1, 3, x)",
         [](double x, double) {
             const double t = std::clamp((x + 1) / 4, 0.0, 1.0);
             return t * t * (3 - 2 * t);
         },
         -5, 5, 1e-6},
        {"x ^ 2", [](double x, double) { return x * x; }, -5, 5, 1e-6},
        {"x ^ 3", [](double x, double) { return x * x * x; }, -5, 5, 1e-5},
    };
    for (const Case& c : cases)
        for (int k = 0; k < 40; ++k) {
            std::vector<float> x(16), y(16);
            for (int i = 0; i < 16; ++i) {
                x[static_cast<std::size_t>(i)] = static_cast<float>(c.low + (c.high - c.low) * (k * 16 + i) / 640);
                y[static_cast<std::size_t>(i)] = static_cast<float>(c.high - (c.high - c.low) * ((k * 16 + i) * 37 % 640) / 640);
            }
            const auto got = run(c.text, x, y);
            for (std::size_t i = 0; i < 16; ++i) {
                const double wanted = c.wanted(x[i], y[i]);
                ASSERT_NEAR(got[i], wanted, c.tolerance * std::max(1.0, std::abs(wanted))) << c.text << " at " << x[i] << ", " << y[i];
            }
        }
}

TEST(Formula, PointsAtThePlaceThatCannotBeUnderstood) {
    const std::tuple<const char*, int, const char*> cases[] = {
        {"", 0, "empty"},
        {"1 +", 3, "missing at the end"},
        {"1 + * 2", 4, "not expected"},
        {"sin(x", 5, "“)” is missing"},
        {"sin x", 0, "in brackets"},
        {"min(1)", 0, "takes 2 numbers"},
        {"x + wobble", 4, "nothing called"},
        {"x # 2", 2, "means nothing"},
        {"foo(1)", 0, "no function"},
        {"x > 1", 2, "takes a number"},
        {"x ? 1 : 2", 0, "takes a comparison"},
        {"1 2", 2, "not expected"},
        {"(x > 1) + 1", 3, "comparison"},
        {"1e99999", 0, "too large"},
        {"'open.radius", 0, "never closed"},
    };
    for (const auto& [text, place, said] : cases) {
        const auto [at, sentence] = refused(text);
        EXPECT_EQ(at, place) << text << ": " << sentence;
        EXPECT_NE(sentence.find(said), std::string::npos) << text << ": " << sentence;
    }
}

TEST(Formula, HasLimits) {
    EXPECT_NE(refused(std::string(200, '(') + "1" + std::string(200, ')')).second.find("nested too deeply"), std::string::npos);
    EXPECT_NE(refused(std::string(200, '-') + "1").second.find("nested too deeply"), std::string::npos);
    std::string sum = "1";
    for (int k = 0; k < 1500; ++k) sum += "+x";
    EXPECT_NE(refused(sum).second.find("too long"), std::string::npos);
    EXPECT_NE(refused(std::string(longestFormula + 1, '1')).second.find("characters"), std::string::npos);
    EXPECT_EQ(refused(std::string(50, '(') + "x" + std::string(50, ')')).first, -1);
}

RC_GTEST_PROP(Formula, WhateverIsTypedIsEitherRefusedOrRuns, (const std::vector<std::uint8_t>& picks)) {
    static const char* const pieces[] = {"x",    "y",      "1",       ".5",          "+",  "-",  "*",  "/",        "^", "(",
                                         ")",    ",",      "?",       ":",           "<",  ">=", "==", "&&",       "!", "sin",
                                         "min(", "noise(", "chance(", "smoothstep(", "pi", " ",  "'",  "\xC3\xA4", "#", "1e9"};
    std::string text;
    for (const auto pick : picks) text += pieces[pick % std::size(pieces)];
    try {
        const auto out = run(text, std::vector<float>(16, 0.5f));
        RC_ASSERT(out.size() == 16u);
    } catch (const FormulaError& error) {
        RC_ASSERT(error.place <= text.size());
        RC_ASSERT(std::string(error.what()).size() > 5u);
    }
}

TEST(Formula, SameBitsOnEveryTargetAndWhenConstantsAreFolded) {
    const char* const formulas[] = {"sin(x) * cos(y) + tan(x * 0.1)", "exp(x * 0.3) - log(y + 9)",
                                    "pow(x + 9, 0.37) ^ 1.3",         "noise(x, y, x * y)",
                                    "x > y ? atan(x) : asin(y / 9)",  "smoothstep(-3, 4, x) / mod(y + 20, 3)",
                                    "inversesqrt(x * x + 1)"};
    std::vector<float> x(16), y(16);
    for (int i = 0; i < 16; ++i)
        x[static_cast<std::size_t>(i)] = static_cast<float>(i) * 0.91f - 7,
        y[static_cast<std::size_t>(i)] = 8 - static_cast<float>(i) * 0.77f;
    for (const char* text : formulas) {
        const auto wanted = run(text, x, y);
        for (std::int64_t left = hwy::SupportedTargets(); left != 0; left &= left - 1) {
            hwy::SetSupportedTargetsForTest(left & -left);
            const auto got = run(text, x, y);
            EXPECT_EQ(std::memcmp(got.data(), wanted.data(), 64), 0) << text << " on " << hwy::TargetName(left & -left);
        }
        hwy::SetSupportedTargetsForTest(0);
    }
    EXPECT_EQ(one("sin(1.25) * 3"), one("sin(x) * 3", 1.25f));
}

TEST(Formula, AnInstanceIsReachedByItsShortNames) {
    Build b = Build::grid(4, 2, 3);
    const ObjectId early = b.gesture(), g = b.gesture("formula");
    b.set(early, "position", true).set(early, "positionAmount", {0, 2, 0});
    b.set(b.scene.project().id, "loopFrames", {40});
    b.set(g, "value", true);
    b.scene = addNamedValue(b.scene, b.swarm, "told").scene;
    const ObjectId told = b.scene.at(b.swarm).list("namedValues").front();
    b.set(g, "valueOf", Value(told)).set(g, "valueAmount", {1});
    const auto homes = Build::grid(4, 2, 3).rows();
    const auto value = [&](const char* text, std::size_t i) {
        Build c = b;
        c.set(g, "pattern-value", Value(boundFormula(c.scene, text)));
        return c.rows(10)[i].named[0];
    };
    for (const std::size_t i : {std::size_t{0}, std::size_t{5}, std::size_t{23}}) {
        EXPECT_EQ(value("i", i), static_cast<float>(i));
        EXPECT_EQ(value("n", i), 24);
        EXPECT_FLOAT_EQ(value("share", i), static_cast<float>(i) / 23);
        EXPECT_EQ(value("x", i), homes[i].position.x);
        EXPECT_EQ(value("y", i), homes[i].position.y);
        EXPECT_EQ(value("z", i), homes[i].position.z);
        EXPECT_EQ(value("yNow", i), homes[i].position.y + 2);
        EXPECT_EQ(value("xSize", i), 1);
        EXPECT_EQ(value("frame", i), 10);
        EXPECT_FLOAT_EQ(value("t", i), 10 / 25.0f);
        EXPECT_FLOAT_EQ(value("loop", i), 0.25f);
        EXPECT_EQ(value("told", i), 0);
        const float chance = value("chance(3)", i);
        EXPECT_GE(chance, 0);
        EXPECT_LT(chance, 1);
    }
    EXPECT_NE(value("chance(3)", 0), value("chance(4)", 0));
    EXPECT_NE(value("chance(3)", 0), value("chance(3)", 1));
}

TEST(Formula, NumbersOfOtherThingsAreNamedAndRenamingRewritesThem) {
    Build b = Build::grid(3, 1, 1);
    const ObjectId g = b.gesture("formula");
    const ObjectId z = b.zone(b.gesture(), "ball");
    b.scene = rename(b.scene, z, "Great swell").scene;
    b.set(z, "radius", {3}).set(z, "position", {0, 0, 2});
    b.set(g, "position", true).set(g, "positionAmount", {0, 1, 0});
    b.set(g, "pattern-value", Value(boundFormula(b.scene, "'Great swell'.radius * 2 + 'Great swell'.position.z")));
    EXPECT_FLOAT_EQ(b.rows()[0].position.y, 8);
    b.scene = rename(b.scene, z, "Tide").scene;
    const auto text = [&] { return std::get<Formula>(valueOf(b.scene, addressOf(b.scene, g, "pattern-value"))).text; };
    EXPECT_EQ(text(), "Tide.radius * 2 + Tide.position.z");
    EXPECT_FLOAT_EQ(b.rows()[0].position.y, 8);
    b.scene = rename(b.scene, z, "It's").scene;  // a quote can't stand in a name: the id does
    EXPECT_FLOAT_EQ(b.rows()[0].position.y, 8);
    b.set(z, "radius", {4});
    EXPECT_FLOAT_EQ(b.rows()[0].position.y, 10);
    // Keyed, it is read at the frame.
    b.key(z, "radius", {{0, 1, Ease::linear}, {10, 2, Ease::linear}});
    EXPECT_FLOAT_EQ(b.rows(5)[0].position.y, 5);
    b.scene = remove(b.scene, z).scene;
    EXPECT_NE(b.result()->cards[0].waits.find("was deleted"), std::string::npos) << b.result()->cards[0].waits;
}

TEST(Formula, AmbiguousAndUnknownNamesAreRefusedAtTheirPlace) {
    Build b = Build::grid(3, 1, 1);
    const ObjectId g = b.gesture();
    const ObjectId first = b.zone(g, "ball"), second = b.zone(g, "ball");
    b.scene = rename(b.scene, first, "Same").scene;
    b.scene = rename(b.scene, second, "Same").scene;
    const auto place = [&](const char* text) {
        try {
            boundFormula(b.scene, text);
            return -1;
        } catch (const FormulaError& error) {
            return static_cast<int>(error.place);
        }
    };
    EXPECT_EQ(place("1 + Same.radius"), 4);
    EXPECT_EQ(place("2 * Other.radius"), 4);
    EXPECT_EQ(place("x + y"), -1);
    const auto names = reachableNames(b.scene);
    EXPECT_NE(std::find(names.begin(), names.end(), "Same.radius"), names.end());
    EXPECT_NE(std::find(names.begin(), names.end(), "Swarm.position.x"), names.end());
}

TEST(Formula, WhatIsNoNumberLeavesTheInstanceAsItWasAndIsCounted) {
    Build b = Build::grid(5, 1, 1);
    const ObjectId first = b.gesture(), g = b.gesture("formula"), last = b.gesture();
    for (const ObjectId lift : {first, last}) b.set(lift, "position", true).set(lift, "positionAmount", {0, 1, 0});
    b.set(g, "position", true).set(g, "positionAmount", {0, 10, 0}).set(g, "scale", true);
    const std::pair<const char*, int> cases[] = {{"1 / i", 1},         {"sqrt(1.5 - i)", 3}, {"log(i - 2)", 3},
                                                 {"exp(i * 1000)", 4}, {"0 / 0", 5},         {"1e30 * 1e30", 5}};
    for (const auto& [text, bad] : cases) {
        b.set(g, "pattern-value", Value(Formula{text, {}}));
        const auto result = b.result();
        EXPECT_EQ(result->cards[1].notFinite, bad) << text;
        EXPECT_EQ(result->notFinite, 0) << text;
        EXPECT_EQ(result->visible, 5) << text;
        int kept = 0;
        for (const auto& row : b.rows()) {
            EXPECT_TRUE(std::isfinite(row.position.y + row.scale.x)) << text;
            kept += row.position.y == 2 && row.scale.x == 1;
        }
        EXPECT_GE(kept, bad) << text;
    }
    // A zone's formula the same.
    const ObjectId z = b.zone(first, "formula");
    b.set(z, "weight", Value(Formula{"1 / (i - 2)", {}}));
    EXPECT_EQ(b.result()->cards[0].notFinite, 1);
}

TEST(Formula, ItsRootMustBeANumberAndAConditionATruth) {
    EXPECT_THROW(parseFormula("x > 1"), FormulaError);
    EXPECT_THROW(parseCondition("x + 1"), FormulaError);
    EXPECT_NO_THROW(parseCondition("x > 1 && !(x > 2)"));
}

TEST(FormulaPage, TellsEveryNameAndFunction) {
    std::ifstream file(std::string(GSWARM_SOURCE) + "/docs/guide/formulas.md");
    const std::string page{std::istreambuf_iterator<char>(file), {}};
    for (const auto& function : formulaFunctions())
        EXPECT_NE(page.find(std::string("`") + function.shown + "` — " + function.summary), std::string::npos) << function.name;
    for (const auto& name : formulaNames()) EXPECT_NE(page.find(std::string("`") + name.name + "`"), std::string::npos) << name.name;
}
