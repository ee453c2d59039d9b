// A million instances that read a large picture, a clip, and the simulated camera. Quote ratios within one run.
#include <benchmark/benchmark.h>
#include <unistd.h>

#include <cmath>
#include <filesystem>

#include "core/base/chance.h"
#include "core/edit/edit.h"
#include "core/evaluate/evaluator.h"
#include "core/exchange/png.h"
#include "core/exchange/video_file.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/media/media_kind.h"
#include "core/pattern/pattern_kind.h"
#include "core/provide/media.h"

using namespace gswarm;

namespace {

constexpr int side = 1000, pixels = 4096, clipPictures = 36;

/// A folder with a picture of noise, gone at the end.
const std::filesystem::path& folder() {
    struct Folder {
        std::filesystem::path path = std::filesystem::temp_directory_path() / ("gswarm-media-bench-" + std::to_string(::getpid()));
        Folder() {
            std::filesystem::create_directories(path);
            Image image{pixels, pixels, std::vector<std::uint8_t>(std::size_t{4} * pixels * pixels)};
            for (std::size_t i = 0; i < image.pixels.size(); ++i)
                image.pixels[i] = i % 4 == 3 ? 255 : static_cast<std::uint8_t>(scrambled(static_cast<std::uint32_t>(i)));
            writePng(image, path / "noise.png");
            writeClip();
        }
        /// A second and a half of 1080p, of which every pixel changes.
        void writeClip() const {
            VideoFormat format;
            format.width = 1920, format.height = 1080;
            VideoFile file(path / "waves.mp4", format);
            for (int frame = 0; frame < clipPictures; ++frame) {
                Image image{format.width, format.height, std::vector<std::uint8_t>(std::size_t{4} * 1920 * 1080)};
                for (std::size_t i = 0; i < image.pixels.size(); ++i) {
                    const auto x = static_cast<int>(i / 4 % 1920), y = static_cast<int>(i / 4 / 1920), c = static_cast<int>(i % 4);
                    const double wave = std::sin(0.01 * (x + 9 * frame)) * std::cos(0.017 * (y - 5 * frame) + c);
                    image.pixels[i] = c == 3 ? 255 : static_cast<std::uint8_t>(128 + 100 * wave);
                }
                file.add(image);
            }
            file.commit();
        }
        ~Folder() { std::filesystem::remove_all(path); }
    };
    static const Folder made;
    return made.path;
}

struct Mosaic {
    Scene scene;
    ObjectId swarm, gesture;

    void set(ObjectId object, const char* parameter, const Value& value) {
        scene = setValue(scene, addressOf(scene, object, parameter), value).scene;
    }
    /// A million boxes whose strength of being raised moves, so that each frame is another.
    explicit Mosaic(const PatternKind& pattern) {
        const Edit made = addSwarm(emptyScene());
        scene = made.scene;
        swarm = made.made;
        const ObjectId formation = scene.at(swarm).list("formations").front();
        set(formation, "count", fixedNumbers({double(side), 1, double(side)}));
        const Edit edit = addGesture(scene, swarm, standardObject(ObjectType::gesture, "Gesture", {&changeGesture, &pattern}));
        scene = edit.scene;
        gesture = edit.made;
        auto keys = std::make_shared<const std::vector<Key>>(std::vector<Key>{{0, 0, Ease::linear}, {1000, 100, Ease::linear}});
        set(gesture, "strength", Numbers{{0, keys}});
    }
    Mosaic& reading(const char* read, const char* channel, const MediaKind& kind) {
        const Edit media = addMedia(scene, kind);
        scene = media.scene;
        if (&kind == &pictureMedia) set(media.made, "file", std::string("noise.png"));
        if (&kind == &clipMedia) {
            set(media.made, "file", std::string("waves.mp4"));
            set(media.made, "beyond", std::string("repeat"));
        }
        set(gesture, "pattern-media", media.made);
        set(gesture, "pattern-along", std::string("y"));
        set(gesture, "pattern-read", std::string(read));
        set(gesture, "pattern-channel", std::string(channel));
        if (std::string(read) == "average") {
            set(gesture, "pattern-columns", fixedNumbers({double(side)}));
            set(gesture, "pattern-rows", fixedNumbers({double(side)}));
        }
        const bool colour = std::string(channel) == "colour";
        set(gesture, colour ? "colour" : "position", true);
        if (colour) set(gesture, "source", std::string("driven"));
        return *this;
    }
    void play(benchmark::State& state) const {
        Evaluator evaluator(2);
        Progress progress;
        int frame = 0;
        const PlanOptions options{{}, folder()};
        evaluator.evaluate(scene, swarm, frame, options, progress);
        for (auto _ : state) benchmark::DoNotOptimize(evaluator.evaluate(scene, swarm, ++frame, options, progress));
    }
};

void steady(benchmark::State& state) {
    Mosaic mosaic(steadyPattern);
    mosaic.set(mosaic.gesture, "position", true);
    mosaic.play(state);
}
void brightness(benchmark::State& state, const char* read) { Mosaic(picturePattern).reading(read, "brightness", pictureMedia).play(state); }
void colour(benchmark::State& state, const char* read) { Mosaic(picturePattern).reading(read, "colour", pictureMedia).play(state); }
/// Once round beforehand, so that what is decoded is warm.
void clip(benchmark::State& state, const char* channel) {
    Mosaic mosaic(picturePattern);
    mosaic.reading("smooth", channel, clipMedia);
    Evaluator evaluator(2);
    Progress progress;
    const PlanOptions options{{}, folder()};
    int frame = 0;
    for (; frame < clipPictures; ++frame) evaluator.evaluate(mosaic.scene, mosaic.swarm, frame, options, progress);
    for (auto _ : state) benchmark::DoNotOptimize(evaluator.evaluate(mosaic.scene, mosaic.swarm, ++frame, options, progress));
}

/// One picture of a clip, decoded anew each time.
void clipPicture(benchmark::State& state, int step) {
    const Edit media = addMedia(emptyScene(), clipMedia);
    Scene scene = setValue(media.scene, addressOf(media.scene, media.made, "file"), std::string("waves.mp4")).scene;
    scene = setValue(scene, addressOf(scene, media.made, "beyond"), std::string("repeat")).scene;
    Store store(1);
    int frame = 0;
    for (auto _ : state) benchmark::DoNotOptimize(mediaAt(scene, media.made, frame += step, folder(), store));
}

void camera(benchmark::State& state) { Mosaic(picturePattern).reading("smooth", "colour", simulatedCameraMedia).play(state); }

/// One picture of the simulated camera.
void cameraAlone(benchmark::State& state) {
    const Edit media = addMedia(emptyScene(), simulatedCameraMedia);
    Store store(1);
    int frame = 0;
    for (auto _ : state) benchmark::DoNotOptimize(mediaAt(media.scene, media.made, ++frame, {}, store));
}

}  // namespace

BENCHMARK(steady)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(brightness, nearest, "nearest")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(brightness, smooth, "smooth")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(brightness, average, "average")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(colour, nearest, "nearest")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(colour, smooth, "smooth")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(colour, average, "average")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(clip, brightness, "brightness")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(clip, colour, "colour")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(clipPicture, forward, 1)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(clipPicture, backward, -1)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(camera)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(cameraAlone)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_MAIN();
