// Drawings: units, places within places, clip paths, dashes, style sheets, what is hidden, and what is told.
#include <gtest/gtest.h>

#include <numbers>

#include <algorithm>

#include "core/base/error.h"
#include "core/shape/svg.h"
#include "tests/core/meshes.h"

using namespace gswarm;

namespace {

SvgDrawing drawing(const std::string& body, const std::string& attributes = "viewBox='0 0 100 100'") {
    return readSvg("<svg xmlns='http://www.w3.org/2000/svg' " + attributes + ">" + body + "</svg>", 32);
}

/// What a drawing covers, item by item, in square units.
double area(const SvgDrawing& from) {
    double sum = 0;
    for (const SvgItem& item : from.items) {
        std::vector<Outline> clips;
        for (const auto& clip : item.clips) {
            std::vector<Outline> areas;
            for (const SvgArea& one : *clip) areas.push_back(filled(one.contours, one.rule, 1e-4));
            clips.push_back(unitedOf(areas));
        }
        const auto add = [&](Outline outline) {
            if (!clips.empty()) outline = clippedBy(outline, clips);
            if (!outline.contours.empty()) sum += making::signedVolume(extrude(outline, {1, 0, BevelForm::rounded, 1}));
        };
        if (!item.area.contours.empty()) add(filled(item.area.contours, item.area.rule, 1e-4));
        if (!item.stroke.lines.empty()) add(stroked(item.stroke.lines, item.stroke.closed, item.stroke.stroke, 1e-4));
    }
    return sum;
}
double area(const std::string& body, const std::string& attributes = "viewBox='0 0 100 100'") { return area(drawing(body, attributes)); }

bool tells(const SvgDrawing& of, const std::string& what) {
    return std::any_of(of.leftOut.begin(), of.leftOut.end(), [&](const std::string& one) { return one.starts_with(what); });
}

using std::numbers::pi;

}  // namespace

TEST(Svg, UnitsAreThoseOfTheStandard) {
    EXPECT_NEAR(area("<rect width='1in' height='1in'/>"), 96 * 96, 0.5);
    EXPECT_NEAR(area("<rect width='25.4mm' height='72pt'/>"), 96 * 96, 0.5);
    EXPECT_NEAR(area("<rect width='2.54cm' height='6pc'/>"), 96 * 96, 0.5);
    EXPECT_NEAR(area("<rect width='50%' height='25%'/>"), 50 * 25, 0.1);
    EXPECT_NEAR(area("<circle cx='50' cy='50' r='10%'/>"), pi * 100, 0.5);
    EXPECT_NEAR(area("<path d='M0 0H50' fill='none' stroke='black' stroke-width='1mm'/>"), 50 * 96 / 25.4, 0.1);
}

TEST(Svg, DrawingsInDrawingsHavePlacesThatCutThem) {
    const std::string inner = "<svg x='10' y='10' width='20' height='20' viewBox='0 0 10 10'><rect width='40' height='5'/></svg>";
    const SvgDrawing made = drawing(inner);
    EXPECT_NEAR(area(made), 20 * 10, 0.1);  // twice as large, cut at the edge of its place
    EXPECT_NEAR(made.items[0].area.contours[0][0].x, 10, 1e-6);
    EXPECT_NEAR(area("<svg width='20' height='40' viewBox='0 0 10 10'><rect width='10' height='10'/></svg>"), 400, 0.1);
    EXPECT_NEAR(area("<svg width='20' height='40' viewBox='0 0 10 10' preserveAspectRatio='none'><rect width='10' height='10'/></svg>"),
                800, 0.1);
    EXPECT_NEAR(area("<svg width='20' height='40' viewBox='0 0 10 10' overflow='visible'><rect width='40' height='1'/></svg>"), 160, 0.1);
}

TEST(Svg, ClipPathsCut) {
    const std::string clip = "<clipPath id='c'><rect width='5' height='5'/><rect x='5' y='5' width='2' height='2'/></clipPath>";
    EXPECT_NEAR(area(clip + "<rect width='10' height='10' clip-path='url(#c)'/>"), 29, 0.01);
    EXPECT_NEAR(area(clip + "<g clip-path='url(#c)'><rect width='3' height='10'/></g>"), 15, 0.01);
    EXPECT_NEAR(area("<clipPath id='b' clipPathUnits='objectBoundingBox'><rect width='.5' height='1'/></clipPath>"
                     "<rect x='20' width='10' height='10' clip-path='url(#b)'/>"),
                50, 0.01);
    EXPECT_NEAR(area(clip + "<rect width='10' height='10' style='clip-path: url(#c)' transform='translate(1 1)'/>"), 29, 0.01);
}

TEST(Svg, DashesCutStrokes) {
    const std::string line = "<path d='M0 0H60' fill='none' stroke='black' stroke-width='2' stroke-dasharray=";
    EXPECT_NEAR(area(line + "'6 4'/>"), 2 * 36, 0.01);
    EXPECT_NEAR(area(line + "'5'/>"), 2 * 30, 0.01);
    EXPECT_NEAR(area(line + "'6 4' stroke-dashoffset='6'/>"), 2 * 36, 0.01);
    EXPECT_NEAR(area(line + "'none'/>"), 120, 0.01);
    EXPECT_NEAR(area(line + "'0 0'/>"), 120, 0.01);
    EXPECT_THROW(area("<path d='M0 0H1e9' fill='none' stroke='black' stroke-dasharray='0.001'/>"), Error);
}

