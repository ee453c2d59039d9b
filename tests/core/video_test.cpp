// Videos, decoded by FFmpeg's command-line program where it is installed.
#include <gtest/gtest.h>

#include <cstdio>
#include <cstdlib>
#include <fstream>

#include "core/base/error.h"
#include "core/exchange/exporter_kind.h"
#include "core/exchange/png.h"
#include "core/exchange/video_file.h"
#include "tests/core/paper.h"

using namespace gswarm;
using making::temporaryFolder, making::Build;

namespace {

bool hasDecoder() { return std::system("ffmpeg -version > /dev/null 2>&1 && ffprobe -version > /dev/null 2>&1") == 0; }

std::string printed(const std::string& command) {
    std::string out;
    FILE* pipe = ::popen(command.c_str(), "r");
    char chunk[4096];
    while (const std::size_t n = std::fread(chunk, 1, sizeof chunk, pipe)) out.append(chunk, n);
    ::pclose(pipe);
    return out;
}

std::string probed(const std::filesystem::path& path, const std::string& entries) {
    return printed("ffprobe -v error -count_frames -select_streams v -show_entries stream=" + entries + " -of csv=p=0 \"" + path.string() +
                   "\"");
}

/// Bytes of R G B A, one picture behind the other. What is measured is the file: by itself the program rounds 10 bits coarsely.
std::string decoded(const std::filesystem::path& path, const std::string& decoder = {}) {
    return printed("ffmpeg -v error " + decoder + " -i \"" + path.string() +
                   "\" -sws_flags accurate_rnd+full_chroma_int+full_chroma_inp -f rawvideo -pix_fmt rgba -");
}

constexpr std::uint8_t patches[][3] = {{255, 255, 255}, {0, 0, 0},      {128, 128, 128}, {200, 40, 30}, {20, 160, 60},
                                       {30, 60, 220},   {217, 164, 65}, {79, 157, 138},  {21, 18, 14}};
constexpr int side = 32, across = 3;

/// Nine flat patches, three a row, half opaque in the right column where that is asked for.
Image patched(bool alpha) {
    Image image{across * side, across * side, {}};
    for (int y = 0; y < image.height; ++y)
        for (int x = 0; x < image.width; ++x) {
            const auto& patch = patches[y / side * across + x / side];
            image.pixels.insert(image.pixels.end(),
                                {patch[0], patch[1], patch[2], static_cast<std::uint8_t>(alpha && x / side == 2 ? 128 : 255)});
        }
    return image;
}

struct Coded {
    VideoCodec codec;
    const char *ending, *decoder;
};
constexpr Coded kinds[] = {{VideoCodec::h264, ".mp4", ""},
                           {VideoCodec::h265, ".mp4", ""},
                           {VideoCodec::proRes422, ".mov", ""},
                           {VideoCodec::proRes4444, ".mov", ""},
                           {VideoCodec::vp9, ".webm", "-c:v libvpx-vp9"},
                           {VideoCodec::av1, ".webm", ""},
                           {VideoCodec::gif, ".gif", ""}};

VideoFormat formatOf(VideoCodec codec, bool alpha) {
    VideoFormat format;
    format.codec = codec;
    format.width = format.height = across * side;
    format.rateNumerator = 30000, format.rateDenominator = 1001;
    format.quality = 95;
    format.alpha = alpha;
    return format;
}

}  // namespace

TEST(Video, FlatPatchesComeBackWithinTwoSteps) {
    if (!hasDecoder()) GTEST_SKIP() << "the package ffmpeg is not installed";
    for (const Coded& kind : kinds) {
        const bool alpha = hasAlpha(kind.codec) && kind.codec != VideoCodec::gif;
        const auto path = temporaryFolder() / ("patches" + std::to_string(static_cast<int>(kind.codec)) + kind.ending);
        VideoFile video(path, formatOf(kind.codec, alpha));
        const Image image = patched(alpha);
        for (int frame = 0; frame < 3; ++frame) video.add(image);
        video.commit();
        const std::string bytes = decoded(path, kind.decoder);
        ASSERT_EQ(bytes.size(), image.pixels.size() * 3) << path;
        for (int patch = 0; patch < 9; ++patch) {
            const int x = patch % across * side + side / 2, y = patch / across * side + side / 2;
            const auto at = 4 * static_cast<std::size_t>(y * image.width + x);
            for (std::size_t c = 0; c < 4; ++c)
                EXPECT_NEAR(static_cast<std::uint8_t>(bytes[at + c]), image.pixels[at + c], 2)
                    << path << " patch " << patch << " channel " << c;
        }
    }
}

