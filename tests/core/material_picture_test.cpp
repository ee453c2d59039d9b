// Pictures on materials, and mixes that differ over one surface.
#include <gtest/gtest.h>

#include <cmath>
#include <fstream>
#include <nlohmann/json.hpp>

#include "core/base/atomic_file.h"
#include "core/edit/material_edits.h"
#include "core/exchange/exporter_kind.h"
#include "core/exchange/png.h"
#include "core/exchange/surface_images.h"
#include "core/explain/findings.h"
#include "core/file/project_file.h"
#include "core/kinds/registry.h"
#include "core/light/light_kind.h"
#include "core/material/material.h"
#include "core/picture/trace.h"
#include "core/resolve/resolve.h"
#include "tests/core/paper.h"

using namespace gswarm;
using glm::vec2;
using glm::vec3;
using making::Paper;

namespace {

/// A PNG in the temporary folder, of `colour` at each pixel.
std::string png(const std::string& name, int width, int height, const std::function<vec3(int, int)>& colour) {
    Image image{width, height, {}};
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const vec3 c = colour(x, y) * 255.0f + 0.5f;
            image.pixels.insert(image.pixels.end(), {std::uint8_t(c.x), std::uint8_t(c.y), std::uint8_t(c.z), 255});
        }
    writePng(image, making::temporaryFolder() / name);
    return name;
}

/// The upper half red, the lower left green, the lower right blue.
std::string thirds() {
    return png("thirds.png", 8, 8, [](int x, int y) { return y < 4 ? vec3(1, 0, 0) : x < 4 ? vec3(0, 1, 0) : vec3(0, 0, 1); });
}

/// Paper as wide as the picture, under a sun straight above.
struct LitPaper : Paper {
    LitPaper() {
        b.set(b.shape, "width", {10}).set(b.shape, "depth", {10});
        b.set(b.sun(), "on", true).set(b.sun(), "height", {90}).set(b.sun(), "strength", {1}).set(b.sun(), "colour", {1, 1, 1, 1});
        b.set(b.material, "pictured", true);
    }
    /// Linear light of a place, in metres to the right and down from the middle.
    std::function<vec3(float, float)> traced() const {
        Progress progress;
        const Image image = trace(list(), setting(), {40, 40, 64, 1}, progress);
        return [image](float right, float down) {
            const auto pixel = [](float metres) { return static_cast<std::size_t>(20 + metres * 4); };
            const std::uint8_t* p = &image.pixels[4 * (pixel(down) * 40 + pixel(right))];
            return vec3(linearFromSrgb(p[0] / 255.0), linearFromSrgb(p[1] / 255.0), linearFromSrgb(p[2] / 255.0));
        };
    }
};

}  // namespace

TEST(SurfacePictures, AreEvenBetweenTheMiddlesOfPixelsAndRepeat) {
    const FloatPicture two{2, 1, {vec3(0), vec3(1)}};
    for (const float turns : {0.0f, 1.0f, -3.0f}) {
        EXPECT_NEAR(lightAt(two, vec2(0.25f + turns, 0.4f)).x, 0, 1e-5);
        EXPECT_NEAR(lightAt(two, vec2(0.5f + turns, 0.4f + turns)).x, 0.5, 1e-5);
        EXPECT_NEAR(lightAt(two, vec2(0.75f + turns, 0.4f)).x, 1, 1e-5);
        EXPECT_NEAR(lightAt(two, vec2(1.0f + turns, 0.4f)).x, 0.5, 1e-5) << "over the edge";
    }
    const FloatPicture high{1, 4, {vec3(3), vec3(2), vec3(1), vec3(0)}};
    EXPECT_NEAR(lightAt(high, {0, 0.875f}).x, 3, 1e-5) << "v grows upward";
    EXPECT_NEAR(slopeAt(high, {0, 0.5f}).y, 4, 1e-4);
    EXPECT_NEAR(slopeAt(high, {0, 0.5f}).x, 0, 1e-4);
}

