#include "live/smooth_edges.h"

#include <algorithm>
#include <cmath>

#include "core/base/parallel.h"

namespace gswarm::live {
namespace {

constexpr int leastContrast = 12;     ///< of 255, below which nothing is an edge
constexpr float leastShare = 0.125f;  ///< of the brightest around
constexpr float farthest = 8;         ///< pixels along an edge

struct Colour {
    float c[3];
};

/// Between the middles of pixels, cut at the picture's edge.
Colour at(const Image& image, float x, float y) {
    x = std::clamp(x, 0.0f, static_cast<float>(image.width - 1)), y = std::clamp(y, 0.0f, static_cast<float>(image.height - 1));
    const int left = static_cast<int>(x), top = static_cast<int>(y);
    const float right = x - static_cast<float>(left), down = y - static_cast<float>(top);
    const auto pixel = [&](int a, int b) {
        return &image.pixels[4 * (static_cast<std::size_t>(std::min(b, image.height - 1)) * static_cast<std::size_t>(image.width) +
                                  static_cast<std::size_t>(std::min(a, image.width - 1)))];
    };
    const std::uint8_t *p = pixel(left, top), *q = pixel(left + 1, top), *r = pixel(left, top + 1), *s = pixel(left + 1, top + 1);
    Colour out;
    for (int k = 0; k < 3; ++k)
        out.c[k] = (static_cast<float>(p[k]) * (1 - right) + static_cast<float>(q[k]) * right) * (1 - down) +
                   (static_cast<float>(r[k]) * (1 - right) + static_cast<float>(s[k]) * right) * down;
    return out;
}

float bright(const Colour& c) { return c.c[0] * 0.299f + c.c[1] * 0.587f + c.c[2] * 0.114f; }
Colour mean(const Colour& a, const Colour& b) { return {{(a.c[0] + b.c[0]) / 2, (a.c[1] + b.c[1]) / 2, (a.c[2] + b.c[2]) / 2}}; }

}  // namespace

void smoothEdges(Image& image) {
    const Image from = image;
    const auto width = static_cast<std::size_t>(image.width), height = static_cast<std::size_t>(image.height);
    std::vector<std::uint8_t> luma(width * height);
    forRanges(height, 32, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin * width; i < end * width; ++i)
            luma[i] =
                static_cast<std::uint8_t>((from.pixels[4 * i] * 77 + from.pixels[4 * i + 1] * 150 + from.pixels[4 * i + 2] * 29) >> 8);
    });
    forRanges(height, 32, [&](std::size_t begin, std::size_t end) {
        for (std::size_t y = std::max<std::size_t>(begin, 1); y < std::min(end, height - 1); ++y)
            for (std::size_t x = 1; x + 1 < width; ++x) {
                const std::size_t i = y * width + x;
                const int nw = luma[i - width - 1], ne = luma[i - width + 1], sw = luma[i + width - 1], se = luma[i + width + 1],
                          own = luma[i];
                const int low = std::min({nw, ne, sw, se, own}), high = std::max({nw, ne, sw, se, own});
                if (high - low < std::max(leastContrast, static_cast<int>(static_cast<float>(high) * leastShare))) continue;
                // Along the edge: across the steepest way of brightness.
                float dx = static_cast<float>(sw + se - nw - ne), dy = static_cast<float>(nw + sw - ne - se);
                const float least = std::max(static_cast<float>(nw + ne + sw + se) / 32, 2.0f);
                const float scale = 1 / (std::min(std::abs(dx), std::abs(dy)) + least);
                dx = std::clamp(dx * scale, -farthest, farthest), dy = std::clamp(dy * scale, -farthest, farthest);
                const float px = static_cast<float>(x), py = static_cast<float>(y);
                const Colour near = mean(at(from, px - dx / 6, py - dy / 6), at(from, px + dx / 6, py + dy / 6));
                const Colour wide = mean(near, mean(at(from, px - dx / 2, py - dy / 2), at(from, px + dx / 2, py + dy / 2)));
                const float brightness = bright(wide);
                const Colour& taken = brightness < static_cast<float>(low) || brightness > static_cast<float>(high) ? near : wide;
                for (std::size_t k = 0; k < 3; ++k) image.pixels[4 * i + k] = static_cast<std::uint8_t>(taken.c[k] + 0.5f);
            }
    });
}

}  // namespace gswarm::live
