// What is heard: bands, onsets, how values follow, and what patterns and zones make of it.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <thread>

#include "core/base/error.h"
#include "core/edit/import_edits.h"
#include "core/edit/key_edits.h"
#include "core/exchange/record_sound.h"
#include "core/explain/loop_check.h"
#include "core/formula/bind.h"
#include "core/provide/listener.h"
#include "core/provide/sounds.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"
#include "core/scene/address.h"
#include "core/sound/sound_kind.h"
#include "core/sound/sound_reading.h"
#include "tests/core/reading.h"
#include "tests/core/sounding.h"

using namespace gswarm;
using namespace gswarm::sounding;
using making::Build, making::temporaryFolder;

namespace {

SoundReading soundReading(SoundRead read) {
    SoundReading made{};
    made.read = read;
    made.bands = BandsPerOctave::one;
    made.low = 60, made.high = 120, made.floor = -60, made.ceiling = 0, made.sensitivity = 70;
    return made;
}

/// Decibels of every band in the middle of a sound.
std::vector<double> decibelsOf(const Wave& wave, BandsPerOctave bands, double tilt, double seconds = 1) {
    const Sound sound = soundOf(wave, seconds);
    const SoundAnalysis heard = analyse(sound, wholeOf(sound), 25);
    std::vector<double> powers(sixths);
    // Hiss is told from many windows.
    const int from = heard.moments / 4, to = heard.moments * 3 / 4;
    for (int m = from; m < to; ++m)
        for (int b = 0; b < sixths; ++b)
            powers[static_cast<std::size_t>(b)] += double(heard.bands[static_cast<std::size_t>(m * sixths + b)]) / (to - from);
    const std::vector<float> mean(powers.begin(), powers.end());
    const std::vector<double> edges = bandEdges(bands);
    std::vector<double> out;
    for (std::size_t b = 0; b + 1 < edges.size(); ++b)
        out.push_back(bandDecibels(mean.data(), edges[b], edges[b + 1], bands == BandsPerOctave::one ? 1.0 : 1.0 / 3, tilt));
    return out;
}

int loudest(const std::vector<double>& bands) { return static_cast<int>(std::max_element(bands.begin(), bands.end()) - bands.begin()); }

std::vector<double> secondsOf(const std::vector<Onset>& onsets) {
    std::vector<double> seconds;
    for (const Onset& onset : onsets) seconds.push_back(onset.seconds);
    return seconds;
}

/// A silence with a sine of full scale from one second to the next, heard 100 times a second as steps that are told exactly.
SoundAnalysis loudBetween(int moments, int from, int to, bool repeats = false) {
    SoundAnalysis made;
    made.step = 0.01, made.moments = moments, made.repeats = repeats;
    made.level.resize(static_cast<std::size_t>(moments));
    for (int m = from; m < to; ++m) made.level[static_cast<std::size_t>(m)] = 1;
    made.bands.resize(static_cast<std::size_t>(moments) * sixths);
    return made;
}

/// A grid that listens to a WAV file of the tests' folder.
struct SoundSwarm : reading::Raised {
    ObjectId sound;

    SoundSwarm(int nx, int ny, int nz, const std::string& name, const Wave& wave, double seconds)
        : Raised(Build::grid(nx, ny, nz).with(addSound, fileSound), "sound"), sound(b.scene.all(ObjectType::sound).front()) {
        writeSound(temporaryFolder() / name, wavBytes(wave, seconds));
        b.set(sound, "file", name).set(gesture, "pattern-release", {0});
    }
    float one(double frame) const { return read(frame).front(); }
};

}  // namespace

TEST(Sound, ASineLandsInItsBand) {
    for (const BandsPerOctave bands : {BandsPerOctave::one, BandsPerOctave::three}) {
        const std::vector<double> edges = bandEdges(bands);
        EXPECT_EQ(edges.size(), bands == BandsPerOctave::one ? 10u : 27u);
        // Below 150 Hz a window of 2 048 samples tells no third from the next.
        for (std::size_t b = 0; b + 1 < edges.size(); ++b) {
            const double middle = std::sqrt(edges[b] * edges[b + 1]);
            if (bands == BandsPerOctave::three && middle < 150) continue;
            EXPECT_EQ(loudest(decibelsOf(sine(middle), bands, 3.0103)), static_cast<int>(b)) << middle << " Hz";
        }
    }
    const auto heard = decibelsOf(sine(1000, 0.5), BandsPerOctave::one, 3.0103);
    EXPECT_NEAR(*std::max_element(heard.begin(), heard.end()), 20 * std::log10(0.5), 0.2)
        << "half of full scale, with its band's own power";
    const auto untilted = decibelsOf(sine(905), BandsPerOctave::one, 0);
    EXPECT_NEAR(*std::max_element(untilted.begin(), untilted.end()), 10 * std::log10(1000 / 905.0), 0.3);
}

