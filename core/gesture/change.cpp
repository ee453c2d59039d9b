#include "core/gesture/change.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/gesture/change.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

using Mask = hn::Mask<Floats>;

HWY_INLINE Vector loadVector(const Columns3& c, int i) { return {load(c.x + i), load(c.y + i), load(c.z + i)}; }
HWY_INLINE Quaternion loadQuaternion(const Columns4& c, int i) { return {load(c.x + i), load(c.y + i), load(c.z + i), load(c.w + i)}; }
HWY_INLINE void storeVector(const Vector& v, Columns3& c, int i) {
    store(v.x, c.x + i);
    store(v.y, c.y + i);
    store(v.z, c.z + i);
}
HWY_INLINE Quaternion constant(const glm::quat& q) { return {number(q.x), number(q.y), number(q.z), number(q.w)}; }
HWY_INLINE Vector readVector(const LaneNumber* n, int i) { return {read(n[0], i), read(n[1], i), read(n[2], i)}; }

/// x for the three axes: the same column three times, or three.
HWY_INLINE Vector drivenVector(const ChangeInput& in, const Block& block, int i) {
    if (in.components == 3) return loadVector(block.driven, i);
    const F x = load(block.driven.x + i);
    return {x, x, x};
}

/// x for channels that go toward something: 0 … 1, so a signed value enters as (v + 1) / 2.
HWY_INLINE F toward(const ChangeInput& in, const Block& block, int i) {
    const F x = load(block.driven.x + i);
    return in.patternSigned ? hn::Mul(hn::Add(x, load(block.weight + i)), number(0.5f)) : x;
}

HWY_INLINE Mask nonZero(const Vector& v) {
    const F zero = hn::Zero(Floats());
    return hn::Or(hn::Or(hn::Ne(v.x, zero), hn::Ne(v.y, zero)), hn::Ne(v.z, zero));
}

/// Sets this card's bit in one channel's columns.
struct Marker {
    WordColumn* words;
    int word, wordCount;
    W bit;

    HWY_INLINE void mark(Mask touched, int i) const {
        const W now = load(words[word] + i);
        store(hn::Or(now, hn::IfThenElseZero(hn::RebindMask(Words(), touched), bit)), words[word] + i);
    }
    /// Where the card went the whole way, what earlier cards did to the channel is gone.
    HWY_INLINE void overwrite(Mask whole, int i) const {
        for (int k = 0; k < wordCount; ++k) store(hn::IfThenZeroElse(hn::RebindMask(Words(), whole), load(words[k] + i)), words[k] + i);
    }
};

Marker markerFor(const ChangeInput& in, EffectColumns& effect, int channel) {
    return {effect.channel[channel], in.card / 32, in.card / 32 + 1, hn::Set(Words(), 1u << (in.card % 32))};
}

void position(const ChangeInput& in, Block& block, const Marker& marker) {
    using hn::Add, hn::Mul, hn::Sub;
    const Quaternion toSwarm = conjugate(constant(in.swarmRotation));
    const F perScale = number(1 / in.swarmScale), one = number(1);
    const Vector origin{number(in.swarmPosition.x), number(in.swarmPosition.y), number(in.swarmPosition.z)};
    const auto fromWorld = [&](const Vector& v) {
        const Vector r = rotate(toSwarm, v);
        return Vector{Mul(r.x, perScale), Mul(r.y, perScale), Mul(r.z, perScale)};
    };
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        Vector p = loadVector(block.position, i);
        const Vector amount = readVector(in.numbers + positionNumber, i);
        if (in.change.positionMode == ChangeMode::by) {
            const Vector x = drivenVector(in, block, i);
            Vector v{Mul(amount.x, x.x), Mul(amount.y, x.y), Mul(amount.z, x.z)};
            marker.mark(nonZero(v), i);
            switch (in.change.positionAxes) {
                case ByAxes::swarm:
                    break;
                case ByAxes::world:
                    v = fromWorld(v);
                    break;
                case ByAxes::own:
                    v = rotate(loadQuaternion(block.rotation, i), v);
                    break;
                case ByAxes::normal:
                    v = rotate(loadQuaternion(block.home.rotation, i), v);
                    break;
            }
            p = {Add(p.x, v.x), Add(p.y, v.y), Add(p.z, v.z)};
        } else {
            Vector target = amount;
            if (in.change.positionIn == ToAxes::world)
                target = fromWorld({Sub(amount.x, origin.x), Sub(amount.y, origin.y), Sub(amount.z, origin.z)});
            const F x = toward(in, block, i);
            marker.overwrite(hn::Eq(x, one), i);
            marker.mark(hn::Ne(x, hn::Zero(Floats())), i);
            p = {mix(p.x, target.x, x), mix(p.y, target.y, x), mix(p.z, target.z, x)};
        }
        storeVector(p, block.position, i);
    }
}

