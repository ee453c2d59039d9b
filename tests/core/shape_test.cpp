// Solids, curves, lettering and broken shapes.
#include <gtest/gtest.h>

#include <rapidcheck.h>
#include <rapidcheck/gtest.h>
#include <numbers>

#include <cmath>
#include <glm/geometric.hpp>
#include <map>

#include "core/base/error.h"
#include "core/shape/inside.h"
#include "core/shape/outline.h"
#include "core/shape/pieces.h"
#include "core/shape/shape_kind.h"
#include "tests/core/meshes.h"

using namespace gswarm;
using making::expectClosed;
using making::expectSound;
using making::mesh;

namespace {

using std::numbers::pi;

std::map<std::size_t, int> facesBySides(const Mesh& mesh) {
    std::map<std::size_t, int> count;
    for (const auto& polygon : facePolygons(mesh, topologyOf(mesh))) ++count[polygon.size()];
    return count;
}

ShapeSource sourceOf(const Mesh& given) {
    auto meshes = std::make_shared<ShapeMeshes>();
    meshes->level.fill(std::make_shared<const Mesh>(given));
    ShapeSource source;
    source.shape = [meshes](ObjectId) { return meshes; };
    return source;
}

}  // namespace

TEST(Shape, SolidsAreClosedOrientedAndSoundAtEveryDetail) {
    const std::vector<std::pair<std::string, making::Chosen>> solids = {{"box", {}},
                                                                        {"ball", {{"by", "rings"}}},
                                                                        {"ball", {{"by", "triangles"}}},
                                                                        {"ball", {{"by", "squares"}}},
                                                                        {"geodesicBall", {{"facets", "triangles"}}},
                                                                        {"geodesicBall", {{"facets", "hexagons"}}},
                                                                        {"geodesicBall", {{"facets", "hexagons"}, {"smooth", "on"}}},
                                                                        {"regularSolid", {{"solid", "tetrahedron"}}},
                                                                        {"regularSolid", {{"solid", "cube"}}},
                                                                        {"regularSolid", {{"solid", "octahedron"}}},
                                                                        {"regularSolid", {{"solid", "dodecahedron"}}},
                                                                        {"regularSolid", {{"solid", "icosahedron"}}},
                                                                        {"tube", {}},
                                                                        {"cone", {}},
                                                                        {"ring", {}},
                                                                        {"circle", {}},
                                                                        {"helix", {}},
                                                                        {"line", {}},
                                                                        {"path", {}},
                                                                        {"path", {{"closed", "on"}}},
                                                                        {"lettering", {}}};
    for (const auto& [kind, choices] : solids) {
        const ShapeMeshes made = making::shape(kind, {}, choices);
        for (int d = 0; d < detailLevels; ++d) {
            const std::string what = kind + (choices.empty() ? "" : " " + choices.back().second) + " at detail " + std::to_string(d);
            expectClosed(*made.level[static_cast<std::size_t>(d)], what);
            expectSound(*made.level[static_cast<std::size_t>(d)], what);
        }
    }
    expectSound(mesh("card"), "card");
    expectSound(mesh("disc"), "disc");
    expectSound(mesh("disc", {{"hole", {0.2}}}), "disc with a hole");
}

RC_GTEST_PROP(Shape, TubesAndConesAreClosedWhateverTheirNumbers, ()) {
    const double radius = *rc::gen::inRange(1, 400) / 100.0, wall = *rc::gen::inRange(1, 500) / 100.0,
                 top = *rc::gen::inRange(0, 300) / 100.0;
    const double sides = *rc::gen::inRange(3, 40), rows = *rc::gen::inRange(1, 6);
    expectClosed(mesh("tube", {{"radius", {radius}}, {"wall", {wall}}, {"sides", {sides}}, {"rows", {rows}}}), "tube");
    expectClosed(mesh("cone", {{"radius", {radius}}, {"topRadius", {top}}, {"sides", {sides}}, {"rows", {rows}}}), "cone");
}

TEST(Shape, VolumesNearTheirFormulas) {
    EXPECT_NEAR(making::signedVolume(mesh("box", {{"rounding", {0}}, {"size", {1, 2, 3}}})), 6, 1e-5);
    for (const char* by : {"rings", "triangles", "squares"})
        EXPECT_NEAR(
            making::signedVolume(mesh("ball", {{"radius", {2}}, {"sides", {128}}, {"rings", {64}}, {"divisions", {32}}}, {{"by", by}})),
            4 * pi * 8 / 3, 0.15);
    EXPECT_NEAR(making::signedVolume(mesh("tube", {{"radius", {1}}, {"wall", {0.25}}, {"height", {2}}, {"sides", {256}}})),
                pi * (1 - 0.5625) * 2, 0.01);
    EXPECT_NEAR(making::signedVolume(mesh("cone", {{"radius", {1}}, {"height", {3}}, {"sides", {256}}})), pi, 0.01);
    EXPECT_NEAR(making::signedVolume(mesh("ring", {{"radius", {2}}, {"thickness", {1}}, {"sides", {128}}, {"steps", {64}}})),
                2 * pi * 2 * pi * 0.25, 0.05);
    const double edge = 2 * 0.5 / std::sqrt(3);
    EXPECT_NEAR(making::signedVolume(mesh("regularSolid", {}, {{"solid", "cube"}})), edge * edge * edge, 1e-5);
}

