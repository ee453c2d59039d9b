// The layers that a traced picture is written with, read back by OpenEXR itself.
#include <gtest/gtest.h>

#include <ImfChannelList.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfInputFile.h>
#include <ImfStringAttribute.h>

#include <cstdlib>
#include <cstring>
#include <set>

#include "core/edit/arrange_edits.h"
#include "core/exchange/exporter_kind.h"
#include "core/exchange/layers_exr.h"
#include "core/exchange/mattes.h"
#include "core/exchange/png.h"
#include "core/kinds/registry.h"
#include "tests/core/paper.h"

using namespace gswarm;
using glm::vec3;
using making::temporaryFolder, making::Build;

namespace {

struct ReadLayers {
    int width, height;
    std::map<std::string, std::vector<float>> values;
    std::map<std::string, std::string> notes;

    explicit ReadLayers(const std::filesystem::path& path) {
        Imf::InputFile file(path.c_str());
        const auto window = file.header().dataWindow();
        width = window.max.x + 1, height = window.max.y + 1;
        Imf::FrameBuffer buffer;
        for (auto channel = file.header().channels().begin(); channel != file.header().channels().end(); ++channel) {
            auto& into = values[channel.name()];
            into.resize(static_cast<std::size_t>(width * height));
            buffer.insert(channel.name(), Imf::Slice::Make(Imf::FLOAT, into.data(), window, 4, 4 * static_cast<std::size_t>(width)));
        }
        for (auto one = file.header().begin(); one != file.header().end(); ++one)
            if (const auto* text = dynamic_cast<const Imf::StringAttribute*>(&one.attribute())) notes[one.name()] = text->value();
        file.setFrameBuffer(buffer);
        file.readPixels(0, height - 1);
    }
    float at(const std::string& channel, int x, int y) const { return values.at(channel)[static_cast<std::size_t>(y * width + x)]; }
    /// The names and hashes of a matte.
    nlohmann::json manifest(const std::string& layer) const {
        for (const auto& [name, text] : notes)
            if (name.ends_with("/name") && text == layer)
                return nlohmann::json::parse(notes.at(name.substr(0, name.size() - 5) + "/manifest"));
        return {};
    }
};

/// Settings of the layered exporter for a small square picture, with what is switched on.
Part layered(int size, const std::vector<std::string>& on) {
    Part settings = standardPart(layeredExporter);
    const auto set = [&](const std::string& name, const Value& value) {
        settings.values[static_cast<std::size_t>(layeredExporter.indexOf(name))] = value;
    };
    set("width", fixedNumbers({double(size)})), set("height", fixedNumbers({double(size)}));
    set("samples", fixedNumbers({16})), set("precision", std::string("full"));
    for (const std::string& one : on) {
        const auto equals = one.find('=');
        if (equals == std::string::npos)
            set(one, true);
        else
            set(one.substr(0, equals), one.substr(equals + 1));
    }
    return settings;
}

std::filesystem::path written(const Build& b, const Part& settings, const std::string& name) {
    Evaluator evaluator;
    Progress progress;
    const auto path = temporaryFolder() / name;
    writeExport(settings, {evaluator, b.scene, {}}, path, progress);
    return path;
}

/// A sheet of two metres in the middle, of which the camera sees ten.
making::Paper sheet() {
    making::Paper paper;
    paper.b.set(paper.b.shape, "width", {2}).set(paper.b.shape, "depth", {2});
    return paper;
}

}  // namespace

