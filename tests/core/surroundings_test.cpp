// Light from far away that comes from pictures: reading them, picking directions, lighting by them.
#include <gtest/gtest.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <numbers>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/exchange/png.h"
#include "core/explain/findings.h"
#include "core/kinds/registry.h"
#include "core/picture/after.h"
#include "core/picture/blurred_panorama.h"
#include "core/picture/far_sampler.h"
#include "core/picture/sobol.h"
#include "core/picture/trace.h"
#include "core/provide/picture_files.h"
#include "core/provide/read_picture.h"
#include "core/resolve/resolve.h"
#include "tests/core/making.h"

using namespace gswarm;
using glm::vec3;
using making::Build;
using std::numbers::pi;

namespace {

/// A picture of all directions that is dark but for one bright rectangle.
FloatPicture window(int width, vec3 light, int x, int y, int across, int down, vec3 dark = vec3(0)) {
    FloatPicture picture{width, width / 2, std::vector<vec3>(static_cast<std::size_t>(width * width / 2), dark)};
    for (int b = y; b < y + down; ++b)
        for (int a = x; a < x + across; ++a) picture.light[static_cast<std::size_t>(b * width + a)] = light;
    return picture;
}

Surroundings around(const Panorama& panorama) {
    Surroundings made;
    made.picture = std::make_shared<const Panorama>(panorama);
    return made;
}

/// Radiance HDR without runs, as the simplest writers make it.
std::string hdrOf(const FloatPicture& picture) {
    std::string out =
        "#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y " + std::to_string(picture.height) + " +X " + std::to_string(picture.width) + "\n";
    for (const vec3& c : picture.light) {
        int exponent = 0;
        const float bright = std::max({c.x, c.y, c.z});
        const float scale = bright > 0 ? std::frexp(bright, &exponent) * 256 / bright : 0;
        for (int k = 0; k < 3; ++k) out += static_cast<char>(static_cast<int>(c[k] * scale));
        out += bright > 0 ? static_cast<char>(exponent + 128) : '\0';
    }
    return out;
}

/// A folder of its own that goes with it.
struct Folder {
    std::filesystem::path path = std::filesystem::temp_directory_path() / ("gswarm-surroundings-" + std::to_string(::getpid()));
    Folder() { std::filesystem::create_directories(path); }
    ~Folder() { std::filesystem::remove_all(path); }
    void write(const char* name, const std::string& bytes) const { std::ofstream(path / name, std::ios::binary) << bytes; }
};

ObjectId addSurroundings(Build& b) {
    const Edit edit = addLight(b.scene, surroundingsLight);
    b.scene = edit.scene;
    return edit.made;
}

}  // namespace

TEST(Panoramas, ADirectionComesBackToItsPlace) {
    for (float x = 0.01f; x < 1; x += 0.07f)
        for (float y = 0.01f; y < 1; y += 0.07f) {
            const glm::vec2 place = onPanorama(fromPanorama({x, y}));
            EXPECT_NEAR(place.x, x, 1e-5f);
            EXPECT_NEAR(place.y, y, 1e-5f);
        }
    // Its middle is ahead, its right half is to the right, its first row straight up.
    making::expectNear(fromPanorama({0.5f, 0.5f}), {0, 0, -1}, 1e-6f);
    making::expectNear(fromPanorama({0.75f, 0.5f}), {1, 0, 0}, 1e-6f);
    making::expectNear(fromPanorama({0.3f, 0}), {0, 1, 0}, 1e-6f);
}

TEST(Panoramas, DirectionsArePickedByTheLightThatComesFromThere) {
    const Panorama panorama(window(64, {40, 20, 10}, 20, 9, 3, 2, vec3(0.01f)));
    double angle = 0;
    glm::dvec3 light(0);
    int bright = 0;
    constexpr int picks = 40000;
    for (int k = 0; k < picks; ++k) {
        const float u = (static_cast<float>(k % 200) + 0.5f) / 200, v = (static_cast<float>(k / 200) + 0.5f) / 200;
        const glm::vec2 place = panorama.pick(u, v);
        const Panorama::Seen seen = panorama.at(place);
        const float density = Panorama::bySolidAngle(seen.density, std::sin(place.y * static_cast<float>(pi)));
        ASSERT_GT(density, 0);
        angle += 1.0 / density;
        light += glm::dvec3(seen.light) / static_cast<double>(density);
        bright += seen.light.x > 1;
        ASSERT_LT(glm::length(panorama.from(fromPanorama(place)) - seen.light), 0.02f);
    }
    EXPECT_NEAR(angle / picks / (4 * pi), 1, 0.02) << "all directions together";
    EXPECT_NEAR(light.x / picks / (4 * pi) / panorama.mean().x, 1, 0.02);
    EXPECT_GT(bright, picks / 2) << "six of 2048 pixels have most of the light";
}

