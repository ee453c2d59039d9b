#include "core/measure/bench.h"

#include <hwy/targets.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstring>

#include "core/edit/edit.h"
#include "core/edit/rail_edits.h"
#include "core/evaluate/evaluator.h"
#include "core/formula/bind.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/measure/yardstick.h"
#include "core/pattern/pattern_kind.h"
#include "core/prepare/prepare.h"
#include "core/zone/zone_kind.h"

namespace gswarm {
namespace {

struct Milliseconds {
    double least, median;
};

template <class Work>
Milliseconds measure(int runs, Work work) {
    std::vector<double> times;
    for (int r = 0; r < runs; ++r) {
        const auto start = std::chrono::steady_clock::now();
        work(r);
        times.push_back(std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count());
    }
    std::sort(times.begin(), times.end());
    return {times.front(), times[static_cast<std::size_t>(runs / 2)]};
}

template <class Work>
double medianMilliseconds(int runs, Work work) {
    return measure(runs, work).median;
}

/// A square grid with a named value, a second small swarm to refer to, and room for a rail.
struct Bed {
    Scene scene;
    ObjectId swarm;

    explicit Bed(int instances) {
        Edit edit = addSwarm(emptyScene());
        swarm = edit.made;
        const double side = std::max(1.0, std::round(std::sqrt(static_cast<double>(instances))));
        const ObjectId grid = edit.scene.at(swarm).list("formations").front();
        edit = setValue(edit.scene, addressOf(edit.scene, grid, "count"), fixedNumbers({side, 1, side}));
        edit = addNamedValue(edit.scene, swarm, "amount");
        edit = addSwarm(edit.scene);
        scene = edit.scene;
    }
    void set(ObjectId object, const char* parameter, const Value& value) {
        scene = setValue(scene, addressOf(scene, object, parameter), value).scene;
    }
    ObjectId add(const Kind& gesture, const Kind& pattern) {
        const Edit edit = addGesture(scene, swarm, standardObject(ObjectType::gesture, gesture.label, {&gesture, &pattern}));
        scene = edit.scene;
        return edit.made;
    }
    int count() const {
        const auto& numbers = std::get<Numbers>(scene.at(scene.at(swarm).list("formations").front()).part("formation")["count"]);
        return static_cast<int>(numbers[0].value * numbers[2].value);
    }
    /// The rail alone, without packing a result.
    double milliseconds(int runs) const {
        Evaluator evaluator(1);
        Progress progress;
        const Plan plan = evaluator.plan(scene, swarm, 10, {}, progress);
        const auto flow = [&](int) { evaluator.forBlocks(plan, progress, nullptr, [](Block&) {}); };
        flow(0);
        return medianMilliseconds(runs, flow);
    }
};

double costOf(const Bed& with, const Bed& without, int runs) {
    return std::max(0.0, with.milliseconds(runs) - without.milliseconds(runs)) * 1e6 / with.count();
}

Bed moved(int instances, const Kind& pattern) {
    Bed bed(instances);
    bed.set(bed.add(changeGesture, pattern), "position", true);
    return bed;
}

double formulaCost(int instances, int runs) {
    Bed bed = moved(instances, formulaPattern);
    const ObjectId gesture = bed.scene.all(ObjectType::gesture).front();
    // Ten operations: × + × − × + × max × −
    bed.set(gesture, "pattern-value", Value(boundFormula(bed.scene, "(max((x * 2 + y) * 0.5 - z * 3 + xNow * share, 0)) * weight - i")));
    return costOf(bed, moved(instances, steadyPattern), runs);
}

}  // namespace

YardstickFigures measureYardstick(int instances, int threads, int runs) {
    const Scene scene = yardstickScene(instances);
    const ObjectId swarm = scene.all(ObjectType::swarm).front();
    Evaluator evaluator(threads);
    Progress progress;
    std::shared_ptr<const Result> result = evaluator.evaluate(scene, swarm, 0, {}, progress);
    result = evaluator.evaluate(scene, swarm, 1, {}, progress);
    const Milliseconds frame = measure(runs, [&](int r) { result = evaluator.evaluate(scene, swarm, r + 2, {}, progress); });
    const ResultColumns& columns = *result->columns;
    const std::size_t bytes = columns.matrix.size() * 4 + columns.colour.size() * 4 + columns.variant.size() * 2;
    std::vector<unsigned char> from(bytes, 1), to(bytes, 2);
    const double copy = medianMilliseconds(runs, [&](int) { std::memcpy(to.data(), from.data(), bytes); });
    const auto best = hwy::SupportedTargets() & -hwy::SupportedTargets();
    return {result->count, evaluator.workers().count(),
            runs,          hwy::TargetName(best),
            frame.median,  frame.least,
            copy,          static_cast<double>(bytes) / result->count};
}

std::vector<KindFigure> measureKinds(int instances, int runs) {
    std::vector<KindFigure> figures;
    const Bed steady = moved(instances, steadyPattern);
    for (const Kind* kind : kindsOf(Family::pattern))
        figures.push_back({"pattern", kind->id,
                           kind == &steadyPattern ? costOf(steady, Bed(instances), runs) : costOf(moved(instances, *kind), steady, runs)});
    figures.push_back({"pattern", "formula of ten operations", formulaCost(instances, runs)});
    for (const Kind* kind : kindsOf(Family::zone)) {
        Bed bed = steady;
        bed.scene = addZone(bed.scene, bed.scene.all(ObjectType::gesture).front(), *kind).scene;
        figures.push_back({"zone", kind->id, costOf(bed, steady, runs)});
    }
    for (const Kind* kind : kindsOf(Family::gesture)) {
        if (static_cast<const GestureKind*>(kind)->gather) continue;
        Bed bed(instances);
        const ObjectId made = bed.add(*kind, steadyPattern);
        if (kind == &changeGesture)
            for (const char* channel : {"position", "rotation", "scale", "colour"}) bed.set(made, channel, true);
        figures.push_back({"gesture", kind->id, costOf(bed, Bed(instances), runs)});
    }
    return figures;
}

std::vector<NeighbourFigure> measureNeighbours(int instances, int threads, int runs) {
    std::vector<NeighbourFigure> figures;
    for (const Kind* kind : kindsOf(Family::gesture)) {
        if (!static_cast<const GestureKind*>(kind)->gather) continue;
        Bed bed(instances);
        bed.set(bed.add(changeGesture, noisePattern), "position", true);  // another frame, other places
        bed.add(*kind, steadyPattern);
        Evaluator evaluator(threads);
        Progress progress;
        evaluator.evaluate(bed.scene, bed.swarm, 0, {}, progress);
        const double frame = medianMilliseconds(runs, [&](int r) { evaluator.evaluate(bed.scene, bed.swarm, r + 1, {}, progress); });
        figures.push_back({kind->id, bed.count(), frame});
    }
    return figures;
}

FollowFigure measureFollowThrough(int instances, int frame, int threads) {
    Bed bed(instances);
    const ObjectId gesture = bed.add(changeGesture, noisePattern);
    bed.set(gesture, "position", true);
    bed.set(gesture, "follow-driven", std::string("spring"));
    Evaluator evaluator(threads);
    Progress progress;
    const auto timed = [&](int at) {
        return medianMilliseconds(1, [&](int) { evaluator.evaluate(bed.scene, bed.swarm, at, {}, progress); });
    };
    const double cold = timed(frame);
    double warm = 0, play = 0;
    for (const int back : {frame / 2, frame / 3, frame * 7 / 9}) warm = std::max(warm, timed(back));  // the worst of three
    for (int k = 1; k <= 8; ++k) play += timed(frame + k) / 8;
    return {bed.count(), frame, cold, warm, play};
}

}  // namespace gswarm
