// Moves instances apart until no two are nearer than their sizes, each staying as close to its place as it can.
//
// Pairs push each other apart by what they overlap; all pushes of a round are found from the places before it and added
// in the order of numbers, so the result does not depend on threads (a Jacobi iteration of position based dynamics,
// Müller et al. 2007). While the rounds go on, what has room drifts back toward where it came from.
#include <tbb/parallel_for.h>
#include <algorithm>
#include <cmath>

#include "core/gesture/gesture_kind.h"
#include "core/gesture/neighbours.h"

namespace gswarm {
namespace {

struct MakeRoom : GestureBasics {
    float size, gap;
    int rounds;
    bool flat;
};

using Columns = std::vector<float>;

/// Crowds move as a whole: each round goes on with part of the last step (the heavy ball of Polyak 1964).
constexpr float momentum = 0.85f;

struct Push {
    float x = 0, y = 0, z = 0;
    int pairs = 0;
};

/// What pushes one instance in a round.
Push pushOn(std::size_t i, const Columns& x, const Columns& y, const Columns& z, const Columns& radius, float gap, bool flat,
            const Neighbours& near) {
    Push push;
    for (const std::uint32_t j : near.of(i)) {
        const float least = radius[i] + radius[j] + gap;
        float dx = x[i] - x[j], dy = flat ? 0 : y[i] - y[j], dz = z[i] - z[j];
        const float distance2 = (dx * dx + dy * dy) + dz * dz;
        if (distance2 >= least * least) continue;
        float distance = std::sqrt(distance2);
        if (distance < 1e-6f) {  // at one place: the lower number goes one way, the higher the other
            dx = i < j ? 1.0f : -1.0f;
            dz = i < j ? 0.5f : -0.5f;
            dy = 0;
            distance = std::sqrt(dx * dx + dz * dz);
            const float shove = least * 0.5f / distance;
            push.x += dx * shove, push.z += dz * shove;
            ++push.pairs;
            continue;
        }
        const float share = (least - distance) * 0.5f / distance;
        push.x += dx * share, push.y += dy * share, push.z += dz * share;
        ++push.pairs;
    }
    return push;
}

WholeColumns gather(const MakeRoom& room, const WholeSwarm& all, Progress& progress) {
    const std::size_t n = all.count();
    Columns radius(n);
    float largest = 0;
    for (std::size_t i = 0; i < n; ++i) {
        radius[i] = std::isfinite(all.radius[i]) ? all.radius[i] * room.size / 100 : 0;
        largest = std::max(largest, radius[i]);
    }
    WholeColumns places{all.x, all.y, all.z};
    const float reach = 2 * largest + room.gap;
    if (n < 2 || !(reach > 0)) return places;
    WholeColumns next = places;
    Neighbours near;
    for (int round = 0; round < room.rounds; ++round) {
        progress.check();
        // Bound anew each round: swapping takes the columns along.
        const auto &x = places[0], &y = places[1], &z = places[2];
        // Those near enough to meet within a few rounds are looked for once in a while.
        if (round % 4 == 0) near = neighboursWithin(x, y, z, reach * 1.3f, 48);
        const bool last = round + 2 >= room.rounds;
        // The drift home ends halfway: the rest only separates.
        const float back = std::max(0.0f, 0.04f * (1 - 2 * static_cast<float>(round) / static_cast<float>(room.rounds)));
        tbb::parallel_for(tbb::blocked_range<std::size_t>(0, n, 2048), [&](const auto& range) {
            for (std::size_t i = range.begin(); i < range.end(); ++i) {
                // What was made the round before last still stands in `next`.
                const float was[] = {next[0][i], next[1][i], next[2][i]};
                next[0][i] = x[i], next[1][i] = y[i], next[2][i] = z[i];
                if (radius[i] <= 0) continue;
                const Push push = pushOn(i, x, y, z, radius, room.gap, room.flat, near);
                const float keepOn = push.pairs > 0 && !last ? momentum : 0;
                // Many pairs at once would throw an instance too far.
                const float ease = push.pairs > 3 ? 3.0f / static_cast<float>(push.pairs) : 1;
                const float home = push.pairs == 0 ? back * 4 : back;
                next[0][i] += push.x * ease + (all.x[i] - x[i]) * home + (x[i] - was[0]) * keepOn;
                next[1][i] += push.y * ease + (all.y[i] - y[i]) * home + (y[i] - was[1]) * keepOn;
                next[2][i] += push.z * ease + (all.z[i] - z[i]) * home + (z[i] - was[2]) * keepOn;
            }
        });
        std::swap(places, next);
    }
    return places;
}

void apply(const GestureInput& in, Block& block, EffectColumns& effect) {
    const float* const from[] = {block.position.x, block.position.y, block.position.z};
    float* const to[] = {block.position.x, block.position.y, block.position.z};
    std::uint32_t* marks = effect.use(positionEffect, in.effectWords)[in.card / 32];
    for (int i = 0; i < block.count; ++i) {
        const float x = in.patternSigned ? (block.driven.x[i] + block.weight[i]) * 0.5f : block.driven.x[i];
        bool moved = false;
        for (int a = 0; a < 3; ++a) {
            const float was = from[a][i],
                        now = was + ((*in.whole)[static_cast<std::size_t>(a)][static_cast<std::size_t>(in.row + i)] - was) * x;
            moved = moved || now != was;
            to[a][i] = now;
        }
        if (moved) marks[i] |= 1u << (in.card % 32);
    }
}

GestureKind makeRoomKind() {
    DescribeGesture<MakeRoom> d("makeRoom", "Make room", "Moves instances apart until they no longer overlap");
    d.number("size", &MakeRoom::size, 100, {20, 200}, "How large each counts: 100 % is the ball of its largest side")
        .unit("%")
        .hard(0, 10000)
        .length("gap", &MakeRoom::gap, 0, {0, 1}, "Left between two of them")
        .hard(0, 1e4)
        .whole("rounds", &MakeRoom::rounds, 24, {4, 100}, "More rounds leave fewer overlaps and take longer")
        .hard(1, 1000)
        .toggle("flat", &MakeRoom::flat, false, "Moves them in the swarm's floor plane only");
    return gathering(makes(d, apply), gather);
}

}  // namespace

const GestureKind makeRoomGesture = makeRoomKind();

}  // namespace gswarm
