// Clips: which picture is seen when, what they are told to be, and what becomes of damaged ones.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <fstream>
#include <thread>

#include "core/base/chance.h"
#include "core/base/error.h"
#include "core/edit/import_edits.h"
#include "core/exchange/record_media.h"
#include "core/exchange/video_file.h"
#include "core/provide/decoders.h"
#include "core/provide/media.h"
#include "tests/core/reading.h"

using namespace gswarm;
using namespace gswarm::reading;
using making::Build, making::temporaryFolder;

namespace {

constexpr int side = 64;

/// So many pictures, each of one grey: the first of 20, and 10 more each time.
std::filesystem::path greys(const std::string& name, VideoCodec codec, int count, bool alpha = false, int rate = 25) {
    std::filesystem::create_directories(temporaryFolder());
    const auto path = temporaryFolder() / name;
    std::filesystem::remove(path);
    VideoFormat format;
    format.codec = codec, format.width = format.height = side, format.alpha = alpha, format.rateNumerator = rate, format.quality = 100;
    VideoFile file(path, format);
    for (int k = 0; k < count; ++k) {
        Image image{side, side, std::vector<std::uint8_t>(4 * side * side, static_cast<std::uint8_t>(20 + 10 * k))};
        for (std::size_t i = 3; i < image.pixels.size(); i += 4) image.pixels[i] = alpha && i > image.pixels.size() / 2 ? 100 : 255;
        file.add(image);
    }
    file.commit();
    return path;
}

/// A swarm of one that reads a clip of ten greys, as plain numbers.
struct Seen : Reading {
    explicit Seen(const std::string& file) : Reading(1, 1, 1, clipMedia) { b.set(media, "file", file).choose(media, "colours", "numbers"); }
    /// Which of the pictures is seen.
    int at(double frame) const { return static_cast<int>(std::lround((read(frame)[0] * 255 - 20) / 10)); }
    std::vector<int> all(const std::vector<double>& frames) const {
        std::vector<int> seen;
        for (const double frame : frames) seen.push_back(at(frame));
        return seen;
    }
    std::string told() const { return mediaTold(b.scene, media, 0, temporaryFolder(), making::store()); }
};

std::string bytesOf(const std::filesystem::path& path) {
    std::ifstream in(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}

void writeBytes(const std::filesystem::path& path, const std::string& bytes) { std::ofstream(path, std::ios::binary) << bytes; }

std::string refusal(const std::filesystem::path& path, std::uint64_t content) {
    Decoders decoders;
    try {
        const ClipFacts facts = decoders.clipFacts(path, content);
        for (std::size_t k = 0; k < facts.begins.size(); ++k) decoders.picture(path, content, static_cast<std::int64_t>(k));
    } catch (const Error& error) {
        return error.what();
    }
    return {};
}

/// A clip as FFmpeg's program makes it of its own test picture.
std::filesystem::path madeBy(const std::string& words, const std::string& name) {
    std::filesystem::create_directories(temporaryFolder());
    const auto path = temporaryFolder() / name;
    EXPECT_EQ(std::system(("ffmpeg -v error -y " + words + " \"" + path.string() + "\"").c_str()), 0) << words;
    return path;
}

}  // namespace

TEST(Clip, ShowsThePictureThatIsOn) {
    greys("ten.mp4", VideoCodec::h264, 10);
    Seen seen("ten.mp4");
    EXPECT_EQ(seen.all({-5, 0, 1, 4, 9, 10, 40}), (std::vector<int>{0, 0, 1, 4, 9, 9, 9})) << "it holds";
    EXPECT_EQ(seen.all({3.5, 3.99, 4.01}), (std::vector<int>{3, 3, 4}));
    seen.b.choose(seen.media, "beyond", "repeat");
    EXPECT_EQ(seen.all({-1, 10, 23}), (std::vector<int>{9, 0, 3}));
    seen.b.choose(seen.media, "beyond", "backAndForth");
    EXPECT_EQ(seen.all({-1.5, 8.5, 9.5, 10.5, 11.5, 18.5, 19.5, 20.5}), (std::vector<int>{1, 8, 9, 9, 8, 1, 0, 0}));
    seen.b.choose(seen.media, "beyond", "hold").set(seen.media, "start", {100});
    EXPECT_EQ(seen.all({99, 100, 103}), (std::vector<int>{0, 0, 3}));
    seen.b.set(seen.media, "speed", {50});
    EXPECT_EQ(seen.all({100, 101, 102, 105, 119}), (std::vector<int>{0, 0, 1, 2, 9}));
    seen.b.set(seen.media, "speed", {-100});
    EXPECT_EQ(seen.all({100.5, 101.5, 105.5, 109.5, 130}), (std::vector<int>{9, 8, 4, 0, 0}));
}

TEST(Clip, ManyPicturesOfOneMomentAreRead) {
    // Found by chance: more of them than are kept.
    const std::filesystem::path path = GSWARM_SOURCE "/tests/files/corpus/clip/same-time.avi";
    Decoders decoders;
    const ClipFacts facts = decoders.clipFacts(path, 1);
    const auto last = static_cast<std::int64_t>(facts.begins.size()) - 1;
    for (const std::int64_t number : {std::int64_t{0}, last, last / 2})
        EXPECT_EQ(decoders.picture(path, 1, number).bytes.size(), facts.pictureBytes());
}

TEST(Clip, APartOfItIsSeen) {
    greys("part.mp4", VideoCodec::h264, 10);
    Seen seen("part.mp4");
    seen.b.set(seen.media, "from", {0.12}).set(seen.media, "to", {0.28}).choose(seen.media, "beyond", "repeat");
    EXPECT_EQ(seen.all({0, 1, 3, 4, 5, -1}), (std::vector<int>{3, 4, 6, 3, 4, 6}));
    seen.b.choose(seen.media, "beyond", "hold");
    EXPECT_EQ(seen.all({50}), (std::vector<int>{6})) << "what begins with the end of the part is not seen";
    seen.b.set(seen.media, "from", {5});
    EXPECT_NE(seen.waits().find("Nothing of it is left between From and To: it is 0.4 s long"), std::string::npos) << seen.waits();
}

TEST(Clip, OfAnotherRateShowsTheNearest) {
    greys("slow.mp4", VideoCodec::h264, 10, false, 10);
    Seen seen("slow.mp4");
    EXPECT_EQ(seen.all({0, 2, 3, 5, 10, 24}), (std::vector<int>{0, 0, 1, 2, 4, 9})) << "10 a second in a project of 25";
    EXPECT_EQ(seen.told(), "64 × 64 pixels. 10 pictures, 10 a second, 1 s, h264.");
}

TEST(Clip, PicturesOfEveryCodecAreTheSameWhicheverWayOneComes) {
    struct Coded {
        VideoCodec codec;
        const char* ending;
        bool deep;
    };
    for (const Coded& coded : {Coded{VideoCodec::h264, "mp4", false},
                               {VideoCodec::h265, "mp4", false},
                               {VideoCodec::proRes422, "mov", true},
                               {VideoCodec::proRes4444, "mov", true},
                               {VideoCodec::vp9, "webm", false},
                               {VideoCodec::av1, "mp4", true},
                               {VideoCodec::gif, "gif", false}}) {
        const std::string name = "way" + std::to_string(int(coded.codec)) + "." + coded.ending;
        const auto path = greys(name, coded.codec, 20);
        Decoders forward, any;
        const ClipFacts facts = forward.clipFacts(path, 1);
        ASSERT_EQ(facts.begins.size(), 20u) << name;
        EXPECT_EQ(facts.width, side);
        EXPECT_EQ(facts.deep, coded.deep) << name;
        std::vector<ClipPicture> pictures;
        for (int k = 0; k < 20; ++k) {
            EXPECT_NEAR(facts.begins[static_cast<std::size_t>(k)], k / 25.0, 0.011) << name;
            pictures.push_back(forward.picture(path, 1, k));
            const auto& bytes = pictures.back().bytes;
            ASSERT_EQ(bytes.size(), facts.pictureBytes());
            EXPECT_NEAR(coded.deep ? bytes[1] : bytes[0], 20 + 10 * k, 3) << name << " " << k;
        }
        for (int step = 0; step < 60; ++step) {
            const int k = static_cast<int>(chance(5, static_cast<std::uint64_t>(step), 0) * 20);
            ASSERT_EQ(any.picture(path, 1, k).bytes, pictures[static_cast<std::size_t>(k)].bytes) << name << " " << k;
        }
        for (int k = 19; k >= 0; --k)
            ASSERT_EQ(any.picture(path, 1, k).bytes, pictures[static_cast<std::size_t>(k)].bytes) << name << " " << k;
    }
}

TEST(Clip, AlphaIsRead) {
    greys("half.mov", VideoCodec::proRes4444, 2, true);
    Seen seen("half.mov");
    const auto frame = mediaAt(seen.b.scene, seen.media, 0, temporaryFolder(), making::store());
    EXPECT_NEAR(frame->at(5, 5).w, 1, 0.01f);
    EXPECT_NEAR(frame->at(5, side - 5).w, 100 / 255.0f, 0.01f);
    EXPECT_TRUE(frame->moves);
}

TEST(Clip, LightIsDecoded) {
    greys("light.mp4", VideoCodec::h264, 3);
    Seen seen("light.mp4");
    seen.b.choose(seen.media, "colours", "light");
    EXPECT_NEAR(seen.read(2)[0], light(40), 0.003f);
}

TEST(Clip, EachInstanceSeesItsOwnMoment) {
    greys("own.mp4", VideoCodec::h264, 10);
    Reading r(5, 1, 1, clipMedia);
    r.b.set(r.media, "file", std::string("own.mp4")).choose(r.media, "colours", "numbers");
    r.b.choose(r.gesture, "when-by", "number").set(r.gesture, "when-over", {4});
    expectValues(r.read(7), {90 / 255.0f, 80 / 255.0f, 70 / 255.0f, 60 / 255.0f, 50 / 255.0f}, 0.012f);
}

TEST(Clip, OthersFilesAreUprightWithSquarePixelsAtTheirOwnTimes) {
    if (!making::hasFfmpeg()) GTEST_SKIP() << "ffmpeg is not installed";
    // A red stripe at the left edge is below after a quarter against the clock, as this one is to be turned.
    const std::string striped = "-f lavfi -i color=black:s=64x32:r=10:d=1 -vf drawbox=0:0:16:32:red:fill";
    const auto lying = madeBy(striped + " -c:v libx264 -pix_fmt yuv444p", "lying.mp4");
    const auto turned = madeBy("-i \"" + lying.string() + "\" -c copy -metadata:s:v rotate=90", "turned.mp4");
    Decoders decoders;
    ClipFacts facts = decoders.clipFacts(turned, 2);
    EXPECT_EQ(facts.width, 32);
    EXPECT_EQ(facts.height, 64);
    const auto red = [&](const ClipPicture& picture, int x, int y) {
        return int(picture.bytes[4 * static_cast<std::size_t>(y * facts.width + x)]);
    };
    const ClipPicture upright = decoders.picture(turned, 2, 3);
    EXPECT_GT(red(upright, 16, 60), 200);
    EXPECT_LT(red(upright, 16, 24), 30);
    facts = decoders.clipFacts(madeBy(striped + ",setsar=2 -c:v libx264 -pix_fmt yuv444p", "wide.mp4"), 3);
    EXPECT_EQ(facts.width, 128);
    EXPECT_EQ(facts.height, 32);
    // Pictures that begin at 0, 1, 4, 9 … hundredths.
    const auto uneven = madeBy(
        "-f lavfi -i testsrc=s=64x64:r=100:d=0.1 -vf setpts=N*N -vsync passthrough -video_track_timescale 1000 -c:v libx264 "
        "-bf 0",
        "uneven.mp4");
    facts = decoders.clipFacts(uneven, 4);
    ASSERT_EQ(facts.begins.size(), 10u);
    for (std::size_t k = 0; k < 10; ++k) EXPECT_NEAR(facts.begins[k], double(k * k) / 100, 0.002) << k;
}

TEST(Clip, DamagedOnesAreToldInASentence) {
    const std::string whole = bytesOf(greys("whole.mp4", VideoCodec::h264, 30));
    const auto path = temporaryFolder() / "damaged.mp4";
    int refused = 0;
    for (int k = 0; k < 24; ++k) {
        const auto random = [k](std::uint32_t which) { return static_cast<double>(chance(11, static_cast<std::uint64_t>(k), which)); };
        std::string bytes = whole;
        if (k % 2) bytes.resize(static_cast<std::size_t>(random(0) * static_cast<double>(whole.size())));
        if (!bytes.empty())
            for (std::uint32_t n = 0; n < 8; ++n)
                bytes[static_cast<std::size_t>(random(2 * n + 1) * static_cast<double>(bytes.size() - 1))] =
                    static_cast<char>(random(2 * n + 2) * 255);
        writeBytes(path, bytes);
        const std::string said = refusal(path, static_cast<std::uint64_t>(100 + k));
        if (said.empty()) continue;
        ++refused;
        EXPECT_EQ(said.rfind("“damaged.mp4” ", 0), 0u) << said;
        EXPECT_EQ(said.back(), '.') << said;
    }
    EXPECT_GT(refused, 5);
    writeBytes(path, "");
    EXPECT_NE(refusal(path, 200).find("is damaged, or no clip"), std::string::npos);
    // What names other files is no clip, whatever it is called.
    writeBytes(path, "#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\nwhole.mp4\n#EXT-X-ENDLIST\n");
    EXPECT_NE(refusal(path, 201).find("is damaged, or no clip"), std::string::npos);
    writeBytes(path, "ffconcat version 1.0\nfile whole.mp4\n");
    EXPECT_NE(refusal(path, 202).find("is damaged, or no clip"), std::string::npos);
}

TEST(Clip, TooLargeForTheMemoryIsTold) {
    const auto path = greys("large.mp4", VideoCodec::h264, 2);
    Decoders decoders(side * side);
    try {
        decoders.clipFacts(path, 1);
        FAIL() << "it is too large";
    } catch (const Error& error) {
        EXPECT_STREQ(error.what(), "“large.mp4” has pictures that take more memory than the limit in Preferences.");
    }
}

TEST(Clip, ADecoderThatDiesIsStartedAgain) {
    const auto path = greys("dies.mp4", VideoCodec::h264, 10);
    Decoders decoders;
    const ClipPicture before = decoders.picture(path, 1, 4);
    EXPECT_GE(making::endChildren("gswarm-decode"), 1);
    EXPECT_EQ(decoders.picture(path, 1, 4).bytes, before.bytes);
}

TEST(Clip, ADecoderStaysWhenTheThreadThatAskedFirstIsGone) {
    const auto path = greys("stays.mp4", VideoCodec::h264, 10);
    Decoders decoders;
    const auto others = making::children("gswarm-decode");
    std::thread([&] { decoders.clipFacts(path, 7); }).join();
    auto before = making::children("gswarm-decode");
    EXPECT_EQ(before.size(), others.size() + 1);
    decoders.picture(path, 7, 4);
    EXPECT_EQ(making::children("gswarm-decode"), before) << "the same as before";
}

TEST(Clip, ARecordingShowsWhatTheCameraShowed) {
    Build b = Build::grid(1, 1, 1);
    const Edit camera = addMedia(b.scene, simulatedCameraMedia);
    b.scene = camera.scene;
    b.set(camera.made, "width", {97}).set(camera.made, "height", {64});
    std::filesystem::create_directories(temporaryFolder());
    for (const char* name : {"lantern.mp4", "lantern.mov"}) {
        Progress progress;
        recordMedia(b.scene, camera.made, {5, 19, 1}, temporaryFolder(), making::store(), temporaryFolder() / name, progress);
        EXPECT_EQ(progress.fraction(), 1);
        const Edit clip = importMedia(b.scene, clipMedia, name);
        Build recorded = b;
        recorded.scene = clip.scene;
        for (const int frame : {0, 7, 14}) {
            const auto seen = mediaAt(recorded.scene, clip.made, frame, temporaryFolder(), making::store());
            const auto was = mediaAt(b.scene, camera.made, 5 + frame, {}, making::store());
            EXPECT_EQ(seen->width(), std::string(name) == "lantern.mp4" ? 96 : 97) << "H.264 takes even sides";
            double apart = 0;
            for (int y = 0; y < 64; ++y)
                for (int x = 0; x < 96; ++x)
                    apart += std::abs(srgbFromLinear(std::min(1.0f, was->at(x, y).x)) - srgbFromLinear(seen->at(x, y).x));
            EXPECT_LT(apart / (96 * 64), 0.02) << name << " " << frame;
        }
    }
    // What is cancelled leaves nothing.
    Progress cancelled;
    cancelled.cancel();
    const auto never = temporaryFolder() / "cancelled.mp4";
    EXPECT_THROW(recordMedia(b.scene, camera.made, {0, 5, 1}, {}, making::store(), never, cancelled), Cancelled);
    EXPECT_FALSE(std::filesystem::exists(never));
    EXPECT_EQ(freeRecording(temporaryFolder(), "lantern").filename(), "lantern-2.mp4");
    EXPECT_EQ(freeRecording(temporaryFolder(), "a/b").filename(), "a-b.mp4");
}

TEST(Clip, WhatIsMissingIsTold) {
    Seen seen("never.mp4");
    EXPECT_FALSE(seen.waits().empty());
    EXPECT_EQ(seen.result()->count, 1) << "the swarm stays";
}