void rotation(const ChangeInput& in, Block& block, const Marker& marker) {
    using hn::Mul;
    const Quaternion swarm = constant(in.swarmRotation);
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        Quaternion q = loadQuaternion(block.rotation, i);
        const Vector angles = readVector(in.numbers + rotationNumber, i);
        if (in.change.rotationMode == ChangeMode::by) {
            const Vector x = drivenVector(in, block, i);
            const Vector turn{Mul(angles.x, x.x), Mul(angles.y, x.y), Mul(angles.z, x.z)};
            marker.mark(nonZero(turn), i);
            const Quaternion delta = turnXyz(turn.x, turn.y, turn.z);
            switch (in.change.rotationAxes) {
                case ByAxes::swarm:
                    q = multiply(delta, q);
                    break;
                case ByAxes::world:
                    q = multiply(multiply(multiply(conjugate(swarm), delta), swarm), q);
                    break;
                case ByAxes::own:
                    q = multiply(q, delta);
                    break;
                case ByAxes::normal: {
                    const Quaternion home = loadQuaternion(block.home.rotation, i);
                    q = multiply(multiply(multiply(home, delta), conjugate(home)), q);
                    break;
                }
            }
        } else {
            Quaternion target = turnXyz(angles.x, angles.y, angles.z);
            if (in.change.rotationIn == ToAxes::world) target = multiply(conjugate(swarm), target);
            const F x = toward(in, block, i);
            marker.overwrite(hn::Eq(x, number(1)), i);
            marker.mark(hn::Ne(x, hn::Zero(Floats())), i);
            q = slerp(q, target, x);
        }
        store(q.x, block.rotation.x + i);
        store(q.y, block.rotation.y + i);
        store(q.z, block.rotation.z + i);
        store(q.w, block.rotation.w + i);
    }
}

void scale(const ChangeInput& in, Block& block, const Marker& marker) {
    using hn::Add, hn::Max, hn::Mul, hn::Sub;
    const F zero = hn::Zero(Floats()), one = number(1);
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        Vector s = loadVector(block.scale, i);
        const Vector amount = readVector(in.numbers + scaleNumber, i);
        if (in.change.scaleMode == ChangeMode::by) {
            const Vector x = drivenVector(in, block, i);
            const Vector more{Mul(Sub(amount.x, one), x.x), Mul(Sub(amount.y, one), x.y), Mul(Sub(amount.z, one), x.z)};
            marker.mark(nonZero(more), i);
            s = {Mul(s.x, Max(zero, Add(one, more.x))), Mul(s.y, Max(zero, Add(one, more.y))), Mul(s.z, Max(zero, Add(one, more.z)))};
        } else {
            const F x = toward(in, block, i);
            marker.overwrite(hn::Eq(x, one), i);
            marker.mark(hn::Ne(x, zero), i);
            s = {Max(zero, mix(s.x, amount.x, x)), Max(zero, mix(s.y, amount.y, x)), Max(zero, mix(s.z, amount.z, x))};
        }
        storeVector(s, block.scale, i);
    }
}

