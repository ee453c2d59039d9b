// The layers that a traced picture is written with, read back by OpenEXR itself.
#include <gtest/gtest.h>

#include <ImfChannelList.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfInputFile.h>

#include "core/exchange/exporter_kind.h"
#include "core/exchange/layers_exr.h"
#include "core/kinds/registry.h"
#include "tests/core/paper.h"

using namespace gswarm;
using glm::vec3;

namespace {

struct ReadLayers {
    int width, height;
    std::map<std::string, std::vector<float>> values;

    explicit ReadLayers(const std::filesystem::path& path) {
        Imf::InputFile file(path.c_str());
        const auto window = file.header().dataWindow();
        width = window.max.x + 1, height = window.max.y + 1;
        Imf::FrameBuffer buffer;
        std::vector<std::uint32_t> ids(static_cast<std::size_t>(width * height));
        for (auto channel = file.header().channels().begin(); channel != file.header().channels().end(); ++channel) {
            auto& into = values[channel.name()];
            into.resize(ids.size());
            const bool whole = channel.channel().type == Imf::UINT;
            buffer.insert(channel.name(),
                          Imf::Slice::Make(whole ? Imf::UINT : Imf::FLOAT, whole ? static_cast<void*>(ids.data()) : into.data(), window, 4,
                                           4 * static_cast<std::size_t>(width)));
        }
        file.setFrameBuffer(buffer);
        file.readPixels(0, height - 1);
        values["id"].assign(ids.begin(), ids.end());
    }
    float at(const std::string& channel, int x, int y) const { return values.at(channel)[static_cast<std::size_t>(y * width + x)]; }
};

Part layered(int size) {
    Part settings = standardPart(stillExporter);
    const auto set = [&](const char* name, const Value& value) {
        settings.values[static_cast<std::size_t>(stillExporter.indexOf(name))] = value;
    };
    set("width", fixedNumbers({double(size)})), set("height", fixedNumbers({double(size)}));
    set("samples", fixedNumbers({16})), set("layers", true);
    return settings;
}

}  // namespace

TEST(Layers, SayWhatEachPixelIs) {
    // A sheet four metres wide of which the camera, 20 metres above, sees ten; in the dark it glows with two nits.
    making::Paper paper;
    paper.b.set(paper.b.shape, "width", {4}).set(paper.b.shape, "depth", {4}).set(paper.b.material, "colour", {1, 0, 0, 1});
    paper.b.set(paper.b.material, "glows", true)
        .set(paper.b.material, "emission", {2})
        .set(paper.b.material, "emissionColour", {0, 1, 0, 1});
    Evaluator evaluator;
    Progress progress;
    const auto path = making::temporaryFolder() / "sheet.png";
    writeExport(layered(40), {evaluator, paper.b.scene, {}}, path, progress);
    EXPECT_TRUE(std::filesystem::exists(path));
    const ReadLayers read(making::temporaryFolder() / "sheet.exr");
    ASSERT_EQ(read.width, 40);
    ASSERT_EQ(read.height, 40);
    EXPECT_EQ(read.values.size(), 12u) << "R G B A, albedo, normal, depth and id";
    EXPECT_NEAR(read.at("G", 20, 20), 2, 0.01) << "above 1: nothing was displayed";
    EXPECT_NEAR(read.at("R", 20, 20), 0, 0.01);
    EXPECT_EQ(read.at("A", 20, 20), 1);
    EXPECT_NEAR(read.at("albedo.R", 20, 20), 1, 0.06);
    EXPECT_LT(read.at("albedo.G", 20, 20), 0.06);
    EXPECT_NEAR(read.at("normal.Y", 20, 20), 1, 0.01);
    EXPECT_NEAR(read.at("normal.X", 20, 20), 0, 0.01);
    EXPECT_NEAR(read.at("depth.Z", 20, 20), 20, 0.6);
    EXPECT_GT(read.at("id", 20, 20), 0);
    EXPECT_EQ(read.at("A", 2, 2), 0);
    EXPECT_EQ(read.at("G", 2, 2), 0);
    EXPECT_EQ(read.at("depth.Z", 2, 2), farthestDepth);
    EXPECT_EQ(read.at("id", 2, 2), 0);
}

TEST(Layers, TellInstancesApart) {
    making::Paper paper;
    paper.b.set(paper.b.shape, "width", {1}).set(paper.b.shape, "depth", {1}).set(paper.b.formation, "count", {2, 1, 1});
    paper.b.set(paper.b.formation, "spacing", {4, 1, 1});
    Evaluator evaluator;
    Progress progress;
    writeExport(layered(40), {evaluator, paper.b.scene, {}}, making::temporaryFolder() / "two.png", progress);
    const ReadLayers read(making::temporaryFolder() / "two.exr");
    EXPECT_GT(read.at("id", 12, 20), 0);
    EXPECT_GT(read.at("id", 28, 20), 0);
    EXPECT_NE(read.at("id", 12, 20), read.at("id", 28, 20));
    EXPECT_EQ(read.at("id", 20, 20), 0);
}
