// The live view without a window: the same renderer, on whatever OpenGL the machine has.
#include <gtest/gtest.h>

#include <cmath>
#include <set>

#include "core/edit/material_edits.h"
#include "core/edit/rail_edits.h"
#include "core/exchange/exporter_kind.h"
#include "core/exchange/png.h"
#include "core/file/project_file.h"
#include "core/formula/bind.h"
#include "core/kinds/registry.h"
#include "core/picture/display.h"
#include "core/picture/trace.h"
#include "core/resolve/resolve.h"
#include "live/headless.h"
#include "live/live_still.h"
#include "live/renderer.h"
#include "live/smooth_edges.h"
#include "tests/core/paper.h"

using namespace gswarm;
using glm::vec3;
using making::Build;

namespace {

struct Paper : making::Paper {
    /// A swarm of one ball of half a metre that stands so high above the paper.
    ObjectId addBall(double height) {
        const Edit ball = addShape(b.scene, *findKind(Family::shape, "ball")), swarm = addSwarmOf(ball.scene, ball.made);
        b.scene = swarm.scene;
        b.set(ball.made, "radius", {0.5}).set(swarm.made, "position", {0, height, 0});
        b.set(swarm.scene.at(swarm.made).list("formations").front(), "count", {1, 1, 1});
        return swarm.made;
    }
    live::LivePicture picture() {
        live::LivePicture picture;
        picture.list = list();
        picture.setting = setting();
        picture.ground = false;
        return picture;
    }
};

constexpr int size = 100;

struct Drawing {
    live::Headless context;
    live::Renderer renderer;
    Image of(const live::LivePicture& picture) {
        const std::atomic<bool> never{false};
        return *renderer.draw(picture, size, size, never);
    }
};

/// Linear light of a pixel: of the middle, or metres to the right and down from it.
vec3 at(const Image& image, float right = 0, float down = 0) {
    const int x = static_cast<int>(size / 2 + right * size / 10), y = static_cast<int>(size / 2 + down * size / 10);
    const std::uint8_t* p = &image.pixels[4 * static_cast<std::size_t>(y * size + x)];
    return {linearFromSrgb(p[0] / 255.0), linearFromSrgb(p[1] / 255.0), linearFromSrgb(p[2] / 255.0)};
}

/// Mean difference of two pictures as they are seen, each blurred over so many pixels.
double difference(const Image& a, const Image& b, int over) {
    double sum = 0;
    int count = 0;
    for (int y = 0; y + over <= a.height; y += over)
        for (int x = 0; x + over <= a.width; x += over)
            for (int c = 0; c < 3; ++c, ++count) {
                double one = 0, other = 0;
                for (int v = y; v < y + over; ++v)
                    for (int u = x; u < x + over; ++u) {
                        const std::size_t i = 4 * static_cast<std::size_t>(v * a.width + u) + static_cast<std::size_t>(c);
                        one += a.pixels[i], other += b.pixels[i];
                    }
                sum += std::abs(one - other) / (over * over) / 255;
            }
    return sum / count;
}

}  // namespace

TEST(Live, SunsAddUp) {
    Paper paper;
    for (const double around : {0.0, 120.0}) {
        const ObjectId sun = paper.add(sunLight);
        paper.b.set(sun, "height", {30}).set(sun, "around", {around}).set(sun, "strength", {0.5}).set(sun, "colour", {1, 1, 1, 1});
    }
    Drawing drawing;
    EXPECT_NEAR(at(drawing.of(paper.picture())).y, 2 * 0.5 * 0.5, 0.03) << "the sine of 30 degrees is a half";
}

