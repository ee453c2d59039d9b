// Lays an axis along a curve.
#include <algorithm>
#include <memory>

#include "core/base/error.h"
#include "core/gesture/warp.h"
#include "core/shape/curve.h"
#include "core/shape/shape_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/gesture/curl.cpp"
#include <hwy/foreach_target.h>

#include "core/gesture/warp-inl.h"

#ifndef GSWARM_CURL_ONCE
#define GSWARM_CURL_ONCE
namespace gswarm {

enum class CurlLength { kept, fitted };

/// Even stations along a curve: place, normal, the side at right angles to both, and how it bends toward them, each in coordinates of the
/// warp's axis.
struct CurlTable {
    enum Column { placeX, placeY, placeZ, normalX, normalY, normalZ, sideX, sideY, sideZ, bendNormal, bendSide, columns };
    std::vector<float> column[columns];
    float length = 0;
    bool closed = false;
};

struct Curl : LimitedWarp {
    ObjectId curve;
    CurlLength laid;
    float slide, roll;  ///< percent, radians
    std::shared_ptr<const CurlTable> table;
};

}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// The frames turn about the curve no more than they must, so that the space beside it is stretched along it alone: by 1 minus how much
/// the curve bends toward a place.
void curlLanes(const GestureInput& in, const Curl& curl, Block& block, EffectColumns& effect) {
    using hn::Add, hn::Mul, hn::Sub;
    const Limits limits(curl);
    const CurlTable& table = *curl.table;
    const int last = static_cast<int>(table.column[0].size()) - 1;
    const float pace = curl.laid == CurlLength::fitted ? table.length / limits.length() : 1;
    const F one = number(1), length = number(table.length), perMetre = number(static_cast<float>(last) / table.length);
    warpLanes(in, curl, block, effect, [&](const Vector& p, int i) {
        F along = Add(Mul(Sub(p.y, number(limits.low)), number(pace)), Mul(read(in.numbers[1], i), length));
        F beyond = hn::Zero(Floats());
        if (table.closed) {
            along = Sub(along, Mul(hn::Floor(hn::Div(along, length)), length));
        } else {
            const F held = hn::Min(hn::Max(along, hn::Zero(Floats())), length);
            beyond = Sub(along, held);
            along = held;
        }
        // A place that is no number has no station; that of the beginning stands for it.
        const F wanted = Mul(along, perMetre), known = hn::IfThenElseZero(hn::Eq(wanted, wanted), wanted);
        const F at = hn::Min(hn::Max(known, hn::Zero(Floats())), number(static_cast<float>(last)));
        const F station = hn::Min(hn::Floor(at), number(static_cast<float>(last - 1))), share = Sub(at, station);
        const I index = toWhole(station), next = hn::Add(index, hn::Set(Wholes(), 1));
        const auto column = [&](int c) {
            const float* from = table.column[c].data();
            return mix(hn::GatherIndex(Floats(), from, index), hn::GatherIndex(Floats(), from, next), share);
        };
        const Vector place{column(CurlTable::placeX), column(CurlTable::placeY), column(CurlTable::placeZ)};
        const Vector x = unit({column(CurlTable::normalX), column(CurlTable::normalY), column(CurlTable::normalZ)}, upward());
        const Vector z0{column(CurlTable::sideX), column(CurlTable::sideY), column(CurlTable::sideZ)};
        const Vector z = unit(subtract(z0, scaled(x, dot(z0, x))), {hn::Zero(Floats()), hn::Zero(Floats()), one});
        const Vector y = cross(z, x);
        const F bends = Add(Mul(p.x, column(CurlTable::bendNormal)), Mul(p.z, column(CurlTable::bendSide)));
        const auto past = hn::Ne(beyond, hn::Zero(Floats()));
        Warped w;
        w.place = sum(sum(place, scaled(y, beyond)), sum(scaled(x, p.x), scaled(z, p.z)));
        w.turn = fromAxes(x, y, z);
        w.alongX = x;
        w.alongY = scaled(y, Mul(number(pace), hn::IfThenElse(past, one, Sub(one, bends))));
        w.alongZ = z;
        return w;
    });
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(curlLanes);

namespace {

constexpr int stations = 2048;

void apply(const GestureInput& in, Block& block, EffectColumns& effect) {
    HWY_DYNAMIC_DISPATCH(curlLanes)(in, in.as<Curl>(), block, effect);
}

CurlTable tableOf(const Curve& curve, const Curl& curl) {
    const MeasuredCurve measured(curve);
    CurlTable table;
    table.length = static_cast<float>(measured.length());
    table.closed = measured.closed();
    if (!(table.length > 1e-6f)) throw Error("The curve has no length; draw a longer one.");
    const glm::quat into = glm::conjugate(curl.frame());
    const glm::quat rolled = glm::angleAxis(curl.roll, glm::vec3(0, 0, 1));
    const double step = measured.length() / (stations - 1);
    const auto tangentAt = [&](double distance) { return into * (measured.smoothAt(distance).frame * glm::vec3(0, 0, 1)); };
    for (int k = 0; k < stations; ++k) {
        const double distance = k * step;
        // The last of a closed one is the first again.
        const MeasuredCurve::Station station = measured.smoothAt(table.closed && k == stations - 1 ? 0 : distance);
        const glm::quat frame = into * station.frame * rolled;
        const glm::vec3 place = into * (station.place - curl.centre), normal = frame * glm::vec3(0, 1, 0),
                        binormal = frame * glm::vec3(1, 0, 0);
        const double before = table.closed ? distance - step : std::max(0.0, distance - step),
                     after = table.closed ? distance + step : std::min(measured.length(), distance + step);
        const glm::vec3 bend = (tangentAt(after) - tangentAt(before)) / static_cast<float>(after - before);
        const float values[] = {place.x,
                                place.y,
                                place.z,
                                normal.x,
                                normal.y,
                                normal.z,
                                binormal.x,
                                binormal.y,
                                binormal.z,
                                glm::dot(bend, normal),
                                glm::dot(bend, binormal)};
        for (int c = 0; c < CurlTable::columns; ++c) table.column[c].push_back(values[c]);
    }
    return table;
}

void prepare(Curl& curl, const RailSource& source) {
    const auto shape = source.shape(curl.curve);
    if (shape->curves.empty()) throw Error("What it is curled along is no curve; choose a line, a path, a circle or a helix.");
    ContentHash key;
    key.add("curl");
    key.add(shape->hash);
    for (const float number : {curl.centre.x, curl.centre.y, curl.centre.z, curl.rotation.x, curl.rotation.y, curl.rotation.z, curl.roll})
        key.add(static_cast<double>(number));
    curl.table = source.keptAs<CurlTable>(key.value(), stations * CurlTable::columns * sizeof(float),
                                          [&] { return tableOf(shape->curves.front(), curl); });
}

std::vector<GestureHandle> handles(const Curl& curl) { return limitHandles(curl); }

GestureKind curlKind() {
    DescribeGesture<Curl> d("curl", "Curl", "Lays an axis of the space along a curve");
    d.reference("curve", &Curl::curve, {ObjectType::shape}, "The line, path, circle or helix that it is laid along, in the swarm")
        .needs(Needs::curve)
        .choice("laid", &Curl::laid, {{"kept", "As long as it is"}, {"fitted", "Over all of it"}},
                "Whether the axis keeps its length, or from limit to limit covers the whole curve")
        .label("Length")
        .number("slide", &Curl::slide, 0, {-100, 100}, "How far along the curve all of it goes")
        .unit("%")
        .hard(-1e5, 1e5)
        .perInstance()
        .angle("roll", &Curl::roll, 0, {-180, 180}, "About the curve");
    describeWarp(d);
    describeLimits(d);
    return preparing(makesWarp(d, apply, handles), prepare);
}

}  // namespace

const GestureKind curlGesture = curlKind();

}  // namespace gswarm
#endif