TEST(Layers, SayWhatEachPixelIs) {
    // A sheet four metres wide of which the camera, 20 metres above, sees ten; in the dark it glows with two nits.
    making::Paper paper;
    paper.b.set(paper.b.shape, "width", {4}).set(paper.b.shape, "depth", {4}).set(paper.b.material, "colour", {1, 0, 0, 1});
    paper.b.set(paper.b.material, "glows", true)
        .set(paper.b.material, "emission", {2})
        .set(paper.b.material, "emissionColour", {0, 1, 0, 1});
    const auto path = written(paper.b, layered(40, {"png", "position", "emission"}), "sheet.exr");
    EXPECT_TRUE(std::filesystem::exists(temporaryFolder() / "sheet.png"));
    const ReadLayers read(path);
    ASSERT_EQ(read.width, 40);
    ASSERT_EQ(read.height, 40);
    EXPECT_EQ(read.values.size(), 17u) << "R G B A, albedo, normal, depth, position and emission";
    EXPECT_NEAR(read.at("G", 20, 20), 2, 0.01) << "above 1: nothing was displayed";
    EXPECT_NEAR(read.at("R", 20, 20), 0, 0.01);
    EXPECT_EQ(read.at("A", 20, 20), 1);
    EXPECT_NEAR(read.at("albedo.R", 20, 20), 1, 0.06);
    EXPECT_LT(read.at("albedo.G", 20, 20), 0.06);
    EXPECT_NEAR(read.at("normal.Y", 20, 20), 1, 0.01);
    EXPECT_NEAR(read.at("normal.X", 20, 20), 0, 0.01);
    EXPECT_NEAR(read.at("depth.Z", 20, 20), 20, 0.6);
    EXPECT_NEAR(read.at("emission.G", 20, 20), 2, 0.001);
    // The middle of the pixel, a quarter of a metre wide; -Z is up.
    EXPECT_NEAR(read.at("position.X", 20, 20), 0.125, 0.02);
    EXPECT_NEAR(read.at("position.Z", 20, 20), 0.125, 0.02);
    EXPECT_EQ(read.at("A", 2, 2), 0);
    EXPECT_EQ(read.at("G", 2, 2), 0);
    EXPECT_EQ(read.at("depth.Z", 2, 2), farthestDepth);
}

TEST(Layers, MotionIsThePixelsUntilTheNextFrame) {
    // A metre to the right and half a one up in each frame; four pixels a metre.
    making::Paper paper = sheet();
    const Ease even = Ease::linear;
    paper.b.key(paper.b.swarm, "position", {{0, 0, even}, {10, 10, even}}, 0);
    paper.b.key(paper.b.swarm, "position", {{0, 0, even}, {10, -5, even}}, 2);
    const ReadLayers read(written(paper.b, layered(40, {"motion"}), "motion.exr"));
    EXPECT_NEAR(read.at("motion.X", 20, 20), 4, 1e-3);
    EXPECT_NEAR(read.at("motion.Y", 20, 20), 2, 1e-3);
    EXPECT_EQ(read.at("motion.X", 1, 1), 0);
}

TEST(Layers, LightGroupsAddUpToTheLight) {
    making::Paper paper = sheet();
    paper.b.set(paper.b.material, "glows", true).set(paper.b.material, "emission", {0.25});
    paper.b.set(paper.b.sun(), "on", true).set(paper.b.sky(), "on", true).set(paper.b.sky(), "ground", false);
    const ObjectId left = paper.add(pointLight), right = paper.add(pointLight);
    paper.b.scene = rename(paper.b.scene, left, "Left").scene;
    paper.b.scene = rename(paper.b.scene, right, "Right").scene;
    paper.b.set(left, "position", {-1, 1, 0}).set(right, "position", {1, 1, 0});
    paper.b.set(left, "strength", {5}).set(right, "strength", {5});
    paper.b.scene = groupThings(paper.b.scene, {left, right}, "Lamps").scene;
    const ReadLayers read(written(paper.b, layered(20, {"lights"}), "groups.exr"));
    const std::vector<std::string> groups{"glow", "Sun", "Sky", "Lamps"};
    float most = 0;
    for (int y = 0; y < 20; ++y)
        for (int x = 0; x < 20; ++x)
            for (const char* c : {"R", "G", "B"}) {
                float sum = 0;
                for (const auto& group : groups) sum += read.at("light." + group + "." + c, x, y);
                EXPECT_NEAR(sum, read.at(c, x, y), 1e-4f * std::max(1.0f, sum));
                most = std::max(most, sum);
            }
    EXPECT_GT(most, 0.3f);
    for (const auto& group : groups) EXPECT_GT(read.at("light." + group + ".R", 10, 10), 0.01f) << group;
    EXPECT_NEAR(read.at("light.glow.R", 10, 10), 0.25, 0.01);
}

TEST(Layers, HashesAreThoseOfTheSpecification) {
    EXPECT_EQ(matteHash("hello"), 0x248bfa47u);
    EXPECT_EQ(matteHash("hello, world"), 0x149bbb7fu);
    EXPECT_EQ(matteHash("The quick brown fox jumps over the lazy dog"), 0x2e4ff723u);
    for (int i = 0; i < 100000; ++i) {
        const std::uint32_t exponent = matteHash("thing/" + std::to_string(i)) >> 23 & 255;
        ASSERT_TRUE(exponent != 0 && exponent != 255) << i;
    }
}

