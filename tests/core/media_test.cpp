// Pictures, numbered pictures and the simulated camera: what they show, and what patterns and zones read of them.
#include <gtest/gtest.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <fstream>
#include <glm/common.hpp>

#include "core/base/chance.h"
#include "core/base/error.h"
#include "core/base/numbered_files.h"
#include "core/exchange/png.h"
#include "core/exchange/project_copy.h"
#include "core/file/project_file.h"
#include "core/kinds/registry.h"
#include "core/media/media_kind.h"
#include "core/provide/bring_in.h"
#include "core/provide/media.h"
#include "core/resolve/resolve.h"
#include "tests/core/making.h"

using namespace gswarm;
using glm::vec4;
using making::Build, making::temporaryFolder;

namespace {

/// Pixels by chance.
MediaFrame noisy(int width, int height) {
    MediaFrame frame{{width, height, std::vector<vec4>(static_cast<std::size_t>(width * height))}, 0};
    for (std::size_t i = 0; i < frame.pixels.size(); ++i)
        for (int c = 0; c < 4; ++c) frame.pixels[i][c] = chance(7, i, static_cast<std::uint32_t>(c));
    return frame;
}

/// A picture of bytes R G B A in the tests' folder.
void write(const std::string& name, int width, int height, const std::vector<std::array<int, 4>>& pixels) {
    Image image{width, height, {}};
    for (const auto& p : pixels)
        for (const int v : p) image.pixels.push_back(static_cast<std::uint8_t>(v));
    std::filesystem::create_directories((temporaryFolder() / name).parent_path());
    writePng(image, temporaryFolder() / name);
}
void writeGrey(const std::string& name, int value) { write(name, 1, 1, {{value, value, value, 255}}); }

float light(int byte) { return static_cast<float>(linearFromSrgb(byte / 255.0)); }

/// Upright, four by two, every pixel another: the first above to the left.
const std::vector<std::array<int, 4>> eight = {{255, 0, 0, 255}, {0, 255, 0, 255}, {0, 0, 255, 255}, {255, 255, 255, 255},
                                               {10, 0, 0, 255},  {20, 0, 0, 255},  {30, 0, 0, 255},  {40, 0, 0, 0}};

/// A grid with a gesture that raises each by what it reads of media.
struct Reading {
    Build b;
    ObjectId media, gesture;

    Reading(int nx, int ny, int nz, const MediaKind& kind) : b(Build::grid(nx, ny, nz)) {
        const Edit made = addMedia(b.scene, kind);
        b.scene = made.scene;
        media = made.made;
        gesture = b.gesture("picture");
        b.set(gesture, "pattern-media", Value(media)).set(gesture, "scale", true).set(gesture, "scaleAmount", {2, 2, 2});
        b.choose(gesture, "pattern-read", "nearest").choose(gesture, "pattern-channel", "brightness");
    }
    /// With a picture of the tests' folder.
    Reading(int nx, int ny, int nz, const char* file) : Reading(nx, ny, nz, pictureMedia) { b.set(media, "file", std::string(file)); }
    std::shared_ptr<const Result> result(double frame = 0) const {
        Evaluator evaluator;
        Progress progress;
        return evaluator.evaluate(b.scene, b.swarm, frame, {{}, temporaryFolder()}, progress);
    }
    /// What was read by each: by how much it grew.
    std::vector<float> read(double frame = 0) const {
        const auto shown = result(frame), still = [&] {
            Build without = b;
            without.set(gesture, "scale", false);
            Evaluator evaluator;
            Progress progress;
            return evaluator.evaluate(without.scene, b.swarm, frame, {{}, temporaryFolder()}, progress);
        }();
        std::vector<float> values;
        for (std::size_t i = 0; i < static_cast<std::size_t>(shown->count); ++i)
            values.push_back(shown->columns->matrix[12 * i] / still->columns->matrix[12 * i] - 1);
        return values;
    }
    std::string waits() const { return result()->cards.front().waits; }
};

void expectNear(const std::vector<float>& values, const std::vector<float>& expected, float tolerance = 2e-5f) {
    ASSERT_EQ(values.size(), expected.size());
    for (std::size_t i = 0; i < values.size(); ++i) EXPECT_NEAR(values[i], expected[i], tolerance) << i;
}

std::shared_ptr<const MediaFrame> cameraAt(Build& b, ObjectId camera, double frame) {
    return mediaAt(b.scene, camera, frame, {}, making::store(), nullptr);
}

}  // namespace

