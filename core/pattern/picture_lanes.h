#pragma once
#include <cmath>
#include <glm/vec4.hpp>

#include "core/media/media_frame.h"
#include "core/media/quick_sums.h"

/// Pictures read at many places: one by one, or many at once to the same bits.
namespace gswarm {

/// Places of a picture and where what is read there goes: one column, or red, green and blue. What is nowhere reads 0. For lanes `count`
/// is a multiple of 16 and columns are aligned to 64 bytes.
struct PicturePlaces {
    const float *u, *v;
    int count;
    PictureEdges edges;
    float* const* out;

    void put(int i, float value) const { out[0][i] = value; }
    void put(int i, const glm::vec4& colour) const { out[0][i] = colour.x, out[1][i] = colour.y, out[2][i] = colour.z; }
};

/// What `one(u, v)` reads, for the places from `begin` to `end`.
template <class One>
void readOneByOne(const PicturePlaces& places, int begin, int end, const One& one) {
    using V = decltype(one(0.0f, 0.0f));
    for (int i = begin; i < end; ++i) {
        const float u = places.u[i], v = places.v[i];
        places.put(i, std::abs(u) < 1e30f && std::abs(v) < 1e30f ? one(u, v) : V(0));
    }
}

template <class P>
void readSmoothOneByOne(const P& picture, const PicturePlaces& places, int begin, int end) {
    readOneByOne(places, begin, end, [&](float u, float v) { return smoothPixel(picture, u, v, places.edges); });
}
void readSmooth(const Pixels<float>& picture, const PicturePlaces& places);
void readSmooth(const BytePixels& picture, const PicturePlaces& places);
inline void readSmooth(const Pixels<glm::vec4>& picture, const PicturePlaces& places) {
    readSmoothOneByOne(picture, places, 0, places.count);
}

template <class P>
void readNearestOneByOne(const P& picture, const PicturePlaces& places, int begin, int end) {
    readOneByOne(places, begin, end, [&](float u, float v) { return nearestPixel(picture, u, v, places.edges); });
}
void readNearest(const Pixels<float>& picture, const PicturePlaces& places);
void readNearest(const BytePixels& picture, const PicturePlaces& places);
inline void readNearest(const Pixels<glm::vec4>& picture, const PicturePlaces& places) {
    readNearestOneByOne(picture, places, 0, places.count);
}

/// How far shares of a picture reach from their middle, as shares of its sides.
struct HalfShare {
    float width, height;
};

/// A share lies where its middle does: brings that into the picture as its edges say. False for nowhere.
bool isWithin(float& place, PictureEdges edges);

template <class Sums>
void readMeansOneByOne(const Sums& sums, const HalfShare& half, const PicturePlaces& places, int begin, int end) {
    readOneByOne(places, begin, end, [&](float u, float v) {
        const bool there = isWithin(u, places.edges) && isWithin(v, places.edges);
        return there ? sums.mean(u, v, 2 * half.width, 2 * half.height) : decltype(sums.mean(u, v, 0, 0))(0);
    });
}
void readMeans(const QuickSums<float>& sums, const HalfShare& half, const PicturePlaces& places);
void readMeans(const QuickSums<glm::vec4>& sums, const HalfShare& half, const PicturePlaces& places);
template <class V>
void readMeans(const PictureSums<V>& sums, const HalfShare& half, const PicturePlaces& places) {
    readMeansOneByOne(sums, half, places, 0, places.count);
}

}  // namespace gswarm