TEST(Panoramas, AnEvenOneIsPickedEvenly) {
    const Panorama panorama(window(512, {}, 0, 0, 0, 0, vec3(3)));
    for (const vec3 direction : {vec3(0, 0.3f, 1), vec3(1, 0, 0), vec3(0.3f, -0.8f, 0.2f)}) {
        EXPECT_NEAR(panorama.from(glm::normalize(direction)).y, 3, 1e-5f);
        const vec3 unit = glm::normalize(direction);
        const float density = panorama.at(onPanorama(unit)).density;
        EXPECT_NEAR(Panorama::bySolidAngle(density, std::sqrt(1 - unit.y * unit.y)) * 4 * pi, 1, 0.02) << direction.y;
    }
    EXPECT_NEAR(panorama.mean().z, 3, 1e-5f);
}

TEST(Panoramas, OneThatIsNoneIsRefused) {
    EXPECT_THROW(Panorama(FloatPicture{32, 32, std::vector<vec3>(1024)}), Error);
    EXPECT_NO_THROW(Panorama(FloatPicture{33, 16, std::vector<vec3>(33 * 16)}));
    // Larger ones keep their light.
    const Panorama large(window(4100, {1, 1, 1}, 0, 0, 4100, 1025));
    EXPECT_EQ(large.width(), 2050) << "by whole pixels";
    EXPECT_NEAR(large.mean().x, 0.5f, 1e-3f);
}

TEST(Panoramas, WhatIsMirroredBlursWithTheRoughness) {
    const Panorama panorama(window(256, vec3(100), 120, 60, 8, 8));
    const BlurredPanorama blurs = blurred(panorama);
    constexpr int side = BlurredPanorama::side;
    constexpr std::size_t each = std::size_t{side} * side;
    const auto brightest = [&](std::size_t level) {
        return std::max_element(&blurs.light[level * each], &blurs.light[level * each] + each,
                                [](const vec3& a, const vec3& b) { return a.x < b.x; });
    };
    for (std::size_t level = 1; level < BlurredPanorama::levels; ++level) EXPECT_LT(brightest(level)->x, brightest(level - 1)->x) << level;
    // It is brightest where the window is.
    const vec3 toward = fromPanorama({124.0f / 256, 64.0f / 128});
    const vec3 o = toward / (std::abs(toward.x) + std::abs(toward.y) + std::abs(toward.z));
    const long at = brightest(2) - &blurs.light[2 * each];
    ASSERT_NEAR(o.y, 0, 0.05f);
    EXPECT_NEAR(static_cast<float>(at % side) + 0.5f, o.x * 16 + 17, 1.5f);
    EXPECT_NEAR(static_cast<float>(at / side) + 0.5f, o.z * 16 + 17, 1.5f);
    // What lies beyond an edge is what is there.
    for (std::size_t level = 0; level < BlurredPanorama::levels; ++level)
        for (int k = 1; k < side - 1; ++k) {
            const auto light = [&](int x, int z) { return blurs.light[level * each + static_cast<std::size_t>(z * side + x)].x; };
            EXPECT_NEAR(light(0, k), light(1, side - 1 - k), 1e-4f);
            EXPECT_NEAR(light(k, side - 1), light(side - 1 - k, side - 2), 1e-4f);
        }
}

