// Moves instances apart until no two are nearer than their sizes, each staying as close to its place as it can.
//
// Pairs push each other apart by what they overlap; all pushes of a round are found from the places before it and added
// in the order of numbers, so the result does not depend on threads (a Jacobi iteration of position based dynamics,
// Müller et al. 2007). While the rounds go on, what has room drifts back toward where it came from.
#include <algorithm>
#include <atomic>
#include <cmath>

#include "core/base/parallel.h"
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
constexpr int roundsPerSearch = 5;

struct Push {
    float x = 0, y = 0, z = 0;
    int pairs = 0;
};

/// One instance in the slot of its neighbours: what a pair is judged by lies together.
struct Member {
    float x, y, z, radius;
};
using Crowd = std::vector<Member>;

Crowd crowdOf(const Neighbours& near, const WholeColumns& places, const Columns& radius) {
    Crowd crowd(radius.size());
    for (std::size_t s = 0; s < crowd.size(); ++s) {
        const std::uint32_t i = near.order[s];
        crowd[s] = {places[0][i], places[1][i], places[2][i], radius[i]};
    }
    return crowd;
}

void putBack(const Neighbours& near, const Crowd& crowd, WholeColumns& places) {
    for (std::size_t s = 0; s < crowd.size(); ++s) {
        const std::uint32_t i = near.order[s];
        places[0][i] = crowd[s].x, places[1][i] = crowd[s].y, places[2][i] = crowd[s].z;
    }
}

constexpr std::size_t mostNear = 48;

/// What pushes one instance in a round. Places that are the same go apart by their numbers.
Push pushOn(std::size_t s, const Crowd& crowd, float gap, bool flat, const Neighbours& near) {
    const Member me = crowd[s];
    // First those that are too near: each is written down and counted only if it is, so that nothing has to be guessed.
    std::uint32_t close[mostNear + 1];
    std::size_t count = 0;
    for (const std::uint32_t o : near.of(s)) {
        const Member& other = crowd[o];
        const float least = me.radius + other.radius + gap;
        const float dx = me.x - other.x, dy = flat ? 0 : me.y - other.y, dz = me.z - other.z;
        close[count] = o;
        count += (dx * dx + dy * dy) + dz * dz < least * least;
    }
    Push push;
    push.pairs = static_cast<int>(count);
    for (std::size_t c = 0; c < count; ++c) {
        const std::uint32_t o = close[c];
        const Member& other = crowd[o];
        const float least = me.radius + other.radius + gap;
        float dx = me.x - other.x, dz = me.z - other.z;
        const float dy = flat ? 0 : me.y - other.y;
        const float distance = std::sqrt((dx * dx + dy * dy) + dz * dz);
        if (distance < 1e-6f) {
            dx = near.order[s] < near.order[o] ? 1.0f : -1.0f;
            dz = dx * 0.5f;
            const float shove = least * 0.5f / std::sqrt(dx * dx + dz * dz);
            push.x += dx * shove, push.z += dz * shove;
        } else {
            const float share = (least - distance) * 0.5f / distance;
            push.x += dx * share, push.y += dy * share, push.z += dz * share;
        }
    }
    return push;
}

/// How one round goes.
struct Round {
    float gap;
    bool flat;
    float back;      ///< share of the way home
    float momentum;  ///< share of the last step
};

