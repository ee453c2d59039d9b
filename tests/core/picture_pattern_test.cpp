// What patterns and zones read of pictures.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <fstream>
#include <glm/common.hpp>

#include "core/base/error.h"
#include "core/kinds/registry.h"
#include "core/provide/media.h"
#include "core/provide/read_picture.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"
#include "tests/core/reading.h"

using namespace gswarm;
using namespace gswarm::reading;
using making::Build, making::temporaryFolder;

TEST(PicturePattern, ReadsThePixelWhereEachStands) {
    write("eight.png", 4, 2, eight);
    Reading r(4, 2, 1, "eight.png");
    const float below[] = {light(10), light(20), light(30), light(40)};
    std::vector<float> expected;
    for (const float red : below) expected.push_back(0.2126f * red);
    for (const float bright : {0.2126f, 0.7152f, 0.0722f, 1.0f}) expected.push_back(bright);
    // The grid counts along X, then up. Its outermost stand on the edges.
    r.b.choose(r.gesture, "pattern-over", "placed").set(r.gesture, "pattern-width", {4}).set(r.gesture, "pattern-height", {2});
    expectValues(r.read(), expected);
    // Along Y it is seen from above: its upper edge lies toward −Z.
    Reading flat(4, 1, 2, "eight.png");
    flat.b.choose(flat.gesture, "pattern-along", "y").choose(flat.gesture, "pattern-over", "placed");
    flat.b.set(flat.gesture, "pattern-width", {4});
    std::rotate(expected.begin(), expected.begin() + 4, expected.end());
    expectValues(flat.read(), expected);
    // Turned by half a turn, its last pixel is where its first was.
    flat.b.set(flat.gesture, "pattern-angle", {180});
    std::reverse(expected.begin(), expected.end());
    expectValues(flat.read(), expected);
    EXPECT_EQ(flat.waits(), "");
}

TEST(PicturePattern, CoversTheSwarmStretchedOrAsItIs) {
    write("eight.png", 4, 2, eight);
    Reading r(5, 5, 1, "eight.png");
    r.b.choose(r.gesture, "pattern-channel", "red");
    const auto stretched = r.read();
    EXPECT_NEAR(stretched[20], 1, 1e-5f);         // upper left
    EXPECT_NEAR(stretched[4], light(40), 1e-5f);  // lower right
    // As it is, it is as high as the swarm and twice as wide: the corners lie in its second and third columns.
    r.b.choose(r.gesture, "pattern-over", "cover");
    const auto covered = r.read();
    EXPECT_NEAR(covered[0], light(20), 1e-5f);
    EXPECT_NEAR(covered[20], 0, 1e-5f);
}

TEST(PicturePattern, GoesByRowAndColumnWhereverTheyStand) {
    write("eight.png", 4, 2, eight);
    // Standing it is seen from its front.
    Reading r(4, 2, 1, "eight.png");
    r.b.choose(r.gesture, "pattern-along", "grid").choose(r.gesture, "pattern-channel", "red");
    const std::vector<float> upper{1, 0, 0, 1}, lower{light(10), light(20), light(30), light(40)};
    std::vector<float> standing = lower;
    standing.insert(standing.end(), upper.begin(), upper.end());
    expectValues(r.read(), standing);
    // Moved rows, another anchor and another order change nothing.
    r.b.set(r.b.formation, "shift", {50}).choose(r.b.formation, "anchor", "corner");
    expectValues(r.read(), standing);
    r.b.set(r.b.formation, "order-reversed", true);
    expectValues(r.read(), {1, 0, 0, 1, light(40), light(30), light(20), light(10)});
    // Lying it is seen from above.
    Reading flat(4, 1, 2, "eight.png");
    flat.b.choose(flat.gesture, "pattern-along", "grid").choose(flat.gesture, "pattern-channel", "red");
    std::vector<float> lying = upper;
    lying.insert(lying.end(), lower.begin(), lower.end());
    expectValues(flat.read(), lying);
    // Only what fills a tube is there.
    flat.b.choose(flat.b.formation, "fill", "tube")
        .set(flat.b.formation, "count", {4, 1, 4})
        .choose(flat.gesture, "pattern-read", "nearest");
    EXPECT_LT(flat.result()->count, 16);
    EXPECT_EQ(flat.waits(), "");
    flat.b.formationKind("ring");
    EXPECT_NE(flat.waits().find("The swarm stands on no grid"), std::string::npos) << flat.waits();
}