TEST(Panoramas, MattPaperReceivesWhatItsHalfOfThemSends) {
    // A wide window, and light from everywhere.
    const Panorama panorama(window(256, vec3(3, 2, 1), 60, 20, 60, 50, vec3(0.4f)));
    const BlurredPanorama blurs = blurred(panorama);
    for (const vec3 n : {vec3(0, 1, 0), vec3(0, -1, 0), glm::normalize(vec3(1, 2, -3)), glm::normalize(vec3(-3, 1, 0.4f))}) {
        const vec3 found = lightFrom(blurs.matt, n);
        vec3 wanted(0);
        for (int v = 0; v < 128; ++v)
            for (int u = 0; u < 256; ++u) {
                const glm::vec2 place((static_cast<float>(u) + 0.5f) / 256, (static_cast<float>(v) + 0.5f) / 128);
                const vec3 d = fromPanorama(place);
                wanted += panorama.from(d) * (std::max(0.0f, glm::dot(d, n)) * std::sin(place.y * static_cast<float>(pi)) *
                                              static_cast<float>(2 * pi) / (256 * 128));
            }
        for (int c = 0; c < 3; ++c) EXPECT_NEAR(found[c], wanted[c], 0.04f * wanted[c]) << n.x << " " << n.y << " " << n.z;
    }
}

TEST(Surroundings, LightAndDensityOfAWayAreThoseOfWhatIsMet) {
    FarLight light;
    light.suns = {{{0, 1, 0}, vec3(2), 0.1f}, {glm::normalize(vec3(1, 1, 0)), vec3(0, 1, 0), 0.3f}};
    light.surroundings = {around(Panorama(window(64, vec3(9), 10, 4, 6, 6, vec3(0.2f))))};
    light.surroundings[0].around = 0.7f;
    const FarSampler sampler(light);
    ASSERT_EQ(sampler.count(), 3);
    constexpr int picks = 40000;
    // Of a sun white paper that faces it sends back its strength: pi times that falls on it.
    const glm::dvec3 expected[] = {glm::dvec3(light.suns[0].light) * pi, glm::dvec3(light.suns[1].light) * pi,
                                   glm::dvec3(light.surroundings[0].picture->mean()) * 4.0 * pi};
    for (int source = 0; source < 3; ++source) {
        double angle = 0;
        int other = 0;
        glm::dvec3 mean(0);
        for (int k = 0; k < picks; ++k) {
            Sobol numbers(0, 0, static_cast<std::uint32_t>(k), 1);
            numbers.together();
            // One of sixteen places, each in its turn.
            const int place = k % placesTogether;
            NumberLanes us, vs;
            us[place] = numbers.next(), vs[place] = numbers.next();
            FarWays ways, met;
            sampler.sample(source, {&place, 1}, us, vs, ways);
            sampler.met(source, {&place, 1}, ways.direction, met);
            const float density = ways.density[place];
            const vec3 light = ways.light[static_cast<std::size_t>(place)];
            ASSERT_GT(density, 0);
            ASSERT_NEAR(glm::length(ways.direction.at(place)), 1, 1e-5);
            // A narrow disc may miss its own edge by a digit, and a direction the pixel beside its own.
            if (met.density[place] > 0) {
                other += std::abs(density / met.density[place] - 1) > 1e-3f;
                ASSERT_NEAR(light.y, met.light[static_cast<std::size_t>(place)].y, 5e-3f * light.y);
            }
            angle += 1.0 / density;
            mean += glm::dvec3(light) / static_cast<double>(density);
        }
        EXPECT_LT(other, picks / 1000) << source;
        if (source == 2) {
            EXPECT_NEAR(angle / picks / (4 * pi), 1, 0.02);
        }
        for (int c = 0; c < 3; ++c) EXPECT_NEAR(mean[c] / picks, expected[source][c], 0.02 * expected[source].y) << source;
    }
    // All together are picked by what they give.
    double chances = 0;
    for (int source = 0; source < 3; ++source) chances += sampler.chanceOf(source);
    EXPECT_NEAR(chances, 1, 1e-6);
    EXPECT_NEAR(sampler.chanceOf(0) / sampler.chanceOf(1), 2, 1e-5);
    EXPECT_EQ(sampler.pick(0), 0);
    EXPECT_EQ(sampler.pick(sampler.chanceOf(0) + 1e-4f), 1);
    EXPECT_EQ(sampler.pick(0.99999f), 2);
}

