#include "core/media/quick_sums.h"

#include <algorithm>
#include <atomic>
#include <cmath>

#include "core/base/parallel.h"
#include "core/media/pixel_span.h"

namespace gswarm {
namespace {

constexpr int mostBits = 24, fewestBits = 20;  // of a pixel
constexpr double mostSums = 1 << 30;

PixelSpan<float> spanAbout(float middle, float half, int count) {
    const auto all = static_cast<float>(count);
    PixelSpan<float> span(std::clamp((middle - half) * all, 0.0f, all), std::clamp((middle + half) * all, 0.0f, all), count);
    span.length = std::max(span.length, 1e-9f);
    return span;
}

}  // namespace

int QuickSums::bitsFor(int width, int height, float shareWidth, float shareHeight) {
    const double most = (std::ceil(double(shareWidth) * width) + 2) * (std::ceil(double(shareHeight) * height) + 2);
    const int bits = std::min(mostBits, 31 - static_cast<int>(std::ceil(std::log2(most) + 1e-6)));
    return bits < fewestBits || (width + 1.0) * (height + 1.0) > mostSums ? 0 : bits;
}

QuickSums QuickSums::made(int width, int height, int channels, int bits, const std::function<void(int, int, float*)>& row) {
    const auto across = static_cast<std::size_t>(width) + 1, down = static_cast<std::size_t>(height) + 1;
    QuickSums sums;
    sums.width_ = width, sums.height_ = height, sums.channels_ = channels;
    sums.unit_ = std::ldexp(1.0f, -bits);
    const float scale = std::ldexp(1.0f, bits);
    std::atomic<bool> within = true;
    for (int c = 0; c < channels; ++c) {
        std::vector<std::uint32_t>& to = sums.sums_[static_cast<std::size_t>(c)];
        to.assign(across * down, 0);
        // Along the rows, then down the columns.
        forRanges(static_cast<std::size_t>(height), 16, [&](std::size_t begin, std::size_t end) {
            std::vector<float> from(static_cast<std::size_t>(width));
            for (std::size_t y = begin; y < end && within; ++y) {
                row(static_cast<int>(y), c, from.data());
                std::uint32_t sum = 0;
                std::uint32_t* into = &to[(y + 1) * across + 1];
                for (std::size_t x = 0; x < from.size(); ++x) {
                    if (!(from[x] >= 0 && from[x] < 1.000001f)) {
                        within = false;
                        break;
                    }
                    into[x] = sum += static_cast<std::uint32_t>(std::min(from[x], 1.0f) * scale + 0.5f);
                }
            }
        });
        if (!within) return {};
        forRanges(across, 64, [&](std::size_t begin, std::size_t end) {
            for (std::size_t y = 2; y < down; ++y)
                for (std::size_t x = begin; x < end; ++x) to[y * across + x] += to[(y - 1) * across + x];
        });
    }
    return sums;
}

float QuickSums::mean(int channel, float u, float v, float halfWidth, float halfHeight) const {
    const PixelSpan<float> across = spanAbout(u, halfWidth, width_), down = spanAbout(1 - v, halfHeight, height_);
    const std::uint32_t* all = sums(channel);
    const auto at = [&](int row, int column) {
        return all[static_cast<std::size_t>(row) * static_cast<std::size_t>(width_ + 1) + static_cast<std::size_t>(column)];
    };
    // Of whole rows from one up to another.
    const auto between = [&](int first, int last) {
        const auto column = [&](int x) { return at(last, x) - at(first, x); };
        const std::uint32_t low = column(across.low), high = column(across.high);
        const auto number = [](std::uint32_t sum) { return static_cast<float>(static_cast<std::int32_t>(sum)); };
        const float whole = number(high - low), after = number(column(across.high + 1) - high),
                    before = number(column(across.low + 1) - low);
        return whole + (after * across.highShare - before * across.lowShare);
    };
    const float whole = between(down.low, down.high), after = between(down.high, down.high + 1), before = between(down.low, down.low + 1);
    return (whole + (after * down.highShare - before * down.lowShare)) * unit_ / (across.length * down.length);
}

std::size_t QuickSums::bytes() const {
    std::size_t bytes = sizeof *this;
    for (const auto& one : sums_) bytes += one.size() * sizeof(std::uint32_t);
    return bytes;
}

}  // namespace gswarm