TEST(GeodesicBall, HasTwentyTimesTheFrequencySquaredTrianglesAndItsDualTwelvePentagons) {
    for (const int f : {1, 2, 3, 4, 5, 7, 8, 13}) {
        const Mesh triangles = mesh("geodesicBall", {{"frequency", {double(f)}}}, {{"facets", "triangles"}});
        EXPECT_EQ(facesBySides(triangles), (std::map<std::size_t, int>{{3, 20 * f * f}}));
        const auto sides = facesBySides(mesh("geodesicBall", {{"frequency", {double(f)}}}, {{"facets", "hexagons"}}));
        std::map<std::size_t, int> expected{{5, 12}};
        if (f > 1) expected[6] = 10 * f * f + 2 - 12;
        EXPECT_EQ(sides, expected) << "frequency " << f;
    }
}

TEST(RegularSolid, FacesAreAllAlike) {
    const std::vector<std::tuple<std::string, std::size_t, int>> solids = {
        {"tetrahedron", 3, 4}, {"cube", 4, 6}, {"octahedron", 3, 8}, {"dodecahedron", 5, 12}, {"icosahedron", 3, 20}};
    for (const auto& [solid, sides, faces] : solids) {
        const Mesh made = mesh("regularSolid", {{"radius", {1}}}, {{"solid", solid}});
        EXPECT_EQ(facesBySides(made), (std::map<std::size_t, int>{{sides, faces}})) << solid;
        const Topology topology = topologyOf(made);
        const float first = glm::distance(topology.places[topology.edges[0].from], topology.places[topology.edges[0].to]);
        for (const Edge& e : topology.edges)
            EXPECT_NEAR(glm::distance(topology.places[e.from], topology.places[e.to]), first, 1e-5f) << solid;
        for (const auto& p : topology.places) EXPECT_NEAR(glm::length(p), 1, 1e-5f);
    }
}

TEST(Lettering, IsClosedWithEveryBevelAndNesting) {
    for (const char* text : {"Reef", "B8&@%", "äöü ñ", "oO0", "AVATAR\nTo W.", "iij::;"})
        for (const char* form : {"rounded", "chamfered"})
            for (const double bevel : {0.0, 0.02, 0.2}) {
                const Mesh made = mesh("lettering", {{"bevel", {bevel}}}, {{"text", text}, {"bevelForm", form}});
                const std::string what = std::string(text) + " " + form + " " + std::to_string(bevel);
                expectClosed(made, what);
                expectSound(made, what);
            }
}

TEST(Lettering, HasTheHolesOfItsLetters) {
    // Euler's number of a closed solid is 2 − 2 holes: o has one, B two, i two parts without any.
    const auto euler = [](const char* text) {
        Mesh triangles = mesh("lettering", {{"bevel", {0}}}, {{"text", text}});
        for (std::uint32_t f = 0; f < triangles.faces.size(); ++f) triangles.faces[f] = f;
        const Topology all = topologyOf(triangles);
        return static_cast<int>(all.places.size()) - static_cast<int>(all.edges.size()) + static_cast<int>(all.faces);
    };
    EXPECT_EQ(euler("l"), 2);
    EXPECT_EQ(euler("o"), 0);
    EXPECT_EQ(euler("B"), -2);
    EXPECT_EQ(euler("i"), 4);
}

TEST(Lettering, AlignmentSpacingKerningAndLines) {
    const auto bounds = [](const making::Numbered& numbers, making::Chosen choices) {
        return boundsOf(mesh("lettering", numbers, choices));
    };
    const Bounds left = bounds({{"size", {1}}}, {{"text", "AV"}, {"align", "left"}}),
                 right = bounds({{"size", {1}}}, {{"text", "AV"}, {"align", "right"}});
    EXPECT_NEAR(left.low.x, 0, 0.1);
    EXPECT_NEAR(right.high.x, 0, 0.1);
    EXPECT_NEAR(left.size().x, right.size().x, 1e-5);
    EXPECT_GT(bounds({{"size", {1}}}, {{"text", "AV"}, {"kerning", "off"}}).size().x, left.size().x + 0.01);
    EXPECT_NEAR(bounds({{"size", {1}}, {"letterSpacing", {50}}}, {{"text", "AV"}}).size().x, left.size().x + 0.5, 1e-3);
    EXPECT_NEAR(bounds({{"size", {2}}}, {{"text", "AV"}}).size().x, 2 * left.size().x, 1e-3);
    EXPECT_GT(bounds({{"size", {1}}}, {{"text", "AV\nAV"}}).size().y, 1.5 * left.size().y);
    EXPECT_NEAR(bounds({{"depth", {0.7}}}, {{"text", "AV"}}).size().z, 0.7, 1e-5);
}