TEST(Live, TheFirstSunThrowsShadows) {
    Paper paper;
    const ObjectId sun = paper.add(sunLight);
    paper.b.set(sun, "height", {45}).set(sun, "around", {-90}).set(sun, "strength", {0.8}).set(sun, "size", {0.5});
    // A ball of half a metre, its middle 2.5 metres above the paper: from the left its shadow falls as far to the right.
    const ObjectId ball = paper.addBall(2);
    Drawing drawing;
    live::LivePicture picture = paper.picture();
    const Image shadowed = drawing.of(picture);
    EXPECT_LT(at(shadowed, 2.5f).y, 0.05);
    EXPECT_GT(at(shadowed, 4).y, 0.4);
    EXPECT_GT(at(shadowed, -2).y, 0.4);
    picture.steps.shadows = false;
    EXPECT_GT(at(drawing.of(picture), 2.5f).y, 0.4);
    // It moves with what throws it, drawn by the same renderer.
    paper.b.set(ball, "position", {-2, 2, 0});
    const Image moved = drawing.of(paper.picture());
    EXPECT_LT(at(moved, 0.5f).y, 0.05);
    EXPECT_GT(at(moved, 2.5f).y, 0.4);
}

TEST(Live, SolidsAreSeenFromWithinAndMirroredToo) {
    Paper paper;
    const ObjectId ball = paper.addBall(5);  // its middle half a metre higher
    live::LivePicture picture = paper.picture();
    Setting& setting = picture.setting;
    setting.light.zenith = setting.light.horizon = vec3(1);
    setting.camera.projection = Projection::perspective;
    setting.camera.focalLength = 36;
    std::erase_if(picture.list.surfaces, [&](const Surface& surface) { return surface.swarm->swarm != ball; });
    const auto from = [&](float height, float nearCut) {
        setting.camera.position = {0, height, 0.001f};
        setting.camera.target = {0, height - 1, 0};
        setting.camera.nearCut = nearCut;
    };
    Drawing drawing;
    from(7.5f, 0);
    const Image outside = drawing.of(picture);
    EXPECT_GT(at(outside).y, 0.1);
    EXPECT_LT(at(outside, 4).y, 0.01) << "beside it nothing is";
    from(5.5f, 0);
    EXPECT_GT(at(drawing.of(picture)).y, 0.02) << "the eye is in its middle";
    from(7.5f, 2);
    EXPECT_GT(at(drawing.of(picture)).y, 0.02) << "it is cut open";
    // A mirrored ball is the same ball.
    from(7.5f, 0);
    for (Surface& surface : picture.list.surfaces) surface.pose[0] = -surface.pose[0];
    const Image mirrored = drawing.of(picture);
    for (const float right : {-1.0f, 0.0f, 1.0f}) EXPECT_NEAR(at(mirrored, right, 0.5f).y, at(outside, -right, 0.5f).y, 0.02) << right;
}

TEST(Live, ManySmallThingsThrowShadowsToo) {
    // Cubes of 4 cm over a wide field are drawn into the shadow map as cards.
    Paper paper;
    const ObjectId sun = paper.add(sunLight);
    paper.b.set(sun, "height", {90}).set(sun, "strength", {0.8}).set(sun, "size", {0.1}).set(sun, "colour", {1, 1, 1, 1});
    const Edit box = addShape(paper.b.scene, boxShape);
    const Edit swarm = addSwarmOf(box.scene, box.made);
    paper.b.scene = swarm.scene;
    const ObjectId formation = swarm.scene.at(swarm.made).list("formations").front();
    paper.b.set(formation, "count", {200, 1, 200}).set(formation, "spacing", {0.05, 1, 0.05}).set(swarm.made, "position", {0, 1, 0});
    paper.b.set(box.made, "size", {0.04, 0.04, 0.04});
    live::LivePicture picture = paper.picture();
    // Only the paper is seen: the cubes stand above the camera's near cut.
    picture.setting.camera.nearCut = 19.5f;
    Drawing drawing;
    const auto mean = [&] {
        const Image image = drawing.of(picture);
        double sum = 0;
        for (int k = 0; k < 400; ++k) sum += at(image, static_cast<float>(k % 20) * 0.3f - 3, static_cast<float>(k / 20) * 0.3f - 3).y;
        return sum / 400;
    };
    const double shadowed = mean();
    picture.steps.shadows = false;
    // Of each 5 cm 4 cm are covered: about a third of the light gets through.
    EXPECT_NEAR(shadowed / mean(), 1 - 0.64, 0.2);
}