TEST(SurfacePictures, MultiplyTheColourWhereTheirUvAre) {
    LitPaper lit;
    lit.b.set(lit.b.material, "colourPicture", thirds());
    const auto at = lit.traced();
    EXPECT_GT(at(0, -3).x, 0.5);
    EXPECT_NEAR(at(0, -3).y, 0, 0.02);
    EXPECT_GT(at(-3, 3).y, 0.5);
    EXPECT_GT(at(3, 3).z, 0.5);
    EXPECT_NEAR(at(3, 3).x, 0, 0.02);
    // Twice in each direction, and times the colour of the instance.
    lit.b.set(lit.b.material, "repeats", {2}).set(lit.b.material, "colour", {0.5, 0.5, 0.5, 1});
    const auto twice = lit.traced();
    EXPECT_NEAR(twice(3.75f, 3.75f).z / at(3, 3).z, linearFromSrgb(0.5), 0.01);
    EXPECT_GT(twice(3.75f, 1.2f).x, 0.1) << "the upper half again";
}

TEST(SurfacePictures, TiltTheSurfaceAsBumpsOfTheirHeightWould) {
    LitPaper lit;
    // Ten metres from black to white: a slope of the height over ten.
    lit.b.set(lit.b.material, "bumpPicture", png("slope.png", 256, 1, [](int x, int) { return vec3(static_cast<float>(x) / 255); }));
    lit.b.set(lit.b.material, "bumpHeight", {0});
    const double flat = lit.traced()(0, 0).x;
    for (const double height : {5.0, 20.0, -20.0}) {
        lit.b.set(lit.b.material, "bumpHeight", {height});
        const double slope = height / 10 * 256 / 255;
        EXPECT_NEAR(lit.traced()(0, 0).x / flat, 1 / std::sqrt(1 + slope * slope), 0.03) << height;
    }
    // LitPaper from the side that it falls to: brighter than flat, and the other way around.
    lit.b.set(lit.b.sun(), "height", {30}).set(lit.b.sun(), "around", {90}).set(lit.b.material, "bumpHeight", {-4});
    const double toward = lit.traced()(0, 0).x;
    lit.b.set(lit.b.material, "bumpHeight", {4});
    const double away = lit.traced()(0, 0).x;
    EXPECT_NEAR(std::max(toward, away) / std::min(toward, away),
                (std::sin(30 * making::degree) + 0.4 * std::cos(30 * making::degree)) /
                    (std::sin(30 * making::degree) - 0.4 * std::cos(30 * making::degree)),
                0.2);
}

TEST(SurfacePictures, DarkenTheGlowWhereTheyAreBlack) {
    LitPaper lit;
    lit.b.set(lit.b.sun(), "on", false).set(lit.b.material, "glows", true).set(lit.b.material, "emission", {0.5});
    lit.b.set(lit.b.material, "glowPicture", thirds()).set(lit.b.material, "emissionColour", {1, 1, 1, 1});
    const auto at = lit.traced();
    EXPECT_NEAR(at(0, -3).x, 0.5, 0.01);
    EXPECT_EQ(at(0, -3).y, 0);
    EXPECT_NEAR(at(3, 3).z, 0.5, 0.01);
    lit.b.set(lit.b.material, "emissionColour", {0, 0, 0, 1}).set(lit.b.material, "colour", {0, 0, 1, 1});
    const auto own = lit.traced();
    EXPECT_EQ(own(0, -3), vec3(0)) << "red light of a blue thing";
    EXPECT_NEAR(own(3, 3).z, 0.5, 0.01);
}

TEST(SurfacePictures, OfRoughnessAreNumbersAsTheyAreWritten) {
    LitPaper lit;
    lit.b.set(lit.b.material, "roughness", {0.8});
    lit.b.set(lit.b.material, "roughnessPicture", png("half.png", 2, 2, [](int, int) { return vec3(128 / 255.0f); }));
    const DrawList list = lit.list();
    EXPECT_NEAR(materialAt(list.looks.at(0), {}).roughness, 0.8 * 128 / 255, 1e-3);
}

