// Numbers as a person types them, in the window and behind --set.
#include <gtest/gtest.h>

#include "core/base/css_colour.h"
#include "core/base/error.h"
#include "core/base/text.h"
#include "core/formula/parse.h"
#include "core/resolve/parse_value.h"
#include "core/resolve/typed_number.h"
#include "tests/core/making.h"

using namespace gswarm;

TEST(TypedNumber, ArithmeticAndUnits) {
    const auto metres = [](const char* text) { return typedNumber(text, "m", 25).value_or(-999); };
    EXPECT_DOUBLE_EQ(metres("50cm"), 0.5);
    EXPECT_DOUBLE_EQ(metres("1/3"), 1.0 / 3);
    EXPECT_DOUBLE_EQ(metres("2 m + 5 mm"), 2.005);
    EXPECT_DOUBLE_EQ(metres("(1+2)*3cm"), 0.09);
    EXPECT_DOUBLE_EQ(metres("1,5"), 1.5);
    EXPECT_DOUBLE_EQ(metres("−2"), -2);
    EXPECT_DOUBLE_EQ(metres("1e3"), 1000);
    EXPECT_DOUBLE_EQ(metres("2*-3"), -6);
    const auto degrees = [](const char* text) { return typedNumber(text, "°", 25).value_or(-999); };
    EXPECT_DOUBLE_EQ(degrees("1/4 turns"), 90);
    EXPECT_DOUBLE_EQ(degrees("2 turns"), 720);
    EXPECT_DOUBLE_EQ(degrees("3 * 1/4 turn"), 270);
    EXPECT_DOUBLE_EQ(degrees("45°"), 45);
    const auto frames = [](const char* text) { return typedNumber(text, "frames", 25).value_or(-999); };
    EXPECT_DOUBLE_EQ(frames("12f"), 12);
    EXPECT_DOUBLE_EQ(frames("0.5s"), 12.5);
    EXPECT_DOUBLE_EQ(frames("1/2 s"), 12.5);
}

TEST(TypedNumber, WhatIsNoneIsEmpty) {
    for (const char* text : {"", " ", "abc", "1 2", "1/0", "nan", "inf", "1cm", "12f kg", "((1)", "1)", "--", "1e999", "0x10", "1e"})
        EXPECT_FALSE(typedNumber(text, "°", 25)) << text;
    EXPECT_FALSE(typedNumber(std::string("1\0"
                                         "2",
                                         3),
                             "m", 25));
    EXPECT_FALSE(typedNumber(std::string(100'000, '('), "m", 25));
    EXPECT_FALSE(typedNumber(std::string(100'000, '-') + "1", "m", 25));
}

TEST(TypedNumber, SetTakesWhatFieldsTake) {
    making::Build b;
    const auto set = [&](ObjectId object, const char* parameter, const char* typed) {
        const Address address = addressOf(b.scene, object, parameter);
        b.scene = setValue(b.scene, address, parseValue(b.scene, address, typed)).scene;
        std::vector<double> out;
        for (const Track& track : std::get<Numbers>(valueOf(b.scene, address))) out.push_back(track.value);
        return out;
    };
    EXPECT_EQ(set(b.swarm, "position", "50cm,1/4,-2 m"), (std::vector<double>{0.5, 0.25, -2}));
    EXPECT_EQ(set(b.swarm, "rotation", "1/4 turns,2 turns,30"), (std::vector<double>{90, 720, 30}));
    const ObjectId light = b.sky();
    const auto gold = set(light, "zenith", "#d9a441");
    EXPECT_NEAR(gold[0], 217 / 255.0, 1e-6);
    EXPECT_NEAR(gold[2], 65 / 255.0, 1e-6);
    EXPECT_EQ(set(light, "zenith", "0.1,0.2,0.3,1"), (std::vector<double>{0.1, 0.2, 0.3, 1}));
    const Address last = addressOf(b.scene, b.scene.project().id, "lastFrame");
    EXPECT_EQ(std::get<Numbers>(parseValue(b.scene, last, "2s")).front().value, 50);
    EXPECT_THROW(parseValue(b.scene, last, "soon"), Error);
}

TEST(CssColour, NamesDigitsAndFunctions) {
    const auto near = [](const char* text, glm::vec4 wanted) {
        const auto colour = cssColour(text);
        ASSERT_TRUE(colour) << text;
        for (int c = 0; c < 4; ++c) EXPECT_NEAR((*colour)[c], wanted[c], 0.003) << text;
    };
    near("red", {1, 0, 0, 1});
    near(" Teal ", {0, 0.502f, 0.502f, 1});
    near("#0f0", {0, 1, 0, 1});
    near("#0f08", {0, 1, 0, 0.533f});
    near("#11223344", {0.067f, 0.133f, 0.2f, 0.267f});
    near("rgb(50%, 0%, 100%)", {0.5f, 0, 1, 1});
    near("rgba(255 0 0 / 50%)", {1, 0, 0, 0.5f});
    near("hsl(120, 100%, 25%)", {0, 0.5f, 0, 1});
    for (const char* text : {"", "#12345", "#xyz", "reddish", "rgb(1,2)", "hsl(nan,1,1)", "rgb("}) EXPECT_FALSE(cssColour(text)) << text;
}

TEST(Text, NumbersThatFillTheirText) {
    EXPECT_EQ(numberIn("+1.5"), 1.5);
    EXPECT_EQ(numberIn("-.5"), -0.5);
    EXPECT_EQ(numberIn("1."), 1.0);
    EXPECT_EQ(numberIn("1e-999"), 0.0);
    for (const char* text : {"", "+", "+-1", "nan", "-inf", "1 ", " 1", "1,5", "0x1", "1e39", "1e", "--1", "1f"})
        EXPECT_FALSE(numberIn(text)) << text;
    EXPECT_EQ(wholeNumberIn("+12"), 12);
    EXPECT_FALSE(wholeNumberIn("12.0"));
    EXPECT_TRUE(isUtf8("Größe “x” 𝄞"));
    for (const char* text : {"\xFF", "\xC0\x80", "\xED\xA0\x80", "\xE2\x82", "\xF5\x80\x80\x80"}) EXPECT_FALSE(isUtf8(text));
}

TEST(Formula, ACharacterThatCantBeSeenIsTold) {
    try {
        parseFormula(std::string("1 + \0 2", 7));
        FAIL();
    } catch (const FormulaError& error) {
        EXPECT_NE(std::string(error.what()).find("code 0"), std::string::npos) << error.what();
        EXPECT_EQ(error.place, 4u);
    }
}
