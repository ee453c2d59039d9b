#pragma once
#include <cstddef>
#include <cstdint>
#include <functional>
#include <glm/vec4.hpp>
#include <type_traits>
#include <vector>

namespace gswarm {

/// What PictureSums does, for numbers of 0 … 1 and rectangles of few pixels: sums of whole numbers that run over, since only their
/// differences count, and these can't. They take half the memory or less, and sixteen places are read at once (picture_lanes.h).
/// V = float: 32 bits a sum. V = glm::vec4: red, green and blue share 64 bits, alpha is left out; what the lower ones carry over into the
/// upper ones goes out again with the difference.
template <class V>
class QuickSums {
  public:
    static constexpr bool ofColours = !std::is_same_v<V, float>;
    using Sum = std::conditional_t<ofColours, std::uint64_t, std::uint32_t>;
    static constexpr int colourBits = 21;  ///< from one colour to the next in a sum

    /// In how many steps from 0 to 1 pixels may be known so that rectangles so wide and high as shares of a picture never run over:
    /// up to 2²⁴, of colours up to 2¹⁸. 0 where it were fewer than 2²⁰, of colours 2¹³, or where the picture is too large to be counted so.
    static int stepsFor(int width, int height, float shareWidth, float shareHeight);
    /// Holds nothing where a pixel is below 0 or above 1.
    template <class P>
    static QuickSums of(const P& picture, int steps) {
        return QuickSums(picture.width, picture.height, steps, [&](int y, V* into) {
            for (int x = 0; x < picture.width; ++x) into[x] = picture.at(x, y);
        });
    }

    bool empty() const { return sums_.empty(); }
    /// The mean over the rectangle about a place of 0 … 1, so wide and high as shares of the picture. What of it lies beyond the edges
    /// counts nothing.
    V mean(float u, float v, float width, float height) const;
    std::size_t bytes() const { return sizeof *this + sums_.size() * sizeof(Sum); }

    // As lanes read them.
    const Sum* sums() const { return sums_.data(); }
    int width() const { return width_; }
    int height() const { return height_; }
    float unit() const { return unit_; }  ///< what a sum of 1 stands for

  private:
    QuickSums(int width, int height, int steps, const std::function<void(int row, V* into)>& row);

    int width_, height_;
    float unit_;
    std::vector<Sum> sums_;  ///< (width + 1) × (height + 1)
};

extern template class QuickSums<float>;
extern template class QuickSums<glm::vec4>;

}  // namespace gswarm