TEST(Live, SpotsAndPointsThrowShadows) {
    for (const LightKind* kind : {&spotLight, &pointLight}) {
        Paper paper;
        const ObjectId lamp = paper.add(*kind);
        // Through a ball two metres above the paper, from four metres above it: its shadow lies as far on the other side.
        paper.b.set(lamp, "position", {-2, 4, 0}).set(lamp, "strength", {8}).set(lamp, "colour", {1, 1, 1, 1});
        if (kind == &spotLight) paper.b.set(lamp, "angle", {140}).set(lamp, "softEdge", {10});
        paper.addBall(1.5);
        Drawing drawing;
        live::LivePicture picture = paper.picture();
        const Image shadowed = drawing.of(picture);
        picture.steps.shadows = false;
        const Image open = drawing.of(picture);
        EXPECT_LT(at(shadowed, 2).y, 0.1 * at(open, 2).y) << kind->id;
        EXPECT_GT(at(open, 2).y, 0.01) << kind->id;
        for (const float right : {-3.0f, -1.5f, 4.0f}) EXPECT_NEAR(at(shadowed, right).y, at(open, right).y, 0.02) << kind->id << right;
        // The shadow goes with the lamp.
        paper.b.set(lamp, "position", {2, 4, 0});
        const Image moved = drawing.of(paper.picture());
        EXPECT_LT(at(moved, -2).y, 0.1 * at(open, 2).y) << kind->id;
        EXPECT_GT(at(moved, 2).y, 0.1) << kind->id;
    }
}

TEST(Live, ManyThrowShadowsOfLampsTooAFewForAll) {
    Paper paper;
    const ObjectId lamp = paper.add(spotLight);
    paper.b.set(lamp, "position", {0, 4, 0}).set(lamp, "strength", {8}).set(lamp, "colour", {1, 1, 1, 1}).set(lamp, "angle", {140});
    // More than are drawn for a lamp: half a million flakes that cover about half of what they hang over.
    const Edit flake = addShape(paper.b.scene, *findKind(Family::shape, "box")), swarm = addSwarmOf(flake.scene, flake.made);
    paper.b.scene = swarm.scene;
    paper.b.set(flake.made, "size", {0.0014, 0.0014, 0.0014}).set(swarm.made, "position", {0, 2, 0});
    const ObjectId grid = paper.b.scene.at(swarm.made).list("formations").front();
    paper.b.set(grid, "count", {700, 1, 700}).set(grid, "spacing", {0.002, 0.002, 0.002});
    live::LivePicture picture = paper.picture();
    Drawing drawing;
    const Image shadowed = drawing.of(picture);
    picture.steps.shadows = false;
    const Image open = drawing.of(picture);
    double covered = 0, free = 0;
    for (float right = 0.8f; right < 1.2f; right += 0.02f) covered += at(shadowed, right).y, free += at(open, right).y;
    EXPECT_NEAR(covered / free, 0.5, 0.25);
    EXPECT_NEAR(at(shadowed, 3).y, at(open, 3).y, 0.02) << "beyond the shadow";
}

TEST(Live, InstancesWhosePlaceIsNoNumberAreLeftOut) {
    // Once every other one is hidden, once it has no place: both look alike.
    enum class Every { shown, hidden, nowhere };
    const auto drawn = [](Every other) {
        Paper paper;
        const ObjectId swarm = paper.addBall(0.5);
        const ObjectId grid = paper.b.scene.at(swarm).list("formations").front();
        paper.b.set(grid, "count", {40, 1, 40}).set(grid, "spacing", {0.2, 0.2, 0.2});
        paper.add(sunLight);
        const live::LivePicture picture = paper.picture();
        for (const Surface& surface : picture.list.surfaces)
            if (surface.swarm && surface.swarm->count == 1600)
                for (std::size_t row = 0; row < 1600; row += 2) {
                    if (other == Every::hidden) surface.swarm->columns->colour[row] &= 0xFFFFFF;
                    if (other == Every::nowhere) surface.swarm->columns->matrix[12 * row + 3] = std::nanf("");
                }
        Drawing drawing;
        return drawing.of(picture).pixels;
    };
    EXPECT_EQ(drawn(Every::nowhere), drawn(Every::hidden));
    EXPECT_NE(drawn(Every::shown), drawn(Every::hidden));
}