TEST(PicturePattern, WhereInstancesReadItIsTold) {
    write("eight.png", 4, 2, eight);
    Reading r(3, 3, 1, "eight.png");
    const auto samples = r.result()->cards.front().samples;
    ASSERT_EQ(samples.u.size(), 9u);
    for (std::size_t i = 0; i < 9; ++i) {
        EXPECT_NEAR(samples.u[i], 0.5f * static_cast<float>(i % 3), 1e-5f);
        EXPECT_NEAR(samples.v[i], 0.5f * static_cast<float>(i / 3), 1e-5f);
    }
    Build other = Build::grid(3, 1, 1);
    other.set(other.gesture("random"), "position", true);
    EXPECT_TRUE(other.result()->cards.front().samples.u.empty());
}

TEST(PicturePattern, PicturesBeyondTheLimitAreRefused) {
    write("eight.png", 4, 2, eight);
    const auto file = temporaryFolder() / "eight.png";
    EXPECT_NO_THROW(readStoredPictureFile(file, PictureAs::light, 4 * 2 * 4));
    EXPECT_THROW(readStoredPictureFile(file, PictureAs::light, 4 * 2 * 4 - 1), Error);
    Store store;
    Build b = Build::grid(1, 1, 1);
    const Edit media = addMedia(b.scene, pictureMedia);
    b.scene = media.scene;
    std::vector<std::array<int, 4>> many(1024 * 512, {1, 2, 3, 255});
    write("many.png", 1024, 512, many);
    b.set(media.made, "file", std::string("many.png"));
    store.limit(std::size_t{1} << 20);
    EXPECT_EQ(mediaTold(b.scene, media.made, 0, temporaryFolder(), store),
              "“Picture”: “many.png”: The picture has 1024 × 512 pixels, which take 2 MB: more than the limit of 1 MB in Preferences; "
              "raise that, "
              "or make it smaller.");
    store.limit(std::size_t{4} << 20);
    EXPECT_EQ(mediaTold(b.scene, media.made, 0, temporaryFolder(), store), "1024 × 512 pixels. One picture.");
}

TEST(PicturePattern, AveragesOverEachShare) {
    write("eight.png", 4, 2, eight);
    Reading r(2, 1, 1, "eight.png");
    r.b.choose(r.gesture, "pattern-read", "average").set(r.gesture, "pattern-columns", {2}).set(r.gesture, "pattern-rows", {1});
    r.b.choose(r.gesture, "pattern-channel", "red").choose(r.gesture, "pattern-over", "placed");
    r.b.set(r.gesture, "pattern-width", {2}).set(r.gesture, "pattern-height", {1});
    expectValues(r.read(), {(1 + light(10) + light(20)) / 4, (1 + light(30) + light(40)) / 4});
}

TEST(PicturePattern, ChannelsAreTheirClosedForms) {
    write("eight.png", 4, 2, eight);
    const auto of = [](const char* channel) {
        Reading r(4, 2, 1, "eight.png");
        r.b.choose(r.gesture, "pattern-over", "placed").set(r.gesture, "pattern-width", {4}).choose(r.gesture, "pattern-channel", channel);
        return r.read();
    };
    const auto hue = of("hue"), saturation = of("saturation"), alpha = of("alpha");
    expectValues({hue[4], hue[5], hue[6], hue[7]}, {0, 1 / 3.0f, 2 / 3.0f, 0});
    expectValues({saturation[4], saturation[7], saturation[0]}, {1, 0, 1});
    expectValues({alpha[3], alpha[2]}, {0, 1});
}

TEST(PicturePattern, ColoursAreThePicturesOwn) {
    write("eight.png", 4, 2, eight);
    Reading r(4, 2, 1, "eight.png");
    r.b.choose(r.gesture, "pattern-over", "placed").set(r.gesture, "pattern-width", {4}).choose(r.gesture, "pattern-channel", "colour");
    r.b.set(r.gesture, "scale", false).set(r.gesture, "colour", true).choose(r.gesture, "source", "driven");
    const auto colours = r.result()->columns->colour;
    for (std::size_t k = 0; k < 8; ++k) {
        const auto& pixel = eight[(k + 4) % 8];
        for (int c = 0; c < 3; ++c) EXPECT_EQ(static_cast<int>(colours[k] >> (8 * c) & 255), pixel[static_cast<std::size_t>(c)]) << k;
        EXPECT_EQ(colours[k] >> 24, 255u) << "opaque as the swarm is";
    }
    // One number is a grey; half as strong goes half the way.
    r.b.choose(r.gesture, "pattern-channel", "blue").set(r.gesture, "strength", {50}).set(r.b.material, "colour", {0, 0, 0, 1});
    const auto grey = r.result()->columns->colour;
    EXPECT_EQ(grey[6] & 255, grey[6] >> 8 & 255);
    EXPECT_NEAR(linearColour(grey[6]).x, 0.5f, 0.005f);
}

