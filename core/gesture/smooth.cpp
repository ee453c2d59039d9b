// Brings instances nearer to the average of their neighbours.
#include <tbb/parallel_for.h>
#include <algorithm>
#include <cmath>

#include "core/gesture/gesture_kind.h"
#include "core/gesture/neighbours.h"

namespace gswarm {
namespace {

struct Smooth : GestureBasics {
    float reach;
    int rounds;
    bool position, rotation, scale, colour;
};

enum Column { px, py, pz, qx, qy, qz, qw, sx, sy, sz, cr, cg, cb, ca, columnCount };

/// Itself and its neighbours, those farther away with less weight.
void average(std::size_t i, const WholeSwarm& all, const Neighbours& near, float reach, const WholeColumns& from, WholeColumns& to) {
    float sums[columnCount], total = 1;
    for (int c = 0; c < columnCount; ++c) sums[c] = from[static_cast<std::size_t>(c)][i];
    const float qi[] = {sums[qx], sums[qy], sums[qz], sums[qw]};
    for (const std::uint32_t j : near.of(i)) {
        const float dx = all.x[j] - all.x[i], dy = all.y[j] - all.y[i], dz = all.z[j] - all.z[i];
        const float w = 1 - std::sqrt((dx * dx + dy * dy) + dz * dz) / reach;
        const float alike = from[qx][j] * qi[0] + from[qy][j] * qi[1] + from[qz][j] * qi[2] + from[qw][j] * qi[3];
        const float sign = alike < 0 ? -w : w;  // a rotation and its negative mean the same
        for (int c = 0; c < columnCount; ++c) sums[c] += from[static_cast<std::size_t>(c)][j] * (c >= qx && c <= qw ? sign : w);
        total += w;
    }
    const float length = std::sqrt((sums[qx] * sums[qx] + sums[qy] * sums[qy]) + (sums[qz] * sums[qz] + sums[qw] * sums[qw]));
    for (int c = 0; c < columnCount; ++c)
        to[static_cast<std::size_t>(c)][i] = sums[c] / (c >= qx && c <= qw ? std::max(length, 1e-12f) : total);
}

WholeColumns gather(const Smooth& smooth, const WholeSwarm& all, Progress& progress) {
    WholeColumns values{all.x, all.y, all.z, all.qx, all.qy, all.qz, all.qw, all.sx, all.sy, all.sz, all.r, all.g, all.b, all.a};
    const Neighbours near = neighboursWithin(all.x, all.y, all.z, smooth.reach, 64);
    WholeColumns next = values;
    for (int round = 0; round < smooth.rounds; ++round) {
        progress.check();
        tbb::parallel_for(tbb::blocked_range<std::size_t>(0, all.count(), 2048), [&](const auto& range) {
            for (std::size_t i = range.begin(); i < range.end(); ++i) average(i, all, near, smooth.reach, values, next);
        });
        std::swap(values, next);
    }
    return values;
}

void apply(const GestureInput& in, Block& block, EffectColumns& effect) {
    const auto& smooth = in.as<Smooth>();
    const auto whole = [&](int column, int i) {
        return (*in.whole)[static_cast<std::size_t>(column)][static_cast<std::size_t>(in.row + i)];
    };
    const auto mixed = [](float a, float b, float x) { return a + (b - a) * x; };
    const auto mark = [&](EffectChannel channel, int i) { effect.use(channel, in.effectWords)[in.card / 32][i] |= 1u << (in.card % 32); };
    for (int i = 0; i < block.count; ++i) {
        const float x = in.patternSigned ? (block.driven.x[i] + block.weight[i]) * 0.5f : block.driven.x[i];
        if (x == 0) continue;
        const auto blend = [&](float* column, int which) { column[i] = mixed(column[i], whole(which, i), x); };
        if (smooth.position) {
            blend(block.position.x, px), blend(block.position.y, py), blend(block.position.z, pz);
            mark(positionEffect, i);
        }
        if (smooth.rotation) {
            float* const columns[] = {block.rotation.x, block.rotation.y, block.rotation.z, block.rotation.w};
            float q[4], alike = 0, length2 = 0;
            for (int c = 0; c < 4; ++c) alike += columns[c][i] * whole(qx + c, i);
            for (int c = 0; c < 4; ++c) {
                q[c] = mixed(columns[c][i], alike < 0 ? -whole(qx + c, i) : whole(qx + c, i), x);
                length2 += q[c] * q[c];
            }
            const float scale = 1 / std::max(std::sqrt(length2), 1e-12f);
            for (int c = 0; c < 4; ++c) columns[c][i] = q[c] * scale;
            mark(rotationEffect, i);
        }
        if (smooth.scale) {
            blend(block.scale.x, sx), blend(block.scale.y, sy), blend(block.scale.z, sz);
            mark(scaleEffect, i);
        }
        if (smooth.colour) {
            blend(block.colour.x, cr), blend(block.colour.y, cg), blend(block.colour.z, cb), blend(block.colour.w, ca);
            mark(colourEffect, i);
        }
    }
}

GestureKind smoothKind() {
    DescribeGesture<Smooth> d("smooth", "Smooth", "Brings instances nearer to the average of their neighbours");
    d.length("reach", &Smooth::reach, 1.5, {0.1, 10}, "Who counts as a neighbour")
        .hard(1e-3, 1e6)
        .whole("rounds", &Smooth::rounds, 1, {1, 10}, "How often it is repeated")
        .hard(1, 100)
        .toggle("position", &Smooth::position, false, "Averages places")
        .toggle("rotation", &Smooth::rotation, false, "Averages turns")
        .toggle("scale", &Smooth::scale, true, "Averages sizes")
        .toggle("colour", &Smooth::colour, true, "Averages colours");
    return gathering(makes(d, apply), gather);
}

}  // namespace

const GestureKind smoothGesture = smoothKind();

}  // namespace gswarm
