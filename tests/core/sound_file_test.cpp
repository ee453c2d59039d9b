// Sounds out of files: what is decoded, the same bits whichever piece comes first, and what becomes of damaged ones.
#include <gtest/gtest.h>

#include <cmath>

#include "core/base/error.h"
#include "core/provide/decoders.h"
#include "tests/core/making.h"
#include "tests/core/sounding.h"

using namespace gswarm;
using namespace gswarm::sounding;
using making::temporaryFolder;

namespace {

/// The path of a file in the tests' folder with these bytes.
std::filesystem::path soundWith(const std::string& name, const std::string& bytes) {
    writeSound(temporaryFolder() / name, bytes);
    return temporaryFolder() / name;
}

std::string soundRefusal(const std::filesystem::path& path) {
    Decoders decoders;
    try {
        const SoundFacts facts = decoders.soundFacts(path, 1);
        for (std::int64_t k = 0; k < facts.pieces(); ++k) decoders.soundPiece(path, 1, k);
    } catch (const Error& error) {
        return error.what();
    }
    return {};
}

double loudness(const std::vector<float>& samples) {
    double sum = 0;
    for (const float s : samples) sum += double(s) * double(s);
    return std::sqrt(sum / double(samples.size()));
}

}  // namespace

TEST(SoundFile, ReadsSamplesAsTheyAre) {
    Decoders decoders;
    const auto path = soundWith("plain.wav", wavBytes(sine(440, 0.5), 12.5, soundRate, 2));
    const SoundFacts facts = decoders.soundFacts(path, 1);
    EXPECT_EQ(facts.length, 25 * soundRate / 2);
    EXPECT_EQ(facts.channels, 2);
    EXPECT_EQ(facts.fileRate, soundRate);
    EXPECT_EQ(facts.format, "WAV");
    ASSERT_EQ(facts.pieces(), 2);
    const SoundPiece second = decoders.soundPiece(path, 1, 1);
    ASSERT_EQ(second.length(), 5 * soundRate / 2);
    for (std::int64_t i = 0; i < second.length(); i += 997) {
        const auto at = static_cast<std::size_t>(i);
        const auto expected = static_cast<float>(sine(440, 0.5)(double(soundPieceLength + i) / soundRate));
        EXPECT_EQ(second.samples[2 * at], expected) << i;
        EXPECT_EQ(second.samples[2 * at + 1], expected / 2) << i;
    }
}

TEST(SoundFile, OtherRatesAreBroughtToTheOneThatIsHeard) {
    for (const int rate : {8000, 22050, 44100, 96000}) {
        Decoders decoders;
        const auto path = soundWith("rate" + std::to_string(rate) + ".wav", wavBytes(sine(440, 0.5), 12, rate, 1, false));
        const SoundFacts facts = decoders.soundFacts(path, 1);
        EXPECT_EQ(facts.length, 12 * soundRate) << rate;
        EXPECT_EQ(facts.fileRate, rate);
        const SoundPiece second = decoders.soundPiece(path, 1, 1);
        double worst = 0;
        for (std::int64_t i = 0; i < soundRate; ++i)
            worst = std::max(worst, std::abs(double(second.samples[static_cast<std::size_t>(i)]) -
                                             sine(440, 0.5)(double(soundPieceLength + i) / soundRate)));
        EXPECT_LT(worst, 2e-3) << rate << ": no seam, no shift";
    }
}