TEST(Live, WhatIsBrighterThanAScreenIsShownAsTracedPicturesShowIt) {
    Paper paper;
    const ObjectId sun = paper.add(sunLight);
    paper.b.set(sun, "height", {90}).set(sun, "colour", {1, 0.6, 0.3, 1});
    Drawing drawing;
    for (const DisplayTransform transform : {DisplayTransform::plain, DisplayTransform::soft})
        for (const double strength : {0.1, 0.9, 3.0, 40.0, 4000.0}) {
            paper.b.set(sun, "strength", {strength});
            live::LivePicture picture = paper.picture();
            picture.setting.display = transform;
            // The card displays it.
            picture.steps.occlusion = false;
            const Image drawn = drawing.of(picture);
            // Paper that faces the sun sends back the light of its colour.
            const vec3 wanted = display(vec3(linearFromSrgb(1), linearFromSrgb(0.6), linearFromSrgb(0.3)) * float(strength),
                                        picture.setting.exposure, transform);
            const std::uint8_t* p = &drawn.pixels[4 * static_cast<std::size_t>(size / 2 * size + size / 2)];
            for (int c = 0; c < 3; ++c) EXPECT_NEAR(p[c] / 255.0, wanted[c], 0.02) << strength << ", colour " << c;
        }
}

TEST(Live, LampsLightTheFloor) {
    Paper paper;
    const ObjectId lamp = paper.add(pointLight);
    paper.b.set(lamp, "position", {0, 2, 0}).set(lamp, "strength", {4}).set(lamp, "colour", {1, 1, 1, 1});
    paper.b.set(paper.b.shape, "width", {0.05}).set(paper.b.shape, "depth", {0.05});
    live::LivePicture picture = paper.picture();
    picture.ground = true;
    picture.setting.light.ground = {true, 0, vec3(0.5f)};
    Drawing drawing;
    // A candela a metre away lights with one lux, of which white paper sends a pi-th back.
    EXPECT_NEAR(at(drawing.of(picture), 0.3f).y, 0.5 * 4 / 4 / 3.14159, 0.04);
}

TEST(Live, SurroundingsLightAndAreMirrored) {
    Paper paper;
    const ObjectId around = paper.add(surroundingsLight);
    auto even = std::make_shared<const Panorama>(FloatPicture{64, 32, std::vector<vec3>(64 * 32, vec3(0.4f, 0.2f, 0.1f))});
    live::LivePicture picture = paper.picture();
    ASSERT_EQ(picture.setting.light.surroundings.size(), 1u);
    picture.setting.light.surroundings[0].picture = even;
    Drawing drawing;
    EXPECT_NEAR(at(drawing.of(picture)).x, 0.4, 0.06) << "matt paper under an even sky is as bright as that";
    paper.b.set(paper.b.material, "metal", {1}).set(paper.b.material, "roughness", {0.02}).set(around, "tint", {0, 1, 0, 1});
    picture = paper.picture();
    picture.setting.light.surroundings[0].picture = even;
    const vec3 mirrored = at(drawing.of(picture));
    EXPECT_NEAR(mirrored.y, 0.2, 0.03);
    EXPECT_NEAR(mirrored.x, 0, 0.02) << "the tint lets green through alone";
    // Those that come along light it too.
    EXPECT_GT(at(drawing.of(paper.picture())).y, 0.001);
}

TEST(Live, WhatIsClearKeepsTheLightThatItGives) {
    Paper paper;
    paper.b.choose(paper.b.material, "body", "thin").set(paper.b.material, "transmission", {1}).set(paper.b.material, "roughness", {0});
    paper.b.set(paper.b.material, "glows", true).set(paper.b.material, "emission", {0.6});
    paper.b.set(paper.b.material, "emissionColour", {1, srgbFromLinear(0.5), 0, 1});
    Drawing drawing;
    const vec3 seen = at(drawing.of(paper.picture()));
    EXPECT_NEAR(seen.x, 0.6, 0.03);
    EXPECT_NEAR(seen.y, 0.3, 0.03);
    // What is only partly there gives only a part of it.
    paper.b.set(paper.b.material, "colour", {1, 1, 1, 0.5});
    EXPECT_NEAR(at(drawing.of(paper.picture())).x, 0.3, 0.06);
}

