// Meshes that swarms carry, and what presses against other swarms: a frame each, played. Quote ratios within one run.
#include <benchmark/benchmark.h>

#include "core/edit/edit.h"
#include "core/evaluate/evaluator.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/prepare/carried.h"
#include "core/shape/shape_kind.h"

using namespace gswarm;

namespace {

struct Carrying {
    Scene scene;
    ObjectId swarm, formation, ground, membrane;

    void set(ObjectId object, const char* parameter, const Value& value) {
        scene = setValue(scene, addressOf(scene, object, parameter), value).scene;
    }
    ObjectId gesture(const GestureKind& kind, const PatternKind& pattern) {
        const Edit made = addGesture(scene, swarm, standardObject(ObjectType::gesture, kind.label, {&kind, &pattern}));
        scene = made.scene;
        return made.made;
    }
};

/// A swarm on the corners of a plane of `divisions` × `divisions`.
Carrying onPlane(int divisions) {
    const Edit ground = addShape(emptyScene(), cardShape), swarm = addSwarm(ground.scene);
    Carrying c{swarm.scene, swarm.made, swarm.scene.at(swarm.made).list("formations")[0], ground.made, {}};
    c.set(c.ground, "width", fixedNumbers({20}));
    c.set(c.ground, "depth", fixedNumbers({20}));
    c.set(c.ground, "columns", fixedNumbers({double(divisions)}));
    c.set(c.ground, "rows", fixedNumbers({double(divisions)}));
    c.scene = setKind(c.scene, c.formation, "formation", elementsFormation).scene;
    c.set(c.formation, "shape", c.ground);
    c.set(c.formation, "element", std::string("corners"));
    const Edit membrane = addShape(c.scene, membraneShape);
    c.scene = membrane.scene;
    c.membrane = membrane.made;
    return c;
}

/// Two gestures that move with time.
Carrying displaced(int divisions) {
    Carrying c = onPlane(divisions);
    for (const PatternKind* pattern : {&noisePattern, &wavePattern}) {
        const ObjectId gesture = c.gesture(changeGesture, *pattern);
        c.set(gesture, "position", true);
        c.set(gesture, "positionAmount", fixedNumbers({0, 0.5, 0}));
    }
    return c;
}

Carrying pressed(int divisions, int beads) {
    Carrying c = onPlane(divisions);
    const Edit ball = addShape(c.scene, ballShape), swarm = addSwarmOf(ball.scene, ball.made);
    c.scene = swarm.scene;
    const ObjectId formation = c.scene.at(swarm.made).list("formations")[0];
    c.set(formation, "count", fixedNumbers({double(beads) / 40, 1, 40}));
    c.set(formation, "spacing", fixedNumbers({0.4, 1, 0.5}));
    const ObjectId lift = [&] {
        const Edit made = addGesture(c.scene, swarm.made, standardObject(ObjectType::gesture, "Swell", {&changeGesture, &wavePattern}));
        c.scene = made.scene;
        return made.made;
    }();
    c.set(lift, "position", true);
    c.set(lift, "positionAmount", fixedNumbers({0, 0.5, 0}));
    const ObjectId press = c.gesture(pressGesture, steadyPattern);
    c.set(press, "against", swarm.made);
    c.set(press, "along", std::string("y"));
    c.set(press, "meets", std::string("last"));
    return c;
}

/// Four hundred drifting balls of 320 triangles, about half a radius into each other, as one shape of a kind.
Carrying asOne(const ShapeKind& kind) {
    const Edit ball = addShape(emptyScene(), geodesicBallShape), swarm = addSwarmOf(ball.scene, ball.made);
    Carrying c{swarm.scene, swarm.made, swarm.scene.at(swarm.made).list("formations")[0], ball.made, {}};
    c.set(c.ground, "frequency", fixedNumbers({4}));
    c.set(c.formation, "count", fixedNumbers({20, 1, 20}));
    c.set(c.formation, "spacing", fixedNumbers({0.75, 1, 0.75}));
    const ObjectId drift = c.gesture(changeGesture, noisePattern);
    c.set(drift, "position", true);
    const Edit made = addShape(c.scene, kind);
    c.scene = made.scene;
    c.membrane = made.made;
    return c;
}

/// Evaluates the swarm alone, as it is drawn.
void swarmAlone(benchmark::State& state, const Carrying& c) {
    Evaluator evaluator(2);
    Progress progress;
    PlanOptions options;
    options.backdrops = false;
    double frame = 0;
    int count = 0;
    const auto play = [&] { return evaluator.run(evaluator.plan(c.scene, c.swarm, frame++, options, progress), progress)->count; };
    count = play();  // homes are made once
    for (auto tick : state) count = play();
    state.counters["instances"] = count;
}

/// Only the mesh that it carries or is made of, which needs the swarm's gestures and no more of it.
void membraneAlone(benchmark::State& state, const Carrying& c) {
    Store store;
    const Workers workers(2);
    Progress progress;
    double frame = 0;
    std::size_t vertices = 0;
    const auto play = [&] {
        workers.run([&] { vertices = shapesAt(c.scene, frame++, {}, store, progress).get(c.membrane)->mesh().positions.size(); });
    };
    play();  // what stays the same of the mesh is made once
    for (auto tick : state) play();
    state.counters["vertices"] = static_cast<double>(vertices);
}

}  // namespace

int main(int argc, char** argv) {
    const Carrying million = displaced(999), quarter = pressed(499, 2000);
    const Carrying joined = asOne(joinedShape), united = asOne(unitedShape);
    const auto add = [](const char* name, auto run, const Carrying& c) {
        benchmark::RegisterBenchmark(name, [run, &c](benchmark::State& state) { run(state, c); })
            ->Unit(benchmark::kMillisecond)
            ->UseRealTime();
    };
    add("a million corners through two gestures/the swarm", swarmAlone, million);
    add("a million corners through two gestures/the membrane", membraneAlone, million);
    add("250 000 corners against 2 000 beads/the swarm", swarmAlone, quarter);
    add("250 000 corners against 2 000 beads/the membrane", membraneAlone, quarter);
    add("400 balls joined", membraneAlone, joined);
    add("400 balls as a union, voxels of 3 cm, blended over 10 cm", membraneAlone, united);
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
}
