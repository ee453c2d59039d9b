// Sound in the real window: added, seen as a wave, heard while it plays and is scrubbed, and followed.
#include <gtest/gtest.h>

#include <cmath>
#include <QLabel>
#include <QTemporaryDir>
#include <QToolButton>

#include "app/scene/scene_list.h"
#include "app/sound/simulated_loudspeaker.h"
#include "app/sound/sound_player.h"
#include "app/sound/sound_waves.h"
#include "app/time/time_panel.h"
#include "app/time/time_rows.h"
#include "core/edit/key_edits.h"
#include "core/flow/result.h"
#include "core/resolve/resolve.h"
#include "core/scene/address.h"
#include "core/sound/sound_kind.h"
#include "tests/app/hand.h"
#include "tests/core/sounding.h"

using namespace gswarm;
using namespace gswarm::sounding;

namespace {

/// Clicks at frames 10, 30, 55 and 90 of 25 a second, ten seconds long.
QString clicking() {
    static const QTemporaryDir folder;
    writeSound(folder.filePath("clicking.wav").toStdString(), wavBytes(clicks({0.4, 1.2, 2.2, 3.6}), 10));
    return folder.filePath("clicking.wav");
}

/// A window into which that was dropped.
struct SoundHand : Hand {
    ObjectId sound;
    SimulatedLoudspeaker* loudspeaker;

    explicit SoundHand(double samplesPerSecond = 48'000) {
        click("newSwarm");
        EXPECT_TRUE(dropFiles({clicking()}, find<SceneList>("sceneList")->viewport(), {40, 300}));
        const auto all = scene().all(ObjectType::sound);
        if (!all.empty()) sound = all.front();
        auto device = std::make_unique<SimulatedLoudspeaker>(samplesPerSecond);
        loudspeaker = device.get();
        window().sound().setDevice(std::move(device));
    }
    Play& play() { return window().play(); }
    double frame() { return window().document().frame(); }
    void pass(double seconds) {
        window().sound().waitUntilAhead();
        loudspeaker->pass(seconds);
        play().goOn();
    }
};

float loudest(const std::vector<float>& samples) {
    float most = 0;
    for (const float s : samples) most = std::max(most, std::abs(s));
    return most;
}

}  // namespace

TEST(SoundWindow, ADroppedSoundIsSeenUnderTheRuler) {
    SoundHand hand;
    ASSERT_TRUE(hand.sound);
    EXPECT_EQ(hand.scene().at(hand.sound).name, "clicking");
    EXPECT_TRUE(hand.eventually([&] {
        return hand.find<QLabel>("soundTold") && hand.find<QLabel>("soundTold")->text() == "10 s. WAV, 48 000 samples a second, mono.";
    }));
    const SoundWaves& waves = *hand.window().time().waves();
    ASSERT_TRUE(hand.eventually([&] { return waves.waves().size() == 1 && waves.waves().front().onsets.size() == 4; }));
    const auto& wave = waves.waves().front();
    EXPECT_NEAR(wave.between(9.5, 11).most, 0.8, 1e-4);
    EXPECT_EQ(wave.between(12, 28).most, 0);
    constexpr double at[] = {10, 30, 55, 90};
    for (std::size_t k = 0; k < 4; ++k) EXPECT_NEAR(wave.onsets[k], at[k], 0.03);
    TimeRows* rows = hand.window().time().rows();
    EXPECT_EQ(rows->headHeight(), TimeRows::rulerHeight + TimeRows::waveHeight);
    // Drawn where it clicks.
    const QImage shown = rows->grab().toImage();
    const auto drawn = [&](double frame) {
        int count = 0;
        for (int y = TimeRows::rulerHeight + 1; y < rows->headHeight() - 5; ++y)
            for (int x = int(rows->xOf(frame)) - 2; x <= int(rows->xOf(frame)) + 2; ++x) count += shown.pixelColor(x, y).green() > 120;
        return count;
    };
    EXPECT_GT(drawn(30), 5);
    EXPECT_LE(drawn(70), 5);
    // Undone, the wave is gone too.
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(rows->headHeight(), TimeRows::rulerHeight);
    EXPECT_TRUE(waves.waves().empty());
}