/// One round from `now` into `next`, in which the round before still stands. True if any two were still too near.
bool runRound(const Round& round, const Neighbours& near, const Crowd& homes, const Crowd& now, Crowd& next) {
    std::atomic<bool> crowded{false};
    forRanges(now.size(), 2048, [&](std::size_t begin, std::size_t end) {
        bool pushed = false;
        for (std::size_t s = begin; s < end; ++s) {
            const Member was = next[s], is = now[s], &at = homes[s];
            next[s] = is;
            if (is.radius <= 0) continue;
            const Push push = pushOn(s, now, round.gap, round.flat, near);
            pushed = pushed || push.pairs > 0;
            const float keepOn = push.pairs > 0 ? round.momentum : 0;
            // Many pairs at once would throw an instance too far.
            const float ease = push.pairs > 3 ? 3.0f / static_cast<float>(push.pairs) : 1;
            const float home = push.pairs == 0 ? round.back * 4 : round.back;
            next[s].x += push.x * ease + (at.x - is.x) * home + (is.x - was.x) * keepOn;
            next[s].y += push.y * ease + (at.y - is.y) * home + (is.y - was.y) * keepOn;
            next[s].z += push.z * ease + (at.z - is.z) * home + (is.z - was.z) * keepOn;
        }
        if (pushed) crowded = true;
    });
    return crowded;
}

WholeColumns gather(const MakeRoom& room, const WholeSwarm& all, Progress& progress) {
    const std::size_t n = all.count();
    Columns radius(n);
    float largest = 0;
    for (std::size_t i = 0; i < n; ++i) {
        radius[i] = std::isfinite(all.radius[i]) ? all.radius[i] * room.size / 100 : 0;
        largest = std::max(largest, radius[i]);
    }
    const WholeColumns home{all.x, all.y, all.z};
    WholeColumns places = home, before = home;
    const float reach = 2 * largest + room.gap;
    if (n < 2 || !(reach > 0)) return places;
    bool done = false;
    for (int first = 0; first < room.rounds && !done; first += roundsPerSearch) {
        progress.check();
        // Those near enough to meet within a few rounds are looked for once in a while.
        const Neighbours near = neighboursWithin(places[0], places[1], places[2], reach * 1.4f, mostNear);
        const Crowd homes = crowdOf(near, home, radius);
        Crowd now = crowdOf(near, places, radius), next = crowdOf(near, before, radius);
        for (int r = first; r < std::min(first + roundsPerSearch, room.rounds) && !done; ++r) {
            // The drift home ends halfway: the rest only separates.
            const float back = std::max(0.0f, 0.04f * (1 - 2 * static_cast<float>(r) / static_cast<float>(room.rounds)));
            const bool crowded = runRound({room.gap, room.flat, back, r + 2 >= room.rounds ? 0 : momentum}, near, homes, now, next);
            done = !crowded && back == 0;  // nothing would move any more
            std::swap(now, next);
        }
        putBack(near, now, places);
        putBack(near, next, before);
    }
    return places;
}

void apply(const GestureInput& in, Block& block, EffectColumns& effect) {
    const float* const from[] = {block.position.x, block.position.y, block.position.z};
    float* const to[] = {block.position.x, block.position.y, block.position.z};
    std::uint32_t* marks = effect.use(positionEffect, in.effectWords)[in.card / 32];
    for (int i = 0; i < block.count; ++i) {
        const float x = in.patternSigned ? (block.driven->x[i] + in.towards[i]) * 0.5f : block.driven->x[i];
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
    DescribeGesture<MakeRoom> d("makeRoom", "Make room", "Moves instances apart until no two are nearer than their sizes");
    d.number("size", &MakeRoom::size, 100, {20, 200},
             "How large each counts: 100 % is a ball as wide as its largest side; so that corners never meet, boxes need 173 %")
        .unit("%")
        .hard(0, 10000)
        .length("gap", &MakeRoom::gap, 0, {0, 1}, "Left between two of them")
        .hard(0, 1e4)
        .whole("rounds", &MakeRoom::rounds, 16, {4, 100}, "More rounds leave fewer overlaps and take longer")
        .hard(1, 1000)
        .toggle("flat", &MakeRoom::flat, false, "Moves them in the swarm's floor plane only");
    GestureKind kind = gathering(makes(d, apply), gather);
    kind.stillReason = "no two instances are nearer than their sizes";
    return kind;
}

}  // namespace

const GestureKind makeRoomGesture = makeRoomKind();

}  // namespace gswarm