TEST(Live, TheInsideOfGlassColoursIt) {
    Paper paper;
    const ObjectId sun = paper.add(sunLight), ball = paper.addBall(0.5);
    paper.b.set(sun, "height", {90}).set(sun, "colour", {1, 1, 1, 1}).set(sun, "strength", {0.8});
    const ObjectId glass = materialOf(paper.b.scene, paper.b.scene.at(ball).list("stock").front());
    ASSERT_NE(glass, paper.b.material);
    paper.b.choose(glass, "body", "solid").set(glass, "transmission", {1}).set(glass, "roughness", {0.3});
    paper.b.set(glass, "colour", {1, 1, 1, 1}).set(glass, "attenuationColour", {0.2, 1, 0.2, 1});
    Drawing drawing;
    const auto greener = [&](double distance) {
        paper.b.set(glass, "attenuationDistance", {distance});
        const vec3 seen = at(drawing.of(paper.picture()), 0.2f);
        return seen.y / seen.x;
    };
    EXPECT_NEAR(greener(0), 1, 0.02);
    EXPECT_GT(greener(4), 1.03);
    EXPECT_GT(greener(0.5), greener(4) + 0.1) << "the shorter the way, the stronger";
}

TEST(Live, PicturesAndMixesLieAsTheyAreTraced) {
    Paper paper;
    // A picture of four fields, a mask, and waves as bumps, under a low sun.
    Image fields{4, 4, {}}, mask{8, 1, {}}, waves{64, 64, {}};
    for (int i = 0; i < 16; ++i) {
        const bool right = i % 4 > 1, low = i > 7;
        fields.pixels.insert(fields.pixels.end(), {std::uint8_t(right ? 255 : 40), std::uint8_t(low ? 255 : 60), 90, 255});
    }
    for (int i = 0; i < 8; ++i) mask.pixels.insert(mask.pixels.end(), 4, i < 4 ? 0 : 255);
    for (int i = 0; i < 64 * 64; ++i)
        waves.pixels.insert(waves.pixels.end(), 4, static_cast<std::uint8_t>(127.5 + 127 * std::sin(i % 64 * 3.14159265 / 8)));
    writePng(fields, making::temporaryFolder() / "fields.png");
    writePng(mask, making::temporaryFolder() / "mask.png");
    writePng(waves, making::temporaryFolder() / "waves.png");
    const ObjectId sun = paper.add(sunLight), material = paper.b.material;
    paper.b.set(sun, "height", {50}).set(sun, "around", {90}).set(sun, "strength", {0.8}).set(sun, "size", {0.5});
    paper.b.set(paper.b.shape, "width", {10}).set(paper.b.shape, "depth", {10});
    paper.b.set(material, "pictured", true).set(material, "colourPicture", std::string("fields.png"));
    paper.b.set(material, "bumpPicture", std::string("waves.png")).set(material, "bumpHeight", {0.4});
    const Edit edit = mixMaterial(paper.b.scene, material);
    paper.b.scene = edit.scene;
    paper.b.set(edit.made, "picture", std::string("mask.png"));
    Drawing drawing;
    Progress progress;
    for (const char* by : {"amount", "picture", "across"}) {
        paper.b.set(edit.made, "by", std::string(by));
        live::LivePicture picture = paper.picture();
        picture.steps.shadows = false;
        const Image drawn = drawing.of(picture), traced = trace(picture.list, picture.setting, {size, size, 64, 1}, progress);
        EXPECT_LT(difference(drawn, traced, 5), 0.05) << by;
        // Each of the four fields, and both sides of the mask, differ.
        EXPECT_GT(difference(drawn, Image{size, size, std::vector<std::uint8_t>(4 * size * size, drawn.pixels[4 * (25 * size + 25)])}, 50),
                  0.03);
    }
}

