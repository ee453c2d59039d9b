// Frames that are baked into a file: the same bits, on any machine, and what is wrong with a file.
#include <gtest/gtest.h>

#include <cmath>
#include <fstream>
#include <limits>
#include <random>
#include <sstream>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/exchange/exporter_kind.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/prepare/prepare.h"
#include "core/provide/baked_states.h"
#include "core/provide/state_file.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;
namespace fs = std::filesystem;

namespace {

/// Balls that fall, with a gesture behind that lags.
struct Falling : Build {
    ObjectId bodies;

    Falling() : Build(Build::grid(3, 1, 3)) {
        set(swarm, "position", {0, 2, 0});
        const Edit edit = addGesture(scene, swarm, standardObject(ObjectType::gesture, "Bodies", {&bodiesGesture}));
        scene = edit.scene;
        bodies = edit.made;
    }
    void bake(const fs::path& file, int first = 0, int last = 30) const {
        Evaluator evaluator(2);
        Progress progress;
        ExportFrames frames{evaluator, scene, {}, 0, {first, last, 1}};
        writeExport(settingsFor(bakeExporter, scene), frames, file, progress);
    }
    /// How many frames it takes to come to one, told by what was said.
    std::vector<float> at(double frame, const fs::path& bake, const fs::path& folder = {}) const {
        Evaluator evaluator(2);
        EXPECT_EQ(evaluator.store().checkpoints().follow(bake), "");
        Progress progress;
        PlanOptions options;
        options.projectFolder = folder;
        const auto result = evaluator.evaluate(scene, swarm, frame, options, progress);
        return {result->columns->matrix.begin(), result->columns->matrix.end()};
    }
};

fs::path fileNamed(const char* name) { return making::temporaryFolder() / name; }

std::string refusal(const fs::path& file) {
    try {
        BakedStates states(file);
    } catch (const Error& error) {
        return error.what();
    }
    return {};
}

}  // namespace

TEST(Bake, GivesTheSameBitsWithoutPlaying) {
    const Falling falling;
    const fs::path file = fileNamed("falling.bake");
    falling.bake(file);
    BakedStates states(file);
    EXPECT_EQ(states.count(), 31u);
    const auto wanted = falling.at(25, {});
    EXPECT_EQ(falling.at(25, file), wanted);
    EXPECT_EQ(falling.at(25, file, "/somewhere/else"), wanted) << "it does not go by where the project lies";
    EXPECT_EQ(falling.at(25.5, file), falling.at(25.5, {})) << "and a partial step goes on from it";
    // Nothing is played: what the frame needs is found, and nothing else made.
    Evaluator evaluator(1);
    evaluator.store().checkpoints().follow(file);
    Progress progress;
    evaluator.evaluate(falling.scene, falling.swarm, 25, {}, progress);
    EXPECT_EQ(evaluator.store().checkpoints().bytes(), 0u);
}

TEST(Bake, IsNotUsedForWhatHasChanged) {
    Falling falling;
    const fs::path file = fileNamed("changed.bake");
    falling.bake(file);
    falling.set(falling.bodies, "gravity", {3});
    EXPECT_EQ(falling.at(20, file), falling.at(20, {}));
    // Baked once more, it holds the new ones alone.
    falling.bake(file, 0, 10);
    EXPECT_EQ(BakedStates(file).count(), 11u);
}

TEST(Bake, AFileThatIsWrittenAnewIsReadAnew) {
    const Falling falling;
    const fs::path file = fileNamed("anew.bake");
    Checkpoints checkpoints;
    EXPECT_EQ(checkpoints.follow(file), "") << "none is fine";
    writeFileAtomically(file, "something else");
    EXPECT_EQ(checkpoints.follow(file), "“anew.bake” holds no baked frames; it is passed over.");
    EXPECT_EQ(checkpoints.follow(file), "") << "it is told once";
    falling.bake(file, 0, 3);
    EXPECT_EQ(checkpoints.follow(file), "");
}

TEST(Bake, WhatRemembersNothingIsToldAndWritesNothing) {
    const Build still = Build::grid(2, 1, 2);
    Evaluator evaluator(1);
    Progress progress;
    const fs::path file = fileNamed("still.bake");
    ExportFrames frames{evaluator, still.scene, {}, 0, {0, 5, 1}};
    EXPECT_THROW(writeExport(settingsFor(bakeExporter, still.scene), frames, file, progress), Error);
    EXPECT_FALSE(fs::exists(file));
}