TEST(SoundWindow, PictureAndSoundKeepTogetherForTenMinutes) {
    // The loudspeaker's clock is a third of a percent slow: what it counts is the time.
    SoundHand hand(47'840);
    hand.key(Qt::Key_Space);
    ASSERT_TRUE(hand.play().playing());
    ASSERT_TRUE(hand.loudspeaker->running());
    double worst = 0;
    std::int64_t steps = 0;
    while (hand.loudspeaker->heardSeconds() < 600) {
        hand.loudspeaker->pass(0.04 + 0.013 * double(steps++ % 7));
        hand.play().goOn();
        const double counted = hand.loudspeaker->heardSeconds() * 25, length = 125;
        worst = std::max(worst, std::abs(hand.frame() + 0.5 - std::fmod(counted, length)));
    }
    EXPECT_LE(worst, 0.5 + 1e-9) << "the frame that is on, at every moment";
    hand.key(Qt::Key_Space);
    EXPECT_FALSE(hand.loudspeaker->running());
}

TEST(SoundWindow, AClickIsHeardAtItsFrame) {
    SoundHand hand;
    hand.window().document().setFrame(5);
    hand.key(Qt::Key_Space);
    std::vector<int> loud;
    for (int k = 0; k < 135; ++k) {
        const int frame = static_cast<int>(hand.frame());
        hand.pass(0.04);
        if (loudest(hand.loudspeaker->last()) > 0.5f) loud.push_back(frame);
    }
    // Around the end of the range once: 125 frames.
    EXPECT_EQ(loud, (std::vector<int>{10, 30, 55, 90, 10})) << "and again after the loop";
    hand.key(Qt::Key_Space);
    // Silenced, it plays on by the clock alone.
    hand.click("speaker");
    hand.key(Qt::Key_Space);
    EXPECT_TRUE(hand.play().playing());
    EXPECT_FALSE(hand.loudspeaker->running());
    hand.key(Qt::Key_Space);
}

TEST(SoundWindow, ScrubbingIsHeardInGrains) {
    SoundHand hand;
    TimeRows* rows = hand.window().time().rows();
    hand.drag(rows, {rows->xOf(20), 8}, {rows->xOf(30) - rows->xOf(20), 0});
    EXPECT_EQ(hand.frame(), 30);
    QTest::qWait(1000);  // a loudspeaker that asks for it late, or a machine that mixes slowly
    float most = 0;
    EXPECT_TRUE(hand.eventually([&] {
        hand.loudspeaker->pass(0.05);
        most = std::max(most, loudest(hand.loudspeaker->last()));
        return most > 0.01f;
    }));
    EXPECT_TRUE(hand.eventually([&] {
        hand.loudspeaker->pass(0.05);
        return !hand.loudspeaker->running();
    })) << "a grain is short";
}

TEST(SoundWindow, WhereNoLoudspeakerIsItSaysSo) {
    struct None : SoundDevice {
        bool start(const Pull&) override { return false; }
        void stop() override {}
        double heardSeconds() const override { return 0; }
        QString trouble() const override { return "No loudspeaker was found: it plays silently."; }
    };
    SoundHand hand;
    hand.window().sound().setDevice(std::make_unique<None>());
    hand.key(Qt::Key_Space);
    EXPECT_TRUE(hand.play().playing());
    EXPECT_EQ(hand.find<QToolButton>("speaker")->toolTip(), "No loudspeaker was found: it plays silently.");
    EXPECT_TRUE(hand.eventually([&] { return hand.frame() > 2; })) << "by the clock";
    hand.key(Qt::Key_Space);
}

TEST(SoundWindow, KeysCatchOnOnsets) {
    SoundHand hand;
    ASSERT_TRUE(hand.eventually([&] {
        return hand.window().time().waves()->waves().size() == 1 && hand.window().time().waves()->waves().front().onsets.size() == 4;
    }));
    hand.addGesture("rise");
    const ObjectId gesture = hand.window().document().chosen();
    const Address strength = addressOf(hand.scene(), gesture, "strength");
    for (const double frame : {15.0, 70.0}) {
        hand.window().document().setFrame(frame);
        hand.window().document().edit([&](const Scene& s) { return toggleKey(s, strength, frame); });
    }
    hand.settle();
    TimeRows* rows = hand.window().time().rows();
    const auto keys = [&] {
        std::vector<double> frames;
        for (const Key& key : *trackAt(hand.scene(), strength).keys) frames.push_back(key.frame);
        return frames;
    };
    ASSERT_EQ(keys(), (std::vector<double>{15, 70}));
    const auto row = [&] {
        const auto all = rows->rows();
        for (std::size_t k = 0; k < all.size(); ++k)
            if (all[k].object == gesture) return rows->rowRect(static_cast<int>(k)).center().y();
        return 0.0;
    };
    // A frame before the click at 30 it catches; with Ctrl it does not.
    hand.drag(rows, {rows->xOf(15), row()}, {rows->xOf(29.4) - rows->xOf(15), 0});
    EXPECT_EQ(keys(), (std::vector<double>{30, 70}));
    hand.drag(rows, {rows->xOf(70), row()}, {rows->xOf(89) - rows->xOf(70), 0}, Qt::LeftButton, Qt::ControlModifier);
    EXPECT_EQ(keys().back(), 89);
}

TEST(SoundWindow, InstancesFollowASoundFromAnEmptyProject) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("sound");
    // A simulated microphone is there at once, and says so.
    const auto sounds = hand.scene().all(ObjectType::sound);
    ASSERT_EQ(sounds.size(), 1u);
    EXPECT_EQ(hand.scene().at(sounds.front()).part("sound").kind, &simulatedMicrophoneSound);
    EXPECT_TRUE(hand.eventually(
        [&] { return hand.find<QLabel>("soundTold") && hand.find<QLabel>("soundTold")->text().contains("No microphone is opened"); }));
    const auto heights = [&] {
        std::vector<float> all;
        if (const auto result = hand.result())
            for (std::size_t i = 0; i < static_cast<std::size_t>(result->count); ++i) all.push_back(result->columns->matrix[12 * i + 5]);
        return all;
    };
    hand.window().document().setFrame(10);
    hand.settle();
    const auto before = heights();
    EXPECT_GT(*std::max_element(before.begin(), before.end()) - *std::min_element(before.begin(), before.end()), 0.05f);
    hand.window().document().setFrame(60);
    hand.settle();
    EXPECT_NE(heights(), before);
}