TEST(Surroundings, WhitePaperUnderEvenOnesIsAsBrightAsThey) {
    Build b = Build::grid(1, 1, 1);
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "card")).scene;
    b.set(b.shape, "width", {40}).set(b.shape, "depth", {40}).set(b.material, "colour", {1, 1, 1, 1}).set(b.material, "roughness", {1});
    b.set(b.sun(), "on", false).set(b.sky(), "on", false);
    Setting setting = settingAt(b.scene, 0, making::store());
    setting.light.surroundings = {around(Panorama(window(64, {}, 0, 0, 0, 0, vec3(0.5f))))};
    setting.camera.position = {0, 5, 0.1f}, setting.camera.target = {0, 0, 0};
    Progress progress;
    Tracer tracer;
    const Film film = exposed(tracer, Shot{{drawListOf(std::vector{b.result()})}, {setting}}, {16, 16, 256, 1}, progress);
    double sum = 0;
    for (const Film::Pixel& pixel : film.pixels) sum += pixel.light.y / static_cast<float>(pixel.samples);
    EXPECT_NEAR(sum / 256, 0.5, 0.005);
}

TEST(Surroundings, TakeThePlaceOfTheSky) {
    Build b = Build::grid(1, 1, 1);
    const Edit edit = addLight(b.scene, surroundingsLight);
    EXPECT_EQ(edit.label, "Add Surroundings");
    EXPECT_EQ(edit.told, "Sky gives no light now.");
    const FarLight light = settingAt(edit.scene, 0, making::store()).light;
    EXPECT_EQ(light.zenith, vec3(0));
    EXPECT_TRUE(light.ground.shown) << "its floor stays";
    ASSERT_EQ(light.surroundings.size(), 1u);
    EXPECT_EQ(addLight(b.scene, sunLight).label, "Add Sun 2");
}

TEST(Surroundings, ThoseThatComeAlongCanBeRead) {
    for (const auto which : {SurroundingsPicture::softBoxes, SurroundingsPicture::harbour, SurroundingsPicture::morning}) {
        Surroundings one;
        one.which = which;
        const auto panorama = panoramaOf(one, {}, making::store());
        EXPECT_EQ(panorama->width(), 512);
        EXPECT_GT(panorama->mean().x, 0.02f);
        EXPECT_LT(panorama->mean().x, 4.0f);
        EXPECT_EQ(panoramaOf(one, {}, making::store()), panorama) << "kept";
    }
    // A sun is in the sky of the morning, to the left behind the camera and above.
    Surroundings morning;
    morning.which = SurroundingsPicture::morning;
    const vec3 sun = towardSun(24 * static_cast<float>(pi) / 180, -48 * static_cast<float>(pi) / 180);
    EXPECT_GT(panoramaOf(morning, {}, making::store())->from(sun).x, 500);
}

TEST(Surroundings, AFileThatIsMissingOrDamagedIsToldAndGivesNoLight) {
    const Folder folder;
    folder.write("square.hdr", hdrOf(FloatPicture{8, 8, std::vector<vec3>(64, vec3(1))}));
    folder.write("damaged.exr", "\x76\x2f\x31\x01 and nothing more");
    folder.write("good.hdr", hdrOf(window(16, vec3(4), 0, 0, 16, 8)));
    Build b = Build::grid(1, 1, 1);
    const ObjectId light = addSurroundings(b);
    b.set(light, "picture", std::string("file"));
    const PlanOptions options{{}, folder.path};
    const auto told = [&](const char* file) {
        b.set(light, "file", std::string(file));
        Progress progress;
        const auto findings = findingsIn(b.scene, 0, options, making::store(), progress);
        Setting setting = settingAt(b.scene, 0, making::store());
        addPictures(setting, folder.path, making::store());
        const bool lit = !setting.light.surroundings.empty() && setting.light.surroundings[0].picture;
        EXPECT_EQ(findings.empty(), lit) << file;
        return findings.empty() ? std::string() : findings.front().sentence;
    };
    EXPECT_NE(told("gone.exr").find("gone.exr"), std::string::npos);
    EXPECT_NE(told("square.hdr").find("twice as wide as high"), std::string::npos);
    EXPECT_NE(told("damaged.exr").find("damaged"), std::string::npos);
    EXPECT_EQ(told("good.hdr"), "");
}