TEST(SurfacePictures, ThatCannotBeReadAreToldAndLeftOut) {
    LitPaper lit;
    std::ofstream(making::temporaryFolder() / "damaged.png") << "\x89PNG and nothing more";
    for (const char* file : {"gone.png", "damaged.png"}) {
        lit.b.set(lit.b.material, "colourPicture", std::string(file));
        EXPECT_GT(lit.traced()(0, 0).x, 0.5) << "white paper";
        const Plan plan = lit.b.plan(0, making::temporaryFolder());
        ASSERT_EQ(plan.notes.size(), 1u);
        EXPECT_NE(plan.notes.front().find(file), std::string::npos) << plan.notes.front();
        Progress progress;
        EXPECT_FALSE(findingsIn(lit.b.scene, 0, {{}, making::temporaryFolder()}, making::store(), progress).empty());
    }
}

TEST(SurfacePictures, AnotherFileIsAnotherPlan) {
    LitPaper lit;
    lit.b.set(lit.b.material, "colourPicture", png("changes.png", 2, 2, [](int, int) { return vec3(1, 0, 0); }));
    const auto hash = [&] { return lit.b.plan(0, making::temporaryFolder()).hash; };
    const std::uint64_t before = hash();
    EXPECT_EQ(hash(), before);
    png("changes.png", 2, 2, [](int, int) { return vec3(0, 1, 0); });
    EXPECT_NE(hash(), before);
}

TEST(MixedOverASurface, GoesAlongTheShapeOrByAPicture) {
    LitPaper lit;
    const Edit edit = mixMaterial(lit.b.scene, lit.b.material);
    lit.b.scene = edit.scene;
    const ObjectId mixed = edit.made, second = referenceOf(lit.b.scene.at(mixed).part("material"), "second");
    for (const char* off : {"glows", "coated", "velvety", "rimLit"}) lit.b.set(second, off, false);
    lit.b.set(second, "colour", {0, 0, 0, 1})
        .set(second, "metal", {0})
        .set(second, "roughness", {1})
        .set(mixed, "by", std::string("across"));
    const auto light = [&](const char* across, float right, float down) {
        lit.b.set(mixed, "across", std::string(across));
        return lit.traced()(right, down).x;
    };
    const double white = lit.traced()(0, 0).x;
    EXPECT_NEAR(light("x", -4, 0) / white, 0.9, 0.06);
    EXPECT_NEAR(light("x", 4, 0) / white, 0.1, 0.06);
    EXPECT_NEAR(light("z", 0, 4) / white, 0.1, 0.06);
    EXPECT_NEAR(light("v", 0, 4) / white, 0.9, 0.06);
    EXPECT_NEAR(light("u", -4, 0) / white, 0.9, 0.06);
    lit.b.set(mixed, "by", std::string("picture"));
    lit.b.set(mixed, "picture", png("mask.png", 2, 1, [](int x, int) { return vec3(static_cast<float>(x)); }));
    const auto at = lit.traced();
    EXPECT_NEAR(at(-2.5f, 0).x / white, 1, 0.05);
    EXPECT_NEAR(at(2.5f, 0).x / white, 0.04, 0.04);
    lit.b.set(mixed, "picture", std::string("gone.png"));
    EXPECT_NEAR(lit.traced()(2.5f, 0).x / white, 1, 0.05) << "nothing mixes";
}