struct Colour {
    F r, g, b, a;
};

/// Straight lines between the stops in linear light, as a sum of clamped slopes.
HWY_INLINE Colour readRamp(const RampTable& ramp, F x) {
    using hn::Add, hn::Mul, hn::Sub;
    const glm::vec4& first = ramp.colour[0];
    Colour c{number(first.x), number(first.y), number(first.z), number(first.w)};
    for (int k = 1; k < ramp.count; ++k) {
        const float width = ramp.at[k] - ramp.at[k - 1];
        const glm::vec4 rise = ramp.colour[k] - ramp.colour[k - 1];
        const F share = clamp01(Mul(Sub(x, number(ramp.at[k - 1])), number(width > 1e-6f ? 1 / width : 1e6f)));
        c = {Add(c.r, Mul(share, number(rise.x))), Add(c.g, Mul(share, number(rise.y))), Add(c.b, Mul(share, number(rise.z))),
             Add(c.a, Mul(share, number(rise.w)))};
    }
    return c;
}

void colour(const ChangeInput& in, Block& block, const Marker& marker) {
    using hn::Add, hn::Mul, hn::Sub;
    const F zero = hn::Zero(Floats()), one = number(1), half = number(0.5f);
    const bool ramp = in.change.source == ColourSource::ramp;
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        const LaneNumber* n = in.numbers + colourNumber;
        Colour to;
        F k;
        if (ramp) {
            F at = load(block.pattern.x + i);
            if (in.patternSigned) at = Mul(Add(at, one), half);
            to = readRamp(in.change.ramp, at);
            k = load(block.weight + i);
        } else {
            to = {read(n[0], i), read(n[1], i), read(n[2], i), read(n[3], i)};
            k = toward(in, block, i);
        }
        marker.mark(hn::Ne(k, zero), i);
        Columns4& c = block.colour;
        const Colour was{load(c.x + i), load(c.y + i), load(c.z + i), load(c.w + i)};
        Colour now = was;
        switch (in.change.blend) {
            case ColourBlend::mix:
                marker.overwrite(hn::Eq(k, one), i);
                marker.mark(hn::Ne(k, zero), i);
                now = {mix(was.r, to.r, k), mix(was.g, to.g, k), mix(was.b, to.b, k), mix(was.a, to.a, k)};
                break;
            case ColourBlend::multiply:
                now = {Mul(was.r, mix(one, to.r, k)), Mul(was.g, mix(one, to.g, k)), Mul(was.b, mix(one, to.b, k)),
                       Mul(was.a, mix(one, to.a, k))};
                break;
            case ColourBlend::add:
                now = {Add(was.r, Mul(to.r, k)), Add(was.g, Mul(to.g, k)), Add(was.b, Mul(to.b, k)), was.a};
                break;
        }
        store(now.r, c.x + i);
        store(now.g, c.y + i);
        store(now.b, c.z + i);
        store(now.a, c.w + i);
    }
}