TEST(Layers, MattesAddUpToWhatIsThere) {
    making::Paper paper;
    paper.b.set(paper.b.shape, "width", {1.1}).set(paper.b.shape, "depth", {1.1}).set(paper.b.formation, "count", {4, 1, 4});
    paper.b.scene = rename(paper.b.scene, paper.b.swarm, "Sheets, 4 × 4").scene;
    const ReadLayers read(written(paper.b, layered(40, {"mattes"}), "mattes.exr"));
    for (const std::string layer : {"CryptoInstance", "CryptoShape", "CryptoMaterial"}) {
        const auto manifest = read.manifest(layer);
        std::set<std::uint32_t> known;
        for (const auto& [name, hash] : manifest.items()) {
            known.insert(static_cast<std::uint32_t>(std::stoul(hash.get<std::string>(), nullptr, 16)));
            EXPECT_EQ(matteHash(name), static_cast<std::uint32_t>(std::stoul(hash.get<std::string>(), nullptr, 16))) << name;
        }
        EXPECT_EQ(known.size(), layer == "CryptoInstance" ? 16u : 1u) << layer;
        for (int y = 0; y < 40; ++y)
            for (int x = 0; x < 40; ++x) {
                float sum = 0, before = 2;
                for (const char* pair : {"00.RG", "00.BA", "01.RG", "01.BA", "02.RG", "02.BA"}) {
                    const std::string number(pair, 3);
                    const float id = read.at(layer + number + pair[3], x, y), coverage = read.at(layer + number + pair[4], x, y);
                    EXPECT_LE(coverage, before);
                    before = coverage;
                    sum += coverage;
                    std::uint32_t bits = 0;
                    std::memcpy(&bits, &id, sizeof bits);
                    EXPECT_TRUE(coverage == 0 ? bits == 0 : known.contains(bits)) << layer;
                }
                EXPECT_NEAR(sum, read.at("A", x, y), 1e-5f) << layer << " " << x << " " << y;
            }
    }
    EXPECT_TRUE(read.manifest("CryptoInstance").contains("Sheets, 4 × 4/" + std::to_string(paper.b.rows()[5].id)));
    EXPECT_EQ(read.at("A", 20, 20), 1);
}

TEST(Layers, HaveFilesOfTheirOwnWhereThatIsAskedFor) {
    const making::Paper paper = sheet();
    const Part settings = layered(20, {"files=each", "mattes"});
    const auto path = written(paper.b, settings, "each.exr");
    std::set<std::string> names;
    for (const auto& file : filesWritten(settings, paper.b.scene, {}, path)) {
        EXPECT_TRUE(std::filesystem::exists(file)) << file;
        names.insert(file.filename());
    }
    EXPECT_EQ(names, (std::set<std::string>{"each.exr", "each.albedo.exr", "each.normal.exr", "each.depth.exr", "each.mattes.exr"}));
    EXPECT_EQ(ReadLayers(path).values.size(), 4u);
    EXPECT_EQ(ReadLayers(temporaryFolder() / "each.depth.exr").values.size(), 1u);
    // A compression that loses bits would make other ids of them.
    written(paper.b, layered(20, {"compression=dwaa", "mattes"}), "lossy.exr");
    const ReadLayers exact(temporaryFolder() / "each.mattes.exr"), apart(temporaryFolder() / "lossy.mattes.exr");
    EXPECT_EQ(exact.values, apart.values);
    EXPECT_FALSE(ReadLayers(temporaryFolder() / "lossy.exr").values.contains("CryptoInstance00.R"));
}

TEST(Layers, OpenExrsOwnProgramsReadThem) {
    if (std::system("exrheader -h > /dev/null 2>&1") == 127 << 8) GTEST_SKIP() << "the package openexr is not installed";
    for (const char* compression : {"none", "rle", "zips", "zip", "piz", "pxr24", "dwaa", "dwab"}) {
        const auto path = written(sheet().b, layered(20, {std::string("compression=") + compression, "mattes", "precision=half"}),
                                  std::string(compression) + ".exr");
        EXPECT_EQ(std::system(("exrheader " + path.string() + " > /dev/null").c_str()), 0) << compression;
        EXPECT_EQ(std::system(("exrinfo -s " + path.string() + " > /dev/null").c_str()), 0) << compression;
    }
}

// ---- sequences that go on