TEST(Live, ValuesOfVerticesMixAsTheyAreTraced) {
    // A divided card that a swarm carries as it is; what mixes paper with red is a value that waves over it.
    Paper paper;
    Build& b = paper.b;
    const ObjectId sun = paper.add(sunLight);
    b.set(sun, "height", {60}).set(sun, "strength", {0.8});
    const Edit card = addShape(b.scene, *findKind(Family::shape, "card"));
    b.scene = card.scene;
    b.set(card.made, "width", {10}).set(card.made, "depth", {10}).set(card.made, "columns", {20}).set(card.made, "rows", {20});
    b.set(card.made, "display-as", std::string("hidden"));
    b.formationKind("elements").set(b.formation, "shape", Value(card.made)).choose(b.formation, "element", "corners");
    b.set(b.swarm, "shown", false);
    const Edit named = addNamedValue(b.scene, b.swarm, "Heat");
    b.scene = named.scene;
    const ObjectId g = b.gesture("formula");
    b.set(g, "pattern-value", Value(boundFormula(b.scene, "0.5+0.5*sin(2*x)")));
    b.set(g, "value", true).set(g, "valueOf", Value(named.made)).set(g, "valueAmount", {1});
    const Edit membrane = addShape(b.scene, *findKind(Family::shape, "membrane")), mix = mixMaterial(membrane.scene, b.material);
    b.scene = mix.scene;
    const ObjectId red = referenceOf(b.scene.at(mix.made).part("material"), "second");
    b.set(red, "colour", {1, 0, 0, 1}).set(red, "roughness", {1}).set(membrane.made, "display-material", Value(mix.made));
    b.choose(mix.made, "by", "namedValue").set(mix.made, "value", Value(named.made));
    Drawing drawing;
    Progress progress;
    live::LivePicture picture = paper.picture();
    picture.steps.shadows = false;
    const Image drawn = drawing.of(picture), traced = trace(picture.list, picture.setting, {size, size, 64, 1}, progress);
    EXPECT_LT(difference(drawn, traced, 5), 0.03);
    // Paper where the value is 0, red where it is 1.
    for (const Image& image : {drawn, traced}) {
        EXPECT_GT(at(image, -0.785f).y, 0.4f);
        EXPECT_LT(at(image, 0.785f).y, 0.5f * at(image, -0.785f).y);
    }
}

TEST(Live, WhatInstancesShowLiesAsItIsTraced) {
    // Sixteen cards of a simulated camera above the paper: their own parts, then the whole, each later, in the tint of its part.
    for (const char* start : {"pictureWall", "liveMosaic"}) {
        Paper paper;
        Build& b = paper.b;
        const ObjectId sun = paper.add(sunLight);
        b.set(sun, "height", {90}).set(sun, "strength", {1});
        const Edit card = addShape(b.scene, *findKind(Family::shape, "card")), swarm = addSwarmOf(card.scene, card.made);
        b.scene = swarm.scene;
        b.set(card.made, "width", {2.2}).set(card.made, "depth", {2.2});
        const Object& made = b.scene.at(swarm.made);
        const ObjectId formation = made.list("formations").front(), stock = made.list("stock").front();
        b.set(formation, "count", {4, 1, 4}).set(formation, "spacing", {2.4, 1, 2.4}).set(swarm.made, "position", {0, 0.5, 0});
        for (const MaterialStart& one : materialStarts())
            if (one.id == start) b.scene = addMaterialFor(b.scene, stock, one).scene;
        const ObjectId material = materialOf(b.scene, stock), camera = b.scene.all(ObjectType::media).front();
        b.set(material, "roughness", {1}).set(camera, "seed", {4});
        if (std::string(start) == "liveMosaic") b.choose(material, "mirrored", "everySecond").set(material, "frames", {9});
        Drawing drawing;
        Progress progress;
        live::LivePicture picture = paper.picture();
        picture.steps.shadows = false;
        const Image drawn = drawing.of(picture), traced = trace(picture.list, picture.setting, {size, size, 64, 1}, progress);
        EXPECT_LT(difference(drawn, traced, 5), 0.03) << start;
        // It is no plain colour.
        double least = 1, most = 0;
        for (float right = -4; right < 4; right += 0.4f)
            for (float down = -4; down < 4; down += 0.4f)
                least = std::min(least, double(at(traced, right, down).x)), most = std::max(most, double(at(traced, right, down).x));
        EXPECT_GT(most, 4 * least + 0.05) << start;
    }
}

