#pragma once
#include <cstddef>
#include <cstdint>
#include <glm/vec4.hpp>
#include <memory>
#include <vector>

namespace gswarm {

/// What media show at one frame: rows from the top, linear light or plain numbers, with straight alpha.
struct MediaFrame {
    int width = 0, height = 0;
    std::vector<glm::vec4> pixels;
    std::uint64_t key = 0;  ///< of all that it was made from

    const glm::vec4& at(int x, int y) const {
        return pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)];
    }
    std::size_t bytes() const { return sizeof *this + pixels.size() * sizeof(glm::vec4); }
};

/// What lies beyond the edges of a picture.
enum class PictureEdges { hold, repeat, mirror, nothing };
/// The pixel that stands for one along a side, beyond which the picture goes on as it says; −1 for nothing.
int pixelWithin(int pixel, int count, PictureEdges edges);

/// The pixel at a place of the picture: (0, 0) is its lower left corner, (1, 1) its upper right one.
glm::vec4 nearestPixel(const MediaFrame& frame, float u, float v, PictureEdges edges);
/// Between the middles of the four pixels around it, evenly.
glm::vec4 smoothPixel(const MediaFrame& frame, float u, float v, PictureEdges edges);

/// Sums of a picture's pixels over everything above and to the left, in double precision: the mean of any rectangle takes four of them
/// (F. Crow, Summed-area tables for texture mapping, 1984).
class PictureSums {
  public:
    /// Takes 32 bytes a pixel.
    explicit PictureSums(const MediaFrame& frame);
    /// The mean over a rectangle about a place, so wide and high as shares of the picture: exact, also where it cuts pixels. What of it
    /// lies beyond the edges counts nothing; where nothing is left, the nearest pixel stands for it.
    glm::vec4 mean(float u, float v, float width, float height) const;
    std::size_t bytes() const { return sizeof *this + sums_.size() * sizeof(glm::dvec4); }

  private:
    /// Of all above and to the left of a place, which counts in pixels.
    glm::dvec4 upTo(double x, double y) const;

    int width_, height_;
    std::vector<glm::dvec4> sums_;  ///< (width + 1) × (height + 1)
};

}  // namespace gswarm
