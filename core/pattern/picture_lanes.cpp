#include "core/pattern/picture_lanes.h"

#include <algorithm>
#include <cmath>
#include <cstring>
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

/// The rectangles at so many places at once.
struct Rectangles {
    Spans across, down;
    I upper, lower;  ///< numbers of the first sums of their first and last rows
    F share;         ///< what one of their sums counts
};
/// False where one of the places lies beyond the picture.
template <class V>
HWY_INLINE bool areInside(const QuickSums<V>& sums, const HalfShare& half, F u, F v, Rectangles& r) {
    const F none = number(0), one = number(1);
    const auto inside = hn::And(hn::And(hn::Ge(u, none), hn::Le(u, one)), hn::And(hn::Ge(v, none), hn::Le(v, one)));
    if (!hn::AllTrue(Floats(), inside)) return false;
    r.across = spansOf(u, half.width, sums.width()), r.down = spansOf(hn::Sub(one, v), half.height, sums.height());
    const I row = hn::Set(Wholes(), sums.width() + 1);
    r.upper = hn::Mul(r.down.low, row), r.lower = hn::Mul(r.down.high, row);
    r.share = hn::Div(number(sums.unit()), hn::Mul(r.across.length, r.down.length));
    return true;
}

/// Sums over the nine parts of rectangles, of which a mean takes a share each: whole pixels, the column after and the column before;
/// then the same of the row after and of the row before.
template <class Sum>
struct PartsOfRectangles {
    alignas(64) Sum of[9][16];
};

/// Two sums that lie next to each other, reckoned with at once.
using TwoSums = std::uint32_t __attribute__((vector_size(8)));
using TwoLongSums = std::uint64_t __attribute__((vector_size(16)));
HWY_INLINE TwoSums twoOf(const std::uint32_t* from) {
    TwoSums two;
    std::memcpy(&two, from, sizeof two);
    return two;
}
HWY_INLINE TwoLongSums twoOf(const std::uint64_t* from) {
    TwoLongSums two;
    std::memcpy(&two, from, sizeof two);
    return two;
}

/// Reads them place by place: processors gather so many no faster than they load them.
template <class V>
HWY_INLINE void readParts(const QuickSums<V>& sums, const Rectangles& r, PartsOfRectangles<typename QuickSums<V>::Sum>& parts) {
    alignas(64) std::int32_t upperLeft[16], upperRight[16], lowerLeft[16], lowerRight[16];
    hn::Store(hn::Add(r.upper, r.across.low), Wholes(), upperLeft);
    hn::Store(hn::Add(r.upper, r.across.high), Wholes(), upperRight);
    hn::Store(hn::Add(r.lower, r.across.low), Wholes(), lowerLeft);
    hn::Store(hn::Add(r.lower, r.across.high), Wholes(), lowerRight);
    const auto *all = sums.sums(), *nextRow = all + sums.width() + 1;
    using Two = decltype(twoOf(all));
    for (int k = 0; k < lanes(); ++k) {
        const auto side = [&](int upper, int lower, Two& whole, Two& after, Two& before) {
            const Two first = twoOf(all + upper), last = twoOf(all + lower);
            whole = last - first, after = twoOf(nextRow + lower) - last, before = twoOf(nextRow + upper) - first;
        };
        Two left[3], right[3];
        side(upperLeft[k], lowerLeft[k], left[0], left[1], left[2]);
        side(upperRight[k], lowerRight[k], right[0], right[1], right[2]);
        for (int rows = 0; rows < 3; ++rows) {
            const Two steps =
                __builtin_shufflevector(right[rows], left[rows], 1, 3) - __builtin_shufflevector(right[rows], left[rows], 0, 2);
            parts.of[3 * rows][k] = right[rows][0] - left[rows][0];
            parts.of[3 * rows + 1][k] = steps[0];
            parts.of[3 * rows + 2][k] = steps[1];
        }
    }
}

