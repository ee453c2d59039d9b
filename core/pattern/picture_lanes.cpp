#include "core/pattern/picture_lanes.h"

#include <algorithm>
#include <cmath>
#include <type_traits>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/pattern/picture_lanes.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// The four pixels around places that lie well within the picture.
struct AroundPlaces {
    I upperLeft;
    F right, down;  ///< shares of the way to the next pixel
};

/// False where one of the places has not all four.
HWY_INLINE bool areWithin(int width, int height, F u, F v, AroundPlaces& around) {
    using hn::Mul, hn::Sub;
    const F half = number(0.5f), x = Sub(Mul(u, number(static_cast<float>(width))), half),
            y = Sub(Mul(Sub(number(1), v), number(static_cast<float>(height))), half);
    const F left = hn::Floor(x), top = hn::Floor(y), none = number(0);
    const auto inside = hn::And(hn::And(hn::Ge(left, none), hn::Lt(left, number(static_cast<float>(width - 1)))),
                                hn::And(hn::Ge(top, none), hn::Lt(top, number(static_cast<float>(height - 1)))));
    if (!hn::AllTrue(Floats(), inside)) return false;
    around.upperLeft = hn::Add(hn::Mul(toWhole(top), hn::Set(Wholes(), width)), toWhole(left));
    around.right = Sub(x, left), around.down = Sub(y, top);
    return true;
}

HWY_INLINE F evenly(const AroundPlaces& around, F upperLeft, F upperRight, F lowerLeft, F lowerRight) {
    return mix(mix(upperLeft, upperRight, around.right), mix(lowerLeft, lowerRight, around.right), around.down);
}

/// So many pixels that every one has a number.
HWY_INLINE bool isCounted(int width, int height) { return std::int64_t{width} * height < std::int64_t{1} << 31; }

/// The pixels in which places lie; false where one of them lies beyond the picture.
HWY_INLINE bool areOnPixels(int width, int height, F u, F v, I& pixels) {
    const F one = number(1), none = number(0), across = number(static_cast<float>(width)), down = number(static_cast<float>(height));
    // The right and lower edges belong to the last pixels.
    const F column = hn::IfThenElse(hn::Eq(u, one), hn::Sub(across, one), hn::Floor(hn::Mul(u, across)));
    const F row = hn::IfThenElse(hn::Eq(v, none), hn::Sub(down, one), hn::Floor(hn::Mul(hn::Sub(one, v), down)));
    const auto inside = hn::And(hn::And(hn::Ge(column, none), hn::Lt(column, across)), hn::And(hn::Ge(row, none), hn::Lt(row, down)));
    pixels = hn::Add(hn::Mul(toWhole(row), hn::Set(Wholes(), width)), toWhole(column));
    return hn::AllTrue(Floats(), inside);
}

/// Numbers of pixels.
HWY_INLINE F pixelsAt(const Pixels<float>& picture, I at) { return hn::GatherIndex(Floats(), picture.pixels.data(), at); }
/// Their four bytes.
HWY_INLINE W pixelsAt(const BytePixels& picture, I at) {
    return hn::GatherIndex(Words(), reinterpret_cast<const std::uint32_t*>(picture.pixels->data()), at);
}
/// What the lowest of these bytes stands for.
HWY_INLINE F lightOf(const BytePixels& picture, W bytes) {
    return hn::GatherIndex(Floats(), picture.colours, hn::BitCast(Wholes(), hn::And(bytes, hn::Set(Words(), 255))));
}