TEST(ReadingPictures, KeepWhatFilesHave) {
    const FloatPicture made = window(16, {8, 2, 0.5f}, 3, 1, 4, 2, vec3(0.25f));
    const FloatPicture hdr = readPicture(hdrOf(made));
    ASSERT_EQ(hdr.light.size(), made.light.size());
    for (std::size_t i = 0; i < made.light.size(); ++i) making::expectNear(hdr.light[i], made.light[i], made.light[i].x / 120);
    const Folder folder;
    Image image{2, 1, {255, 0, 128, 255, 0, 255, 64, 255}};
    writePng(image, folder.path / "two.png");
    const FloatPicture png = readPictureFile(folder.path / "two.png");
    ASSERT_EQ(png.width, 2);
    making::expectNear(png.light[0], {1, 0, static_cast<float>(linearFromSrgb(128 / 255.0))}, 1e-4f);
    making::expectNear(png.light[1], {0, 1, static_cast<float>(linearFromSrgb(64 / 255.0))}, 1e-4f);
    const FloatPicture exr = readPictureFile(GSWARM_SOURCE "/surroundings/soft-boxes.exr");
    EXPECT_EQ(exr.width, 512);
    EXPECT_EQ(exr.height, 256);
}

TEST(ReadingPictures, AreTheSameByEveryWayOfWriting) {
    // One test picture of 16 × 12 pixels, by palette, in 16 bits and as JPEG.
    const auto stored = [](const char* name) {
        return readStoredPictureFile(std::string(GSWARM_SOURCE "/tests/files/corpus/picture/") + name);
    };
    const auto palette = std::get<Image>(stored("palette.png")), jpeg = std::get<Image>(stored("pattern.jpg"));
    const auto deep = std::get<FloatPicture>(stored("deep.png"));
    ASSERT_EQ(palette.pixels.size(), 4u * 16 * 12);
    ASSERT_EQ(jpeg.pixels.size(), palette.pixels.size());
    ASSERT_EQ(deep.light.size(), 16u * 12);
    double apart = 0;
    for (std::size_t i = 0; i < palette.pixels.size(); ++i) {
        if (i % 4 == 3) {
            EXPECT_EQ(palette.pixels[i], 255);
            EXPECT_EQ(jpeg.pixels[i], 255);
            continue;
        }
        const double share = srgbFromLinear(deep.light[i / 4][static_cast<int>(i % 4)]);
        EXPECT_NEAR(palette.pixels[i] / 255.0, share, 0.27) << "as near as the palette, of two or three bits, has it";
        apart += std::abs(jpeg.pixels[i] / 255.0 - share) / (3 * 16 * 12);
    }
    EXPECT_LT(apart, 0.02) << "as near as the blocks of the JPEG are";
    const std::string whole = readFile(GSWARM_SOURCE "/tests/files/corpus/picture/pattern.jpg", 1 << 20);
    EXPECT_THROW(readPicture(whole.substr(0, whole.size() - 40)), Error) << "the end is not made up";
    EXPECT_THROW(readPictureFile(GSWARM_SOURCE "/tests/files/corpus/picture/long-list.jpg"), Error) << "more codes than there can be";
}

TEST(ReadingPictures, HoldWhatIsTooBrightForSums) {
    std::string bytes = "#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 1 +X 2\n";
    bytes += std::string("\xff\xff\xff\xff\x80\x80\x80\x81", 8);
    const FloatPicture picture = readPicture(bytes);
    EXPECT_EQ(picture.light[0], vec3(mostPictureLight));
    making::expectNear(picture.light[1], vec3(1));
}