TEST(SoundFile, PiecesAreTheSameInAnyOrder) {
    if (!making::hasFfmpeg()) GTEST_SKIP() << "no program that encodes";
    const auto plain =
        soundWith("order.wav", wavBytes([](double t) { return 0.4 * sine(300 + 20 * std::floor(t))(t) + 0.1 * hiss()(t); }, 33, 44100, 2));
    for (const char* ending : {"wav", "flac", "ogg", "mp3", "opus"}) {
        const auto path = temporaryFolder() / (std::string("ordered.") + ending);
        ASSERT_EQ(std::system(("ffmpeg -v error -y -i \"" + plain.string() + "\" \"" + path.string() + "\"").c_str()), 0) << ending;
        Decoders forward, backward;
        const SoundFacts facts = forward.soundFacts(path, 1);
        EXPECT_NEAR(facts.seconds(), 33, 0.2) << ending;
        EXPECT_EQ(facts.channels, 2) << ending;
        std::vector<std::vector<float>> pieces;
        for (std::int64_t k = 0; k < facts.pieces(); ++k) pieces.push_back(forward.soundPiece(path, 1, k).samples);
        for (std::int64_t k = facts.pieces() - 1; k >= 0; --k)
            EXPECT_EQ(backward.soundPiece(path, 1, k).samples, pieces[static_cast<std::size_t>(k)]) << ending << " " << k;
        EXPECT_NEAR(loudness(pieces[1]), 0.23, 0.03) << ending;
    }
}

TEST(SoundFile, ManyChannelsAreHeardAsTwo) {
    Decoders decoders;
    for (const int channels : {3, 6, 8, 12, 64}) {
        const auto path = soundWith("many" + std::to_string(channels) + ".wav", wavBytes(sine(440, 0.5), 0.5, soundRate, channels));
        const SoundFacts facts = decoders.soundFacts(path, static_cast<std::uint64_t>(channels));
        EXPECT_EQ(facts.fileChannels, channels);
        EXPECT_EQ(facts.channels, 2);
        EXPECT_GT(loudness(decoders.soundPiece(path, static_cast<std::uint64_t>(channels), 0).samples), 0.05) << channels;
    }
}

TEST(SoundFile, DamagedOnesAreToldInASentence) {
    const std::string good = wavBytes(sine(440), 1);
    const auto told = [](const std::string& name, const std::string& bytes) { return soundRefusal(soundWith(name, bytes)); };
    EXPECT_NE(told("none.wav", "").find("“none.wav” is damaged, or no sound that can be read"), std::string::npos);
    EXPECT_NE(told("words.wav", "these are words").find("is damaged"), std::string::npos);
    EXPECT_NE(told("empty.wav", wavBytes(sine(440), 0)).find("has no sound in it"), std::string::npos);
    EXPECT_NE(told("two-hundred.wav", wavBytes(sine(440), 0.01, soundRate, 200)).find("has 200 channels; at most 64 are read"),
              std::string::npos);
    std::string still = good;
    std::fill_n(still.begin() + 24, 4, '\0');
    EXPECT_NE(told("no-rate.wav", still), "") << "no samples a second";
    std::string fast = good;
    fast[26] = fast[27] = 0x7f;
    EXPECT_NE(told("fast.wav", fast).find("samples a second"), std::string::npos);
    EXPECT_EQ(told("short.wav", good.substr(0, good.size() / 2)), "") << "what is there is heard";
    std::string endless = good;
    for (int k = 40; k < 44; ++k) endless[static_cast<std::size_t>(k)] = static_cast<char>(0xff);
    EXPECT_EQ(told("endless.wav", endless), "") << "it ends where its bytes end";
}

TEST(SoundFile, WhatIsNoNumberIsSilence) {
    const auto path =
        soundWith("wild.wav", wavBytes([](double t) { return t < 0.1   ? std::nan("")
                                                             : t < 0.2 ? 1e30
                                                             : t < 0.3 ? -HUGE_VAL
                                                                       : 2.0; }, 0.5));
    Decoders decoders;
    decoders.soundFacts(path, 1);
    const auto samples = decoders.soundPiece(path, 1, 0).samples;
    EXPECT_EQ(samples[100], 0);
    EXPECT_EQ(samples[7000], 16) << "held at what can be";
    EXPECT_EQ(samples[12000], 0);
    EXPECT_EQ(samples[20000], 2) << "floating numbers beyond full scale stay";
}
