// Brings instances nearer to the average of their neighbours.
#include <algorithm>
#include <cmath>

#include "core/base/parallel.h"
#include "core/gesture/gesture_kind.h"
#include "core/gesture/neighbours.h"

namespace gswarm {
namespace {

struct Smooth : GestureBasics {
    float reach;
    int rounds;
    bool position, rotation, scale, colour;
};

enum Column { placeX, placeY, placeZ, qx, qy, qz, qw, scaleX, scaleY, scaleZ, cr, cg, cb, ca, columnCount };

constexpr float rounding = 1e-6f;

/// Averages of some columns over itself and the neighbours, those farther away with less weight. A rotation (`turn`: its
/// first column) is averaged with the sign that is nearer and made a unit again.
struct Averaging {
    const Neighbours& near;
    std::vector<float> weights;  ///< of each slot's neighbours, in the order of their lists
    std::vector<std::size_t> first;

    Averaging(const Neighbours& neighbours, const WholeSwarm& all, float reach) : near(neighbours) {
        const auto x = near.inOrder(all.x), y = near.inOrder(all.y), z = near.inOrder(all.z);
        first.assign(x.size() + 1, 0);
        for (std::size_t s = 0; s < x.size(); ++s) first[s + 1] = first[s] + near.of(s).size();
        weights.resize(first.back());
        forSlots([&](std::size_t s) {
            std::size_t at = first[s];
            for (const std::uint32_t o : near.of(s)) {
                const float dx = x[o] - x[s], dy = y[o] - y[s], dz = z[o] - z[s];
                weights[at++] = 1 - std::sqrt((dx * dx + dy * dy) + dz * dz) / reach;
            }
        });
    }

    template <class Work>
    void forSlots(Work work) const {
        forRanges(first.size() - 1, 2048, [&](std::size_t begin, std::size_t end) {
            for (std::size_t s = begin; s < end; ++s) work(s);
        });
    }

    void plain(const std::vector<float>& from, std::vector<float>& to) const {
        forSlots([&](std::size_t s) {
            float sum = from[s], total = 1;
            std::size_t at = first[s];
            for (const std::uint32_t o : near.of(s)) {
                sum += from[o] * weights[at];
                total += weights[at++];
            }
            to[s] = sum / total;
        });
    }

