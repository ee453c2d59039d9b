// The material “Picture on each”: what each instance shows of a picture, when, and in which files.
#include <gtest/gtest.h>

#include <cmath>
#include <fstream>
#include <nlohmann/json.hpp>
#include <set>

#include "core/edit/material_edits.h"
#include "core/edit/rail_edits.h"
#include "core/exchange/exporter_kind.h"
#include "core/exchange/shown_apart.h"
#include "core/kinds/registry.h"
#include "core/prepare/shown_sheets.h"
#include "core/resolve/references.h"
#include "tests/core/reading.h"

using namespace gswarm;
using namespace gswarm::reading;
using glm::vec2;
using glm::vec3;
using making::Build, making::temporaryFolder;

namespace {

/// A swarm on a grid whose material shows media, beginning with parts.
struct Showing {
    Build b;
    ObjectId media, material;

    Showing(int nx, int ny, int nz, const MediaKind& kind, const std::string& file = {}) : b(Build::grid(nx, ny, nz)) {
        const Edit made = addMedia(b.scene, kind);
        b.scene = made.scene;
        media = made.made;
        if (!file.empty()) b.set(media, "file", file);
        for (const MaterialStart& start : materialStarts())
            if (start.id == "pictureWall") b.scene = addMaterialFor(b.scene, b.stock, start).scene;
        material = referenceOf(b.scene.at(b.stock).part("entry"), "material");
    }
    std::shared_ptr<const Result> result(double frame = 0) const {
        Evaluator evaluator;
        Progress progress;
        return evaluator.evaluate(b.scene, b.swarm, frame, {{}, temporaryFolder()}, progress);
    }
    const ShownPictures& shown(const Result& result) const { return *shownBy(result.variants.front().look); }
    /// The colour of an instance at a place of its UV.
    vec3 at(const Result& result, std::uint32_t row, const vec2& uv = vec2(0.5f)) const {
        LookedAt looked = lookedAt(result, row);
        looked.uv = uv;
        return vec3(materialAt(result.variants.front().look, looked, glm::vec4(1)).colour);
    }
    /// What greys are seen, as they are written.
    std::vector<int> greys(double frame) const {
        const auto shown = result(frame);
        std::vector<int> out;
        for (std::uint32_t row = 0; row < static_cast<std::uint32_t>(shown->count); ++row)
            out.push_back(static_cast<int>(std::lround(at(*shown, row).x * 255)));
        return out;
    }
};

vec3 lightOf(const std::array<int, 4>& p) { return {light(p[0]), light(p[1]), light(p[2])}; }
/// Transparent is black.
vec3 pixel(int x, int y) {
    return lightOf(eight[static_cast<std::size_t>(4 * y + x)]) * (eight[static_cast<std::size_t>(4 * y + x)][3] / 255.0f);
}

void expectColour(const vec3& seen, const vec3& wanted, const std::string& where = {}) {
    for (int c = 0; c < 3; ++c) EXPECT_NEAR(seen[c], wanted[c], 2e-3f) << where;
}

std::string eightFile() {
    write("eight.png", 4, 2, eight);
    return "eight.png";
}

std::string sixSteps() {
    for (int number = 0; number < 6; ++number) writeGrey("later/s" + std::to_string(number) + ".png", 40 * number);
    return "later/s0.png";
}

std::string textOf(const std::filesystem::path& path) {
    std::ifstream in(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}

void exportAs(const Scene& scene, const char* kind, const std::filesystem::path& path, const FrameRange& range) {
    Evaluator evaluator;
    Progress progress;
    for (const ExporterKind* exporter : exporters())
        if (exporter->id == kind) {
            ExportFrames frames{evaluator, scene, {{}, temporaryFolder()}, double(range.first)};
            frames.range = range;
            std::filesystem::remove(path);
            exporter->write(resolve(scene, standardPart(*exporter), 0).data.get(), frames, path, progress);
            return;
        }
    FAIL() << kind;
}

nlohmann::json gltfOf(const std::filesystem::path& path) {
    const std::string bytes = textOf(path);
    std::uint32_t length = 0;
    std::memcpy(&length, bytes.data() + 12, 4);
    return nlohmann::json::parse(bytes.substr(20, length));
}

}  // namespace

TEST(ShownPictures, EachShowsItsOwnPart) {
    const Showing s(4, 2, 1, pictureMedia, eightFile());
    const auto result = s.result();
    ASSERT_EQ(result->count, 8);
    EXPECT_EQ(s.shown(*result).across, 4);
    EXPECT_EQ(s.shown(*result).down, 2);
    for (std::uint32_t row = 0; row < 8; ++row) {
        const glm::mat4 m = matrixOf(*result, row);
        expectColour(s.at(*result, row), pixel(static_cast<int>(std::lround(m[3].x + 1.5f)), m[3].y > 0 ? 0 : 1), std::to_string(row));
    }
}

TEST(ShownPictures, PartsAreCutAsOneLooksAtTheHomes) {
    // Lying flat they are seen from above: +X to the right, −Z upward.
    Showing s(4, 1, 2, pictureMedia, eightFile());
    const auto check = [&](const auto& column, const auto& row) {
        const auto result = s.result();
        for (std::uint32_t i = 0; i < 8; ++i) {
            const vec3 place(matrixOf(*result, i)[3]);
            expectColour(s.at(*result, i), pixel(column(place), row(place)), std::to_string(i));
        }
    };
    check([](const vec3& p) { return static_cast<int>(std::lround(p.x + 1.5f)); }, [](const vec3& p) { return p.z < 0 ? 0 : 1; });
    // Standing along Z and seen along X: −Z to the right.
    s.b.set(s.b.formation, "count", {1, 2, 4});
    check([](const vec3& p) { return static_cast<int>(std::lround(1.5f - p.z)); }, [](const vec3& p) { return p.y > 0 ? 0 : 1; });
    // As many parts as are asked for: those between share one.
    s.b.set(s.b.formation, "count", {8, 2, 1}).set(s.material, "columns", {4});
    EXPECT_EQ(s.shown(*s.result()).across, 4);
    EXPECT_EQ(s.shown(*s.result()).down, 2);
    // Where they stand anywhere there are as many parts as instances.
    const ObjectId ball = s.b.standOn("randomOnMesh", "ball");
    ASSERT_TRUE(ball);
    s.b.set(s.material, "columns", {0});
    const auto scattered = s.result();
    const ShownPictures& shown = s.shown(*scattered);
    EXPECT_GE(shown.across * shown.down, scattered->count);
    EXPECT_LT(shown.across * shown.down, 3 * scattered->count);
}

TEST(ShownPictures, TheWholeIsUprightAndMirroredWhereItIsWanted) {
    Showing s(2, 2, 1, pictureMedia, eightFile());
    s.b.choose(s.material, "part", "whole");
    const auto corners = [&](std::uint32_t row) {
        const auto result = s.result();
        return std::pair(s.at(*result, row, {0, 1}), s.at(*result, row, {0, 0}));
    };
    for (std::uint32_t row = 0; row < 4; ++row) {
        expectColour(corners(row).first, pixel(0, 0));
        expectColour(corners(row).second, pixel(0, 1));
    }
    s.b.choose(s.material, "mirrored", "across");
    expectColour(corners(0).first, pixel(3, 0));
    s.b.choose(s.material, "mirrored", "down");
    expectColour(corners(0).first, pixel(0, 1));
    s.b.choose(s.material, "mirrored", "everySecond");
    const auto result = s.result();
    for (std::uint32_t row = 0; row < 4; ++row) {
        const glm::mat4 m = matrixOf(*result, row);
        expectColour(corners(row).first, pixel(m[3].x > 0 ? 3 : 0, m[3].y > 0 ? 0 : 1), std::to_string(row));
    }
}

TEST(ShownPictures, EachIsTintedByTheMeanOfItsPart) {
    write("halves.png", 4, 2,
          {{255, 0, 0, 255},
           {255, 0, 0, 255},
           {0, 0, 100, 255},
           {0, 0, 100, 255},
           {255, 0, 0, 255},
           {255, 0, 0, 255},
           {0, 0, 200, 255},
           {0, 0, 200, 255}});
    Showing s(2, 1, 1, pictureMedia, "halves.png");
    s.b.choose(s.material, "part", "whole").set(s.material, "tinted", true);
    const auto result = s.result();
    const ShownPictures& shown = s.shown(*result);
    ASSERT_EQ(shown.tints.size(), 2u);
    expectColour(shown.tints[0], {1, 0, 0});
    expectColour(shown.tints[1], {0, 0, (light(100) + light(200)) / 2});
    expectColour(s.at(*result, 0, {0.1f, 0.9f}), {1, 0, 0});
    expectColour(s.at(*result, 0, {0.9f, 0.9f}), {0, 0, 0}, "its blue half in red light");
}

TEST(ShownPictures, EachIsAtItsOwnMoment) {
    Showing s(5, 1, 1, picturesMedia, sixSteps());
    s.b.choose(s.media, "colours", "numbers").choose(s.material, "part", "whole").choose(s.material, "later", "number");
    EXPECT_EQ(s.greys(4), (std::vector<int>{160, 120, 80, 40, 0}));
    EXPECT_EQ(s.greys(5), (std::vector<int>{200, 160, 120, 80, 40}));
    s.b.set(s.material, "frames", {-1});
    EXPECT_EQ(s.greys(1), (std::vector<int>{40, 80, 120, 160, 200}));
    s.b.set(s.material, "frames", {2});
    EXPECT_EQ(s.greys(5), (std::vector<int>{200, 120, 40, 0, 0}));
    s.b.choose(s.material, "later", "share").set(s.material, "frames", {4});
    EXPECT_EQ(s.greys(4), (std::vector<int>{160, 120, 80, 40, 0}));
    // By a value that a gesture gives.
    const Edit named = addNamedValue(s.b.scene, s.b.swarm, "Late");
    s.b.scene = named.scene;
    const ObjectId g = s.b.gesture("steady");
    s.b.set(g, "value", true).set(g, "valueOf", Value(named.made)).set(g, "valueAmount", {0.5});
    s.b.choose(s.material, "later", "namedValue").set(s.material, "value", Value(named.made));
    EXPECT_EQ(s.greys(5), (std::vector<int>(5, 120)));
    s.b.choose(s.material, "later", "weight").set(s.material, "gesture", Value(g));
    EXPECT_EQ(s.greys(5), (std::vector<int>(5, 40))) << "it acts fully";
    s.b.choose(s.material, "later", "none");
    EXPECT_EQ(s.greys(5), (std::vector<int>(5, 200)));
}

TEST(ShownPictures, MomentsThatShowTheSameAreOneAndOthersAtMost256) {
    Showing s(100, 1, 1, simulatedCameraMedia);
    s.b.set(s.media, "width", {16}).set(s.media, "height", {16}).set(s.media, "rate", {5});
    s.b.choose(s.material, "part", "whole").choose(s.material, "later", "number");
    const auto distinct = [&] {
        const auto result = s.result(200);
        const auto& moments = s.shown(*result).moments;
        return std::set<std::uint16_t>(moments.begin(), moments.end()).size();
    };
    EXPECT_EQ(distinct(), 21u) << "of five frames each, but the first, which has just begun";
    EXPECT_TRUE(s.b.plan(200).stock.note.empty());
    s.b.set(s.media, "rate", {25}).set(s.b.formation, "count", {600, 1, 1});
    EXPECT_EQ(distinct(), static_cast<std::size_t>(mostShownMoments));
    EXPECT_NE(s.b.plan(200).stock.note.find("is seen at 256 moments at once, of at most 256"), std::string::npos)
        << s.b.plan(200).stock.note;
    // A still picture has one.
    Showing still(600, 1, 1, pictureMedia, eightFile());
    still.b.choose(still.material, "later", "number");
    EXPECT_EQ(still.shown(*still.result()).moments.size(), 1u);
}

TEST(ShownPictures, WhatIsMissingIsToldAndDoneWithout) {
    Showing s(3, 1, 1, pictureMedia, "never.png");
    const auto result = s.result();
    EXPECT_EQ(result->count, 3);
    EXPECT_EQ(shownBy(result->variants.front().look), nullptr);
    ASSERT_FALSE(result->notes.empty());
    EXPECT_NE(result->notes.front().find("“Picture in parts” does without its picture"), std::string::npos) << result->notes.front();
}

TEST(ShownPictures, AStartWithoutMediaBringsASimulatedCamera) {
    Build b = Build::grid(2, 2, 1);
    for (const MaterialStart& start : materialStarts())
        if (start.shows) b.scene = addMaterialFor(b.scene, b.stock, start).scene;
    EXPECT_EQ(b.scene.all(ObjectType::media).size(), 1u) << "the second takes that of the first";
    EXPECT_NE(shownBy(b.result()->variants.front().look), nullptr);
}

TEST(ShownPictures, GltfHasAMaterialForEachPart) {
    Showing s(4, 2, 1, pictureMedia, eightFile());
    s.b.set(s.material, "tinted", true);
    for (const char* kind : {"gltf", "baked"}) {
        const auto path = temporaryFolder() / (std::string("parts-") + kind + ".glb");
        exportAs(s.b.scene, kind, path, {0, 2});
        const auto json = gltfOf(path);
        EXPECT_EQ(json["images"].size(), 1u) << kind;
        std::set<std::pair<int, int>> corners;
        for (const auto& material : json["materials"]) {
            const auto& pbr = material["pbrMetallicRoughness"];
            if (!pbr.contains("baseColorTexture")) continue;
            const auto& placed = pbr["baseColorTexture"]["extensions"]["KHR_texture_transform"];
            corners.insert({static_cast<int>(std::floor(placed["offset"][0].get<double>() * 4)),
                            static_cast<int>(std::floor(placed["offset"][1].get<double>() * 2))});
            EXPECT_LT(placed["scale"][0].get<double>(), 0.26);
        }
        EXPECT_EQ(corners.size(), 8u) << kind;
    }
}

TEST(ShownPictures, UsdHasThemAsASequence) {
    Showing s(3, 1, 1, picturesMedia, sixSteps());
    s.b.choose(s.material, "part", "whole").choose(s.material, "later", "number");
    const auto path = temporaryFolder() / "moments.usda";
    exportAs(s.b.scene, "usdAnimation", path, {2, 4});
    const std::string text = textOf(path);
    for (const char* frame : {"2", "3", "4"}) {
        const std::string name = std::string("shown.000") + frame + ".png";
        EXPECT_NE(text.find(std::string(frame) + ": @./moments-pictures/" + name + "@"), std::string::npos) << name;
        EXPECT_TRUE(std::filesystem::exists(temporaryFolder() / "moments-pictures" / name));
    }
    EXPECT_NE(text.find("protoIndices = [1, 2, 3]"), std::string::npos) << "each with its own prototype";
}

TEST(ShownPictures, PartsKeepTheirNumbersOverFrames) {
    // A weight that grows lets more and more moments be seen.
    Showing s(6, 1, 1, picturesMedia, sixSteps());
    const ObjectId g = s.b.gesture("number");
    s.b.key(g, "strength", {{0, 0, Ease::linear}, {10, 100, Ease::linear}});
    s.b.choose(s.material, "part", "whole")
        .choose(s.material, "later", "weight")
        .set(s.material, "gesture", Value(g))
        .set(s.material, "frames", {5});
    ShownApart apart;
    const auto first = apart.of(s.result(0));
    const auto last = apart.of(s.result(10)), again = apart.of(s.result(0));
    EXPECT_EQ(first->columns->variant, again->columns->variant);
    EXPECT_GE(last->variants.size(), first->variants.size());
    for (std::size_t v = 0; v < first->variants.size(); ++v) EXPECT_EQ(again->variants[v].now, v);
}