HWY_INLINE F whole(W sum) { return hn::ConvertTo(Floats(), hn::BitCast(Wholes(), sum)); }

struct OneNumber {
    static constexpr int count = 1;
    F of[1];
};
HWY_INLINE OneNumber numbersOf(const std::uint32_t* sums) { return {{whole(load(sums))}}; }

struct ThreeNumbers {
    static constexpr int count = 3;
    F of[3];
};
HWY_INLINE ThreeNumbers numbersOf(const std::uint64_t* sums) {
    static_assert(QuickSums<glm::vec4>::colourBits == 21);
    W low, high;
    hn::LoadInterleaved2(Words(), reinterpret_cast<const std::uint32_t*>(sums), low, high);
    const W one = hn::Set(Words(), (1u << 21) - 1);
    return {{whole(hn::And(low, one)), whole(hn::And(hn::Or(hn::ShiftRight<21>(low), hn::ShiftLeft<11>(high)), one)),
             whole(hn::ShiftRight<10>(high))}};
}

/// What lies between two edges, from whole pixels and shares of the next.
template <class Numbers>
HWY_INLINE Numbers between(const Numbers& whole, const Numbers& after, const Numbers& before, const Spans& spans) {
    Numbers made;
    for (int c = 0; c < Numbers::count; ++c)
        made.of[c] = hn::Add(whole.of[c], hn::Sub(hn::Mul(after.of[c], spans.highShare), hn::Mul(before.of[c], spans.lowShare)));
    return made;
}

template <class V>
HWY_INLINE void means(const QuickSums<V>& sums, const HalfShare& half, const PicturePlaces& places) {
    PartsOfRectangles<typename QuickSums<V>::Sum> parts;
    for (int i = 0; i < places.count; i += lanes()) {
        Rectangles r;
        if (!areInside(sums, half, load(places.u + i), load(places.v + i), r)) {
            readMeansOneByOne(sums, half, places, i, i + lanes());
            continue;
        }
        readParts(sums, r, parts);
        const auto rows = [&](int part) {
            return between(numbersOf(parts.of[part]), numbersOf(parts.of[part + 1]), numbersOf(parts.of[part + 2]), r.across);
        };
        const auto sum = between(rows(0), rows(3), rows(6), r.down);
        for (int c = 0; c < sum.count; ++c) store(hn::Mul(sum.of[c], r.share), places.out[c] + i);
    }
}
void numberMeans(const QuickSums<float>& sums, const HalfShare& half, const PicturePlaces& places) { means(sums, half, places); }
void colourMeans(const QuickSums<glm::vec4>& sums, const HalfShare& half, const PicturePlaces& places) { means(sums, half, places); }

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(smoothNumbers);
HWY_EXPORT(smoothBytes);
HWY_EXPORT(nearestNumbers);
HWY_EXPORT(nearestBytes);
HWY_EXPORT(numberMeans);
HWY_EXPORT(colourMeans);

void readSmooth(const Pixels<float>& picture, const PicturePlaces& places) { HWY_DYNAMIC_DISPATCH(smoothNumbers)(picture, places); }
void readSmooth(const BytePixels& picture, const PicturePlaces& places) { HWY_DYNAMIC_DISPATCH(smoothBytes)(picture, places); }
void readNearest(const Pixels<float>& picture, const PicturePlaces& places) { HWY_DYNAMIC_DISPATCH(nearestNumbers)(picture, places); }
void readNearest(const BytePixels& picture, const PicturePlaces& places) { HWY_DYNAMIC_DISPATCH(nearestBytes)(picture, places); }
void readMeans(const QuickSums<float>& sums, const HalfShare& half, const PicturePlaces& places) {
    HWY_DYNAMIC_DISPATCH(numberMeans)(sums, half, places);
}
void readMeans(const QuickSums<glm::vec4>& sums, const HalfShare& half, const PicturePlaces& places) {
    HWY_DYNAMIC_DISPATCH(colourMeans)(sums, half, places);
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

}  // namespace gswarm
#endif
