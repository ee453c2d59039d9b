#include "core/flow/number_lane.h"

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/formula/instance_formula.h"
#include "core/formula/parse.h"
#include "core/scene/rail_source.h"

namespace gswarm {
namespace {

bool readsInstance(const Track& track) { return track.formula && numberFormula(*track.formula)->readsInstance; }

/// Whether a formula's name stands for a named value of the swarm, of which every instance has its own.
bool namesColumn(const Track& track, const RailSource& source) {
    return track.formula && std::any_of(track.formula->names.begin(), track.formula->names.end(),
                                        [&](const auto& name) { return source.columnAt(name.second).has_value(); });
}

/// The track behind one of a formula's names, or of a link.
NumberLane laneBehind(const Scene& scene, const std::string& address, const RailSource& source, double from, double to) {
    NumberLane lane;
    if (const auto column = source.columnAt(address)) {
        lane.column = *column;
        return lane;
    }
    const double now = source.number(address);
    source.hash->add(now);
    lane.value = static_cast<float>(now);
    if (from == to) return lane;
    lane.pieces = sampledPieces([&](double frame) { return valueAtAddress(scene, address, frame).value_or(now); }, from, to);
    source.hash->add(source.moment.frame);
    return lane;
}

}  // namespace

NumberLane laneOf(const Scene& scene, const Track& track, const RailSource& source, double from, double to) {
    NumberLane lane;
    const double frame = source.moment.frame;
    lane.value = static_cast<float>(valueAt(scene, track, frame));
    if (!track.moves()) return lane;
    if (const std::string trouble = troubleOf(scene, track, frame); !trouble.empty() && track.formula) throw Error(trouble);
    if (readsInstance(track) || namesColumn(track, source)) {
        lane.formula = numberFormula(*track.formula);
        source.hash->add(track.formula->text);
        if (lane.formula->readsTime) source.hash->add(frame);
        for (const auto& [name, address] : track.formula->names) lane.names.push_back(laneBehind(scene, address, source, from, to));
        return lane;
    }
    if (from == to) return lane;
    lane.pieces = track.keyed() ? piecesOf(track, from, to) : sampledPieces([&](double f) { return valueAt(scene, track, f); }, from, to);
    return lane;
}

bool readLane(const NumberLane& lane, Block& block, const Moment& moment, const LaneNumber& offset, float* out) {
    const int padded = paddedCount(block);
    if (lane.column >= 0) {
        std::copy_n(block.named[lane.column], padded, out);
    } else if (lane.formula) {
        const float* names[mostFormulaNames] = {};
        struct alignas(64) Names {
            Column column[mostFormulaNames];
        };
        thread_local const std::unique_ptr<Names> columns = std::make_unique<Names>();
        for (std::size_t k = 0; k < lane.names.size(); ++k) {
            readLane(lane.names[k], block, moment, offset, columns->column[k]);
            names[k] = columns->column[k];
        }
        runInBlock(lane.formula->program, block, moment, offset, {names, lane.names.size()}, out);
    } else if (!lane.pieces.empty() && offset.column) {
        readPieces(lane.pieces, moment.frame, offset.column, padded, out);
    } else {
        std::fill_n(out, padded, lane.value);
        return false;
    }
    // What is no number or infinite stays so, for the card to deal with.
    for (int i = 0; i < padded; ++i)
        out[i] = (std::abs(out[i]) < 1e30f ? std::min(std::max(out[i], lane.low), lane.high) : out[i]) * lane.factor;
    return lane.formula != nullptr;
}

}  // namespace gswarm
