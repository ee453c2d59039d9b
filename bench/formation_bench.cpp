// What is slow to make: points on meshes, cells in them, lettering, overlaps. Quote ratios within one run.
#include <benchmark/benchmark.h>

#include <cmath>

#include "core/edit/edit.h"
#include "core/evaluate/evaluator.h"
#include "core/kinds/registry.h"
#include "core/prepare/prepare.h"
#include "core/provide/shapes.h"
#include "core/provide/store.h"
#include "core/read/overlaps.h"
#include "core/shape/inside.h"

using namespace gswarm;

namespace {

struct Built {
    Scene scene;
    ObjectId swarm, formation, stock, shape, ground;

    void set(ObjectId object, const char* parameter, const Value& value) {
        scene = setValue(scene, addressOf(scene, object, parameter), value).scene;
    }
};

/// A swarm on a ball of about 200 000 triangles.
Built onBall(const char* kind, double radius) {
    const Edit edit = addSwarm(emptyScene());
    Built b{edit.scene, edit.made, edit.scene.at(edit.made).list("formations")[0], edit.scene.at(edit.made).list("stock")[0], {}, {}};
    b.scene = setFormation(b.scene, b.formation, *findKind(Family::formation, kind)).scene;
    b.shape = b.scene.all(ObjectType::shape)[0];
    b.ground = b.scene.all(ObjectType::shape)[1];
    b.scene = setKind(b.scene, b.ground, "maker", *findKind(Family::shape, "ball")).scene;
    b.set(b.ground, "radius", fixedNumbers({radius}));
    b.set(b.ground, "by", std::string("triangles"));
    b.set(b.ground, "divisions", fixedNumbers({100}));
    return b;
}

/// Makes the homes anew each time: the seed or the spacing changes, the mesh stays in the store.
void make(benchmark::State& state, Built b, const char* parameter, double from, double step) {
    Store store;
    Progress progress;
    prepare(b.scene, b.swarm, 0, {}, store, progress);
    double value = from, count = 0;
    for (auto tick : state) {
        state.PauseTiming();
        b.set(b.formation, parameter, fixedNumbers({value += step}));
        state.ResumeTiming();
        count = prepare(b.scene, b.swarm, 0, {}, store, progress).count;
    }
    state.counters["instances"] = count;
    const auto meshes = prepare(b.scene, b.swarm, 0, {}, store, progress);
    state.SetLabel(meshes.home.kind->label);
}

void randomOnMesh(benchmark::State& state) {
    Built b = onBall("randomOnMesh", 2);
    b.set(b.formation, "count", fixedNumbers({100'000}));
    make(state, b, "seed", 1, 1);
}
void evenlySpaced(benchmark::State& state) {
    Built b = onBall("evenlySpaced", 2);
    b.set(b.formation, "measure", std::string("distance"));
    // 100 000 points: 0.547 of the area in discs.
    b.set(b.formation, "distance", fixedNumbers({std::sqrt(0.547 * 4 * 3.14159265 * 4 / 0.785398 / 100'000)}));
    make(state, b, "seed", 1, 1);
}
void cells(benchmark::State& state) {
    Built b = onBall("cells", 2);
    make(state, b, "spacing", std::cbrt(4.18879 * 8 / 1'000'000), 1e-7);
}
void scatter(benchmark::State& state) {
    Built b = onBall("scatterInMesh", 2);
    b.set(b.formation, "count", fixedNumbers({100'000}));
    make(state, b, "seed", 1, 1);
}

void overlaps(benchmark::State& state, const char* kind, bool turned) {
    const Edit edit = addSwarm(emptyScene());
    Built b{edit.scene, edit.made, edit.scene.at(edit.made).list("formations")[0], edit.scene.at(edit.made).list("stock")[0], {}, {}};
    b.shape = b.scene.all(ObjectType::shape)[0];
    b.set(b.formation, "count", fixedNumbers({317, 1, 317}));
    b.set(b.formation, "spacing", fixedNumbers({1.05, 1, 1.05}));
    if (turned) b.set(b.formation, "standing-randomTurn", fixedNumbers({180}));
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, kind)).scene;
    Evaluator evaluator;
    Progress progress;
    const auto result = evaluator.evaluate(b.scene, b.swarm, 0, {}, progress);
    int count = 0;
    for (auto tick : state) count = countOverlaps(*result, progress);
    state.counters["instances"] = result->count;
    state.counters["overlapping"] = count;
}
void overlappingBoxes(benchmark::State& state) { overlaps(state, "box", false); }
void overlappingTurnedBoxes(benchmark::State& state) { overlaps(state, "box", true); }
void overlappingBalls(benchmark::State& state) { overlaps(state, "ball", true); }
void overlappingRings(benchmark::State& state) { overlaps(state, "ring", true); }

void insideTest(benchmark::State& state) {
    Built b = onBall("cells", 2);
    Store store;
    Progress progress;
    const Shapes shapes(b.scene, 0, {}, store, progress);
    const auto meshes = shapes.get(b.ground);
    for (auto tick : state) benchmark::DoNotOptimize(InsideTest(meshes->mesh()));
}

void lettering(benchmark::State& state) {
    const Edit edit = addShape(emptyScene(), *findKind(Family::shape, "lettering"));
    std::string text;
    for (int line = 0; line < 20; ++line) text += "A night aquarium opens at eight & closes late\n";
    const Scene scene = setValue(edit.scene, addressOf(edit.scene, edit.made, "text"), text).scene;
    Progress progress;
    for (auto tick : state) {
        Store store;
        const Shapes shapes(scene, 0, {}, store, progress);
        benchmark::DoNotOptimize(shapes.get(edit.made));
    }
}

}  // namespace

BENCHMARK(randomOnMesh)->Name("100 000 at random on 200 000 triangles")->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK(evenlySpaced)->Name("100 000 evenly on 200 000 triangles")->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK(cells)->Name("1 000 000 cells in 200 000 triangles")->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK(scatter)->Name("100 000 at random inside 200 000 triangles")->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK(insideTest)->Name("making the inside test of 200 000 triangles")->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK(overlappingBoxes)->Name("overlaps of 100 000 boxes in rows")->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK(overlappingTurnedBoxes)->Name("overlaps of 100 000 turned boxes")->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK(overlappingBalls)->Name("overlaps of 100 000 balls")->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK(overlappingRings)->Name("overlaps of 100 000 rings")->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK(lettering)->Name("lettering of 900 letters")->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK_MAIN();