TEST(MediaFrame, EdgesGoOnAsTheySay) {
    const auto all = [](PictureEdges edges) {
        std::vector<int> pixels;
        for (int k = -4; k < 7; ++k) pixels.push_back(pixelWithin(k, 3, edges));
        return pixels;
    };
    EXPECT_EQ(all(PictureEdges::hold), (std::vector<int>{0, 0, 0, 0, 0, 1, 2, 2, 2, 2, 2}));
    EXPECT_EQ(all(PictureEdges::repeat), (std::vector<int>{2, 0, 1, 2, 0, 1, 2, 0, 1, 2, 0}));
    EXPECT_EQ(all(PictureEdges::mirror), (std::vector<int>{2, 2, 1, 0, 0, 1, 2, 2, 1, 0, 0}));
    EXPECT_EQ(all(PictureEdges::nothing), (std::vector<int>{-1, -1, -1, -1, 0, 1, 2, -1, -1, -1, -1}));
}

TEST(MediaFrame, SmoothIsEvenBetweenMiddles) {
    MediaFrame ramp{{5, 3, {}}, 0};
    for (int y = 0; y < 3; ++y)
        for (int x = 0; x < 5; ++x) ramp.pixels.push_back(vec4(float(x), float(2 - y), 1, 1));
    for (float u = 0.1f; u <= 0.9f; u += 0.05f)
        for (float v = 0.2f; v <= 0.8f; v += 0.05f) {
            const vec4 read = smoothPixel(ramp, u, v, PictureEdges::hold);
            EXPECT_NEAR(read.x, u * 5 - 0.5f, 1e-5f);
            EXPECT_NEAR(read.y, v * 3 - 0.5f, 1e-5f) << "the upper edge is 1";
        }
    EXPECT_EQ(nearestPixel(ramp, 0, 1, PictureEdges::nothing), ramp.at(0, 0));
    EXPECT_EQ(nearestPixel(ramp, 1, 0, PictureEdges::nothing), ramp.at(4, 2));
    EXPECT_EQ(nearestPixel(ramp, 1.01f, 0, PictureEdges::nothing), vec4(0));
}

TEST(MediaFrame, MeansOfRectanglesAreExactAlsoWhereTheyCutPixels) {
    const MediaFrame frame = noisy(23, 17);
    const PictureSums<vec4> sums(frame);
    for (int k = 0; k < 300; ++k) {
        const auto random = [k](std::uint32_t which) { return chance(3, static_cast<std::uint64_t>(k), which); };
        const float u = random(0), v = random(1), width = random(2), height = random(3);
        // Brute force: every pixel by the area of it that the rectangle covers.
        glm::dvec4 sum(0);
        double area = 0;
        const double left = std::max(0.0, (u - width / 2.0) * 23), right = std::min(23.0, (u + width / 2.0) * 23);
        const double top = std::max(0.0, (1 - v - height / 2.0) * 17), bottom = std::min(17.0, (1 - v + height / 2.0) * 17);
        for (int y = 0; y < 17; ++y)
            for (int x = 0; x < 23; ++x) {
                const double covered = std::max(0.0, std::min(right, x + 1.0) - std::max(left, double(x))) *
                                       std::max(0.0, std::min(bottom, y + 1.0) - std::max(top, double(y)));
                sum += covered * glm::dvec4(frame.at(x, y));
                area += covered;
            }
        const vec4 mean = sums.mean(u, v, width, height);
        for (int c = 0; c < 4; ++c) EXPECT_NEAR(mean[c], sum[c] / area, 1e-5) << k;
    }
    // Of all, and of nothing at a corner.
    EXPECT_NEAR(sums.mean(0.5f, 0.5f, 1, 1).x, sums.mean(0.5f, 0.5f, 9, 9).x, 1e-6f);
    EXPECT_NEAR(sums.mean(2, -1, 0.1f, 0.1f).y, frame.at(22, 16).y, 1e-4f);
}

