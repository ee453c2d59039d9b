#include "core/flow/zone_lanes.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/flow/zone_lanes.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

HWY_INLINE Quaternion constantRotation(const glm::quat& q) { return {number(q.x), number(q.y), number(q.z), number(q.w)}; }
HWY_INLINE Vector loadPlace(const Columns3& c, int i) { return {load(c.x + i), load(c.y + i), load(c.z + i)}; }
HWY_INLINE void storePlace(const Vector& v, Columns3& c, int i) {
    store(v.x, c.x + i);
    store(v.y, c.y + i);
    store(v.z, c.z + i);
}

void toWorldLanes(const WorldPose& pose, const Columns3& in, int count, Columns3& out) {
    using hn::Add, hn::Mul;
    const Quaternion q = constantRotation(pose.rotation);
    const F s = number(pose.scale);
    const bool turned = pose.rotation != glm::quat(1, 0, 0, 0);
    for (int i = 0; i < count; i += lanes()) {
        const Vector p = loadPlace(in, i);
        Vector r{Mul(p.x, s), Mul(p.y, s), Mul(p.z, s)};
        if (turned) r = rotate(q, r);
        storePlace({Add(r.x, number(pose.position.x)), Add(r.y, number(pose.position.y)), Add(r.z, number(pose.position.z))}, out, i);
    }
}

void toZoneLanes(const ZoneState& zone, const Columns3& world, int count, Columns3& out) {
    using hn::Sub;
    const Quaternion back = conjugate(constantRotation(zone.rotation));
    const bool turned = zone.rotation != glm::quat(1, 0, 0, 0);
    for (int i = 0; i < count; i += lanes()) {
        const Vector p = loadPlace(world, i);
        const Vector d{Sub(p.x, number(zone.position.x)), Sub(p.y, number(zone.position.y)), Sub(p.z, number(zone.position.z))};
        storePlace(turned ? rotate(back, d) : d, out, i);
    }
}

void toZoneAtOwnTimeLanes(const WeaveStep& step, double frame, const float* offset, const Columns3& world, int count, int numberCount,
                          Columns3& out, Column* numbers) {
    using hn::Add, hn::Sub;
    constexpr int stride = sizeof(ZoneState) / sizeof(float);
    const auto* first = reinterpret_cast<const float*>(step.states.data());
    const F from = number(static_cast<float>(frame - step.firstFrame));
    const F last = number(static_cast<float>(step.states.size()) - 2);
    for (int i = 0; i < count; i += lanes()) {
        const F at = hn::Min(hn::Max(Add(from, load(offset + i)), hn::Zero(Floats())), Add(last, number(1)));
        const F whole = hn::Min(hn::Floor(at), last);
        const F share = Sub(at, whole);
        const I index = hn::Mul(toWhole(whole), hn::Set(Wholes(), stride));
        const auto member = [&](std::size_t byte, int frameOn) {
            const int floats = static_cast<int>(byte / sizeof(float)) + frameOn * stride;
            return hn::GatherIndex(Floats(), first, hn::Add(index, hn::Set(Wholes(), floats)));
        };
        const auto mixed = [&](std::size_t byte) { return mix(member(byte, 0), member(byte, 1), share); };
        const auto rotationAt = [&](int frameOn) {
            constexpr std::size_t q = offsetof(ZoneState, rotation);
            return Quaternion{member(q + offsetof(glm::quat, x), frameOn), member(q + offsetof(glm::quat, y), frameOn),
                              member(q + offsetof(glm::quat, z), frameOn), member(q + offsetof(glm::quat, w), frameOn)};
        };
        constexpr std::size_t p = offsetof(ZoneState, position);
        const Vector place = loadPlace(world, i);
        const Vector d{Sub(place.x, mixed(p)), Sub(place.y, mixed(p + 4)), Sub(place.z, mixed(p + 8))};
        storePlace(rotate(conjugate(slerp(rotationAt(0), rotationAt(1), share)), d), out, i);
        for (int n = 0; n < numberCount; ++n) store(mixed(offsetof(ZoneState, numbers) + static_cast<std::size_t>(n) * 4), numbers[n] + i);
    }
}

void weaveLanes(WeaveOperation operation, float amount, const float* zone, int count, float* weight) {
    using hn::Add, hn::Mul, hn::Sub;
    const F k = number(amount), one = number(1);
    for (int i = 0; i < count; i += lanes()) {
        const F a = load(weight + i), b = load(zone + i);
        F v = a;
        switch (operation) {
            case WeaveOperation::cut:
                v = Mul(a, Sub(one, Mul(k, b)));
                break;
            case WeaveOperation::minus:
                v = Sub(a, Mul(k, b));
                break;
            case WeaveOperation::larger:
                v = mix(a, hn::Max(a, b), k);
                break;
            case WeaveOperation::smaller:
                v = mix(a, hn::Min(a, b), k);
                break;
            case WeaveOperation::difference:
                v = mix(a, hn::Abs(Sub(a, b)), k);
                break;
            case WeaveOperation::mix:
                v = mix(a, b, k);
                break;
            case WeaveOperation::screen:
                v = Sub(one, Mul(Sub(one, a), Sub(one, Mul(k, b))));
                break;
            case WeaveOperation::add:
                v = Add(a, Mul(k, b));
                break;
            case WeaveOperation::times:
                v = Mul(a, mix(one, b, k));
                break;
        }
        store(v, weight + i);
    }
}

