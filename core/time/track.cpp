#include "core/time/track.h"

#include <algorithm>
#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/time/track.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// Pieces are rebased to the frame, so that a lane needs only its small offset.
void readFewPieces(const TrackPieces& track, double frame, const float* offset, int count, float* out) {
    for (int i = 0; i < count; i += lanes()) {
        const F at = load(offset + i);
        F value = hn::Zero(Floats());
        bool first = true;
        for (const auto& piece : track.pieces) {
            const F start = number(static_cast<float>(piece.start - frame));
            const F s = hn::Sub(at, start);
            F v = hn::Add(number(piece.c2), hn::Mul(s, number(piece.c3)));
            v = hn::Add(number(piece.c1), hn::Mul(s, v));
            v = hn::Add(number(piece.c0), hn::Mul(s, v));
            value = first ? v : hn::IfThenElse(hn::Ge(at, start), v, value);
            first = false;
        }
        store(value, out + i);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(readFewPieces);

namespace {

constexpr std::size_t mostPieces = 100'000;

bool before(const Key& key, double frame) { return key.frame < frame; }

/// The way from one key to the next: value = c0 + s (c1 + s (c2 + s c3)), s frames since its start.
struct Way {
    double start, c0, c1, c2, c3;

    double at(double frame) const {
        const double s = frame - start;
        return c0 + s * (c1 + s * (c2 + s * c3));
    }
    double slope(double frame) const {
        const double s = frame - start;
        return c1 + s * (2 * c2 + s * 3 * c3);
    }
    TrackPieces::Piece piece() const {
        return {start, static_cast<float>(c0), static_cast<float>(c1), static_cast<float>(c2), static_cast<float>(c3)};
    }
};

/// The cubic from one value to another with given slopes, units a frame (Hermite).
Way cubic(double start, double span, double from, double to, double leaves, double arrives) {
    const double rise = to - from;
    return {start, from, leaves, (3 * rise - span * (2 * leaves + arrives)) / (span * span),
            (span * (leaves + arrives) - 2 * rise) / (span * span * span)};
}

std::pair<double, double> slopesBetween(const Key& a, const Key& b) {
    if (a.ease == Ease::free) return {a.out, b.in};
    const EaseSlopes shares = slopesOf(a.ease);
    const double perFrame = (b.value - a.value) / (b.frame - a.frame);
    return {shares.leaves * perFrame, shares.arrives * perFrame};
}

Way wayBetween(const Key& a, const Key& b) {
    if (a.ease == Ease::hold) return {a.frame, a.value, 0, 0, 0};
    const auto [leaves, arrives] = slopesBetween(a, b);
    return cubic(a.frame, b.frame - a.frame, a.value, b.value, leaves, arrives);
}

/// A frame beyond the keys, brought back among them; `sign` is −1 where it goes backwards there.
struct Folded {
    double frame, sign;
};
Folded folded(const std::vector<Key>& keys, Beyond beyond, double frame) {
    const double first = keys.front().frame, span = keys.back().frame - first;
    const double laps = (frame - first) / span, whole = std::floor(laps);
    const double into = frame - first - whole * span;
    if (beyond == Beyond::backAndForth && std::fmod(whole, 2) != 0) return {first + span - into, -1};
    return {first + into, 1};
}

/// Before the first and after the last key of a track that just goes on.
Way beyondWay(const std::vector<Key>& keys, Beyond beyond, bool after) {
    const Key& end = after ? keys.back() : keys.front();
    double slope = 0;
    if (beyond == Beyond::goOn && keys.size() > 1) {
        const std::size_t from = after ? keys.size() - 2 : 0;
        slope = wayBetween(keys[from], keys[from + 1]).slope(end.frame);
    }
    return {end.frame, end.value, slope, 0, 0};
}

/// The way that serves a frame, and the frame to ask it for.
std::pair<Way, Folded> wayAt(const Track& track, double frame) {
    const auto& keys = *track.keys;
    Folded at{frame, 1};
    const bool early = frame < keys.front().frame, late = frame >= keys.back().frame;
    if (early || late) {
        const Beyond beyond = early ? track.before : track.after;
        if (keys.size() == 1 || beyond == Beyond::hold || beyond == Beyond::goOn) return {beyondWay(keys, beyond, late), at};
        at = folded(keys, beyond, frame);
    }
    const auto next = std::upper_bound(keys.begin(), keys.end(), at.frame, [](double f, const Key& key) { return f < key.frame; });
    if (next == keys.end()) return {{keys.back().frame, keys.back().value, 0, 0, 0}, at};
    return {wayBetween(*(next - 1), *next), at};
}

Way backwards(const Key& a, const Key& b, double start) {
    if (a.ease == Ease::hold) return {start, a.value, 0, 0, 0};
    const auto [leaves, arrives] = slopesBetween(a, b);
    return cubic(start, b.frame - a.frame, b.value, a.value, -arrives, -leaves);
}

/// One run through all keys, beginning at a frame.
void addLap(const std::vector<Key>& keys, double start, bool back, double from, double to, TrackPieces& out) {
    for (std::size_t k = 0; k + 1 < keys.size() && out.pieces.size() < mostPieces; ++k) {
        const std::size_t a = back ? keys.size() - 2 - k : k;
        const double begins = start + (back ? keys.back().frame - keys[a + 1].frame : keys[a].frame - keys.front().frame);
        if (begins + keys[a + 1].frame - keys[a].frame < from || begins > to) continue;
        Way way = back ? backwards(keys[a], keys[a + 1], begins) : wayBetween(keys[a], keys[a + 1]);
        way.start = begins;
        out.pieces.push_back(way.piece());
    }
}

void addBeyond(const Track& track, double from, double to, bool after, TrackPieces& out) {
    const auto& keys = *track.keys;
    const Beyond beyond = after ? track.after : track.before;
    const double first = keys.front().frame, last = keys.back().frame, span = last - first;
    if (keys.size() == 1 || beyond == Beyond::hold || beyond == Beyond::goOn) {
        Way way = beyondWay(keys, beyond, after);
        if (!after) way = {from, way.at(from), way.c1, 0, 0};
        out.pieces.push_back(way.piece());
        return;
    }
    const double begin = after ? last : from, end = after ? to : first;
    for (double lap = std::floor((begin - first) / span); first + lap * span < end && out.pieces.size() < mostPieces; ++lap)
        addLap(keys, first + lap * span, beyond == Beyond::backAndForth && std::fmod(lap, 2) != 0, begin, end, out);
}

void readManyPieces(const TrackPieces& track, double frame, const float* offset, int count, float* out) {
    const auto starts = [frame](float at, const TrackPieces::Piece& piece) { return at < static_cast<float>(piece.start - frame); };
    for (int i = 0; i < count; ++i) {
        auto after = std::upper_bound(track.pieces.begin() + 1, track.pieces.end(), offset[i], starts);
        const TrackPieces::Piece& piece = *(after - 1);
        const float s = offset[i] - static_cast<float>(piece.start - frame);
        out[i] = piece.c0 + s * (piece.c1 + s * (piece.c2 + s * piece.c3));
    }
}

}  // namespace

EaseSlopes slopesOf(Ease ease) {
    switch (ease) {
        case Ease::linear:
            return {1, 1};
        case Ease::slowStart:
            return {0, 2};
        case Ease::slowEnd:
            return {2, 0};
        case Ease::overshoot:
            return {5, 0};
        case Ease::backFirst:
            return {0, 5};
        case Ease::hold:
        case Ease::eased:
        case Ease::free:
            break;
    }
    return {0, 0};
}

double keyedValueAt(const Track& track, double frame) {
    if (!track.keyed()) return track.value;
    const auto [way, at] = wayAt(track, frame);
    return way.at(at.frame);
}

double slopeAt(const Track& track, double frame) {
    if (!track.keyed()) return 0;
    const auto [way, at] = wayAt(track, frame);
    return way.slope(at.frame) * at.sign;
}

Track withKeys(const Track& track, std::vector<Key> keys) {
    Track out = track;
    out.formula.reset();
    out.link.reset();
    if (keys.empty()) {
        out.keys.reset();
        return out;
    }
    std::stable_sort(keys.begin(), keys.end(), [](const Key& a, const Key& b) { return a.frame < b.frame; });
    std::vector<Key> kept;
    for (const Key& key : keys) {
        if (!kept.empty() && kept.back().frame == key.frame) kept.pop_back();
        kept.push_back(key);
    }
    out.value = kept.front().value;
    out.keys = std::make_shared<const std::vector<Key>>(std::move(kept));
    return out;
}

Track withKey(const Track& track, double frame, double value, Ease ease) {
    std::vector<Key> keys = track.keyed() ? *track.keys : std::vector<Key>();
    const auto at = std::lower_bound(keys.begin(), keys.end(), frame, before);
    if (at != keys.end() && at->frame == frame)
        at->value = value;
    else
        keys.insert(at, {frame, value, ease});
    return withKeys(track, std::move(keys));
}

Track withoutKey(const Track& track, double frame) {
    if (!track.keyed()) return track;
    std::vector<Key> keys = *track.keys;
    const double last = keys.back().value;
    std::erase_if(keys, [frame](const Key& key) { return key.frame == frame; });
    Track out = withKeys(track, std::move(keys));
    if (!out.keyed()) out.value = last;
    return out;
}

Track scaledTrack(const Track& track, double factor) {
    Track out = track;
    out.value *= factor;
    if (!track.keyed()) return out;
    std::vector<Key> keys = *track.keys;
    for (Key& key : keys) key.value *= factor, key.in *= factor, key.out *= factor;
    out.keys = std::make_shared<const std::vector<Key>>(std::move(keys));
    return out;
}

TrackPieces piecesOf(const Track& track, double from, double to) {
    TrackPieces out;
    if (!track.keyed()) {
        out.pieces.push_back({0, static_cast<float>(track.value), 0, 0, 0});
        return out;
    }
    const auto& keys = *track.keys;
    if (from < keys.front().frame) addBeyond(track, from, to, false, out);
    addLap(keys, keys.front().frame, false, from, to, out);
    if (to >= keys.back().frame) addBeyond(track, from, to, true, out);
    if (out.pieces.empty()) out.pieces.push_back({0, static_cast<float>(keyedValueAt(track, from)), 0, 0, 0});
    return out;
}

TrackPieces sampledPieces(const std::function<double(double)>& valueAt, double from, double to) {
    constexpr double step = 0.5;  // frames
    const double start = std::floor(from / step) * step;
    const auto count = static_cast<std::size_t>(std::min(std::ceil((to - start) / step), double(mostPieces))) + 1;
    std::vector<double> values;
    for (std::size_t k = 0; k < count + 3; ++k) values.push_back(valueAt(start + (double(k) - 1) * step));
    const auto slope = [&](std::size_t k) { return (values[k + 1] - values[k - 1]) / (2 * step); };
    TrackPieces out;
    for (std::size_t k = 1; k <= count; ++k)
        out.pieces.push_back(cubic(start + double(k - 1) * step, step, values[k], values[k + 1], slope(k), slope(k + 1)).piece());
    return out;
}

void readPieces(const TrackPieces& pieces, double frame, const float* offset, int count, float* out) {
    constexpr std::size_t few = 16;
    if (pieces.pieces.size() > few)
        readManyPieces(pieces, frame, offset, count, out);
    else
        HWY_DYNAMIC_DISPATCH(readFewPieces)(pieces, frame, offset, count, out);
}

}  // namespace gswarm
#endif
