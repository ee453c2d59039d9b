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
#include <variant>
#include <vector>

#include "core/base/float_picture.h"

namespace gswarm {

/// Four numbers that are reckoned with at once.
using FourNumbers = float __attribute__((vector_size(16)));
inline FourNumbers atOnce(const glm::vec4& v) { return FourNumbers{v.x, v.y, v.z, v.w}; }
inline float atOnce(float v) { return v; }
inline glm::vec4 oneByOne(const FourNumbers& v) { return {v[0], v[1], v[2], v[3]}; }
inline float oneByOne(float v) { return v; }

/// Rows of pixels from the top: a number each, or linear light with straight alpha.
template <class V>
struct Pixels {
    int width = 0, height = 0;
    std::vector<V> pixels;

    const V& at(int x, int y) const {
        return pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)];
    }
    std::size_t bytes() const { return sizeof *this + pixels.size() * sizeof(V); }
    /// As MediaFrame has it.
    template <class Work>
    decltype(auto) with(const Work& work) const {
        return work(*this);
    }
};

/// Pixels of 8 bits a channel, R G B A in memory order, as a file has them: a quarter of the memory of light, decoded as they are read.
struct BytePixels {
    int width = 0, height = 0;
    std::shared_ptr<const std::vector<std::uint8_t>> pixels;
    const float* colours = nullptr;  ///< what each of the 256 values of a colour stands for
    const float* shares = nullptr;   ///< the same of alpha

    glm::vec4 at(int x, int y) const {
        const std::uint8_t* p =
            pixels->data() + 4 * (static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x));
        return {colours[p[0]], colours[p[1]], colours[p[2]], shares[p[3]]};
    }
};
/// The pixels of a picture or a clip whose colours are light or plain numbers.
BytePixels bytePixels(int width, int height, std::shared_ptr<const std::vector<std::uint8_t>> pixels, PictureAs colours);

/// What media show at one frame: linear light with straight alpha, or bytes that stand for it.
struct MediaFrame {
    std::variant<Pixels<glm::vec4>, BytePixels> pixels;
    std::uint64_t key = 0;  ///< of all that it was made from
    bool moves = false;     ///< its media show something else at other frames

    /// Calls `work` with the pixels as they are kept, so that loops over them decide once.
    template <class Work>
    decltype(auto) with(const Work& work) const {
        if (const auto* bytes = std::get_if<BytePixels>(&pixels)) return work(*bytes);
        return work(std::get<Pixels<glm::vec4>>(pixels));
    }
    int width() const {
        return with([](const auto& p) { return p.width; });
    }
    int height() const {
        return with([](const auto& p) { return p.height; });
    }
    glm::vec4 at(int x, int y) const {
        return with([&](const auto& p) -> glm::vec4 { return p.at(x, y); });
    }
    std::size_t bytes() const;
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

/// One pixel of Pixels or BytePixels, wherever it is asked for.
template <class P>
auto pixelOf(const P& picture, int x, int y, PictureEdges edges) {
    using V = std::decay_t<decltype(picture.at(0, 0))>;
    x = pixelWithin(x, picture.width, edges);
    y = pixelWithin(y, picture.height, edges);
    return x < 0 || y < 0 ? V(0) : picture.at(x, y);
}

/// The pixel at a place of the picture: (0, 0) is its lower left corner, (1, 1) its upper right one. Places beyond ± 10 000 are there.
template <class P>
auto nearestPixel(const P& picture, float u, float v, PictureEdges edges) {
    using V = std::decay_t<decltype(picture.at(0, 0))>;
    const float x = std::clamp(u, -1e4f, 1e4f) * static_cast<float>(picture.width);
    const float y = (1 - std::clamp(v, -1e4f, 1e4f)) * static_cast<float>(picture.height);
    // The right and lower edges belong to the last pixels.
    const int column = u == 1 ? picture.width - 1 : wholeBelow(x);
    const int row = v == 0 ? picture.height - 1 : wholeBelow(y);
    if (column >= 0 && row >= 0 && column < picture.width && row < picture.height) return V(picture.at(column, row));
    return pixelOf(picture, column, row, edges);
}

/// Between the middles of the four pixels around it, evenly.
template <class P>
auto smoothPixel(const P& picture, float u, float v, PictureEdges edges) {
    using V = std::decay_t<decltype(picture.at(0, 0))>;
    const float x = std::clamp(u, -1e4f, 1e4f) * static_cast<float>(picture.width) - 0.5f,
                y = (1 - std::clamp(v, -1e4f, 1e4f)) * static_cast<float>(picture.height) - 0.5f;
    const int a = wholeBelow(x), b = wholeBelow(y);
    const float left = static_cast<float>(a), top = static_cast<float>(b);
    const auto between = [&](const V& upperLeft, const V& upperRight, const V& lowerLeft, const V& lowerRight) {
        const auto first = atOnce(upperLeft), second = atOnce(upperRight), third = atOnce(lowerLeft), fourth = atOnce(lowerRight);
        const auto upper = first + (second - first) * (x - left), lower = third + (fourth - third) * (x - left);
        return V(oneByOne(upper + (lower - upper) * (y - top)));
    };
    if (a >= 0 && b >= 0 && a + 1 < picture.width && b + 1 < picture.height)
        return between(picture.at(a, b), picture.at(a + 1, b), picture.at(a, b + 1), picture.at(a + 1, b + 1));
    const auto pixel = [&](int dx, int dy) { return pixelOf(picture, a + dx, b + dy, edges); };
    return between(pixel(0, 0), pixel(1, 0), pixel(0, 1), pixel(1, 1));
}

/// Sums of a picture's pixels over everything above and to the left, in double precision: the mean of any rectangle takes four of them
/// (F. Crow, Summed-area tables for texture mapping, 1984). V is float or glm::vec4.
template <class V>
class PictureSums {
  public:
    /// Of pixels so many in each direction, which `row(y, into)` writes one row after the other; on several threads. Takes 8 bytes for
    /// each number of a pixel.
    PictureSums(int width, int height, const std::function<void(int row, V* into)>& row);
    template <class P>
    explicit PictureSums(const P& picture)
        : PictureSums(picture.width, picture.height, [&](int y, V* into) {
              for (int x = 0; x < picture.width; ++x) into[x] = picture.at(x, y);
          }) {}
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