TEST(ReadingPictures, RefuseWhatIsNone) {
    const auto refused = [](const std::string& bytes) {
        try {
            readPicture(bytes);
            return std::string();
        } catch (const Error& error) {
            return std::string(error.what());
        }
    };
    EXPECT_NE(refused("").find("It is no"), std::string::npos);
    EXPECT_NE(refused("hello").find("It is no"), std::string::npos);
    EXPECT_NE(refused("#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 30000 +X 30000\n").find("30000 × 30000"), std::string::npos);
    const std::string whole = readFile(GSWARM_SOURCE "/surroundings/soft-boxes.exr", 1 << 24);
    EXPECT_NE(refused(whole.substr(0, whole.size() / 2)), "") << "cut off";
    std::string turned = whole;
    for (std::size_t i = 400; i < turned.size(); i += 97) turned[i] = static_cast<char>(turned[i] ^ 0x5a);
    EXPECT_NE(refused(turned), "") << "damaged";
}

TEST(ReadingPictures, DamagedOnesAreRefusedOrReadWhole) {
    std::uint32_t chance = 7;
    const auto next = [&](std::size_t below) { return (chance = chance * 1664525 + 1013904223, (chance >> 8) % below); };
    for (const char* name : {"small.exr", "flat.hdr", "runs.hdr", "cut.hdr", "pattern.jpg", "long-list.jpg", "palette.png", "deep.png"}) {
        const std::string whole = readFile(std::string(GSWARM_SOURCE "/tests/files/corpus/picture/") + name, 1 << 20);
        for (int k = 0; k < 400; ++k) {
            std::string bytes = whole;
            for (std::size_t n = 1 + next(6); n > 0; --n) bytes[next(bytes.size())] = static_cast<char>(next(256));
            if (k % 5 == 0) bytes.resize(next(bytes.size()));
            try {
                const FloatPicture picture = readPicture(bytes);
                ASSERT_EQ(picture.light.size(), static_cast<std::size_t>(picture.width) * static_cast<std::size_t>(picture.height));
                for (const vec3& light : picture.light) ASSERT_TRUE(std::isfinite(light.x + light.y + light.z));
            } catch (const Error& error) {
                EXPECT_NE(std::string(error.what()), "") << name;
            }
        }
    }
}

TEST(Background, IsWhatLightsTheSceneOrAPicture) {
    Setting setting{};
    setting.camera.position = {0, 0, 0}, setting.camera.target = {0, 0, -1}, setting.camera.focalLength = 36;
    setting.pictureWidth = 64;
    setting.light.zenith = setting.light.horizon = vec3(0.2f, 0, 0);
    // Ahead and to the right a window of light.
    setting.light.surroundings = {around(Panorama(window(64, {0, 0.5f, 0}, 34, 14, 4, 4)))};
    LinearPicture nothing{64, 32, {}, {}, {}, {}, {}};
    nothing.light.resize(64 * 32), nothing.coverage.resize(64 * 32), nothing.depth.resize(64 * 32);
    nothing.normal.resize(64 * 32), nothing.id.resize(64 * 32);
    setting.after.background = Background::surroundings;
    EXPECT_TRUE(changesPictures(setting.after));
    const Image seen = finish(nothing, setting);
    const auto at = [](const Image& image, int x, int y) { return &image.pixels[4 * static_cast<std::size_t>(y * image.width + x)]; };
    const auto encoded = [](double linear) { return static_cast<int>(srgbFromLinear(linear) * 255 + 0.5); };
    EXPECT_NEAR(at(seen, 5, 5)[0], encoded(0.2), 1);
    EXPECT_EQ(at(seen, 5, 16)[1], 0);
    // 36 mm on 36 mm: a column is at the tangent of its angle. Pixel 36 of 64 all around is 22.5 degrees to the right.
    const int x = static_cast<int>(32 + 64 * std::tan(22.5 * pi / 180));
    EXPECT_NEAR(at(seen, x, 16)[1], encoded(0.5), 2);
    // A picture fills the whole width or height.
    auto picture = std::make_shared<FloatPicture>(FloatPicture{2, 2, {vec3(0.1f), vec3(0.3f), vec3(0.1f), vec3(0.3f)}});
    setting.after.background = Background::picture;
    setting.behind = picture;
    const Image behind = finish(nothing, setting);
    EXPECT_NEAR(at(behind, 2, 3)[0], encoded(0.1), 1);
    EXPECT_NEAR(at(behind, 61, 30)[2], encoded(0.3), 1);
    EXPECT_NEAR(at(behind, 32, 16)[2], encoded(0.2), 3);
}