template <class P>
HWY_INLINE void smoothPlaces(const P& picture, const PicturePlaces& places) {
    const bool counted = isCounted(picture.width, picture.height);
    const I next = hn::Set(Wholes(), 1), below = hn::Set(Wholes(), picture.width);
    for (int i = 0; i < places.count; i += lanes()) {
        AroundPlaces around;
        if (!counted || !areWithin(picture.width, picture.height, load(places.u + i), load(places.v + i), around)) {
            readSmoothOneByOne(picture, places, i, i + lanes());
            continue;
        }
        const I lower = hn::Add(around.upperLeft, below);
        const auto a = pixelsAt(picture, around.upperLeft), b = pixelsAt(picture, hn::Add(around.upperLeft, next)),
                   c = pixelsAt(picture, lower), d = pixelsAt(picture, hn::Add(lower, next));
        if constexpr (std::is_same_v<P, BytePixels>) {
            const auto light = [&](W bytes) { return lightOf(picture, bytes); };
            store(evenly(around, light(a), light(b), light(c), light(d)), places.out[0] + i);
            store(evenly(around, light(hn::ShiftRight<8>(a)), light(hn::ShiftRight<8>(b)), light(hn::ShiftRight<8>(c)),
                         light(hn::ShiftRight<8>(d))),
                  places.out[1] + i);
            store(evenly(around, light(hn::ShiftRight<16>(a)), light(hn::ShiftRight<16>(b)), light(hn::ShiftRight<16>(c)),
                         light(hn::ShiftRight<16>(d))),
                  places.out[2] + i);
        } else {
            store(evenly(around, a, b, c, d), places.out[0] + i);
        }
    }
}
void smoothNumbers(const Pixels<float>& picture, const PicturePlaces& places) { smoothPlaces(picture, places); }
void smoothBytes(const BytePixels& picture, const PicturePlaces& places) { smoothPlaces(picture, places); }

template <class P>
HWY_INLINE void nearestPlaces(const P& picture, const PicturePlaces& places) {
    const bool counted = isCounted(picture.width, picture.height);
    for (int i = 0; i < places.count; i += lanes()) {
        I at;
        if (!counted || !areOnPixels(picture.width, picture.height, load(places.u + i), load(places.v + i), at)) {
            readNearestOneByOne(picture, places, i, i + lanes());
            continue;
        }
        const auto read = pixelsAt(picture, at);
        if constexpr (std::is_same_v<P, BytePixels>) {
            store(lightOf(picture, read), places.out[0] + i);
            store(lightOf(picture, hn::ShiftRight<8>(read)), places.out[1] + i);
            store(lightOf(picture, hn::ShiftRight<16>(read)), places.out[2] + i);
        } else {
            store(read, places.out[0] + i);
        }
    }
}
void nearestNumbers(const Pixels<float>& picture, const PicturePlaces& places) { nearestPlaces(picture, places); }
void nearestBytes(const BytePixels& picture, const PicturePlaces& places) { nearestPlaces(picture, places); }

/// From where to where rectangles go along a side, in pixels.
struct Spans {
    I low, high;
    F lowShare, highShare, length;
};
HWY_INLINE Spans spansOf(F middle, float half, int count) {
    const F all = number(static_cast<float>(count)), none = number(0), last = number(static_cast<float>(count - 1));
    const auto edge = [&](F at) { return hn::Min(hn::Max(hn::Mul(at, all), none), all); };
    const F from = edge(hn::Sub(middle, number(half))), to = edge(hn::Add(middle, number(half)));
    const F low = hn::Min(hn::Floor(from), last), high = hn::Min(hn::Floor(to), last);
    return {toWhole(low), toWhole(high), hn::Sub(from, low), hn::Sub(to, high), hn::Max(hn::Sub(to, from), number(1e-9f))};
}

/// Sums of two pixels next to each other.
struct TwoSums {
    W first, second;
};
HWY_INLINE TwoSums minus(const TwoSums& a, const TwoSums& b) { return {hn::Sub(a.first, b.first), hn::Sub(a.second, b.second)}; }
HWY_INLINE F whole(W sum) { return hn::ConvertTo(Floats(), hn::BitCast(Wholes(), sum)); }

/// Of some rows, from what is summed up to them at the left and the right edge.
HWY_INLINE F across(const TwoSums& low, const TwoSums& high, const Spans& spans) {
    const F after = hn::Mul(whole(hn::Sub(high.second, high.first)), spans.highShare);
    const F before = hn::Mul(whole(hn::Sub(low.second, low.first)), spans.lowShare);
    return hn::Add(whole(hn::Sub(high.first, low.first)), hn::Sub(after, before));
}