TEST(Lettering, SaysWhichFontItLacks) {
    const ShapeMeshes made = making::shape("lettering", {}, {{"font", "Marlin Bold of Nowhere"}});
    EXPECT_NE(made.note.find("“Marlin Bold of Nowhere” is not installed"), std::string::npos) << made.note;
    EXPECT_FALSE(made.mesh().triangles.empty());
    EXPECT_THROW(mesh("lettering", {}, {{"text", "   "}}), Error);
}

TEST(Outline, FillRulesAndOverlapsUnite) {
    const auto square = [](double x, double size) { return std::vector<glm::dvec2>{{x, 0}, {x + size, 0}, {x + size, size}, {x, size}}; };
    const auto volume = [](const Outline& o) { return making::signedVolume(extrude(o, {1, 0, BevelForm::rounded, 1})); };
    EXPECT_NEAR(volume(filled({square(0, 1), square(0.5, 1)}, FillRule::nonZero, 1e-6)), 1.5, 1e-4);
    EXPECT_NEAR(volume(filled({square(0, 1), square(0.5, 1)}, FillRule::evenOdd, 1e-6)), 1.0, 1e-4);
    auto hole = square(0.25, 0.5);
    for (auto& p : hole) p.y += 0.25;
    EXPECT_NEAR(volume(filled({square(0, 1), hole}, FillRule::evenOdd, 1e-6)), 0.75, 1e-4);
    EXPECT_NEAR(volume(stroked({{{0, 0}, {2, 0}}}, {false}, {0.5, StrokeJoin::miter, StrokeCap::square, 4}, 1e-6)), 2.5 * 0.5, 1e-3);
    EXPECT_NEAR(volume(stroked({{{0, 0}, {2, 0}}}, {false}, {0.5, StrokeJoin::miter, StrokeCap::round, 4}, 1e-6)), 1 + pi * 0.0625, 2e-3);
}

RC_GTEST_PROP(Outline, AnyTangleOfContoursBecomesAClosedSolid, ()) {
    FlatContours contours;
    const int count = *rc::gen::inRange(1, 5);
    for (int c = 0; c < count; ++c) {
        const auto points =
            *rc::gen::container<std::vector<std::pair<int, int>>>(6, rc::gen::pair(rc::gen::inRange(0, 40), rc::gen::inRange(0, 40)));
        contours.emplace_back();
        for (const auto& [x, y] : points) contours.back().emplace_back(x / 10.0, y / 10.0);
    }
    const Outline outline = filled(contours, *rc::gen::element(FillRule::nonZero, FillRule::evenOdd), 1e-6);
    if (outline.contours.empty()) return;
    expectClosed(extrude(outline, {0.5f, *rc::gen::element(0.0f, 0.05f), BevelForm::chamfered, 1}), "tangle");
}

TEST(Clipped, HalfABallWithItsLidIsClosedAndHasHalfTheVolume) {
    const Mesh ball = mesh("ball", {{"radius", {1}}, {"sides", {64}}, {"rings", {32}}});
    const std::string any = toText(newObjectId(ObjectType::shape));
    for (const double tilt : {0.0, 30.0, 90.0}) {
        const Mesh half = mesh("clipped", {{"tiltX", {tilt}}, {"tiltZ", {20}}, {"height", {0}}}, {{"of", any}}, sourceOf(ball));
        expectClosed(half, "half a ball at " + std::to_string(tilt));
        expectSound(half, "half a ball");
        EXPECT_NEAR(making::signedVolume(half), making::signedVolume(ball) / 2, 0.01);
    }
    const Mesh open = mesh("clipped", {{"height", {0.5}}}, {{"of", any}, {"lid", "off"}}, sourceOf(ball));
    EXPECT_FALSE(topologyOf(open).closed());
    for (const auto& p : open.positions) EXPECT_GE(p.y, 0.5f - 1e-5f);
    EXPECT_THROW(mesh("clipped", {{"height", {3}}}, {{"of", any}}, sourceOf(ball)), Error);
    // A pipe has a ring for a lid.
    const Mesh pipe = mesh("clipped", {{"height", {0.1}}}, {{"of", any}, {"keep", "below"}}, sourceOf(mesh("tube", {{"sides", {24}}})));
    expectClosed(pipe, "pipe");
    EXPECT_NEAR(making::signedVolume(pipe), making::signedVolume(mesh("tube", {{"sides", {24}}})) * 0.6, 1e-3);
}