namespace {

Part smallSequence(const ExporterKind& kind) {
    Part settings = standardPart(kind);
    for (const auto& [name, value] : {std::pair{"width", 16}, {"height", 16}, {"samples", 1}})
        settings.values[static_cast<std::size_t>(kind.indexOf(name))] = fixedNumbers({double(value)});
    return settings;
}

/// Writes frames 0 to 3 and returns which of them were made.
std::vector<int> made(const Build& b, const ExporterKind& kind, const std::filesystem::path& path, bool replaces) {
    Evaluator evaluator;
    Progress progress;
    std::vector<int> frames;
    ExportFrames all{evaluator, b.scene, {}, 0, {0, 3}};
    all.replaces = replaces;
    all.wrote = [&](int frame, const std::filesystem::path&) { frames.push_back(frame); };
    writeExport(smallSequence(kind), all, path, progress);
    return frames;
}

void cutOff(const std::filesystem::path& path) { std::filesystem::resize_file(path, std::filesystem::file_size(path) - 20); }

}  // namespace

TEST(Sequence, GoesOnWhereItStoppedAndMendsWhatIsNotWhole) {
    const making::Paper paper = sheet();
    for (const ExporterKind* kind : {&sequenceExporter, &layeredSequenceExporter}) {
        const auto path = temporaryFolder() / ("going" + kind->ending);
        EXPECT_EQ(made(paper.b, *kind, path, false), (std::vector{0, 1, 2, 3}));
        EXPECT_EQ(made(paper.b, *kind, path, false), std::vector<int>{});
        std::filesystem::remove(numbered(path, 1));
        EXPECT_EQ(made(paper.b, *kind, path, false), (std::vector{1}));
        cutOff(numbered(path, 2));
        EXPECT_THROW(made(paper.b, *kind, path, false), InTheWay) << "it may be anyone's";
        EXPECT_EQ(made(paper.b, *kind, path, true), (std::vector{2}));
        // Of another piece they are no longer what would be written.
        Build changed = paper.b;
        changed.set(changed.material, "colour", {1, 0, 0, 1});
        const auto before = std::filesystem::last_write_time(numbered(path, 0));
        EXPECT_THROW(made(changed, *kind, path, false), InTheWay);
        EXPECT_EQ(std::filesystem::last_write_time(numbered(path, 0)), before);
        EXPECT_EQ(made(changed, *kind, path, true), (std::vector{0, 1, 2, 3}));
    }
}

TEST(Sequence, EveryNthFrame) {
    const FrameRange range{3, 12, 4};
    EXPECT_EQ(range.count(), 3);
    std::vector<int> frames;
    Progress progress;
    eachFrame(range, progress, [&](int frame) { frames.push_back(frame); });
    EXPECT_EQ(frames, (std::vector{3, 7, 11}));
    EXPECT_EQ(progress.fraction(), 1);
    EXPECT_EQ((FrameRange{5, 4}).count(), 0);
}

TEST(Png, SixteenBitsAreFinerThanEight) {
    // A sheet of which one side is hardly brighter than the other.
    making::Paper paper;
    paper.b.set(paper.b.material, "glows", true).set(paper.b.material, "emission", {0.5});
    Part settings = standardPart(stillExporter);
    const auto set = [&](const char* name, const Value& value) {
        settings.values[static_cast<std::size_t>(stillExporter.indexOf(name))] = value;
    };
    set("width", fixedNumbers({8})), set("height", fixedNumbers({8})), set("samples", fixedNumbers({1})), set("bits", std::string("16"));
    const Image16 fine = readPng(written(paper.b, settings, "fine.png"));
    ASSERT_EQ(fine.width, 8);
    const double wanted = srgbFromLinear(0.5) * 65535;
    EXPECT_NEAR(fine.pixels[4 * 27], wanted, 2);
    EXPECT_NE(fine.pixels[4 * 27] % 257, 0) << "no eight bits in sixteen";
    EXPECT_EQ(fine.pixels[4 * 27 + 3], 65535);
    set("bits", std::string("8")), set("transparent", true);
    const Image16 coarse = readPng(written(paper.b, settings, "coarse.png"));
    EXPECT_EQ(coarse.pixels[4 * 27] % 257, 0);
    EXPECT_NEAR(coarse.pixels[4 * 27], wanted, 130);
    EXPECT_THROW(readPng(temporaryFolder() / "none.png"), Error);
    cutOff(temporaryFolder() / "fine.png");
    EXPECT_THROW(readPng(temporaryFolder() / "fine.png"), Error);
}