TEST(Sound, HissIsEvenOverTheOctaves) {
    const auto octaves = decibelsOf(hiss(), BandsPerOctave::one, 0, 60);
    const auto [least, most] = std::minmax_element(octaves.begin(), octaves.end());
    EXPECT_LT(*most - *least, 1) << "flat within a decibel: " << ::testing::PrintToString(octaves);
    const auto tilted = decibelsOf(hiss(), BandsPerOctave::one, 3, 60);
    for (std::size_t b = 1; b + 1 < tilted.size(); ++b)
        EXPECT_NEAR(tilted[b] - tilted[b - 1], 3, 0.7) << "a tilt adds so many decibels an octave";
}

TEST(Sound, TheLevelOfASineIsItsPower) {
    const Sound sound = soundOf(sine(440, 0.25), 1);
    const SoundAnalysis heard = analyse(sound, wholeOf(sound), 30);
    EXPECT_EQ(heard.moments, 31);
    for (int m = 2; m < 29; ++m) EXPECT_NEAR(10 * std::log10(heard.level[static_cast<std::size_t>(m)]), 20 * std::log10(0.25), 0.05) << m;
}

TEST(Sound, ClicksAreOnsetsAtTheirFrames) {
    for (const double rate : {24.0, 25.0, 30000 / 1001.0, 60.0}) {
        std::vector<double> at;
        for (const int frame : {5, 11, 19, 30, 44, 70}) at.push_back(frame / rate);
        const Sound sound = soundOf(clicks(at), 80 / rate + 0.5);
        const SoundAnalysis heard = analyse(sound, wholeOf(sound), rate);
        const auto seconds = secondsOf(heard.onsets);
        ASSERT_EQ(seconds.size(), at.size()) << rate;
        for (std::size_t k = 0; k < at.size(); ++k) {
            EXPECT_NEAR(seconds[k], at[k], 0.0011) << rate;
            EXPECT_EQ(std::lround(seconds[k] * rate), std::lround(at[k] * rate)) << rate;
        }
        SoundReading pulses = soundReading(SoundRead::onsets);
        pulses.decay = 0.1f;
        const HeardValues values(pulses, heard);
        EXPECT_EQ(values.at(5 / rate, 0), 1);
        EXPECT_NEAR(values.at(8 / rate, 0), std::exp(-3 / rate / 0.1), 1e-5) << "a pulse falls to 1/e in its decay";
        EXPECT_EQ(values.at(11 / rate, 0), 1);
        EXPECT_LT(values.at(4 / rate, 0), 1e-6);
    }
    const Sound steady = soundOf(sine(300, 0.5), 3);
    const auto onsets = analyse(steady, wholeOf(steady), 25).onsets;
    ASSERT_LE(onsets.size(), 1u) << "what goes on is no beginning: " << ::testing::PrintToString(secondsOf(onsets));
}

TEST(Sound, QuietStrokesCountOnlyWhereThatIsAsked) {
    const Wave loud = clicks({0.5, 1.5}), quiet = clicks({1.0});
    const Sound sound = soundOf([&](double t) { return loud(t) + 0.01 * quiet(t); }, 2);
    const SoundAnalysis heard = analyse(sound, wholeOf(sound), 25);
    ASSERT_EQ(heard.onsets.size(), 3u);
    EXPECT_LT(heard.onsets[1].strength, 0.7);
    SoundReading pulses = soundReading(SoundRead::onsets);
    pulses.sensitivity = 10;
    EXPECT_EQ(HeardValues(pulses, heard).at(1, 0), 0);
    pulses.sensitivity = 100;
    EXPECT_EQ(HeardValues(pulses, heard).at(1, 0), 1);
}

