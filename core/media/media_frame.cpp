#include "core/media/media_frame.h"

#include <glm/common.hpp>

#include "core/base/parallel.h"
#include "core/media/meanings.h"
#include "core/media/pixel_span.h"

namespace gswarm {

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

BytePixels bytePixels(int width, int height, std::shared_ptr<const std::vector<std::uint8_t>> pixels, PictureAs colours) {
    return {width, height, std::move(pixels), meanings<std::uint8_t>(colours).data(), meanings<std::uint8_t>(PictureAs::numbers).data()};
}

std::size_t MediaFrame::bytes() const {
    if (const auto* encoded = std::get_if<BytePixels>(&pixels)) return sizeof *this + encoded->pixels->size();
    return sizeof *this + std::get<Pixels<glm::vec4>>(pixels).bytes();
}

template <class V>
PictureSums<V>::PictureSums(int width, int height, const std::function<void(int, V*)>& row)
    : width_(width), height_(height), sums_(static_cast<std::size_t>(width + 1) * static_cast<std::size_t>(height + 1), Sum(0)) {
    const auto across = static_cast<std::size_t>(width_) + 1;
    // Along the rows, then down the columns.
    forRanges(static_cast<std::size_t>(height_), 16, [&](std::size_t begin, std::size_t end) {
        std::vector<V> from(static_cast<std::size_t>(width_));
        for (std::size_t y = begin; y < end; ++y) {
            row(static_cast<int>(y), from.data());
            Sum sum(0);
            Sum* to = &sums_[(y + 1) * across + 1];
            for (std::size_t x = 0; x < from.size(); ++x) to[x] = sum += Sum(from[x]);
        }
    });
    forRanges(across, 64, [&](std::size_t begin, std::size_t end) {
        for (std::size_t y = 2; y <= static_cast<std::size_t>(height_); ++y)
            for (std::size_t x = begin; x < end; ++x) sums_[y * across + x] += sums_[(y - 1) * across + x];
    });
}

namespace {

/// Of a rectangle about a place, so wide as a share of the picture.
PixelSpan<double> spanOf(float middle, float wide, int count) {
    const double half = 0.5 * std::clamp(wide, 0.0f, 1e6f), at = std::clamp(middle, -1e6f, 1e6f);
    double from = std::clamp((at - half) * count, 0.0, double(count)), to = std::clamp((at + half) * count, 0.0, double(count));
    // A sliver of the nearest pixel where nothing is left.
    if (to - from <= 1e-6) from = std::clamp(at * count, 0.0, count - 1e-3), to = from + 1e-3;
    return {from, to, count};
}

}  // namespace

template <class V>
auto PictureSums<V>::alongRow(int row, int column, double share) const -> Sum {
    const Sum* at = &sums_[static_cast<std::size_t>(row) * (static_cast<std::size_t>(width_) + 1) + static_cast<std::size_t>(column)];
    // Within a pixel, which is the same all over, the sums grow evenly.
    return share == 0 ? at[0] : at[0] + (at[1] - at[0]) * share;
}

template <class V>
V PictureSums<V>::mean(float u, float v, float width, float height) const {
    const PixelSpan<double> across = spanOf(u, width, width_), down = spanOf(1 - v, height, height_);
    const auto rowOf = [&](int row) { return alongRow(row, across.high, across.highShare) - alongRow(row, across.low, across.lowShare); };
    const auto upTo = [&](int row, double share) {
        const Sum here = rowOf(row);
        return share == 0 ? here : here + (rowOf(row + 1) - here) * share;
    };
    return V((upTo(down.high, down.highShare) - upTo(down.low, down.lowShare)) / (across.length * down.length));
}

template class PictureSums<float>;
template class PictureSums<glm::vec4>;

}  // namespace gswarm
