// Moves, turns, sizes, colours and more: each channel by an amount or to a value.
#include "core/gesture/change.h"

#include <algorithm>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/gesture/change.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"
#include "core/gesture/effect-inl.h"
#include "core/gesture/ramp_lines-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// What one channel goes by: the amounts and x, with an elsewhere value or without.
struct Drive {
    const GestureInput& in;
    const Block& block;
    bool elsewhere;

    HWY_INLINE Vector x(int i) const { return drivenVector(elsewhere ? block.full : *block.driven, in.components, i); }
    HWY_INLINE F toward(int i) const {
        if (!elsewhere) return HWY_NAMESPACE::toward(in, block, i);
        const F full = load(block.full.x + i);
        return in.patternSigned ? hn::Mul(hn::Add(full, read(in.numbers[strengthNumber], i)), number(0.5f)) : full;
    }
    HWY_INLINE F amount(F inside, float outside, int i) const {
        return elsewhere ? mix(number(outside), inside, load(block.where + i)) : inside;
    }
    HWY_INLINE Vector amount(const Vector& inside, const glm::vec3& outside, int i) const {
        return {amount(inside.x, outside.x, i), amount(inside.y, outside.y, i), amount(inside.z, outside.z, i)};
    }
};

void position(const GestureInput& in, const Change& change, Block& block, const Marker& marker) {
    using hn::Add, hn::Mul, hn::Sub;
    const Quaternion toSwarm = conjugate(constant(in.swarm.rotation));
    const F perScale = number(1 / in.swarm.scale), one = number(1);
    const Vector origin{number(in.swarm.position.x), number(in.swarm.position.y), number(in.swarm.position.z)};
    const auto fromWorld = [&](const Vector& v) {
        const Vector r = rotate(toSwarm, v);
        return Vector{Mul(r.x, perScale), Mul(r.y, perScale), Mul(r.z, perScale)};
    };
    const Drive drive{in, block, change.positionHasElsewhere};
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        Vector p = loadVector(block.position, i);
        const Vector amount = drive.amount(readVector(in.numbers + positionNumber, i), change.positionElsewhere, i);
        if (change.positionMode == ChangeMode::by) {
            const Vector x = drive.x(i);
            Vector v{Mul(amount.x, x.x), Mul(amount.y, x.y), Mul(amount.z, x.z)};
            marker.mark(nonZero(v), i);
            switch (change.positionAxes) {
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
            if (change.positionIn == ToAxes::world)
                target = fromWorld({Sub(amount.x, origin.x), Sub(amount.y, origin.y), Sub(amount.z, origin.z)});
            const F x = drive.toward(i);
            marker.overwrite(hn::Eq(x, one), i);
            marker.mark(hn::Ne(x, hn::Zero(Floats())), i);
            p = {mix(p.x, target.x, x), mix(p.y, target.y, x), mix(p.z, target.z, x)};
        }
        storeVector(p, block.position, i);
    }
}

/// One turn about one axis, which is the same for all or each instance's own.
void turnAboutAxis(const GestureInput& in, const Change& change, Block& block, const Marker& marker) {
    const Drive drive{in, block, change.rotationHasElsewhere};
    const Quaternion toSwarm = conjugate(constant(in.swarm.rotation));
    const glm::vec3 letters[] = {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
    const bool lettered = change.turnAbout == TurnAbout::x || change.turnAbout == TurnAbout::y || change.turnAbout == TurnAbout::z;
    const Vector letter = constant(letters[lettered ? static_cast<int>(change.turnAbout) - static_cast<int>(TurnAbout::x) : 1]);
    const Vector worldUp = rotate(toSwarm, constant(glm::vec3(0, 1, 0)));
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        const Quaternion q = loadQuaternion(block.rotation, i), home = loadQuaternion(block.home.rotation, i);
        const Vector normal = rotate(home, constant(glm::vec3(0, 1, 0)));
        Vector axis = letter;
        if (change.turnAbout == TurnAbout::normal) axis = normal;
        if (change.turnAbout == TurnAbout::across) axis = unit(cross(worldUp, normal), rotate(home, constant(glm::vec3(1, 0, 0))));
        if (change.turnAbout == TurnAbout::toward)
            axis = unit(subtract(constant(change.towardPlace), loadVector(block.position, i)), normal);
        if (lettered && change.rotationAxes == ByAxes::world) axis = rotate(toSwarm, letter);
        if (lettered && change.rotationAxes == ByAxes::own) axis = rotate(q, letter);
        if (lettered && change.rotationAxes == ByAxes::normal) axis = rotate(home, letter);
        const F x = drive.elsewhere ? load(block.full.x + i) : load(block.driven->x + i);
        const F turn = hn::Mul(drive.amount(read(in.numbers[angleNumber], i), change.angleElsewhere, i), x);
        marker.mark(hn::Ne(turn, hn::Zero(Floats())), i);
        storeQuaternion(multiply(turnAbout(axis, turn), q), block.rotation, i);
    }
}