TEST(Sound, RisesAndFallsAlongExponentials) {
    SoundReading level = soundReading(SoundRead::level);
    level.attack = 0.2f, level.release = 0.5f;
    const HeardValues values(level, loudBetween(300, 100, 200));
    EXPECT_EQ(values.at(0.99, 0), 0);
    for (int k = 0; k < 100; k += 7) EXPECT_NEAR(values.at(1 + k * 0.01, 0), 1 - std::exp(-(k + 1) * 0.01 / 0.2), 2e-5) << k;
    const double top = 1 - std::exp(-1 / 0.2);
    for (int k = 0; k < 99; k += 7) EXPECT_NEAR(values.at(2 + k * 0.01, 0), top * std::exp(-(k + 1) * 0.01 / 0.5), 2e-5) << k;
    EXPECT_NEAR(values.at(4.5, 0), top * std::exp(-2.51 / 0.5), 2e-5) << "it fades on after the sound's end";
    EXPECT_NEAR(values.at(1.505, 0), (values.at(1.5, 0) + values.at(1.51, 0)) / 2, 1e-6) << "between moments straight";
    level.attack = level.release = 0;
    const HeardValues quick(level, loudBetween(300, 100, 200));
    EXPECT_EQ(quick.at(1, 0), 1);
    EXPECT_EQ(quick.at(2, 0), 0);
    level.floor = -40, level.ceiling = -20;
    EXPECT_EQ(HeardValues(level, loudBetween(300, 100, 200)).at(1.5, 0), 1) << "no more than 1";
}

TEST(Sound, WhatRepeatsClosesItsSeam) {
    SoundReading level = soundReading(SoundRead::level);
    level.attack = 0.1f, level.release = 0.6f;
    const HeardValues values(level, loudBetween(200, 50, 100, true));
    for (const double t : {-1.3, 0.0, 0.255, 0.7, 1.999})
        for (const int laps : {-2, 1, 5}) EXPECT_NEAR(values.at(t, 0), values.at(t + 2 * laps, 0), 1e-6) << t;
    // Settled: what one lap leaves is what the next begins with.
    const double rise = std::exp(-0.5 / 0.1), fall = std::exp(-1.5 / 0.6), least = fall * (1 - rise) / (1 - rise * fall);
    EXPECT_NEAR(values.at(0.49, 0), least, 0.002);
}

TEST(Sound, APartOfItIsHeard) {
    Sound made;
    made.facts.length = 5 * soundRate;
    SoundLaid laid{};
    laid.from = 1, laid.to = 3.5f;
    EXPECT_EQ(partOf(laid, made).first, soundRate);
    EXPECT_EQ(partOf(laid, made).length, 5 * soundRate / 2);
    laid.from = 6, laid.to = 0;
    EXPECT_THROW(partOf(laid, made), Error);
    const Sound sound = soundOf([](double t) { return t; }, 25);
    std::vector<float> read(4);
    SoundRun(sound, {9 * soundRate, 2 * soundRate, false}).mono(soundRate - 2, 4, read.data());
    for (int i = 0; i < 4; ++i)
        EXPECT_FLOAT_EQ(read[static_cast<std::size_t>(i)], static_cast<float>(10 + (i - 2) / double(soundRate)))
            << "over the seam of pieces";
    SoundRun(sound, {9 * soundRate, 2 * soundRate, false}).mono(-2, 4, read.data());
    EXPECT_EQ(read[1], 0) << "silence before its part";
    EXPECT_FLOAT_EQ(read[2], 9);
    SoundRun(sound, {9 * soundRate, 2 * soundRate, true}).mono(-1, 4, read.data());
    EXPECT_FLOAT_EQ(read[0], static_cast<float>(11 - 1 / double(soundRate))) << "repeated, its end";
    std::vector<float> stereo(4, 1);
    SoundRun(sound, wholeOf(sound)).addStereo(soundRate, 2, 0.5f, stereo.data());
    EXPECT_FLOAT_EQ(stereo[0], 1.5f);
    EXPECT_FLOAT_EQ(stereo[1], 1.5f) << "one channel is heard on both sides";
}

