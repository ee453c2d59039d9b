#pragma once
#include <algorithm>
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <functional>
#include <glm/common.hpp>
#include <glm/vec4.hpp>
#include <memory>
#include <type_traits>
#include <vector>

namespace gswarm {

/// Rows of pixels from the top: a number each, or linear light with straight alpha.
template <class V>
struct Pixels {
    int width = 0, height = 0;
    std::vector<V> pixels;

    const V& at(int x, int y) const {
        return pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)];
    }
    std::size_t bytes() const { return sizeof *this + pixels.size() * sizeof(V); }
};

/// What media show at one frame.
struct MediaFrame : Pixels<glm::vec4> {
    std::uint64_t key = 0;  ///< of all that it was made from
    bool moves = false;     ///< its media show something else at other frames
};

/// What media show at a frame of the project, not made before it is asked for.
struct AskedMedia {
    std::uint64_t key = 0;  ///< of all that it is made from
    bool moves = false;     ///< other frames show something else
    /// Throws Error with a sentence where a file is damaged. As long as the store it was asked from is there.
    std::function<std::shared_ptr<const MediaFrame>()> frame;
};

/// What lies beyond the edges of a picture.
enum class PictureEdges { hold, repeat, mirror, nothing };
/// The pixel that stands for one along a side, beyond which the picture goes on as it says; −1 for nothing.
int pixelWithin(int pixel, int count, PictureEdges edges);

/// The greatest whole number that is not above one of less than 2³¹, without a call.
inline int wholeBelow(float x) {
    const int toward = static_cast<int>(x);
    return toward - static_cast<int>(x < static_cast<float>(toward));
}

template <class V>
V pixelOf(const Pixels<V>& picture, int x, int y, PictureEdges edges) {
    x = pixelWithin(x, picture.width, edges);
    y = pixelWithin(y, picture.height, edges);
    return x < 0 || y < 0 ? V(0) : picture.at(x, y);
}

/// The pixel at a place of the picture: (0, 0) is its lower left corner, (1, 1) its upper right one. Places beyond ± 10 000 are there.
template <class V>
V nearestPixel(const Pixels<V>& picture, float u, float v, PictureEdges edges) {
    const float x = std::clamp(u, -1e4f, 1e4f) * static_cast<float>(picture.width);
    const float y = (1 - std::clamp(v, -1e4f, 1e4f)) * static_cast<float>(picture.height);
    // The right and lower edges belong to the last pixels.
    const int column = u == 1 ? picture.width - 1 : wholeBelow(x);
    const int row = v == 0 ? picture.height - 1 : wholeBelow(y);
    if (column >= 0 && row >= 0 && column < picture.width && row < picture.height) return picture.at(column, row);
    return pixelOf(picture, column, row, edges);
}

/// Between the middles of the four pixels around it, evenly.
template <class V>
V smoothPixel(const Pixels<V>& picture, float u, float v, PictureEdges edges) {
    const float x = std::clamp(u, -1e4f, 1e4f) * static_cast<float>(picture.width) - 0.5f,
                y = (1 - std::clamp(v, -1e4f, 1e4f)) * static_cast<float>(picture.height) - 0.5f;
    const int a = wholeBelow(x), b = wholeBelow(y);
    const float left = static_cast<float>(a), top = static_cast<float>(b);
    const auto between = [&](const V& first, const V& second, const V& third, const V& fourth) {
        const V upper = first + (second - first) * (x - left), lower = third + (fourth - third) * (x - left);
        return upper + (lower - upper) * (y - top);
    };
    if (a >= 0 && b >= 0 && a + 1 < picture.width && b + 1 < picture.height) {
        const V* upper = &picture.at(a, b);
        const V* lower = upper + picture.width;
        return between(upper[0], upper[1], lower[0], lower[1]);
    }
    const auto pixel = [&](int dx, int dy) { return pixelOf(picture, a + dx, b + dy, edges); };
    return between(pixel(0, 0), pixel(1, 0), pixel(0, 1), pixel(1, 1));
}

/// Sums of a picture's pixels over everything above and to the left, in double precision: the mean of any rectangle takes four of them
/// (F. Crow, Summed-area tables for texture mapping, 1984). V is float or glm::vec4.
template <class V>
class PictureSums {
  public:
    /// Takes twice as many bytes as the pixels.
    explicit PictureSums(const Pixels<V>& picture);
    /// The mean over a rectangle about a place, so wide and high as shares of the picture: exact, also where it cuts pixels. What of it
    /// lies beyond the edges counts nothing; where nothing is left, the nearest pixel stands for it.
    V mean(float u, float v, float width, float height) const;
    std::size_t bytes() const { return sizeof *this + sums_.size() * sizeof(Sum); }

  private:
    using Sum = std::conditional_t<std::is_same_v<V, float>, double, glm::dvec4>;
    /// Along a row of sums, between two of them.
    Sum alongRow(int row, int column, double share) const;

    int width_, height_;
    std::vector<Sum> sums_;  ///< (width + 1) × (height + 1)
};

extern template class PictureSums<float>;
extern template class PictureSums<glm::vec4>;

}  // namespace gswarm
