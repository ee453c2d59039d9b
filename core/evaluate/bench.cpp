#include "core/evaluate/bench.h"

#include <hwy/targets.h>
#include <algorithm>
#include <chrono>
#include <cstring>

#include "core/evaluate/evaluator.h"
#include "core/evaluate/yardstick.h"

namespace gswarm {
namespace {

template <class Work>
double medianMilliseconds(int runs, Work work) {
    std::vector<double> times;
    for (int r = 0; r < runs; ++r) {
        const auto start = std::chrono::steady_clock::now();
        work(r);
        times.push_back(std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count());
    }
    std::nth_element(times.begin(), times.begin() + runs / 2, times.end());
    return times[static_cast<std::size_t>(runs / 2)];
}

}  // namespace

YardstickFigures measureYardstick(int instances, int threads, int runs) {
    const Scene scene = yardstickScene(instances);
    const ObjectId swarm = scene.all(ObjectType::swarm).front();
    Evaluator evaluator(threads);
    Progress progress;
    std::shared_ptr<const Result> result = evaluator.evaluate(scene, swarm, 0, {}, progress);
    result = evaluator.evaluate(scene, swarm, 1, {}, progress);
    const double frame = medianMilliseconds(runs, [&](int r) { result = evaluator.evaluate(scene, swarm, r + 2, {}, progress); });
    const ResultColumns& columns = *result->columns;
    const std::size_t bytes = columns.matrix.size() * 4 + columns.colour.size() * 4 + columns.variant.size() * 2;
    std::vector<unsigned char> from(bytes, 1), to(bytes, 2);
    const double copy = medianMilliseconds(runs, [&](int) { std::memcpy(to.data(), from.data(), bytes); });
    const auto best = hwy::SupportedTargets() & -hwy::SupportedTargets();
    return {result->count, evaluator.threads(), runs, hwy::TargetName(best), frame, copy, static_cast<double>(bytes) / result->count};
}

}  // namespace gswarm