TEST(SoundWindow, ASimulatedMicrophoneIsRecorded) {
    Hand hand;
    hand.click("addThing");
    Hand::answerMenu("Simulated microphone");
    hand.click("add-sound");
    ASSERT_EQ(hand.scene().all(ObjectType::sound).size(), 1u);
    hand.click("recordMedia");
    ASSERT_TRUE(hand.eventually([&] { return hand.scene().all(ObjectType::sound).size() == 2; }));
    const ObjectId made = hand.window().document().chosen();
    EXPECT_EQ(hand.scene().at(made).part("sound").kind, &fileSound);
    EXPECT_TRUE(hand.eventually([&] {
        return hand.find<QLabel>("soundTold") && hand.find<QLabel>("soundTold")->text() == "5 s. FLAC, 48 000 samples a second, stereo.";
    }));
}

TEST(SoundWindow, ANumberFollowsABand) {
    SoundHand hand;
    hand.addGesture("rise");
    const ObjectId gesture = hand.window().document().chosen();
    hand.typeNumber("strength", "100 * clicking.'heard-onsets'");
    hand.window().document().setFrame(30);
    hand.settle();
    const auto strength = [&] { return numberAt(hand.scene(), hand.scene().at(gesture).part("change"), "strength", hand.frame()); };
    ASSERT_TRUE(trackAt(hand.scene(), addressOf(hand.scene(), gesture, "strength")).formula) << hand.line().toStdString();
    EXPECT_TRUE(hand.eventually([&] { return strength() > 99; })) << strength();
    hand.window().document().setFrame(28);
    EXPECT_NEAR(strength(), 100 * std::exp(-18 * 0.04 / 0.2), 0.01) << "what the click at 10 left";
    // What is heard stands in the sound's settings, and can't be set there.
    hand.window().document().choose(hand.sound);
    hand.window().document().setFrame(55);
    hand.settle();
    EXPECT_TRUE(hand.eventually([&] { return hand.field("heard-onsets")->value() == 1; }));
    hand.typeNumber("heard-onsets", "0.3");
    EXPECT_TRUE(hand.line().contains("is what is heard, and can't be set")) << hand.line().toStdString();
}