TEST(Live, AStillIsThatOfTheView) {
    const Scene scene = loadProject(GSWARM_SOURCE "/demo/urchin.gswarm");
    Evaluator evaluator;
    Progress progress;
    const ExportFrames frames{evaluator, scene, {{}, GSWARM_SOURCE "/demo"}, 30};
    const LiveStill still = live::liveStill();
    const Image image = still.plain(frames.at(30, progress), frames.setting(30), 64, 36);
    EXPECT_EQ(image.width, 64);
    EXPECT_EQ(image.pixels.size(), 4u * 64 * 36);
    EXPECT_THROW(still.plain(frames.at(30, progress), frames.setting(30), 5000, 10), Error);
    // 16 bits are the same picture, with shades between those of 8.
    const Image16 fine = still.fine(frames.at(30, progress), frames.setting(30), 64, 36);
    ASSERT_EQ(fine.pixels.size(), image.pixels.size());
    std::set<int> between;
    for (std::size_t i = 0; i < fine.pixels.size(); ++i) {
        EXPECT_NEAR(fine.pixels[i] / 257.0, image.pixels[i], 2);
        between.insert(fine.pixels[i] % 257);
    }
    EXPECT_GT(between.size(), 100u);
}

TEST(Live, EdgesAreSmoothedAndNothingElse) {
    Image image{32, 32, std::vector<std::uint8_t>(4 * 32 * 32, 255)};
    // Black below a slanted line.
    for (int y = 0; y < 32; ++y)
        for (int x = 0; x < 32; ++x)
            if (y > 10 + x / 4)
                for (int c = 0; c < 3; ++c) image.pixels[4 * static_cast<std::size_t>(y * 32 + x) + static_cast<std::size_t>(c)] = 0;
    const Image before = image;
    live::smoothEdges(image);
    int between = 0, far = 0;
    for (int y = 0; y < 32; ++y)
        for (int x = 0; x < 32; ++x) {
            const std::uint8_t v = image.pixels[4 * static_cast<std::size_t>(y * 32 + x)];
            if (v > 20 && v < 235) ++between;
            if (std::abs(y - 10 - x / 4) > 3 && v != before.pixels[4 * static_cast<std::size_t>(y * 32 + x)]) ++far;
        }
    EXPECT_GT(between, 12);
    EXPECT_EQ(far, 0);
}

/// Every demo looks alike traced and live.
class LiveDemo : public testing::TestWithParam<const char*> {};

TEST_P(LiveDemo, LooksAsItIsTraced) {
    const Scene scene = loadProject(std::string(GSWARM_SOURCE "/demo/") + GetParam() + ".gswarm");
    Evaluator evaluator;
    Progress progress;
    const ExportFrames frames{evaluator, scene, {{}, GSWARM_SOURCE "/demo"}, 30};
    Tracer tracer;
    const Image traced = trace(tracer, frames.shot(30, progress), {512, 288, 5, 1, 0, true}, progress);
    const Image drawn = live::liveStill().plain(frames.at(30, progress), frames.setting(30), 512, 288);
    const double found = difference(traced, drawn, 8);
    RecordProperty("difference", std::to_string(found));
    EXPECT_LT(found, 0.06);
}

INSTANTIATE_TEST_SUITE_P(Demos, LiveDemo,
                         testing::Values("anemone", "basin", "reef", "chain", "chorus", "soundings", "coral-bell", "grotto", "gullet",
                                         "kelp", "lantern-fry", "nautilus", "pearls", "porthole", "reef-sign", "reef-sign-swept", "shoal",
                                         "sonar", "tidal-floor", "urchin"));