void changeLanes(const ChangeInput& in, Block& block, EffectColumns& effect) {
    if (in.change.position) position(in, block, markerFor(in, effect, 0));
    if (in.change.rotation) rotation(in, block, markerFor(in, effect, 1));
    if (in.change.scale) scale(in, block, markerFor(in, effect, 2));
    if (in.change.colour) colour(in, block, markerFor(in, effect, 3));
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(changeLanes);

void applyChange(const ChangeInput& in, Block& block, EffectColumns& effect) { HWY_DYNAMIC_DISPATCH(changeLanes)(in, block, effect); }

namespace {

std::vector<Choice> byTo() { return {{"by", "By"}, {"to", "To"}}; }
std::vector<Choice> byAxes() { return {{"swarm", "Swarm"}, {"world", "World"}, {"own", "Own"}, {"normal", "Normal"}}; }
std::vector<Choice> toAxes() { return {{"swarm", "Swarm"}, {"world", "World"}}; }
const std::vector<std::string> on{"on"};

}  // namespace

const Kind changeGesture =
    Describe<Change, Kind>(Family::gesture, "change", "Change", "Moves, turns, sizes and colours")
        .number("strength", &Change::strength, 100, {0, 100}, "How strongly the whole gesture acts")
        .unit("%")
        .hard(-1000, 1000)
        .perInstance()
        .choice("place", &Change::place, {{"home", "Home"}, {"current", "Where it is now"}},
                "Which place of an instance patterns and zones look at")
        .label("Reads place")
        .toggle("position", &Change::position, false, "Moves instances")
        .choice("positionMode", &Change::positionMode, byTo(), "By adds to what is there, to goes toward a place")
        .label("Position")
        .only("position", on)
        .choice("positionAxes", &Change::positionAxes, byAxes(), "Whose X, Y and Z are meant")
        .label("Axes")
        .only("position", on)
        .only("positionMode", {"by"})
        .choice("positionIn", &Change::positionIn, toAxes(), "Where the place is measured")
        .label("Measured in")
        .only("position", on)
        .only("positionMode", {"to"})
        .length("positionAmount", &Change::positionAmount, {0, 1, 0}, {-5, 5}, "How far, or the place to go to")
        .label("Amount")
        .only("position", on)
        .perInstance()
        .toggle("rotation", &Change::rotation, false, "Turns instances")
        .choice("rotationMode", &Change::rotationMode, byTo(), "By adds to what is there, to goes toward a turn")
        .label("Rotation")
        .only("rotation", on)
        .choice("rotationAxes", &Change::rotationAxes, byAxes(), "Whose X, Y and Z are meant")
        .label("Axes")
        .only("rotation", on)
        .only("rotationMode", {"by"})
        .choice("rotationIn", &Change::rotationIn, toAxes(), "Where the turn is measured")
        .label("Measured in")
        .only("rotation", on)
        .only("rotationMode", {"to"})
        .angle("rotationAmount", &Change::rotationAmount, {0, 90, 0}, {-360, 360}, "Turns about X, then Y, then Z")
        .label("Amount")
        .hard(-36000, 36000)
        .only("rotation", on)
        .perInstance()
        .toggle("scale", &Change::scale, false, "Sizes instances")
        .choice("scaleMode", &Change::scaleMode, byTo(), "By multiplies what is there, to goes toward a size")
        .label("Scale")
        .only("scale", on)
        .number("scaleAmount", &Change::scaleAmount, {1.5, 1.5, 1.5}, {0, 3}, "The factor, or the size to go to")
        .label("Amount")
        .hard(0, 1e4)
        .only("scale", on)
        .perInstance()
        .toggle("colour", &Change::colour, false, "Colours instances")
        .choice("blend", &Change::blend, {{"mix", "Mix"}, {"multiply", "Multiply"}, {"add", "Add"}}, "How the colour joins what is there")
        .only("colour", on)
        .choice("source", &Change::source, {{"single", "Single"}, {"ramp", "Ramp"}},
                "A single one, or stops along a ramp read by what drives the gesture")
        .label("From")
        .only("colour", on)
        .colour("colourAmount", &Change::colourAmount, {0.85, 0.64, 0.25, 1}, "The colour to go to")
        .label("Colour")
        .only("colour", on)
        .only("source", {"single"})
        .perInstance()
        .ramp("ramp", &Change::ramp, {{0, {0.16, 0.12, 0.09, 1}}, {0.6, {0.72, 0.5, 0.2, 1}}, {1, {1, 0.9, 0.66, 1}}},
              "The colours from 0 to 1")
        .only("colour", on)
        .only("source", {"ramp"})
        .kind();

}  // namespace gswarm
#endif