TEST(PicturePattern, ReadsThePixelWhereEachStands) {
    write("eight.png", 4, 2, eight);
    Reading r(4, 2, 1, "eight.png");
    const float below[] = {light(10), light(20), light(30), light(40)};
    std::vector<float> expected;
    for (const float red : below) expected.push_back(0.2126f * red);
    for (const float bright : {0.2126f, 0.7152f, 0.0722f, 1.0f}) expected.push_back(bright);
    // The grid counts along X, then up. Its outermost stand on the edges.
    r.b.choose(r.gesture, "pattern-over", "placed").set(r.gesture, "pattern-width", {4}).set(r.gesture, "pattern-height", {2});
    expectNear(r.read(), expected);
    // Along Y it is seen from above: its upper edge lies toward −Z.
    Reading flat(4, 1, 2, "eight.png");
    flat.b.choose(flat.gesture, "pattern-along", "y").choose(flat.gesture, "pattern-over", "placed");
    flat.b.set(flat.gesture, "pattern-width", {4});
    std::rotate(expected.begin(), expected.begin() + 4, expected.end());
    expectNear(flat.read(), expected);
    // Turned by half a turn, its last pixel is where its first was.
    flat.b.set(flat.gesture, "pattern-angle", {180});
    std::reverse(expected.begin(), expected.end());
    expectNear(flat.read(), expected);
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

TEST(PicturePattern, AveragesOverEachShare) {
    write("eight.png", 4, 2, eight);
    Reading r(2, 1, 1, "eight.png");
    r.b.choose(r.gesture, "pattern-read", "average").set(r.gesture, "pattern-columns", {2}).set(r.gesture, "pattern-rows", {1});
    r.b.choose(r.gesture, "pattern-channel", "red").choose(r.gesture, "pattern-over", "placed");
    r.b.set(r.gesture, "pattern-width", {2}).set(r.gesture, "pattern-height", {1});
    expectNear(r.read(), {(1 + light(10) + light(20)) / 4, (1 + light(30) + light(40)) / 4});
}

TEST(PicturePattern, ChannelsAreTheirClosedForms) {
    write("eight.png", 4, 2, eight);
    const auto of = [](const char* channel) {
        Reading r(4, 2, 1, "eight.png");
        r.b.choose(r.gesture, "pattern-over", "placed").set(r.gesture, "pattern-width", {4}).choose(r.gesture, "pattern-channel", channel);
        return r.read();
    };
    const auto hue = of("hue"), saturation = of("saturation"), alpha = of("alpha");
    expectNear({hue[4], hue[5], hue[6], hue[7]}, {0, 1 / 3.0f, 2 / 3.0f, 0});
    expectNear({saturation[4], saturation[7], saturation[0]}, {1, 0, 1});
    expectNear({alpha[3], alpha[2]}, {0, 1});
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

TEST(Pictures, AreShownByTheirNumbers) {
    for (const int number : {7, 8, 9, 11})
        writeGrey("row/wave." + std::string(number < 10 ? "000" : "00") + std::to_string(number) + ".png", number);
    writeGrey("row/other.0008.png", 200);
    EXPECT_EQ(numberedLike(temporaryFolder() / "row/wave.0008.png").size(), 4u);
    Reading r(1, 1, 1, picturesMedia);
    r.b.set(r.media, "file", std::string("row/wave.0009.png")).choose(r.media, "colours", "numbers");
    const auto shown = [&](double frame) { return static_cast<int>(std::lround(r.read(frame)[0] * 255)); };
    std::vector<int> held;
    for (int frame = -1; frame < 7; ++frame) held.push_back(shown(frame));
    EXPECT_EQ(held, (std::vector<int>{7, 7, 8, 9, 9, 11, 11, 11})) << "the one before stands for a missing number";
    r.b.choose(r.media, "beyond", "repeat");
    EXPECT_EQ((std::vector<int>{shown(-1), shown(5), shown(6)}), (std::vector<int>{11, 7, 8}));
    r.b.choose(r.media, "beyond", "backAndForth");
    EXPECT_EQ((std::vector<int>{shown(4), shown(5), shown(7), shown(8)}), (std::vector<int>{11, 9, 8, 7}));
    // Half as many a second, from frame 10 on.
    r.b.choose(r.media, "beyond", "hold").set(r.media, "rate", {12.5}).set(r.media, "start", {10});
    EXPECT_EQ((std::vector<int>{shown(9), shown(11), shown(12), shown(14)}), (std::vector<int>{7, 7, 8, 9}));
    const std::string told = mediaTold(r.b.scene, r.media, 0, temporaryFolder(), making::store());
    EXPECT_EQ(told, "1 × 1 pixels. 4 pictures, 12.5 a second, 0.4 s. 1 number is missing; the picture before stands for each.");
}

TEST(Pictures, EachInstanceSeesItsOwnMoment) {
    for (int number = 0; number < 6; ++number) writeGrey("steps/s" + std::to_string(number) + ".png", 40 * number);
    Reading r(5, 1, 1, picturesMedia);
    r.b.set(r.media, "file", std::string("steps/s0.png")).choose(r.media, "colours", "numbers");
    r.b.choose(r.gesture, "when-by", "number").set(r.gesture, "when-over", {4});
    expectNear(r.read(4), {160 / 255.0f, 120 / 255.0f, 80 / 255.0f, 40 / 255.0f, 0});
    // Every route to a frame gives the same.
    expectNear(r.read(5), {200 / 255.0f, 160 / 255.0f, 120 / 255.0f, 80 / 255.0f, 40 / 255.0f});
}

TEST(Pictures, AllOfThemAreCopiedWithTheProjectAndBroughtIn) {
    for (int number = 1; number < 4; ++number) writeGrey("outside/reef_" + std::to_string(number) + ".png", number);
    const auto project = temporaryFolder() / "project";
    std::filesystem::create_directories(project);
    FileHashes hashes;
    const std::string inside = bringInNumbered(temporaryFolder() / "outside/reef_2.png", project, hashes);
    EXPECT_EQ(inside, "reef/reef_2.png");
    EXPECT_TRUE(std::filesystem::exists(project / "reef/reef_3.png"));
    Reading r(1, 1, 1, picturesMedia);
    r.b.set(r.media, "file", inside);
    EXPECT_EQ(filesOf(r.b.scene, project).size(), 3u);
    Progress progress;
    EXPECT_TRUE(copyProject(r.b.scene, project, temporaryFolder() / "copy/reef.gswarm", progress).empty());
    EXPECT_TRUE(std::filesystem::exists(temporaryFolder() / "copy/reef/reef_1.png"));
    const Scene opened = loadProject(temporaryFolder() / "copy/reef.gswarm");
    EXPECT_EQ(opened.all(ObjectType::media).size(), 1u);
}

TEST(SimulatedCamera, IsAFunctionOfSeedAndTime) {
    Build b = Build::grid(1, 1, 1);
    const Edit made = addMedia(b.scene, simulatedCameraMedia), other = addMedia(made.scene, simulatedCameraMedia);
    b.scene = other.scene;
    const auto first = cameraAt(b, made.made, 10);
    EXPECT_EQ(first->width, 160);
    EXPECT_EQ(first->pixels, cameraAt(b, other.made, 10)->pixels);
    EXPECT_NE(first->pixels, cameraAt(b, made.made, 11)->pixels);
    b.set(other.made, "seed", {2});
    EXPECT_NE(first->pixels, cameraAt(b, other.made, 10)->pixels);
    float brightest = 0;
    for (const vec4& pixel : first->pixels) {
        for (int c = 0; c < 3; ++c) ASSERT_TRUE(pixel[c] >= 0 && pixel[c] < 10);
        EXPECT_EQ(pixel.w, 1);
        brightest = std::max(brightest, pixel.x);
    }
    EXPECT_GT(brightest, 0.5f) << "the lantern is seen";
    // At its own rate it stands still between two pictures.
    b.set(made.made, "rate", {5});
    EXPECT_EQ(cameraAt(b, made.made, 10)->pixels, cameraAt(b, made.made, 14)->pixels);
    EXPECT_NE(cameraAt(b, made.made, 10)->pixels, cameraAt(b, made.made, 15)->pixels);
    EXPECT_NE(mediaTold(b.scene, made.made, 0, {}, making::store()).find("No camera is opened"), std::string::npos);
}

TEST(SimulatedCamera, ComesBackAfterALoopWhereItIsToldTo) {
    Build b = Build::grid(1, 1, 1);
    const Edit made = addMedia(b.scene, simulatedCameraMedia);
    b.scene = made.scene;
    const double loop = momentAt(b.scene, 0).loopFrames;
    const auto apart = [&](double from) {
        const auto one = cameraAt(b, made.made, from), two = cameraAt(b, made.made, from + loop);
        float most = 0;
        for (std::size_t i = 0; i < one->pixels.size(); ++i)
            for (int c = 0; c < 3; ++c) most = std::max(most, std::abs(one->pixels[i][c] - two->pixels[i][c]));
        return most;
    };
    EXPECT_GT(apart(3), 0.1f);
    b.set(made.made, "loops", true);
    for (const double frame : {0.0, 3.0, 50.0}) EXPECT_LT(apart(frame), 1e-3f);
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
    expectNear(lifted(), expected);
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
    expectNear(r.read(), expected);
    // Where it stands does not matter, but where the swarm does; behind the camera there is nothing.
    b.set(r.gesture, "pattern-camera", Value(camera)).set(b.swarm, "position", {1, 0, 0});
    expectNear(r.read(), {light(20), light(30), light(40), 0, 0, 0, 1, 0});
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
