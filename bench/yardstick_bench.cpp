// The yardstick and its parts, on one thread and two. Quote ratios within one run: machines are noisy.
#include <benchmark/benchmark.h>

#include <cstring>

#include "core/edit/edit.h"
#include "core/evaluate/evaluator.h"
#include "core/measure/yardstick.h"

using namespace gswarm;

namespace {

constexpr int instances = 1'000'000;

void run(benchmark::State& state, const Scene& scene, int threads) {
    Evaluator evaluator(threads);
    Progress progress;
    const ObjectId swarm = scene.all(ObjectType::swarm).front();
    double frame = 0;
    std::shared_ptr<const Result> result = evaluator.evaluate(scene, swarm, frame, {}, progress);
    for (auto step : state) result = evaluator.evaluate(scene, swarm, ++frame, {}, progress);
    state.counters["ns/instance"] =
        benchmark::Counter(double(result->count) / 1e9, benchmark::Counter::kIsIterationInvariantRate | benchmark::Counter::kInvert);
}

/// The yardstick with only one of its cards on; −1 for none.
Scene justCard(int card) {
    Scene scene = yardstickScene(instances);
    const auto rail = scene.at(scene.all(ObjectType::swarm).front()).list("rail");
    for (int c = 0; c < static_cast<int>(rail.size()); ++c)
        if (c != card) scene = setValue(scene, addressOf(scene, rail[static_cast<std::size_t>(c)], "on"), false).scene;
    return scene;
}

void whole(benchmark::State& state) { run(state, yardstickScene(instances), static_cast<int>(state.range(0))); }
void part(benchmark::State& state) { run(state, justCard(static_cast<int>(state.range(1))), static_cast<int>(state.range(0))); }
void size(benchmark::State& state) { run(state, yardstickScene(static_cast<int>(state.range(0))), 2); }

void copy(benchmark::State& state) {
    std::vector<unsigned char> from(54u * instances, 1), to(54u * instances, 2);
    for (auto step : state) {
        std::memcpy(to.data(), from.data(), from.size());
        benchmark::DoNotOptimize(to.data());
    }
}

}  // namespace

BENCHMARK(whole)->Name("yardstick/threads")->Arg(1)->Arg(2)->UseRealTime()->Unit(benchmark::kMillisecond);
// Cards: −1 homes and result alone, 0 noise, 1 random rotation, 2 wave, 3 ball zone, 4 ramp.
BENCHMARK(part)->Name("part/threads/card")->ArgsProduct({{1, 2}, {-1, 0, 1, 2, 3, 4}})->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK(size)->Name("instances")->RangeMultiplier(4)->Range(1000, 4'096'000)->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK(copy)->Name("memcpy of the result")->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK_MAIN();