TEST(PicturePattern, PlainNumbersAreAsTheyAreWritten) {
    writeGrey("half.png", 128);
    Reading r(1, 1, 1, "half.png");
    EXPECT_NEAR(r.read()[0], light(128), 1e-5f);
    r.b.choose(r.media, "colours", "numbers");
    EXPECT_NEAR(r.read()[0], 128 / 255.0f, 1e-5f);
}

TEST(PicturePattern, WhatIsMissingIsToldAndTheRestGoesOn) {
    Reading r(3, 1, 1, "nowhere.png");
    EXPECT_NE(r.waits().find("nowhere.png"), std::string::npos) << r.waits();
    EXPECT_EQ(r.result()->visible, 3);
    std::ofstream(temporaryFolder() / "broken.png") << "no picture";
    r.b.set(r.media, "file", std::string("broken.png"));
    EXPECT_NE(r.waits().find("broken.png"), std::string::npos) << r.waits();
    EXPECT_EQ(mediaTold(r.b.scene, r.media, 0, temporaryFolder(), making::store()), r.waits());
    r.b.scene = remove(r.b.scene, r.media).scene;
    EXPECT_FALSE(r.waits().empty());
    // Found again, it is read; changed on disk, it is read anew.
    Reading found(1, 1, 1, "found.png");
    Evaluator evaluator;
    Progress progress;
    const auto size = [&] {
        return evaluator.evaluate(found.b.scene, found.b.swarm, 0, {{}, temporaryFolder()}, progress)->columns->matrix[0];
    };
    const float without = size();
    writeGrey("found.png", 255);
    const float bright = size();
    EXPECT_GT(bright, 1.9f * without);
    writeGrey("found.png", 0);
    EXPECT_NEAR(size(), without, 1e-5f);
}

TEST(PictureZone, ActsWhereThePictureIsBright) {
    write("eight.png", 4, 2, eight);
    Reading r(4, 1, 2, "eight.png");
    Build b = r.b;
    b.set(r.gesture, "scale", false);
    const ObjectId g = b.gesture(), zone = b.zone(g, "picture");
    b.set(g, "position", true).set(g, "positionAmount", {0, 1, 0}).choose(g, "positionAxes", "swarm");
    b.set(zone, "media", Value(r.media)).choose(zone, "channel", "red").choose(zone, "read", "nearest");
    b.set(zone, "width", {4}).set(zone, "depth", {2});
    Evaluator evaluator;
    Progress progress;
    const auto lifted = [&] {
        const auto shown = evaluator.evaluate(b.scene, b.swarm, 0, {{}, temporaryFolder()}, progress);
        std::vector<float> heights;
        for (std::size_t i = 0; i < 8; ++i) heights.push_back(shown->columns->matrix[12 * i + 7] - shown->columns->matrix[12 * 7 + 7]);
        return heights;
    };
    // The far row lies under its upper edge.
    std::vector<float> expected;
    for (const auto& pixel : eight) expected.push_back(light(pixel[0]) - light(40));
    expectValues(lifted(), expected);
    // Beyond its edges it does nothing.
    b.set(zone, "width", {2}).set(zone, "depth", {1});
    const auto less = lifted();
    EXPECT_EQ(less[0], less[3]);
}

TEST(PictureZone, ThinsAFormationOut) {
    write("halves.png", 2, 1, {{255, 255, 255, 255}, {0, 0, 0, 255}});
    Reading r(40, 1, 40, "halves.png");
    const ObjectId g = r.b.gesture(), zone = r.b.zone(g, "picture");
    r.b.set(zone, "media", Value(r.media)).choose(zone, "read", "nearest").set(zone, "width", {40}).set(zone, "depth", {40});
    r.b.set(r.b.formation, "standing-density", Value(zone));
    const auto shown = r.result();
    EXPECT_EQ(shown->count, 800);
    for (std::size_t i = 0; i < 800; ++i) EXPECT_LT(shown->columns->matrix[12 * i + 3], 0) << "the bright half";
}

TEST(PicturePattern, ChoosesTheShape) {
    write("halves.png", 2, 1, {{255, 255, 255, 255}, {0, 0, 0, 255}});
    Reading r(4, 1, 1, "halves.png");
    Build& b = r.b;
    const Edit ball = addShape(b.scene, *findKind(Family::shape, "ball"));
    b.scene = addStock(ball.scene, b.swarm, ball.made).scene;
    b.choose(b.swarm, "stock-rule-by", "pattern");
    b.scene = setKind(b.scene, b.swarm, "stockPattern", *findKind(Family::pattern, "picture")).scene;
    b.set(b.swarm, "stock-pattern-media", Value(r.media)).choose(b.swarm, "stock-pattern-read", "nearest");
    b.choose(b.swarm, "stock-pattern-channel", "brightness");
    EXPECT_EQ(r.result()->columns->variant, (std::vector<std::uint16_t>{1, 1, 0, 0}));
}