TEST(Sound, ThePatternFollowsTheLevel) {
    // Silence, then a sine of a tenth: −20 dB between −60 and 0.
    SoundSwarm swarm(
        3, 1, 1, "level.wav", [](double t) { return t < 1 ? 0 : sine(500, 0.1)(t); }, 3);
    EXPECT_NEAR(swarm.one(10), 0, 1e-4);
    EXPECT_NEAR(swarm.one(50), 40 / 60.0, 2e-3);
    EXPECT_NEAR(swarm.one(120), 0, 1e-4) << "after its end";
    swarm.b.set(swarm.sound, "laid-start", {40});
    EXPECT_NEAR(swarm.one(50), 0, 1e-4);
    EXPECT_NEAR(swarm.one(90), 40 / 60.0, 2e-3) << "it begins later";
    swarm.b.set(swarm.sound, "laid-start", {0}).set(swarm.sound, "laid-volume", {-30});
    EXPECT_NEAR(swarm.one(50), 40 / 60.0, 2e-3) << "how loud it is played does not matter";
    swarm.b.choose(swarm.gesture, "pattern-read", "band")
        .set(swarm.gesture, "pattern-low", {400})
        .set(swarm.gesture, "pattern-high", {600})
        .set(swarm.gesture, "pattern-tilt", {3.0103});
    EXPECT_NEAR(swarm.one(50), 40 / 60.0, 5e-3);
    swarm.b.set(swarm.gesture, "pattern-low", {2000}).set(swarm.gesture, "pattern-high", {4000});
    EXPECT_LT(swarm.one(50), 0.02);
}

TEST(Sound, ThePastRunsAlongTheNumbers) {
    SoundSwarm swarm(
        5, 1, 1, "past.wav", [](double t) { return t < 1 ? 0 : sine(500)(t); }, 3);
    swarm.b.choose(swarm.gesture, "pattern-past", "number").set(swarm.gesture, "pattern-each", {3});
    const auto values = swarm.read(33);
    ASSERT_EQ(values.size(), 5u);
    // They hear frames 33, 30, 27, 24 and 21; it begins at 25.
    for (int i = 0; i < 3; ++i) EXPECT_NEAR(values[static_cast<std::size_t>(i)], 1, 2e-2) << i;
    EXPECT_LT(values[3], 0.6);
    EXPECT_NEAR(values[4], 0, 1e-3);
    swarm.b.choose(swarm.gesture, "pattern-past", "x").set(swarm.gesture, "pattern-span", {12});
    reading::expectValues(swarm.read(33), values, 1e-4f);
}

TEST(Sound, AllBandsLieOverTheSwarm) {
    SoundSwarm swarm(9, 1, 1, "bands.wav", sine(905, 0.9), 2);
    swarm.b.choose(swarm.gesture, "pattern-read", "bands")
        .choose(swarm.gesture, "pattern-bands", "one")
        .set(swarm.gesture, "pattern-tilt", {3});
    const auto over = [&](const char* what) {
        swarm.b.choose(swarm.gesture, "pattern-over", what);
        const auto values = swarm.read(25);
        return static_cast<int>(std::max_element(values.begin(), values.end()) - values.begin());
    };
    EXPECT_EQ(over("number"), 4) << "640 to 1 280 Hz is the fifth octave";
    EXPECT_EQ(over("x"), 4);
    swarm.b.choose(swarm.gesture, "pattern-over", "radius");
    const auto values = swarm.read(25);
    EXPECT_NEAR(values[2], values[6], 1e-5) << "alike to both sides of the middle";
    EXPECT_GT(std::max(values[1], values[2]), 0.9);
}

TEST(Sound, NumbersFollowWhatIsHeard) {
    SoundSwarm swarm(
        2, 1, 1, "followed.wav", [](double t) { return t < 1 ? 0 : sine(80, 0.1)(t); }, 3);
    swarm.b.set(swarm.gesture, "scale", false).set(swarm.sound, "heard-release", {0});
    const ObjectId other = swarm.b.gesture("steady");
    swarm.b.set(other, "position", true);
    const Address followed = addressOf(swarm.b.scene, swarm.sound, "heard-bass"),
                  follower = addressOf(swarm.b.scene, other, "positionAmount", 1);
    swarm.b.scene = setLink(swarm.b.scene, follower, suggestedLink(swarm.b.scene, follower, followed)).scene;
    const auto height = [&](double frame) { return swarm.result(frame)->columns->matrix[7]; };
    const float still = height(50);
    EXPECT_EQ(still, height(10)) << "nobody listens";
    swarm.b.scene.listening = std::make_shared<const Listener>(temporaryFolder());
    const double bass = valueAtAddress(swarm.b.scene, toText(swarm.b.scene, followed), 50).value();
    EXPECT_GT(bass, 0.5);
    EXPECT_EQ(valueAtAddress(swarm.b.scene, toText(swarm.b.scene, followed), 10), 0);
    EXPECT_GT(height(50), height(10));
    // In a formula by its name.
    swarm.b.scene =
        setFormula(swarm.b.scene, follower, std::string("3 + 2 * " + inFormula(swarm.b.scene.at(swarm.sound).name) + ".'heard-bass'"))
            .scene;
    EXPECT_NEAR(height(50) - height(10), 2 * bass, 1e-5);
    EXPECT_EQ(valueAtAddress(swarm.b.scene, toText(swarm.b.scene, addressOf(swarm.b.scene, swarm.sound, "heard-treble")), 50), 0)
        << "a low tone";
    EXPECT_THROW(setNumber(swarm.b.scene, followed, 1, 0), Error) << "what is heard can't be set";
    // A thread that never waits hears it once another did.
    swarm.b.scene.listening = std::make_shared<const Listener>(temporaryFolder(), std::this_thread::get_id());
    EXPECT_EQ(valueAtAddress(swarm.b.scene, toText(swarm.b.scene, followed), 50), 0);
    std::thread([&] { valueAtAddress(swarm.b.scene, toText(swarm.b.scene, followed), 50); }).join();
    EXPECT_EQ(valueAtAddress(swarm.b.scene, toText(swarm.b.scene, followed), 50), bass);
}