void rotation(const GestureInput& in, const Change& change, Block& block, const Marker& marker) {
    using hn::Mul;
    if (change.rotationMode == ChangeMode::by && change.turnAbout != TurnAbout::angles) return turnAboutAxis(in, change, block, marker);
    const Quaternion swarm = constant(in.swarm.rotation);
    const Drive drive{in, block, change.rotationHasElsewhere};
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        Quaternion q = loadQuaternion(block.rotation, i);
        const Vector angles = drive.amount(readVector(in.numbers + rotationNumber, i), change.rotationElsewhere, i);
        if (change.rotationMode == ChangeMode::by) {
            const Vector x = drive.x(i);
            const Vector turn{Mul(angles.x, x.x), Mul(angles.y, x.y), Mul(angles.z, x.z)};
            marker.mark(nonZero(turn), i);
            const Quaternion delta = turnXyz(turn.x, turn.y, turn.z);
            switch (change.rotationAxes) {
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
            if (change.rotationIn == ToAxes::world) target = multiply(conjugate(swarm), target);
            const F x = drive.toward(i);
            marker.overwrite(hn::Eq(x, number(1)), i);
            marker.mark(hn::Ne(x, hn::Zero(Floats())), i);
            q = slerp(q, target, x);
        }
        storeQuaternion(q, block.rotation, i);
    }
}

void scale(const GestureInput& in, const Change& change, Block& block, const Marker& marker) {
    using hn::Add, hn::Max, hn::Mul, hn::Sub;
    const F zero = hn::Zero(Floats()), one = number(1);
    const Drive drive{in, block, change.scaleHasElsewhere};
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        Vector s = loadVector(block.scale, i);
        const Vector amount = drive.amount(readVector(in.numbers + scaleNumber, i), change.scaleElsewhere, i);
        if (change.scaleMode == ChangeMode::by) {
            const Vector x = drive.x(i);
            const Vector more{Mul(Sub(amount.x, one), x.x), Mul(Sub(amount.y, one), x.y), Mul(Sub(amount.z, one), x.z)};
            marker.mark(nonZero(more), i);
            s = {Mul(s.x, Max(zero, Add(one, more.x))), Mul(s.y, Max(zero, Add(one, more.y))), Mul(s.z, Max(zero, Add(one, more.z)))};
        } else {
            const F x = drive.toward(i);
            marker.overwrite(hn::Eq(x, one), i);
            marker.mark(hn::Ne(x, zero), i);
            s = {Max(zero, mix(s.x, amount.x, x)), Max(zero, mix(s.y, amount.y, x)), Max(zero, mix(s.z, amount.z, x))};
        }
        storeVector(s, block.scale, i);
    }
}

