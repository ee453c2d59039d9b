// Pictures, numbered pictures and the simulated camera: what they show, and where they come from.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "core/base/chance.h"
#include "core/base/error.h"
#include "core/base/numbered_files.h"
#include "core/exchange/png.h"
#include "core/exchange/project_copy.h"
#include "core/file/project_file.h"
#include "core/provide/bring_in.h"
#include "core/provide/media.h"
#include "core/resolve/resolve.h"
#include "tests/core/reading.h"

using namespace gswarm;
using namespace gswarm::reading;
using glm::vec4;
using making::Build, making::temporaryFolder;

namespace {

/// Pixels by chance.
Pixels<vec4> noisy(int width, int height) {
    Pixels<vec4> frame{width, height, std::vector<vec4>(static_cast<std::size_t>(width * height))};
    for (std::size_t i = 0; i < frame.pixels.size(); ++i)
        for (int c = 0; c < 4; ++c) frame.pixels[i][c] = chance(7, i, static_cast<std::uint32_t>(c));
    return frame;
}

/// Light that the simulated camera sees.
std::vector<vec4> seenBy(Build& b, ObjectId camera, double frame) {
    return std::get<Pixels<vec4>>(mediaAt(b.scene, camera, frame, {}, making::store())->pixels).pixels;
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
    Pixels<vec4> ramp{5, 3, {}};
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
    const Pixels<vec4> frame = noisy(23, 17);
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

TEST(MediaFrame, BytesAreReadAsWhatTheyStandFor) {
    auto bytes = std::make_shared<std::vector<std::uint8_t>>(4 * 19 * 11);
    for (std::size_t i = 0; i < bytes->size(); ++i) (*bytes)[i] = static_cast<std::uint8_t>(256 * chance(11, i, 0));
    for (const PictureAs as : {PictureAs::light, PictureAs::numbers}) {
        const BytePixels encoded = bytePixels(19, 11, bytes, as);
        Pixels<vec4> light{19, 11, {}};
        for (std::size_t i = 0; i < bytes->size(); i += 4) {
            vec4 pixel;
            for (int c = 0; c < 4; ++c) {
                const double share = (*bytes)[i + static_cast<std::size_t>(c)] / 255.0;
                pixel[c] = static_cast<float>(as == PictureAs::light && c < 3 ? linearFromSrgb(share) : share);
            }
            light.pixels.push_back(pixel);
        }
        for (std::uint64_t k = 0; k < 500; ++k)
            for (const PictureEdges edges : {PictureEdges::hold, PictureEdges::repeat, PictureEdges::mirror, PictureEdges::nothing}) {
                const float u = 3 * chance(5, k, 0) - 1, v = 3 * chance(5, k, 1) - 1;
                EXPECT_EQ(nearestPixel(encoded, u, v, edges), nearestPixel(light, u, v, edges));
                EXPECT_EQ(smoothPixel(encoded, u, v, edges), smoothPixel(light, u, v, edges));
            }
        EXPECT_EQ(PictureSums<vec4>(encoded).mean(0.3f, 0.6f, 0.4f, 0.2f), PictureSums<vec4>(light).mean(0.3f, 0.6f, 0.4f, 0.2f));
    }
}

TEST(MediaFrame, PicturesOf8BitsTakeFourBytesAPixel) {
    write("small.png", 40, 30, std::vector<std::array<int, 4>>(1200, {10, 200, 30, 128}));
    writePng(Image16{40, 30, std::vector<std::uint16_t>(4 * 1200, 30000)}, temporaryFolder() / "deep.png");
    const auto shown = [](const char* file) {
        Reading r(1, 1, 1, file);
        r.b.choose(r.media, "colours", "light");
        return mediaAt(r.b.scene, r.media, 0, temporaryFolder(), making::store());
    };
    EXPECT_LT(shown("small.png")->bytes(), 4 * 1200 + 200u);
    EXPECT_EQ(shown("small.png")->at(3, 4).y, static_cast<float>(linearFromSrgb(200 / 255.0)));
    EXPECT_EQ(shown("small.png")->at(3, 4).w, static_cast<float>(128 / 255.0));
    EXPECT_GE(shown("deep.png")->bytes(), 16 * 1200u);
    EXPECT_EQ(shown("deep.png")->at(39, 29).x, static_cast<float>(linearFromSrgb(30000 / 65535.0)));
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

TEST(Pictures, DigitsThatNoNumberHoldsAreAName) {
    const std::string name = "digits/p99999999999999999999999.png";
    writeGrey(name, 128);
    EXPECT_EQ(numberedLike(temporaryFolder() / name).size(), 1u);
    writeGrey("digits/q9223372036854775807.png", 1);
    writeGrey("digits/q0.png", 255);
    Reading r(1, 1, 1, picturesMedia);
    r.b.set(r.media, "file", name).choose(r.media, "colours", "numbers");
    EXPECT_NEAR(r.read()[0], 128 / 255.0f, 1e-5f);
    r.b.set(r.media, "file", std::string("digits/q9223372036854775807.png"));
    EXPECT_NEAR(r.read(9)[0], 1, 1e-5f);
}

TEST(Pictures, LinksThatLeadOutOfTheFolderAreRefused) {
    writeGrey("linked/in/s1.png", 10);
    writeGrey("linked/out/secret.png", 200);
    std::filesystem::create_symlink(temporaryFolder() / "linked/out/secret.png", temporaryFolder() / "linked/in/s2.png");
    Build b = Build::grid(1, 1, 1);
    const Edit media = addMedia(b.scene, picturesMedia);
    b.scene = media.scene;
    b.set(media.made, "file", std::string("s1.png"));
    const auto at = [&](double frame) { return mediaAt(b.scene, media.made, frame, temporaryFolder() / "linked/in", making::store()); };
    EXPECT_NO_THROW(at(0));
    EXPECT_THROW(at(1), Error);
}

TEST(Pictures, EachInstanceSeesItsOwnMoment) {
    for (int number = 0; number < 6; ++number) writeGrey("steps/s" + std::to_string(number) + ".png", 40 * number);
    Reading r(5, 1, 1, picturesMedia);
    r.b.set(r.media, "file", std::string("steps/s0.png")).choose(r.media, "colours", "numbers");
    r.b.choose(r.gesture, "when-by", "number").set(r.gesture, "when-over", {4});
    expectValues(r.read(4), {160 / 255.0f, 120 / 255.0f, 80 / 255.0f, 40 / 255.0f, 0});
    // Every route to a frame gives the same.
    expectValues(r.read(5), {200 / 255.0f, 160 / 255.0f, 120 / 255.0f, 80 / 255.0f, 40 / 255.0f});
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
    const auto first = seenBy(b, made.made, 10);
    EXPECT_EQ(mediaAt(b.scene, made.made, 10, {}, making::store())->width(), 160);
    EXPECT_EQ(first, seenBy(b, other.made, 10));
    EXPECT_NE(first, seenBy(b, made.made, 11));
    b.set(other.made, "seed", {2});
    EXPECT_NE(first, seenBy(b, other.made, 10));
    float brightest = 0;
    for (const vec4& pixel : first) {
        for (int c = 0; c < 3; ++c) ASSERT_TRUE(pixel[c] >= 0 && pixel[c] < 10);
        EXPECT_EQ(pixel.w, 1);
        brightest = std::max(brightest, pixel.x);
    }
    EXPECT_GT(brightest, 0.5f) << "the lantern is seen";
    // At its own rate it stands still between two pictures.
    b.set(made.made, "rate", {5});
    EXPECT_EQ(seenBy(b, made.made, 10), seenBy(b, made.made, 14));
    EXPECT_NE(seenBy(b, made.made, 10), seenBy(b, made.made, 15));
    EXPECT_NE(mediaTold(b.scene, made.made, 0, {}, making::store()).find("No camera is opened"), std::string::npos);
}

TEST(SimulatedCamera, ComesBackAfterALoopWhereItIsToldTo) {
    Build b = Build::grid(1, 1, 1);
    const Edit made = addMedia(b.scene, simulatedCameraMedia);
    b.scene = made.scene;
    const double loop = momentAt(b.scene, 0).loopFrames;
    const auto apart = [&](double from) {
        const auto one = seenBy(b, made.made, from), two = seenBy(b, made.made, from + loop);
        float most = 0;
        for (std::size_t i = 0; i < one.size(); ++i)
            for (int c = 0; c < 3; ++c) most = std::max(most, std::abs(one[i][c] - two[i][c]));
        return most;
    };
    EXPECT_GT(apart(3), 0.1f);
    b.set(made.made, "loops", true);
    for (const double frame : {0.0, 3.0, 50.0}) EXPECT_LT(apart(frame), 1e-3f);
}