    void turns(const WholeColumns& from, WholeColumns& to) const {
        forSlots([&](std::size_t s) {
            const float own[] = {from[qx][s], from[qy][s], from[qz][s], from[qw][s]};
            float sum[] = {own[0], own[1], own[2], own[3]};
            std::size_t at = first[s];
            for (const std::uint32_t o : near.of(s)) {
                const float other[] = {from[qx][o], from[qy][o], from[qz][o], from[qw][o]};
                const float alike = (own[0] * other[0] + own[1] * other[1]) + (own[2] * other[2] + own[3] * other[3]);
                const float w = alike < 0 ? -weights[at] : weights[at];  // a rotation and its negative mean the same
                ++at;
                for (int c = 0; c < 4; ++c) sum[c] += other[c] * w;
            }
            const float length = std::sqrt((sum[0] * sum[0] + sum[1] * sum[1]) + (sum[2] * sum[2] + sum[3] * sum[3]));
            for (int c = 0; c < 4; ++c) to[static_cast<std::size_t>(qx + c)][s] = sum[c] / std::max(length, 1e-12f);
        });
    }
};

WholeColumns gather(const Smooth& smooth, const WholeSwarm& all, Progress& progress) {
    const std::vector<float>* const columns[columnCount] = {&all.x,      &all.y,      &all.z,      &all.qx, &all.qy, &all.qz, &all.qw,
                                                            &all.scaleX, &all.scaleY, &all.scaleZ, &all.r,  &all.g,  &all.b,  &all.a};
    const auto wanted = [&](int c) {
        return c < qx ? smooth.position : c < scaleX ? smooth.rotation : c < cr ? smooth.scale : smooth.colour;
    };
    const Neighbours near = neighboursWithin(all.x, all.y, all.z, smooth.reach, 64);
    const Averaging averaging(near, all, smooth.reach);
    WholeColumns values(columnCount), next(columnCount), out(columnCount);
    for (std::size_t c = 0; c < columnCount; ++c)
        if (wanted(static_cast<int>(c))) next[c] = values[c] = near.inOrder(*columns[c]);
    for (int round = 0; round < smooth.rounds; ++round) {
        progress.check();
        if (smooth.rotation) averaging.turns(values, next);
        for (int c = 0; c < columnCount; ++c)
            if (wanted(c) && (c < qx || c > qw)) averaging.plain(values[static_cast<std::size_t>(c)], next[static_cast<std::size_t>(c)]);
        std::swap(values, next);
    }
    for (std::size_t c = 0; c < columnCount; ++c) {
        out[c].resize(values[c].size());
        near.putBack(values[c], out[c]);
    }
    return out;
}

void apply(const GestureInput& in, Block& block, EffectColumns& effect) {
    const auto& smooth = in.as<Smooth>();
    const auto whole = [&](int column, int i) {
        return (*in.whole)[static_cast<std::size_t>(column)][static_cast<std::size_t>(in.row + i)];
    };
    const auto mixed = [](float a, float b, float x) { return a + (b - a) * x; };
    const auto mark = [&](EffectChannel channel, int i) { effect.use(channel, in.effectWords)[in.card / 32][i] |= 1u << (in.card % 32); };
    for (int i = 0; i < block.count; ++i) {
        const float x = in.patternSigned ? (block.driven->x[i] + in.towards[i]) * 0.5f : block.driven->x[i];
        if (x == 0) continue;
        // Where neighbours are alike, averaging leaves no more than a rounding error.
        const auto blend = [&](float* column, int which) {
            const float was = column[i];
            column[i] = mixed(was, whole(which, i), x);
            return std::abs(column[i] - was) > rounding * std::max(1.0f, std::abs(was));
        };
        const auto blendAll = [&](Columns3& columns, int first) {
            const bool inX = blend(columns.x, first), inY = blend(columns.y, first + 1), inZ = blend(columns.z, first + 2);
            return inX || inY || inZ;
        };
        if (smooth.position && blendAll(block.position, placeX)) mark(positionEffect, i);
        if (smooth.rotation) {
            float* const columns[] = {block.rotation.x, block.rotation.y, block.rotation.z, block.rotation.w};
            float q[4], alike = 0, length2 = 0;
            for (int c = 0; c < 4; ++c) alike += columns[c][i] * whole(qx + c, i);
            for (int c = 0; c < 4; ++c) {
                q[c] = mixed(columns[c][i], alike < 0 ? -whole(qx + c, i) : whole(qx + c, i), x);
                length2 += q[c] * q[c];
            }
            const float scale = 1 / std::max(std::sqrt(length2), 1e-12f);
            bool turned = false;
            for (int c = 0; c < 4; ++c) {
                const float now = q[c] * scale;
                turned = turned || std::abs(now - columns[c][i]) > rounding;
                columns[c][i] = now;
            }
            if (turned) mark(rotationEffect, i);
        }
        if (smooth.scale && blendAll(block.scale, scaleX)) mark(scaleEffect, i);
        if (smooth.colour) {
            const bool r = blend(block.colour.x, cr), g = blend(block.colour.y, cg), b = blend(block.colour.z, cb);
            if (blend(block.colour.w, ca) || r || g || b) mark(colourEffect, i);
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
    GestureKind kind = gathering(makes(d, apply), gather);
    kind.channels = {"position", "rotation", "scale", "colour"};
    kind.stillReason = "what it evens out is alike already, or no neighbour is within its reach";
    return kind;
}

}  // namespace

const GestureKind smoothGesture = smoothKind();

}  // namespace gswarm