WeightCount countWeightsLanes(const float* weight, int count) {
    const F zero = hn::Zero(Floats());
    F least = number(weight[0]), most = least;
    std::size_t touched = 0;
    for (int i = 0; i < count; i += lanes()) {
        const auto inside = hn::FirstN(Floats(), static_cast<std::size_t>(count - i));
        const F w = hn::IfThenElse(inside, load(weight + i), number(weight[0]));
        least = hn::Min(least, w);
        most = hn::Max(most, w);
        touched += hn::CountTrue(Floats(), hn::And(inside, hn::Ne(w, zero)));
    }
    return {static_cast<int>(touched), hn::GetLane(hn::MinOfLanes(Floats(), least)), hn::GetLane(hn::MaxOfLanes(Floats(), most))};
}

void driveLanes(const LaneNumber& strength, int components, bool full, Block& block) {
    float* const from[] = {block.pattern.x, block.pattern.y, block.pattern.z};
    float* const to[] = {block.weighed.x, block.weighed.y, block.weighed.z};
    float* const whole[] = {block.full.x, block.full.y, block.full.z};
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        const F s = read(strength, i), w = hn::Mul(load(block.where + i), s);
        store(w, block.weight + i);
        for (int c = 0; c < components; ++c) store(hn::Mul(w, load(from[c] + i)), to[c] + i);
        if (full)
            for (int c = 0; c < components; ++c) store(hn::Mul(s, load(from[c] + i)), whole[c] + i);
    }
}

void weighDrivenLanes(int components, Block& block) {
    const float* const from[] = {block.pattern.x, block.pattern.y, block.pattern.z};
    float* const to[] = {block.weighed.x, block.weighed.y, block.weighed.z};
    for (int i = 0; i < paddedCount(block); i += lanes())
        for (int c = 0; c < components; ++c) store(hn::Mul(load(block.weight + i), load(from[c] + i)), to[c] + i);
}

int dropNotFiniteLanes(int components, Block& block) {
    float* const values[] = {block.pattern.x, block.pattern.y, block.pattern.z};
    std::size_t dropped = 0;
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        auto fine = hn::Lt(hn::Abs(load(block.where + i)), number(1e30f));
        for (int c = 0; c < components; ++c) fine = hn::And(fine, hn::Lt(hn::Abs(load(values[c] + i)), number(1e30f)));
        const auto inside = hn::FirstN(Floats(), static_cast<std::size_t>(std::max(block.count - i, 0)));
        dropped += hn::CountTrue(Floats(), hn::And(inside, hn::Not(fine)));
        store(hn::IfThenElseZero(fine, load(block.where + i)), block.where + i);
        for (int c = 0; c < components; ++c) store(hn::IfThenElseZero(fine, load(values[c] + i)), values[c] + i);
    }
    return static_cast<int>(dropped);
}

void decodeColoursLanes(int count, float* r, float* g, float* b) {
    for (float* column : {r, g, b})
        for (int i = 0; i < count; i += lanes()) store(decodeSrgb(load(column + i)), column + i);
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(toWorldLanes);
HWY_EXPORT(toZoneLanes);
HWY_EXPORT(toZoneAtOwnTimeLanes);
HWY_EXPORT(weaveLanes);
HWY_EXPORT(countWeightsLanes);
HWY_EXPORT(driveLanes);
HWY_EXPORT(weighDrivenLanes);
HWY_EXPORT(dropNotFiniteLanes);
HWY_EXPORT(decodeColoursLanes);

void toWorld(const WorldPose& pose, const Columns3& in, int count, Columns3& out) {
    HWY_DYNAMIC_DISPATCH(toWorldLanes)(pose, in, count, out);
}
void toZone(const ZoneState& zone, const Columns3& world, int count, Columns3& out) {
    HWY_DYNAMIC_DISPATCH(toZoneLanes)(zone, world, count, out);
}
void toZoneAtOwnTime(const WeaveStep& step, double frame, const float* offset, const Columns3& world, int count, int numberCount,
                     Columns3& out, Column* numbers) {
    HWY_DYNAMIC_DISPATCH(toZoneAtOwnTimeLanes)(step, frame, offset, world, count, numberCount, out, numbers);
}
void weave(WeaveOperation operation, float amount, const float* zone, int count, float* weight) {
    HWY_DYNAMIC_DISPATCH(weaveLanes)(operation, amount, zone, count, weight);
}
WeightCount countWeights(const float* weight, int count) { return HWY_DYNAMIC_DISPATCH(countWeightsLanes)(weight, count); }
void driveBlock(const LaneNumber& strength, int components, bool full, Block& block) {
    HWY_DYNAMIC_DISPATCH(driveLanes)(strength, components, full, block);
}
void weighDriven(int components, Block& block) { HWY_DYNAMIC_DISPATCH(weighDrivenLanes)(components, block); }
int dropNotFinite(int components, Block& block) { return HWY_DYNAMIC_DISPATCH(dropNotFiniteLanes)(components, block); }
void decodeColours(int count, float* r, float* g, float* b) { HWY_DYNAMIC_DISPATCH(decodeColoursLanes)(count, r, g, b); }

}  // namespace gswarm
#endif
