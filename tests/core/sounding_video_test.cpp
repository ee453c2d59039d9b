// The sound of videos: heard at its pictures, in every container, repeats and all.
#include <gtest/gtest.h>

#include <cmath>
#include <cstdlib>

#include "core/exchange/exporter_kind.h"
#include "core/exchange/png.h"
#include "core/provide/sound_mix.h"
#include "core/provide/store.h"
#include "core/sound/sound_kind.h"
#include "core/sound/spectrum.h"
#include "tests/core/making.h"
#include "tests/core/sounding.h"

using namespace gswarm;
using namespace gswarm::sounding;
using making::Build, making::temporaryFolder;

namespace {

/// Ten grey pictures, and a scene with clicks at these of its frames.
struct Clicking {
    Build b = Build::grid(1, 1, 1);
    ObjectId sound;

    explicit Clicking(const std::vector<int>& frames) {
        std::vector<double> seconds;
        for (const int frame : frames) seconds.push_back(frame / 25.0);
        writeSound(temporaryFolder() / "clicking.wav", wavBytes(clicks(seconds), 4, 44100));
        const Edit made = addSound(b.scene, fileSound);
        b.scene = made.scene, sound = made.made;
        b.set(sound, "file", std::string("clicking.wav"));
        for (int frame = 0; frame < 50; ++frame)
            writePng(Image{16, 16, std::vector<std::uint8_t>(4 * 16 * 16, 128)}, numbered(temporaryFolder() / "grey.png", frame));
    }
    mutable std::vector<std::string> told;

    std::filesystem::path video(const ExporterKind& kind, int repeats, const FrameRange& range = {0, 49}) const {
        const auto path = temporaryFolder() / ("clicking" + kind.ending);
        std::filesystem::remove(path);
        Part settings = standardPart(kind);
        settings.values[static_cast<std::size_t>(kind.indexOf("pictures"))] = (temporaryFolder() / "grey.png").string();
        if (kind.indexOf("repeats") >= 0)
            settings.values[static_cast<std::size_t>(kind.indexOf("repeats"))] = fixedNumbers({double(repeats)});
        Evaluator evaluator;
        Progress progress;
        ExportFrames frames{evaluator, b.scene, {{}, temporaryFolder()}, 0, range};
        told.clear();
        frames.told = [this](const std::string& sentence) { told.push_back(sentence); };
        writeExport(settings, frames, path, progress);
        return path;
    }
};

/// At which frames clicks are heard in a video; empty where it has no sound.
std::vector<int> heardIn(const std::filesystem::path& video, double& seconds) {
    const auto wav = temporaryFolder() / "heard.wav";
    std::filesystem::remove(wav);
    if (std::system(("ffmpeg -v error -y -i \"" + video.string() + "\" -vn -ar 48000 -c:a pcm_f32le \"" + wav.string() + "\" 2>/dev/null")
                        .c_str()) != 0)
        return {};
    Build b = Build::grid(1, 1, 1);
    const Edit made = addSound(b.scene, fileSound);
    b.scene = made.scene;
    b.set(made.made, "file", std::string("heard.wav"));
    Store store;
    const AskedSound asked = askSound(b.scene, made.made, 0, temporaryFolder(), store);
    seconds = asked.sound.facts.seconds();
    std::vector<int> frames;
    for (const Onset& onset : asked.analysis(nullptr)->onsets)
        if (onset.strength > 0.5) frames.push_back(static_cast<int>(std::lround(onset.seconds * 25)));
    return frames;
}

}  // namespace

TEST(VideoSound, IsHeardAtItsPictures) {
    if (!making::hasFfmpeg()) GTEST_SKIP() << "ffmpeg is not installed";
    const Clicking scene({7, 20, 41});
    double seconds = 0;
    for (const ExporterKind* kind : {&h264Exporter, &h265Exporter, &proRes422Exporter, &proRes4444Exporter, &vp9Exporter, &av1Exporter}) {
        EXPECT_EQ(heardIn(scene.video(*kind, 1), seconds), (std::vector<int>{7, 20, 41})) << kind->id;
        EXPECT_NEAR(seconds, 2, 0.06) << kind->id;
    }
    EXPECT_EQ(heardIn(scene.video(h264Exporter, 3), seconds), (std::vector<int>{7, 20, 41, 57, 70, 91, 107, 120, 141}))
        << "with every repeat";
    EXPECT_EQ(heardIn(scene.video(vp9Exporter, 1, {10, 48, 2}), seconds), (std::vector<int>{10, 31})) << "of every second frame, as fast";
    EXPECT_TRUE(heardIn(scene.video(gifExporter, 1), seconds).empty());
}

TEST(VideoSound, WhatIsNotToBeHeardIsNot) {
    if (!making::hasFfmpeg()) GTEST_SKIP() << "ffmpeg is not installed";
    Clicking scene({7, 20});
    double seconds = 0;
    scene.b.set(scene.sound, "laid-heard", false);
    EXPECT_TRUE(heardIn(scene.video(h264Exporter, 1), seconds).empty());
    scene.b.set(scene.sound, "laid-heard", true).set(scene.sound, "laid-start", {10});
    EXPECT_EQ(heardIn(scene.video(h264Exporter, 1), seconds), (std::vector<int>{17, 30})) << "laid later";
    scene.b.set(scene.sound, "file", std::string("gone.wav"));
    EXPECT_TRUE(heardIn(scene.video(h264Exporter, 1), seconds).empty()) << "the video is there without it";
    ASSERT_EQ(scene.told.size(), 1u);
    EXPECT_NE(scene.told.front().find("gone.wav"), std::string::npos) << scene.told.front();
    scene.video(gifExporter, 1);
    EXPECT_TRUE(scene.told.empty()) << "what is never heard is not missed";
}

TEST(SoundMix, SumsWhatIsHeardAsItLies) {
    Build b = Build::grid(1, 1, 1);
    Store store;
    const auto add = [&](const std::string& name, const Wave& wave, double start, double volume) {
        writeSound(temporaryFolder() / name, wavBytes(wave, 1));
        const Edit made = addSound(b.scene, fileSound);
        b.scene = made.scene;
        b.set(made.made, "file", name).set(made.made, "laid-start", {start}).set(made.made, "laid-volume", {volume});
        return made.made;
    };
    add(
        "one.wav", [](double) { return 0.5; }, 0, 0);
    const ObjectId second = add(
        "two.wav", [](double) { return 0.5; }, 12.5, -20);
    std::vector<float> stereo(2 * soundRate);
    SoundMix(b.scene, temporaryFolder(), store).mix(0, soundRate, stereo.data());
    EXPECT_FLOAT_EQ(stereo[2 * 1000], 0.5f);
    EXPECT_FLOAT_EQ(stereo[2 * 23999], 0.5f);
    EXPECT_NEAR(stereo[2 * 24001], 0.55, 1e-6);
    EXPECT_NEAR(stereo[2 * 24001 + 1], 0.55, 1e-6);
    b.choose(second, "laid-beyond", "repeat").set(second, "laid-heard", false);
    SoundMix quiet(b.scene, temporaryFolder(), store);
    quiet.mix(0, soundRate, stereo.data());
    EXPECT_FLOAT_EQ(stereo[2 * 24001], 0.5f);
    b.set(second, "file", std::string("gone.wav")).set(second, "laid-heard", true);
    SoundMix missing(b.scene, temporaryFolder(), store);
    EXPECT_EQ(missing.troubles().size(), 1u);
    missing.mix(0, 100, stereo.data());
    EXPECT_FLOAT_EQ(stereo[0], 0.5f) << "what is there is heard";
}