TEST(Sound, ALoopIsClosedByAMend) {
    SoundSwarm swarm(
        3, 1, 1, "lap.wav", [](double t) { return sine(300, 0.1 + 0.08 * std::sin(t))(t); }, 30);
    swarm.b.set(swarm.gesture, "pattern-release", {0.5});
    Evaluator evaluator;
    Progress progress;
    const PlanOptions options{{}, temporaryFolder()};
    swarm.b.set(swarm.sound, "laid-start", {-40});
    EXPECT_FALSE(checkLoop(swarm.b.scene, options, evaluator, progress).closed);
    const auto mends = loopMends(swarm.b.scene, swarm.sound);
    ASSERT_EQ(mends.size(), 1u);
    EXPECT_EQ(mends.front().label, swarm.b.scene.at(swarm.sound).name + ": a part as long as the loop repeats");
    EXPECT_TRUE(checkLoop(mends.front().edit.scene, options, evaluator, progress).closed);
    EXPECT_TRUE(loopMends(mends.front().edit.scene, swarm.sound).empty());
    // The microphone's lap goes into the loop.
    Build b = Build::grid(3, 1, 1);
    const ObjectId gesture = b.gesture("sound");
    b.set(gesture, "scale", true);
    const Edit microphone = addSound(b.scene, simulatedMicrophoneSound);
    b.scene = microphone.scene;
    b.set(gesture, "pattern-sound", Value(microphone.made));
    EXPECT_FALSE(checkLoop(b.scene, {}, evaluator, progress).closed);
    EXPECT_TRUE(checkLoop(makeLoop(b.scene, {}).scene, {}, evaluator, progress).closed);
}

TEST(Sound, AnyWayToAFrameGivesTheSame) {
    SoundSwarm swarm(
        4, 4, 1, "route.wav", [](double t) { return sine(200 + 300 * std::floor(4 * t), 0.2 + 0.1 * std::fmod(t, 0.7))(t); }, 4);
    swarm.b.choose(swarm.gesture, "pattern-read", "bands")
        .set(swarm.gesture, "pattern-attack", {0.1})
        .set(swarm.gesture, "pattern-release", {0.4});
    Evaluator one, two;
    Progress progress;
    const PlanOptions options{{}, temporaryFolder()};
    const auto at = [&](Evaluator& by, double frame) {
        return by.evaluate(swarm.b.scene, swarm.b.swarm, frame, options, progress)->columns->matrix;
    };
    for (const double frame : {70.0, 12.5, 3.0, 99.0}) at(one, frame);
    for (double frame = 0; frame <= 40; ++frame) at(two, frame);
    EXPECT_EQ(at(one, 40), at(two, 40));
    EXPECT_EQ(at(one, 40.25), at(two, 40.25));
}

TEST(Sound, AZoneActsWhileItIsLoud) {
    SoundSwarm swarm(
        2, 1, 1, "zone.wav", [](double t) { return t < 1 ? 0 : sine(500)(t); }, 2);
    const ObjectId other = swarm.b.gesture("steady");
    const ObjectId zone = swarm.b.zone(other, "sound");
    swarm.b.set(zone, "sound", Value(swarm.sound)).set(zone, "release", {0});
    swarm.b.set(swarm.gesture, "scale", false).set(other, "scale", true).set(other, "scaleAmount", {2, 2, 2});
    const auto sizes = [&](double frame) { return swarm.result(frame)->columns->matrix[0]; };
    EXPECT_NEAR(sizes(40) / sizes(5), 2, 0.1);
}