TEST(Svg, StyleSheetsGoBetweenAttributesAndStyles) {
    const auto colour = [](const std::string& body) { return drawing(body).items.at(0).area.colour; };
    const std::string sheet = "<style>/* c */ rect { fill: #00f } .a, .b { fill: #0f0 } #x { fill: #f00 } rect.a { fill: #ff0 }</style>";
    EXPECT_EQ(colour(sheet + "<rect width='1' height='1' fill='white'/>"), glm::vec4(0, 0, 1, 1));
    EXPECT_EQ(colour(sheet + "<rect class='b' width='1' height='1'/>"), glm::vec4(0, 1, 0, 1));
    EXPECT_EQ(colour(sheet + "<rect class='c a' width='1' height='1'/>"), glm::vec4(1, 1, 0, 1));
    EXPECT_EQ(colour(sheet + "<rect class='a' id='x' width='1' height='1'/>"), glm::vec4(1, 0, 0, 1));
    EXPECT_EQ(colour(sheet + "<rect id='x' style='fill: white' width='1' height='1'/>"), glm::vec4(1));
    const SvgDrawing rest = drawing(
        "<style>@media print { rect { fill: red } } g > rect { fill: red } rect { fill: lime }</style><rect width='1' height='1'/>");
    EXPECT_EQ(rest.items.at(0).area.colour, glm::vec4(0, 1, 0, 1));
    EXPECT_TRUE(tells(rest, "2 rules of style sheets"));
}

TEST(Svg, PrefixesHiddenGroupsAndSwitches) {
    const SvgDrawing prefixed = readSvg(
        "<svg:svg xmlns:svg='http://www.w3.org/2000/svg' width='30mm' height='10mm'><svg:g><svg:rect width='5' "
        "height='5'/></svg:g></svg:svg>",
        8);
    EXPECT_NEAR(area(prefixed), 25, 0.01);
    EXPECT_NEAR(area("<g visibility='hidden'><rect width='5' height='5'/><rect visibility='visible' width='2' height='2'/></g>"), 4, 0.01);
    EXPECT_NEAR(area("<g display='none'><rect visibility='visible' width='2' height='2'/></g><rect width='1' height='1'/>"), 1, 0.01);
    EXPECT_NEAR(area("<switch><foreignObject/><rect width='2' height='2'/><rect width='9' height='9'/></switch>"), 4, 0.01);
}

TEST(Svg, GradientsAreTheColourOfTheirMiddleAndTold) {
    const std::string gradient =
        "<linearGradient id='g'><stop offset='0' stop-color='red'/><stop offset='45%' style='stop-color:#00ff00;stop-opacity:.5'/>"
        "<stop offset='1' stop-color='blue'/></linearGradient><radialGradient id='h' href='#g'/>";
    const SvgDrawing made = drawing(gradient + "<rect width='5' height='5' fill='url(#g)'/><rect width='5' height='5' fill='url(#h)'/>");
    ASSERT_EQ(made.items.size(), 2u);
    for (const SvgItem& item : made.items) EXPECT_EQ(item.area.colour, glm::vec4(0, 1, 0, 0.5f));
    EXPECT_TRUE(tells(made, "2 gradients"));
    const SvgDrawing fallback = drawing("<rect width='5' height='5' fill='url(#none) teal'/>");
    EXPECT_NEAR(fallback.items.at(0).area.colour.y, 0.502, 0.002);
    EXPECT_TRUE(drawing("<rect width='5' height='5' fill='url(#none)'/>").items.empty());
    EXPECT_TRUE(tells(drawing("<rect width='5' height='5' fill='reddish'/>"), "1 unknown colour"));
}

TEST(Svg, WhatIsLeftOutIsTold) {
    const SvgDrawing made = drawing(
        "<text>Reef</text><image href='a.png'/><g mask='url(#m)' filter='url(#f)'><rect width='2' height='2'/></g>"
        "<path d='M0 0 L 5 5 L 5 0 Z X'/>");
    for (const char* wanted : {"1 text", "1 picture", "1 mask", "1 filter", "1 end of a damaged path"})
        EXPECT_TRUE(tells(made, wanted)) << wanted;
    EXPECT_TRUE(drawing("<rect width='2' height='2'/>").leftOut.empty());
}

TEST(Svg, MoreThanCanBeDrawnIsRefusedBeforeItIsMade) {
    std::string smooth = "<path d='M0 0";
    for (int k = 0; k < 300'000; ++k) smooth += "T 3 4";
    EXPECT_THROW(drawing(smooth + "'/>"), Error);
    std::string wild = "M0 0";
    for (int k = 1; k < 4000; ++k) wild += " L" + std::to_string(k * 7919 % 1000) + " " + std::to_string(k * 104729 % 997);
    const SvgDrawing tangled = drawing("<path d='" + wild + "Z'/>");
    EXPECT_THROW(filled(tangled.items.at(0).area.contours, FillRule::nonZero, 1e-4), Error);
}