TEST(SurfacePictures, GoIntoGltfOnceWithTheirRepeats) {
    LitPaper lit;
    lit.b.set(lit.b.material, "colourPicture", thirds())
        .set(lit.b.material, "roughnessPicture", thirds())
        .set(lit.b.material, "repeats", {3});
    Evaluator evaluator;
    Progress progress;
    const auto path = making::temporaryFolder() / "pictured.glb";
    writeExport(standardPart(gltfExporter), {evaluator, lit.b.scene, {{}, making::temporaryFolder()}}, path, progress);
    std::ifstream file(path, std::ios::binary);
    const std::string bytes((std::istreambuf_iterator<char>(file)), {});
    const std::size_t end = bytes.find("BIN", 20);
    const auto json = nlohmann::json::parse(bytes.substr(20, end - 24));
    EXPECT_EQ(json["images"].size(), 2u);
    const auto& surface = json["materials"][0]["pbrMetallicRoughness"];
    EXPECT_EQ(surface["baseColorTexture"]["index"], 0);
    EXPECT_EQ(surface["baseColorTexture"]["extensions"]["KHR_texture_transform"]["scale"][0], 3.0);
    EXPECT_EQ(surface["baseColorTexture"]["extensions"]["KHR_texture_transform"]["offset"][1], -2.0);
    EXPECT_EQ(surface["metallicRoughnessTexture"]["index"], 1);
}

/// Bumps become the normals that a mesh of this size has by them.
TEST(SurfacePictures, BumpsBecomeNormalsInGltfAndUsd) {
    LitPaper lit;
    lit.b.set(lit.b.material, "bumpPicture", png("slope.png", 256, 1, [](int x, int) { return vec3(static_cast<float>(x) / 255); }));
    Evaluator evaluator;
    Progress progress;
    const auto folder = making::temporaryFolder();
    for (const double height : {5.0, 0.5}) {
        lit.b.set(lit.b.material, "bumpHeight", {height});
        const ExportFrames frames{evaluator, lit.b.scene, {{}, folder}};
        SurfacePictures bumps;
        bumps.bump = std::make_shared<FloatPicture>();
        bumps.bumpHeight = static_cast<float>(height);
        const glm::vec2 slope = bumpSlope(bumps, {10, 10});
        EXPECT_NEAR(slope.x, height / 10, 1e-6) << "the paper is ten metres wide";
        const double up = height / 10 * 256 / 255;

        writeExport(standardPart(usdExporter), frames, folder / "bumps.usda", progress);
        const Image16 normals = readPng(folder / "bumps-pictures" / "1-normals.png");
        ASSERT_EQ(normals.width, 256);
        const auto part = [&](int c) { return normals.pixels[static_cast<std::size_t>(4 * 100 + c)] / 65535.0 * 2 - 1; };
        EXPECT_NEAR(-part(0) / part(2), up, 0.02) << height;
        EXPECT_NEAR(part(1), 0, 0.01);
        const std::string text = readFile(folder / "bumps.usda", 1 << 22);
        EXPECT_NE(text.find("/Material/Normals.outputs:rgb>"), std::string::npos);
        EXPECT_EQ(filesWritten(standardPart(usdExporter), lit.b.scene, {}, folder / "bumps.usda").size(), 2u);
        std::filesystem::remove_all(folder / "bumps-pictures");

        const auto path = folder / "bumps.glb";
        writeExport(standardPart(gltfExporter), frames, path, progress);
        const std::string bytes = readFile(path, 1 << 22);
        const auto json = nlohmann::json::parse(bytes.substr(20, bytes.find("BIN", 20) - 24));
        const auto& texture = json["materials"][0]["normalTexture"];
        EXPECT_EQ(texture["index"], 0);
        // Over the edge of the picture it falls steeply: no gentle one.
        EXPECT_EQ(texture.value("scale", 1.0), 1.0);
    }
    // Gentle ones keep their digits: a swell of one in a hundred.
    const auto wave = [](int x, int) { return vec3(0.5f + 0.5f * std::sin(static_cast<float>(x) / 256 * 6.2831853f)); };
    lit.b.set(lit.b.material, "bumpPicture", png("wave.png", 256, 1, wave)).set(lit.b.material, "bumpHeight", {0.1 / 3.14159265});
    const auto path = folder / "bumps.glb";
    writeExport(standardPart(gltfExporter), {evaluator, lit.b.scene, {{}, folder}}, path, progress);
    const std::string bytes = readFile(path, 1 << 22);
    const auto json = nlohmann::json::parse(bytes.substr(20, bytes.find("BIN", 20) - 24));
    EXPECT_NEAR(json["materials"][0]["normalTexture"]["scale"].get<double>(), 0.01, 0.002);
}