TEST(Dual, OfADualHasAsManyFacesAgain) {
    const std::string any = toText(newObjectId(ObjectType::shape));
    const Mesh ball = mesh("geodesicBall", {{"frequency", {4}}});
    const Mesh once = mesh("dual", {}, {{"of", any}}, sourceOf(ball));
    expectClosed(once, "dual");
    EXPECT_EQ(once.faceCount(), topologyOf(ball).places.size());
    EXPECT_EQ(mesh("dual", {}, {{"of", any}}, sourceOf(once)).faceCount(), ball.faceCount());
    EXPECT_THROW(mesh("dual", {}, {{"of", any}}, sourceOf(mesh("card"))), Error);
}

TEST(Pieces, LieWhereTheyWereWithTheirNormalAndUv) {
    const Mesh ball = mesh("geodesicBall", {{"frequency", {3}}, {"radius", {2}}}, {{"facets", "hexagons"}});
    const auto pieces = piecesOf(ball, PieceMode::faces, nullptr);
    ASSERT_EQ(pieces.size(), ball.faceCount());
    double area = 0;
    for (const BrokenPiece& piece : pieces) {
        EXPECT_GT(glm::dot(piece.rotation * glm::vec3(0, 1, 0), glm::normalize(piece.home)), 0.99f);
        for (const auto& p : piece.mesh.positions) {
            const glm::vec3 back = piece.home + piece.rotation * p;
            EXPECT_NEAR(glm::length(back), 2, 1e-4f);
        }
        EXPECT_TRUE(piece.uvCentre.x > 0 && piece.uvCentre.x < 1);
        area += areaOf(piece.mesh);
    }
    EXPECT_NEAR(area, areaOf(ball), 1e-3);
}

TEST(Pieces, ConnectedPartsOfLetteringAreItsLetters) {
    const Mesh word = mesh("lettering", {{"bevel", {0}}}, {{"text", "oil"}});
    const auto parts = piecesOf(word, PieceMode::parts, nullptr);
    EXPECT_EQ(parts.size(), 4u);  // the dot of the i is one of its own
    EXPECT_EQ(countPieces(word, PieceMode::parts), 4u);
    for (const auto& part : parts) expectClosed(part.mesh, "a letter");
}

TEST(InsideTest, AgreesWithABallAndABoxEverywhere) {
    const Mesh ball = mesh("ball", {{"radius", {1}}, {"sides", {64}}, {"rings", {32}}}), box = mesh("box", {{"rounding", {0}}});
    const InsideTest inBall(ball), inBox(box);
    for (int x = -12; x <= 12; ++x)
        for (int y = -12; y <= 12; ++y)
            for (int z = -12; z <= 12; ++z) {
                const glm::vec3 p = glm::vec3(x, y, z) / 10.0f;
                const float r = glm::length(p);
                if (std::abs(r - 1) > 0.01f) {
                    EXPECT_EQ(inBall(p), r < 1) << x << ' ' << y << ' ' << z;
                }
                if (std::max({std::abs(x), std::abs(y), std::abs(z)}) != 5) {
                    EXPECT_EQ(inBox(p), std::max({std::abs(x), std::abs(y), std::abs(z)}) < 5) << x << ' ' << y << ' ' << z;
                }
            }
}

TEST(MeasuredCurve, FramesNeverFlipOnAHelixAnSBendAndALine) {
    const auto check = [](const Curve& curve, const char* what) {
        const MeasuredCurve measured(curve);
        auto before = measured.at(0);
        for (int k = 1; k <= 2000; ++k) {
            const auto now = measured.at(measured.length() * k / 2000);
            const glm::vec3 up = now.frame * glm::vec3(0, 1, 0), along = now.frame * glm::vec3(0, 0, 1);
            EXPECT_GT(glm::dot(up, before.frame * glm::vec3(0, 1, 0)), 0.99f) << what << " at " << k;
            EXPECT_NEAR(glm::dot(up, along), 0, 1e-5f);
            before = now;
        }
    };
    check(making::shape("helix").curves[0], "helix");
    check(making::shape("line", {{"from", {0, -1, 0}}, {"to", {0, 4, 0}}}).curves[0], "upright line");
    Curve bend;
    for (int k = 0; k <= 400; ++k) bend.points.emplace_back(std::sin(k / 400.0 * 2 * pi), k / 100.0, 0);
    check(bend, "S-bend");
    check(making::shape("circle").curves[0], "circle");
    check(making::shape("path", {}, {{"closed", "on"}}).curves[0], "closed path");
}
