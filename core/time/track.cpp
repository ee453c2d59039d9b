#include "core/time/track.h"

#include <algorithm>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/time/track.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// Pieces are rebased to the frame, so that a lane needs only its small offset.
void readPiecesLanes(const TrackPieces& track, double frame, const float* offset, int count, float* out) {
    for (int i = 0; i < count; i += lanes()) {
        const F at = load(offset + i);
        F value = number(track.pieces.front().c0);
        for (const auto& piece : track.pieces) {
            const F start = number(static_cast<float>(piece.start - frame));
            const F s = hn::Sub(at, start);
            F v = hn::Add(number(piece.c2), hn::Mul(s, number(piece.c3)));
            v = hn::Add(number(piece.c1), hn::Mul(s, v));
            v = hn::Add(number(piece.c0), hn::Mul(s, v));
            value = hn::IfThenElse(hn::Ge(at, start), v, value);
        }
        store(value, out + i);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(readPiecesLanes);

namespace {

bool before(const Key& key, double frame) { return key.frame < frame; }

/// Keeps the share of the way from 0 to 1 that the ease gives to a share of the time.
double eased(Ease ease, double x) {
    switch (ease) {
        case Ease::hold:
            return 0;
        case Ease::linear:
            return x;
        case Ease::eased:
            return x * x * (3 - 2 * x);
    }
    return x;
}

Track fromKeys(std::vector<Key> keys) { return {keys.front().value, std::make_shared<const std::vector<Key>>(std::move(keys))}; }

}  // namespace

double valueAt(const Track& track, double frame) {
    if (!track.keyed()) return track.value;
    const auto& keys = *track.keys;
    const auto next = std::upper_bound(keys.begin(), keys.end(), frame, [](double f, const Key& key) { return f < key.frame; });
    if (next == keys.begin()) return keys.front().value;
    const Key& from = *(next - 1);
    if (next == keys.end()) return from.value;
    const double x = (frame - from.frame) / (next->frame - from.frame);
    return from.value + (next->value - from.value) * eased(from.ease, x);
}

Track withKey(const Track& track, double frame, double value, Ease ease) {
    std::vector<Key> keys = track.keyed() ? *track.keys : std::vector<Key>();
    const auto at = std::lower_bound(keys.begin(), keys.end(), frame, before);
    if (at != keys.end() && at->frame == frame)
        at->value = value;
    else
        keys.insert(at, {frame, value, ease});
    return fromKeys(std::move(keys));
}

Track withoutKey(const Track& track, double frame) {
    if (!track.keyed()) return track;
    std::vector<Key> keys = *track.keys;
    const double last = keys.back().value;
    std::erase_if(keys, [frame](const Key& key) { return key.frame == frame; });
    return keys.empty() ? Track{last, nullptr} : fromKeys(std::move(keys));
}

Track withMovedKey(const Track& track, double from, double to) {
    if (!track.keyed() || from == to) return track;
    const auto& keys = *track.keys;
    const auto moved = std::lower_bound(keys.begin(), keys.end(), from, before);
    if (moved == keys.end() || moved->frame != from) return track;
    std::vector<Key> rest;
    for (const Key& key : keys)
        if (key.frame != from && key.frame != to) rest.push_back(key);
    rest.insert(std::lower_bound(rest.begin(), rest.end(), to, before), {to, moved->value, moved->ease});
    return fromKeys(std::move(rest));
}

TrackPieces compile(const Track& track) {
    TrackPieces out;
    if (!track.keyed()) {
        out.pieces.push_back({0, static_cast<float>(track.value), 0, 0, 0});
        return out;
    }
    const auto& keys = *track.keys;
    for (std::size_t k = 0; k < keys.size(); ++k) {
        TrackPieces::Piece piece{keys[k].frame, static_cast<float>(keys[k].value), 0, 0, 0};
        if (k + 1 < keys.size() && keys[k].ease != Ease::hold) {
            const double span = keys[k + 1].frame - keys[k].frame;
            const double rise = keys[k + 1].value - keys[k].value;
            if (keys[k].ease == Ease::linear) {
                piece.c1 = static_cast<float>(rise / span);
            } else {
                piece.c2 = static_cast<float>(3 * rise / (span * span));
                piece.c3 = static_cast<float>(-2 * rise / (span * span * span));
            }
        }
        out.pieces.push_back(piece);
    }
    return out;
}

void readPieces(const TrackPieces& pieces, double frame, const float* offset, int count, float* out) {
    HWY_DYNAMIC_DISPATCH(readPiecesLanes)(pieces, frame, offset, count, out);
}

}  // namespace gswarm
#endif