TEST(Bake, DamagedFilesAreToldOrPassedOver) {
    const Falling falling;
    const fs::path file = fileNamed("whole.bake"), bad = fileNamed("bad.bake");
    falling.bake(file, 0, 6);
    const std::string whole = readFile(file, 1 << 24);
    for (const std::size_t left : {std::size_t{10}, std::size_t{30}, whole.size() / 2, whole.size() - 1}) {
        writeFileAtomically(bad, whole.substr(0, left));
        EXPECT_NE(refusal(bad).find("“bad.bake”"), std::string::npos) << left;
    }
    // Bytes of a state: that frame is made again.
    std::string bytes = whole;
    for (std::size_t at = 20; at + 400 < whole.size(); at += 97) bytes[at] = static_cast<char>(~bytes[at]);
    writeFileAtomically(bad, bytes);
    EXPECT_EQ(falling.at(5, bad), falling.at(5, {}));
    // Anything of where the seven states lie.
    for (std::size_t back = 1; back <= 7 * 32 + 24; ++back) {
        bytes = whole;
        bytes[whole.size() - back] = static_cast<char>(bytes[whole.size() - back] + 1);
        writeFileAtomically(bad, bytes);
        EXPECT_NE(refusal(bad), "") << back;
    }
}

TEST(Bake, StatesThatSayMoreThanTheyHaveAreNone) {
    MemoryState state;
    state.count = 3;
    state.cards.resize(1);
    state.cards[0].resize(2);
    state.cards[0][1].assign(16, 1.5f);
    state.loose = {{1, 2, 3}};
    std::ostringstream out;
    writeState(state, out);
    const std::string whole = out.str();
    const auto read = [](const std::string& bytes) {
        std::istringstream in(bytes);
        return readState(in, bytes.size());
    };
    const auto back = read(whole);
    ASSERT_TRUE(back);
    EXPECT_EQ(back->cards, state.cards);
    EXPECT_EQ(back->loose, state.loose);
    for (std::size_t left = 0; left < whole.size(); ++left) EXPECT_FALSE(read(whole.substr(0, left))) << left;
    for (std::size_t at = 0; at < whole.size(); ++at) {
        std::string bytes = whole;
        bytes[at] = static_cast<char>(255);
        const auto odd = read(bytes);
        if (!odd) continue;
        for (const auto& column : odd->cards.at(0)) EXPECT_TRUE(column.empty() || column.size() == 16) << at;
    }
}

TEST(Bake, WhateverAStateSaysTheRestGoesOn) {
    Falling falling;
    falling.choose(falling.bodies, "glue", "blow");
    const fs::path bad = fileNamed("odd.bake");
    Evaluator evaluator(2);
    Progress progress;
    std::uint64_t key = 0;
    MemoryState sound;
    eachRemembered(falling.scene, falling.swarm, 8, 8, {}, evaluator.store(), progress,
                   [&](int, std::uint64_t of, const MemoryState& state) {
                       key = of;
                       sound = state;
                   });
    ASSERT_FALSE(sound.loose.at(0).empty());
    std::mt19937 dice(7);
    constexpr float odd[] = {
        0, -1, 1e9f, 3e38f, -3e38f, 1e-40f, 0.5f, std::numeric_limits<float>::infinity(), std::numeric_limits<float>::quiet_NaN()};
    for (int round = 0; round < 150; ++round) {
        MemoryState state = sound;
        auto& columns = state.cards.at(0);
        for (int k = 0; k < 1 + round / 10; ++k) {
            auto& column = columns[dice() % columns.size()];
            column[dice() % 9] = odd[dice() % std::size(odd)];
            auto& loose = state.loose[0];
            loose[dice() % loose.size()] = odd[dice() % std::size(odd)];
        }
        {
            std::ofstream file(bad, std::ios::binary);
            BakeWriter writer(file);
            writer.add(key, state);
            writer.finish();
        }
        for (const float v : falling.at(9, bad)) ASSERT_TRUE(std::isfinite(v)) << round;
    }
}
