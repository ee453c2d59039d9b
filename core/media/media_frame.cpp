#include "core/media/media_frame.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>

#include "core/base/parallel.h"

namespace gswarm {
namespace {

constexpr glm::vec4 nothingThere{0};

/// Which pixel a share of a side falls on. Places so far off that no whole number counts them are at the ends.
int pixelAt(float share, int count) { return static_cast<int>(std::floor(std::clamp(share, -1e4f, 1e4f) * static_cast<float>(count))); }

glm::vec4 pixelOf(const MediaFrame& frame, int x, int y, PictureEdges edges) {
    x = pixelWithin(x, frame.width, edges);
    y = pixelWithin(y, frame.height, edges);
    return x < 0 || y < 0 ? nothingThere : frame.at(x, y);
}

}  // namespace

int pixelWithin(int pixel, int count, PictureEdges edges) {
    if (pixel >= 0 && pixel < count) return pixel;
    switch (edges) {
        case PictureEdges::hold:
            return std::clamp(pixel, 0, count - 1);
        case PictureEdges::repeat:
            return ((pixel % count) + count) % count;
        case PictureEdges::mirror: {
            const int within = ((pixel % (2 * count)) + 2 * count) % (2 * count);
            return within < count ? within : 2 * count - 1 - within;
        }
        case PictureEdges::nothing:
            return -1;
    }
    return -1;
}

glm::vec4 nearestPixel(const MediaFrame& frame, float u, float v, PictureEdges edges) {
    // The right and lower edges belong to the last pixels.
    const int x = u == 1 ? frame.width - 1 : pixelAt(u, frame.width), y = v == 0 ? frame.height - 1 : pixelAt(1 - v, frame.height);
    return pixelOf(frame, x, y, edges);
}

glm::vec4 smoothPixel(const MediaFrame& frame, float u, float v, PictureEdges edges) {
    const float x = std::clamp(u, -1e4f, 1e4f) * static_cast<float>(frame.width) - 0.5f,
                y = (1 - std::clamp(v, -1e4f, 1e4f)) * static_cast<float>(frame.height) - 0.5f;
    const float left = std::floor(x), top = std::floor(y);
    const int a = static_cast<int>(left), b = static_cast<int>(top);
    const auto pixel = [&](int dx, int dy) { return pixelOf(frame, a + dx, b + dy, edges); };
    return glm::mix(glm::mix(pixel(0, 0), pixel(1, 0), x - left), glm::mix(pixel(0, 1), pixel(1, 1), x - left), y - top);
}

PictureSums::PictureSums(const MediaFrame& frame)
    : width_(frame.width),
      height_(frame.height),
      sums_(static_cast<std::size_t>(frame.width + 1) * static_cast<std::size_t>(frame.height + 1), glm::dvec4(0)) {
    const auto across = static_cast<std::size_t>(width_) + 1;
    // Along the rows, then down the columns.
    forRanges(static_cast<std::size_t>(height_), 16, [&](std::size_t begin, std::size_t end) {
        for (std::size_t y = begin; y < end; ++y) {
            glm::dvec4 sum(0);
            const glm::vec4* from = &frame.pixels[y * static_cast<std::size_t>(width_)];
            glm::dvec4* to = &sums_[(y + 1) * across + 1];
            for (int x = 0; x < width_; ++x) to[x] = sum += glm::dvec4(from[x]);
        }
    });
    forRanges(across, 64, [&](std::size_t begin, std::size_t end) {
        for (std::size_t y = 2; y <= static_cast<std::size_t>(height_); ++y)
            for (std::size_t x = begin; x < end; ++x) sums_[y * across + x] += sums_[(y - 1) * across + x];
    });
}

glm::dvec4 PictureSums::upTo(double x, double y) const {
    const int a = std::min(static_cast<int>(x), width_ - 1), b = std::min(static_cast<int>(y), height_ - 1);
    const auto across = static_cast<std::size_t>(width_) + 1;
    const glm::dvec4* corner = &sums_[static_cast<std::size_t>(b) * across + static_cast<std::size_t>(a)];
    const double u = x - a, v = y - b;
    // Within a pixel, which is the same all over, the sums grow evenly.
    return glm::mix(glm::mix(corner[0], corner[1], u), glm::mix(corner[across], corner[across + 1], u), v);
}

glm::vec4 PictureSums::mean(float u, float v, float width, float height) const {
    const auto span = [](float middle, float wide, int count, double& low, double& high) {
        const double half = std::max(0.5 * wide, 1e-9);
        low = std::clamp((middle - half) * count, 0.0, double(count));
        high = std::clamp((middle + half) * count, 0.0, double(count));
        // A sliver of the nearest pixel where nothing is left.
        if (high - low > 1e-6) return;
        low = std::clamp(double(middle) * count, 0.0, count - 1e-3);
        high = low + 1e-3;
    };
    double left = 0, right = 0, top = 0, bottom = 0;
    span(std::clamp(u, -1e6f, 1e6f), std::clamp(width, 0.0f, 1e6f), width_, left, right);
    span(1 - std::clamp(v, -1e6f, 1e6f), std::clamp(height, 0.0f, 1e6f), height_, top, bottom);
    const glm::dvec4 sum = upTo(right, bottom) - upTo(left, bottom) - upTo(right, top) + upTo(left, top);
    return glm::vec4(sum / ((right - left) * (bottom - top)));
}

}  // namespace gswarm