TEST(Video, TellsItsColoursItsRateAndItsFrames) {
    if (!hasDecoder()) GTEST_SKIP() << "the package ffmpeg is not installed";
    for (const Coded& kind : kinds) {
        if (kind.codec == VideoCodec::gif) continue;
        const auto path = temporaryFolder() / ("told" + std::to_string(static_cast<int>(kind.codec)) + kind.ending);
        VideoFormat format = formatOf(kind.codec, false);
        format.repeats = 3;
        VideoFile video(path, format);
        for (int frame = 0; frame < 4; ++frame) video.add(patched(false));
        video.commit();
        EXPECT_NE(probed(path, "color_space,color_transfer,color_primaries").find("bt709,bt709,bt709"), std::string::npos) << path;
        EXPECT_NE(probed(path, "r_frame_rate").find("30000/1001"), std::string::npos) << path << probed(path, "r_frame_rate");
        EXPECT_EQ(std::stoi(probed(path, "nb_read_frames")), 12) << "three times through: " << path;
    }
}

TEST(Video, IsThereWholeOrNotAtAll) {
    const auto path = temporaryFolder() / "never.mp4";
    {
        VideoFile video(path, formatOf(VideoCodec::h264, false));
        video.add(patched(false));
    }
    EXPECT_FALSE(std::filesystem::exists(path));
    for (const auto& entry : std::filesystem::directory_iterator(temporaryFolder()))
        EXPECT_EQ(entry.path().string().find("never"), std::string::npos) << entry.path();
    EXPECT_THROW(VideoFile(temporaryFolder() / "nowhere" / "a.mp4", formatOf(VideoCodec::h264, false)), Error);
}

TEST(Video, CanBeLeftUnfinishedAfterAnyPicture) {
    for (const Coded& kind : kinds)
        for (const int pictures : {0, 1, 7, 40}) {
            const auto path = temporaryFolder() / ("left" + std::string(kind.ending));
            {
                VideoFile video(path, formatOf(kind.codec, false));
                for (int k = 0; k < pictures; ++k) video.add(patched(false));
            }
            EXPECT_FALSE(std::filesystem::exists(path));
        }
}

TEST(Video, AnEncoderThatDiesIsToldAndNothingIsWritten) {
    const auto path = temporaryFolder() / "encoder-dies.mp4";
    try {
        VideoFile video(path, formatOf(VideoCodec::h264, false));
        video.add(patched(false));
        EXPECT_EQ(making::endChildren("gswarm-encode"), 1);
        for (int k = 0; k < 3; ++k) video.add(patched(false));
        video.commit();
        FAIL() << "nobody is there to encode it";
    } catch (const Error& error) {
        EXPECT_STREQ(error.what(), "“encoder-dies.mp4” could not be encoded (the encoder ended); nothing was written.");
    }
    EXPECT_FALSE(std::filesystem::exists(path));
    EXPECT_TRUE(making::children("gswarm-encode").empty());
}

TEST(Video, RatesAreExactFractions) {
    using Pair = std::pair<int, int>;
    EXPECT_EQ(rateFraction("25"), (Pair{25, 1}));
    EXPECT_EQ(rateFraction("30000/1001"), (Pair{30000, 1001}));
    EXPECT_EQ(rateFraction("23.976"), (Pair{2997, 125}));
    EXPECT_EQ(fittedTo(VideoCodec::h264, 1281, 721), (Pair{1280, 720}));
    EXPECT_EQ(fittedTo(VideoCodec::proRes422, 1281, 721), (Pair{1280, 721}));
    EXPECT_EQ(fittedTo(VideoCodec::gif, 1281, 721), (Pair{1281, 721}));
}

TEST(Video, IsMadeOfPicturesThatAreThereWithoutTracingAgain) {
    if (!hasDecoder()) GTEST_SKIP() << "the package ffmpeg is not installed";
    for (int frame = 5; frame < 8; ++frame) {
        Image image = patched(false);
        for (std::size_t i = 0; i < image.pixels.size(); i += 4) image.pixels[i] = static_cast<std::uint8_t>(frame * 30);
        writePng(image, numbered(temporaryFolder() / "ready.png", frame));
    }
    making::Paper paper;
    Evaluator evaluator;
    Progress progress;
    const auto make = [&](FrameRange range) {
        Part settings = standardPart(h264Exporter);
        settings.values[static_cast<std::size_t>(h264Exporter.indexOf("pictures"))] = (temporaryFolder() / "ready.png").string();
        writeExport(settings, {evaluator, paper.b.scene, {}, 0, range}, temporaryFolder() / "ready.mp4", progress);
    };
    make({5, 7});
    const std::string bytes = decoded(temporaryFolder() / "ready.mp4");
    const std::size_t picture = 4 * static_cast<std::size_t>(across * side * across * side);
    ASSERT_EQ(bytes.size(), 3 * picture);
    for (std::size_t frame = 0; frame < 3; ++frame)
        EXPECT_NEAR(static_cast<std::uint8_t>(bytes[frame * picture + 4 * (16 * across * side + 48)]), (5 + static_cast<int>(frame)) * 30,
                    4);
    // One is missing: nothing is written, and what was there stays.
    const auto size = std::filesystem::file_size(temporaryFolder() / "ready.mp4");
    EXPECT_THROW(make({5, 8}), Error);
    EXPECT_EQ(std::filesystem::file_size(temporaryFolder() / "ready.mp4"), size);
}