TEST(PicturePattern, LiesAsTheUvOfTheGround) {
    write("eight.png", 4, 2, eight);
    Reading r(1, 1, 1, "eight.png");
    Build& b = r.b;
    b.choose(r.gesture, "pattern-along", "ground").choose(r.gesture, "pattern-read", "smooth").choose(r.gesture, "pattern-channel", "red");
    EXPECT_NE(r.waits().find("stands on no mesh"), std::string::npos) << r.waits();
    // A ramp of numbers from left to right: what is read is u.
    write("ramp.png", 2, 1, {{0, 0, 0, 255}, {255, 255, 255, 255}});
    b.set(r.media, "file", std::string("ramp.png")).choose(r.media, "colours", "numbers");
    for (const char* formation : {"elements", "randomOnMesh", "evenlySpaced"}) {
        const ObjectId ball = b.standOn(formation, "ball");
        if (std::string(formation) == "evenlySpaced") b.choose(b.formation, "measure", "count").set(b.formation, "count", {300});
        const auto read = r.read();
        const auto shown = r.result();
        ASSERT_GT(read.size(), 50u) << formation;
        float least = 1, most = 0;
        for (std::size_t i = 0; i < read.size(); ++i) {
            const auto& extras = shown->home.stored->extras;
            const auto u = std::find_if(extras.begin(), extras.end(), [](const auto& e) { return e.what == HomeExtra::What::groundU; });
            ASSERT_NE(u, extras.end());
            EXPECT_NEAR(read[i], std::clamp(2 * u->values[i] - 0.5f, 0.0f, 1.0f), 1e-4f) << formation;
            least = std::min(least, u->values[i]), most = std::max(most, u->values[i]);
        }
        EXPECT_LT(least, 0.1f);
        EXPECT_GT(most, 0.9f);
        b.scene = remove(b.scene, ball).scene;
    }
}

TEST(PicturePattern, IsThrownThroughACamera) {
    write("eight.png", 4, 2, eight);
    Reading r(4, 2, 1, "eight.png");
    Build& b = r.b;
    b.choose(r.gesture, "pattern-along", "camera")
        .choose(r.gesture, "pattern-channel", "red")
        .choose(r.gesture, "pattern-edges", "nothing");
    // A parallel camera before them sees four metres across, in a picture twice as wide as high.
    const ObjectId camera = b.scene.all(ObjectType::camera).front();
    b.set(b.scene.project().id, "pictureWidth", {800}).set(b.scene.project().id, "pictureHeight", {400});
    b.set(camera, "projection", std::string("parallel")).set(camera, "width", {4});
    b.set(camera, "position", {0, 0, 10}).set(camera, "target", {0, 0, 0});
    const std::vector<float> expected{light(10), light(20), light(30), light(40), 1, 0, 0, 1};
    expectValues(r.read(), expected);
    // Where it stands does not matter, but where the swarm does; behind the camera there is nothing.
    b.set(r.gesture, "pattern-camera", Value(camera)).set(b.swarm, "position", {1, 0, 0});
    expectValues(r.read(), {light(20), light(30), light(40), 0, 0, 0, 1, 0});
    b.set(b.swarm, "position", {0, 0, 20});
    b.set(camera, "projection", std::string("perspective"));
    for (const float value : r.read()) EXPECT_EQ(value, 0);
}

TEST(PicturePattern, OfAStockThatIsMissingIsToldAndTheSwarmStays) {
    Reading r(4, 1, 1, "nowhere.png");
    Build& b = r.b;
    const Edit ball = addShape(b.scene, *findKind(Family::shape, "ball"));
    b.scene = addStock(ball.scene, b.swarm, ball.made).scene;
    b.choose(b.swarm, "stock-rule-by", "pattern");
    b.scene = setKind(b.scene, b.swarm, "stockPattern", *findKind(Family::pattern, "picture")).scene;
    b.set(b.swarm, "stock-pattern-media", Value(r.media));
    const auto result = r.result();
    EXPECT_EQ(result->visible, 4);
    ASSERT_FALSE(result->notes.empty());
    EXPECT_NE(result->notes.back().find("nowhere.png"), std::string::npos) << result->notes.back();
}

TEST(PicturePattern, BeginsWithWhatIsSeen) {
    // Where there is no picture, with a simulated camera; where there is one, with that.
    Build b = Build::grid(2, 1, 1);
    const ObjectId g = b.gesture();
    const Edit first = setKind(b.scene, g, "pattern", *findKind(Family::pattern, "picture"));
    const ObjectId camera = referenceOf(first.scene.at(g).part("pattern"), "media");
    ASSERT_TRUE(first.scene.find(camera));
    EXPECT_EQ(first.scene.at(camera).part("media").kind, &simulatedCameraMedia);
    EXPECT_EQ(first.scene.at(camera).name, "Simulated camera");
}