TEST(Sound, TheMicrophoneIsSimulated) {
    Build b = Build::grid(1, 1, 1);
    const Edit made = addSound(b.scene, simulatedMicrophoneSound);
    b.scene = made.scene;
    const auto pieceOf = [&](std::int64_t number) {
        Store store;
        return askSound(b.scene, made.made, 0, {}, store).sound.piece(number)->samples;
    };
    const auto first = pieceOf(0);
    EXPECT_EQ(first, pieceOf(0));
    float most = 0;
    for (const float sample : first) most = std::max(most, std::abs(sample));
    EXPECT_GT(most, 0.1);
    EXPECT_LT(most, 1);
    EXPECT_NEAR(pieceOf(5).back(), first.front(), 0.05) << "its end leads to its beginning";
    EXPECT_EQ(soundTold(b.scene, made.made, {}, making::store()), "60 s. Simulated: a made-up harbour at night. No microphone is opened.");
    EXPECT_TRUE(partOf(SoundLaid{}, askSound(b.scene, made.made, 0, {}, making::store()).sound).repeats) << "it goes on after its lap";
    b.set(made.made, "seed", {2});
    EXPECT_NE(first, pieceOf(0));
    Store store;
    EXPECT_GT(askSound(b.scene, made.made, 0, {}, store).analysis(nullptr)->onsets.size(), 20u) << "its bell and its drops are heard";
}

TEST(Sound, ARecordingIsWhatWasHeard) {
    Build b = Build::grid(1, 1, 1);
    const Edit made = addSound(b.scene, simulatedMicrophoneSound);
    b.scene = made.scene;
    b.set(made.made, "laid-start", {10});
    Store store;
    Progress progress;
    for (const char* ending : {".flac", ".wav"}) {
        const std::string name = std::string("recorded") + ending;
        recordSound(b.scene, made.made, {20, 294}, {}, store, temporaryFolder() / name, progress);
        const Edit file = importSound(b.scene, fileSound, name);
        const AskedSound heard = askSound(file.scene, file.made, 0, temporaryFolder(), store),
                         was = askSound(b.scene, made.made, 0, {}, store);
        EXPECT_EQ(heard.sound.facts.length, 275 * soundRate / 25);
        std::vector<float> recorded(1000), given(1000);
        for (const std::int64_t at : {std::int64_t{0}, 4 * std::int64_t{soundRate}, soundPieceLength - 500}) {
            SoundRun(heard.sound, wholeOf(heard.sound)).mono(at, 1000, recorded.data());
            SoundRun(was.sound, wholeOf(was.sound)).mono(at + 10 * soundRate / 25, 1000, given.data());
            for (std::size_t i = 0; i < 1000; ++i) ASSERT_NEAR(recorded[i], given[i], 2e-7) << ending << " " << at;
        }
    }
    EXPECT_THROW(recordSound(b.scene, made.made, {0, 10}, {}, store, temporaryFolder() / "recorded.mp4", progress), Error);
    progress.cancel();
    EXPECT_THROW(recordSound(b.scene, made.made, {0, 10}, {}, store, temporaryFolder() / "cancelled.wav", progress), Cancelled);
    EXPECT_FALSE(std::filesystem::exists(temporaryFolder() / "cancelled.wav"));
}

TEST(Sound, WhatIsMissingWaits) {
    SoundSwarm swarm(1, 1, 1, "missing.wav", sine(500), 1);
    swarm.b.set(swarm.sound, "file", std::string("gone.wav"));
    EXPECT_NE(swarm.waits().find("gone.wav"), std::string::npos) << swarm.waits();
    swarm.b.set(swarm.gesture, "pattern-sound", Value(ObjectId{}));
    EXPECT_EQ(swarm.waits(), "Choose the sound.");
    swarm.b.set(swarm.gesture, "pattern-sound", Value(swarm.sound))
        .set(swarm.sound, "file", std::string("missing.wav"))
        .set(swarm.sound, "laid-from", {9});
    EXPECT_NE(swarm.waits().find("Nothing of it is left between From and To: it is 1 s long"), std::string::npos) << swarm.waits();
}