TEST(SurfacePictures, BumpsOfUsdLeanByTheHeightOfEachFrame) {
    LitPaper lit;
    lit.b.set(lit.b.material, "bumpPicture", png("slope.png", 256, 1, [](int x, int) { return vec3(static_cast<float>(x) / 255); }));
    lit.b.key(lit.b.material, "bumpHeight", {{0, 0.5, Ease::linear}, {2, 1.5, Ease::linear}});
    Evaluator evaluator;
    Progress progress;
    const auto path = making::temporaryFolder() / "growing.usda";
    writeExport(standardPart(usdAnimationExporter), {evaluator, lit.b.scene, {{}, making::temporaryFolder()}, 0, {0, 2}}, path, progress);
    const std::string text = readFile(path, 1 << 22), normals = text.substr(text.find("\"Normals\""));
    EXPECT_NE(normals.find("0: (2, 2, 2, 1)"), std::string::npos) << normals.substr(0, 600);
    EXPECT_NE(normals.find("1: (4, 4, 2, 1)"), std::string::npos);
    EXPECT_NE(normals.find("2: (6, 6, 2, 1)"), std::string::npos);
    EXPECT_NE(normals.find("2: (-3, -3, -1, 0)"), std::string::npos);
}

TEST(SurfacePictures, GoIntoAFolderBesideAUsdStage) {
    LitPaper lit;
    lit.b.set(lit.b.material, "colourPicture", thirds())
        .set(lit.b.material, "roughnessPicture", thirds())
        .set(lit.b.material, "roughness", {0.5})
        .set(lit.b.material, "glows", true)
        .set(lit.b.material, "emission", {2})
        .set(lit.b.material, "repeats", {3});
    Evaluator evaluator;
    Progress progress;
    const auto folder = making::temporaryFolder();
    const auto path = folder / "pictured.usda";
    ExportFrames frames{evaluator, lit.b.scene, {{}, folder}};
    writeExport(standardPart(usdExporter), frames, path, progress);
    std::ifstream file(path);
    const std::string text((std::istreambuf_iterator<char>(file)), {});
    for (const char* said :
         {"asset inputs:file = @./pictured-pictures/1-colour.png@", "asset inputs:file = @./pictured-pictures/2-roughness.png@",
          "float2 inputs:scale = (3, 3)", "/Material/ColourPicture.outputs:rgb>", "/Material/RoughnessPicture.outputs:g>",
          "/Material/GlowPicture.outputs:rgb>", "float4 inputs:scale = (0.5, 0.5, 0.5, 1)"})
        EXPECT_NE(text.find(said), std::string::npos) << said;
    EXPECT_EQ(text.find("float inputs:roughness ="), std::string::npos) << "connected instead";
    const Image16 colours = readPng(folder / "pictured-pictures" / "1-colour.png");
    EXPECT_EQ(colours.width, 8);
    EXPECT_GT(colours.pixels[0], 65000);
    EXPECT_EQ(colours.pixels[1], 0);
    EXPECT_EQ(filesWritten(standardPart(usdExporter), lit.b.scene, {}, path).size(), 2u);
    // The folder is somebody's: it is not written into unasked.
    frames.replaces = false;
    std::filesystem::remove(path);
    EXPECT_THROW(writeExport(standardPart(usdExporter), frames, path, progress), InTheWay);
    EXPECT_FALSE(std::filesystem::exists(path));
}
