#pragma once
#include <array>
#include <cstdint>
#include <functional>
#include <vector>

#include "core/media/media_frame.h"

namespace gswarm {

/// What PictureSums does, for numbers of 0 … 1 and rectangles of few pixels: sums of whole numbers of 32 bits that run over, since only
/// their differences count, and these can't. They take half the memory, and sixteen places are read at once (picture_lanes.h). One number
/// of each pixel, or red, green and blue.
class QuickSums {
  public:
    /// To how many bits pixels may be known so that rectangles so wide and high as shares of a picture never run over: 20 … 24; 0 where it
    /// were fewer, or where the picture is too large to be counted so.
    static int bitsFor(int width, int height, float shareWidth, float shareHeight);
    /// Holds nothing where a pixel is below 0 or above 1.
    template <class P>
    static QuickSums of(const P& picture, int bits) {
        using V = std::decay_t<decltype(picture.at(0, 0))>;
        constexpr int channels = std::is_same_v<V, float> ? 1 : 3;
        return made(picture.width, picture.height, channels, bits, [&](int y, int channel, float* into) {
            for (int x = 0; x < picture.width; ++x) {
                if constexpr (channels == 1)
                    into[x] = picture.at(x, y);
                else
                    into[x] = picture.at(x, y)[channel];
            }
        });
    }

    bool empty() const { return channels_ == 0; }
    /// The mean of a channel over the rectangle about a place of 0 … 1 that reaches so far to each side, as shares of the picture. What of
    /// it lies beyond the edges counts nothing.
    float mean(int channel, float u, float v, float halfWidth, float halfHeight) const;
    std::size_t bytes() const;

    // As lanes read them.
    const std::uint32_t* sums(int channel) const { return sums_[static_cast<std::size_t>(channel)].data(); }
    int channels() const { return channels_; }
    int width() const { return width_; }
    int height() const { return height_; }
    float unit() const { return unit_; }  ///< what a sum of 1 stands for

  private:
    static QuickSums made(int width, int height, int channels, int bits, const std::function<void(int row, int channel, float* into)>& row);

    int width_ = 0, height_ = 0, channels_ = 0;
    float unit_ = 0;
    std::array<std::vector<std::uint32_t>, 3> sums_;  ///< (width + 1) × (height + 1) each
};

}  // namespace gswarm