void means(const QuickSums& sums, const HalfShare& half, const PicturePlaces& places) {
    const int rowLength = sums.width() + 1;
    const I next = hn::Set(Wholes(), 1), row = hn::Set(Wholes(), rowLength);
    for (int i = 0; i < places.count; i += lanes()) {
        const F u = load(places.u + i), v = load(places.v + i), none = number(0), one = number(1);
        const auto inside = hn::And(hn::And(hn::Ge(u, none), hn::Le(u, one)), hn::And(hn::Ge(v, none), hn::Le(v, one)));
        if (!hn::AllTrue(Floats(), inside)) {
            readMeansOneByOne(sums, half, places, i, i + lanes());
            continue;
        }
        const Spans x = spansOf(u, half.width, sums.width()), y = spansOf(hn::Sub(one, v), half.height, sums.height());
        const I upper = hn::Mul(y.low, row), lower = hn::Mul(y.high, row);
        const F scale = hn::Mul(x.length, y.length);
        for (int c = 0; c < sums.channels(); ++c) {
            const std::uint32_t* all = sums.sums(c);
            const auto two = [&](I at) {
                return TwoSums{hn::GatherIndex(Words(), all, at), hn::GatherIndex(Words(), all, hn::Add(at, next))};
            };
            const auto four = [&](I at, TwoSums& low, TwoSums& high) { low = two(hn::Add(at, x.low)), high = two(hn::Add(at, x.high)); };
            TwoSums low[4], high[4];  // above and below the first row, above and below the last
            four(upper, low[0], high[0]), four(hn::Add(upper, row), low[1], high[1]);
            four(lower, low[2], high[2]), four(hn::Add(lower, row), low[3], high[3]);
            const F between = across(minus(low[2], low[0]), minus(high[2], high[0]), x);
            const F after = hn::Mul(across(minus(low[3], low[2]), minus(high[3], high[2]), x), y.highShare);
            const F before = hn::Mul(across(minus(low[1], low[0]), minus(high[1], high[0]), x), y.lowShare);
            const F sum = hn::Add(between, hn::Sub(after, before));
            store(hn::Div(hn::Mul(sum, number(sums.unit())), scale), places.out[c] + i);
        }
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(smoothNumbers);
HWY_EXPORT(smoothBytes);
HWY_EXPORT(nearestNumbers);
HWY_EXPORT(nearestBytes);
HWY_EXPORT(means);

void readSmooth(const Pixels<float>& picture, const PicturePlaces& places) { HWY_DYNAMIC_DISPATCH(smoothNumbers)(picture, places); }
void readSmooth(const BytePixels& picture, const PicturePlaces& places) { HWY_DYNAMIC_DISPATCH(smoothBytes)(picture, places); }
void readNearest(const Pixels<float>& picture, const PicturePlaces& places) { HWY_DYNAMIC_DISPATCH(nearestNumbers)(picture, places); }
void readNearest(const BytePixels& picture, const PicturePlaces& places) { HWY_DYNAMIC_DISPATCH(nearestBytes)(picture, places); }
void readMeans(const QuickSums& sums, const HalfShare& half, const PicturePlaces& places) {
    HWY_DYNAMIC_DISPATCH(means)(sums, half, places);
}

bool isWithin(float& place, PictureEdges edges) {
    if (place >= 0 && place <= 1) return true;
    const float lap = std::floor(place);
    switch (edges) {
        case PictureEdges::nothing:
            return false;
        case PictureEdges::repeat:
            place -= lap;
            break;
        case PictureEdges::hold:
            place = std::clamp(place, 0.0f, 1.0f);
            break;
        case PictureEdges::mirror:
            place = std::fmod(std::abs(lap), 2.0f) == 1 ? 1 - (place - lap) : place - lap;
            break;
    }
    return true;
}

void readMeansOneByOne(const QuickSums& sums, const HalfShare& half, const PicturePlaces& places, int begin, int end) {
    for (int i = begin; i < end; ++i) {
        float u = places.u[i], v = places.v[i];
        const bool there = std::abs(u) < 1e30f && std::abs(v) < 1e30f && isWithin(u, places.edges) && isWithin(v, places.edges);
        for (int c = 0; c < sums.channels(); ++c) places.out[c][i] = there ? sums.mean(c, u, v, half.width, half.height) : 0;
    }
}

}  // namespace gswarm
#endif