void colour(const GestureInput& in, const Change& change, Block& block, const Marker& marker) {
    using hn::Add, hn::Mul, hn::Sub;
    const F zero = hn::Zero(Floats()), one = number(1), half = number(0.5f);
    const bool ramp = change.source == ColourSource::ramp, driven = change.source == ColourSource::driven;
    const Drive drive{in, block, change.colourHasElsewhere && !ramp && !driven};
    const glm::vec4& other = change.colourElsewhere;
    const RampLines lines(change.ramp);
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        const LaneNumber* n = in.numbers + colourNumber;
        Colour to;
        F k;
        if (ramp) {
            F at = load(block.pattern.x + i);
            if (in.patternSigned) at = Mul(Add(at, one), half);
            to = lines.at(at);
            k = load(block.weight + i);
        } else if (driven) {
            const auto seen = [&](const float* column) {
                const F value = load(column + i);
                return in.patternSigned ? Mul(Add(value, one), half) : value;
            };
            const bool three = in.components == 3;
            to = {seen(block.pattern.x), seen(three ? block.pattern.y : block.pattern.x), seen(three ? block.pattern.z : block.pattern.x),
                  change.blend == ColourBlend::mix ? load(block.colour.w + i) : one};
            k = load(block.weight + i);
        } else {
            to = {drive.amount(read(n[0], i), other.x, i), drive.amount(read(n[1], i), other.y, i), drive.amount(read(n[2], i), other.z, i),
                  drive.amount(read(n[3], i), other.w, i)};
            k = drive.toward(i);
        }
        if (change.blend == ColourBlend::mix) marker.overwrite(hn::Eq(k, one), i);
        marker.mark(hn::Ne(k, zero), i);
        Columns4& c = block.colour;
        const Colour was{load(c.x + i), load(c.y + i), load(c.z + i), load(c.w + i)};
        Colour now = was;
        switch (change.blend) {
            case ColourBlend::mix:
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

/// Channels that are there or not: x of a half and more means that they go over.
void shape(const GestureInput& in, const Change& change, Block& block, const Marker& marker) {
    const auto entries = static_cast<int>(change.stock.entries.size());
    alignas(64) float x[16];
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        const F driven = toward(in, block, i), weight = load(block.weight + i), half = number(0.5f);
        store(change.shapeBy == ShapeBy::driven ? load(block.pattern.x + i) : driven, x);
        const Mask over = hn::Ge(change.shapeBy == ShapeBy::driven ? weight : driven, half);
        marker.overwrite(over, i);
        marker.mark(over, i);
        alignas(64) float goes[16];
        store(hn::IfThenElseZero(over, number(1)), goes);
        for (int k = 0; k < lanes(); ++k) {
            if (goes[k] == 0) continue;
            const float share = in.patternSigned ? (x[k] + 1) / 2 : x[k];
            int first = change.shapeVariant, count = change.shapeVariants;
            if (change.shapeBy == ShapeBy::driven) {
                const auto& entry = change.stock.entries[static_cast<std::size_t>(
                    std::clamp(static_cast<int>(std::clamp(share, 0.0f, 1.0f) * static_cast<float>(entries)), 0, entries - 1))];
                first = entry.first;
                count = entry.count;
            }
            block.variant[i + k] = static_cast<std::uint16_t>(first + static_cast<int>(block.order[i + k]) % count);
        }
    }
}

void showing(const GestureInput& in, const Change& change, Block& block, const Marker& marker) {
    const F to = number(change.showingAs == ShowingAs::show ? 1.0f : 0.0f);
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        const F was = load(block.shown + i);
        const F now = hn::IfThenElse(hn::Ge(toward(in, block, i), number(0.5f)), to, was);
        marker.mark(hn::Ne(was, now), i);
        store(now, block.shown + i);
    }
}

void timeAndValue(const GestureInput& in, const Change& change, Block& block, const Marker& marker) {
    using hn::Add, hn::Mul;
    const F zero = hn::Zero(Floats());
    for (int i = 0; i < paddedCount(block) && change.time; i += lanes()) {
        const F shift = Mul(number(change.timeAmount), load(block.driven->x + i));
        marker.mark(hn::Ne(shift, zero), i);
        store(Add(load(block.shift + i), shift), block.shift + i);
    }
    float* column = block.named[change.valueColumn];
    for (int i = 0; i < paddedCount(block) && change.value; i += lanes()) {
        const F was = load(column + i), amount = read(in.numbers[valueNumber], i);
        const F x = change.valueMode == ChangeMode::by ? load(block.driven->x + i) : toward(in, block, i);
        marker.mark(hn::Ne(x, zero), i);
        store(change.valueMode == ChangeMode::by ? Add(was, Mul(amount, x)) : mix(was, amount, x), column + i);
    }
}

void changeLanes(const GestureInput& in, const Change& change, Block& block, EffectColumns& effect) {
    if (change.position) position(in, change, block, markerFor(in, effect, positionEffect));
    if (change.rotation) rotation(in, change, block, markerFor(in, effect, rotationEffect));
    if (change.scale) scale(in, change, block, markerFor(in, effect, scaleEffect));
    if (change.colour) colour(in, change, block, markerFor(in, effect, colourEffect));
    if (change.shape) shape(in, change, block, markerFor(in, effect, otherEffect));
    if (change.showing) showing(in, change, block, markerFor(in, effect, otherEffect));
    if (change.time || change.value) timeAndValue(in, change, block, markerFor(in, effect, otherEffect));
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(changeLanes);

void applyChange(const GestureInput& in, Block& block, EffectColumns& effect) {
    HWY_DYNAMIC_DISPATCH(changeLanes)(in, in.as<Change>(), block, effect);
}

}  // namespace gswarm
#endif
