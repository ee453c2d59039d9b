// A million instances that follow a sound, and what it takes to open, to draw and to listen through an hour of one.
#include <benchmark/benchmark.h>
#include <unistd.h>

#include <cmath>
#include <cstdint>
#include <filesystem>
#include <fstream>
#include <vector>

#include "core/edit/edit.h"
#include "core/evaluate/evaluator.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/pattern/pattern_kind.h"
#include "core/provide/sounds.h"
#include "core/provide/store.h"
#include "core/scene/address.h"
#include "core/sound/sound_kind.h"
#include "core/sound/sound_peaks.h"

using namespace gswarm;

namespace {

constexpr int side = 1000, fileRate = 44'100;

/// Where the sounds lie, gone at the end.
const std::filesystem::path& folder() {
    static const struct Folder {
        std::filesystem::path path = std::filesystem::temp_directory_path() / ("gswarm-sound-bench-" + std::to_string(::getpid()));
        Folder() { std::filesystem::create_directories(path); }
        ~Folder() { std::filesystem::remove_all(path); }
    } made;
    return made.path;
}

/// A WAV of two channels and 16 bits: tones that wander, and a stroke every half second.
std::string piece(int minutes) {
    const std::string name = std::to_string(minutes) + "-minutes.wav";
    const auto path = folder() / name;
    if (std::filesystem::exists(path)) return name;
    const auto frames = static_cast<std::uint32_t>(minutes * 60 * fileRate), bytes = frames * 4;
    std::ofstream out(path, std::ios::binary);
    const auto put = [&](auto value) { out.write(reinterpret_cast<const char*>(&value), sizeof value); };
    out << "RIFF";
    put(36 + bytes);
    out << "WAVEfmt ";
    put(std::uint32_t{16}), put(std::uint16_t{1}), put(std::uint16_t{2}), put(std::uint32_t{fileRate}), put(std::uint32_t{4 * fileRate});
    put(std::uint16_t{4}), put(std::uint16_t{16});
    out << "data";
    put(bytes);
    std::vector<std::int16_t> second(2 * fileRate);
    for (int s = 0; s < minutes * 60; ++s) {
        for (int i = 0; i < fileRate; ++i) {
            const double t = double(i) / fileRate, stroke = std::exp(-30 * std::fmod(t, 0.5));
            const double value = 0.3 * std::sin(6.283185307 * (200 + s % 12 * 40) * t) + 0.5 * stroke * std::sin(6.283185307 * 3000 * t);
            second[2 * static_cast<std::size_t>(i)] = second[2 * static_cast<std::size_t>(i) + 1] =
                static_cast<std::int16_t>(32767 * value);
        }
        out.write(reinterpret_cast<const char*>(second.data()), static_cast<std::streamsize>(second.size() * 2));
    }
    return name;
}

Scene withSound(const std::string& file, ObjectId& sound) {
    const Edit made = addSound(emptyScene(), fileSound);
    sound = made.made;
    return setValue(made.scene, addressOf(made.scene, sound, "file"), file).scene;
}

/// A million boxes that are raised by what they hear.
void follows(benchmark::State& state, const char* read, const char* past) {
    Edit edit = addSwarm(emptyScene());
    const ObjectId swarm = edit.made;
    const auto set = [&](ObjectId object, const char* parameter, const Value& value) {
        edit.scene = setValue(edit.scene, addressOf(edit.scene, object, parameter), value).scene;
    };
    set(edit.scene.at(swarm).list("formations").front(), "count", fixedNumbers({double(side), 1, double(side)}));
    const Edit sound = addSound(edit.scene, fileSound);
    edit.scene = sound.scene;
    set(sound.made, "file", piece(1));
    const Edit gesture = addGesture(edit.scene, swarm, standardObject(ObjectType::gesture, "Gesture", {&changeGesture, &soundPattern}));
    edit.scene = gesture.scene;
    set(gesture.made, "pattern-sound", sound.made);
    set(gesture.made, "pattern-read", std::string(read));
    set(gesture.made, "pattern-over", std::string("x"));
    set(gesture.made, "pattern-past", std::string(past));
    set(gesture.made, "position", true);
    Evaluator evaluator(2);
    Progress progress;
    int frame = 0;
    const PlanOptions options{{}, folder()};
    evaluator.evaluate(edit.scene, swarm, frame, options, progress);
    for (auto _ : state) benchmark::DoNotOptimize(evaluator.evaluate(edit.scene, swarm, ++frame, options, progress));
}

/// From nothing to where its length is known and its first piece can be drawn.
void opens(benchmark::State& state) {
    ObjectId sound;
    const Scene scene = withSound(piece(60), sound);
    for (auto _ : state) {
        Store store;
        const AskedSound asked = askSound(scene, sound, 0, folder(), store);
        SoundPeaks peaks(asked.sound.facts);
        peaks.add(*asked.sound.piece(0));
        benchmark::DoNotOptimize(peaks.between(0, soundRate));
    }
}
void drawsWholeWave(benchmark::State& state) {
    ObjectId sound;
    const Scene scene = withSound(piece(60), sound);
    for (auto _ : state) {
        Store store(std::size_t{64} << 20);
        const AskedSound asked = askSound(scene, sound, 0, folder(), store);
        SoundPeaks peaks(asked.sound.facts);
        while (peaks.next() < peaks.pieces()) peaks.add(*asked.sound.piece(peaks.next()));
        benchmark::DoNotOptimize(peaks.between(0, soundRate));
    }
}
/// 2 000 columns of an hour, or of ten seconds of it.
void drawsColumns(benchmark::State& state, int seconds) {
    SoundFacts facts;
    facts.length = std::int64_t{3600} * soundRate;
    SoundPeaks peaks(facts);
    const SoundPiece quiet{1, std::vector<float>(static_cast<std::size_t>(soundPieceLength), 0.25f)};
    while (peaks.next() < peaks.pieces()) peaks.add(quiet);
    const double each = double(seconds) * soundRate / 2000;
    for (auto _ : state)
        for (int x = 0; x < 2000; ++x) benchmark::DoNotOptimize(peaks.between(std::int64_t(x * each), std::int64_t((x + 1) * each)));
}
void listens(benchmark::State& state, int minutes) {
    ObjectId sound;
    const Scene scene = withSound(piece(minutes), sound);
    for (auto _ : state) {
        Store store(std::size_t{64} << 20);
        benchmark::DoNotOptimize(askSound(scene, sound, 0, folder(), store).analysis(nullptr));
    }
}

}  // namespace

BENCHMARK_CAPTURE(follows, level, "level", "now")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(follows, bands, "bands", "now")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(follows, bandsAndPast, "bands", "z")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(opens)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(drawsWholeWave)->Unit(benchmark::kMillisecond)->UseRealTime()->Iterations(1);
BENCHMARK_CAPTURE(drawsColumns, ofAnHour, 3600)->Unit(benchmark::kMicrosecond)->UseRealTime();
BENCHMARK_CAPTURE(drawsColumns, ofTenSeconds, 10)->Unit(benchmark::kMicrosecond)->UseRealTime();
BENCHMARK_CAPTURE(listens, aMinute, 1)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(listens, anHour, 60)->Unit(benchmark::kMillisecond)->UseRealTime()->Iterations(1);
BENCHMARK_MAIN();
