#include "core/media/quick_sums.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <glm/vec3.hpp>
#include <optional>

#include "core/base/parallel.h"
#include "core/media/pixel_span.h"

namespace gswarm {
namespace {

constexpr double mostPixels = 1 << 30;

PixelSpan<float> spanAbout(float middle, float half, int count) {
    const auto all = static_cast<float>(count);
    PixelSpan<float> span(std::clamp((middle - half) * all, 0.0f, all), std::clamp((middle + half) * all, 0.0f, all), count);
    span.length = std::max(span.length, 1e-9f);
    return span;
}

/// A number of 0 … 1 in so many steps; nothing for any other.
std::optional<std::uint32_t> stepsOf(float value, float steps) {
    if (!(value >= 0 && value < 1.000001f)) return std::nullopt;
    return static_cast<std::uint32_t>(std::min(value, 1.0f) * steps + 0.5f);
}

std::optional<std::uint32_t> summand(float pixel, float steps) { return stepsOf(pixel, steps); }
std::optional<std::uint64_t> summand(const glm::vec4& pixel, float steps) {
    std::uint64_t sum = 0;
    for (int c = 0; c < 3; ++c) {
        const std::optional<std::uint32_t> one = stepsOf(pixel[c], steps);
        if (!one) return std::nullopt;
        sum |= std::uint64_t{*one} << (c * QuickSums<glm::vec4>::colourBits);
    }
    return sum;
}

float numbersOf(std::uint32_t sum) { return static_cast<float>(sum); }
glm::vec3 numbersOf(std::uint64_t sum) {
    constexpr int bits = QuickSums<glm::vec4>::colourBits;
    constexpr std::uint64_t one = (std::uint64_t{1} << bits) - 1;
    return {static_cast<float>(sum & one), static_cast<float>(sum >> bits & one), static_cast<float>(sum >> 2 * bits)};
}

float pixelFrom(float value) { return value; }
glm::vec4 pixelFrom(const glm::vec3& value) { return {value, 1}; }

}  // namespace

template <class V>
int QuickSums<V>::stepsFor(int width, int height, float shareWidth, float shareHeight) {
    constexpr double holds = ofColours ? (1 << colourBits) - 1 : (std::uint32_t{1} << 31) - 1;
    constexpr int mostSteps = 1 << (ofColours ? 18 : 24), fewestSteps = 1 << (ofColours ? 13 : 20);
    const double most = (std::ceil(double(shareWidth) * width) + 2) * (std::ceil(double(shareHeight) * height) + 2);
    const double steps = std::min<double>(mostSteps, std::floor(holds / most));
    return steps < fewestSteps || (width + 1.0) * (height + 1.0) > mostPixels ? 0 : static_cast<int>(steps);
}

template <class V>
QuickSums<V>::QuickSums(int width, int height, int steps, const std::function<void(int, V*)>& row)
    : width_(width), height_(height), unit_(1 / static_cast<float>(steps)) {
    const auto across = static_cast<std::size_t>(width) + 1, down = static_cast<std::size_t>(height) + 1;
    sums_.assign(across * down, 0);
    std::atomic<bool> within = true;
    // Along the rows, then down the columns.
    forRanges(static_cast<std::size_t>(height), 16, [&](std::size_t begin, std::size_t end) {
        std::vector<V> from(static_cast<std::size_t>(width));
        for (std::size_t y = begin; y < end && within; ++y) {
            row(static_cast<int>(y), from.data());
            Sum sum = 0;
            Sum* into = &sums_[(y + 1) * across + 1];
            for (std::size_t x = 0; x < from.size(); ++x) {
                const std::optional<Sum> pixel = summand(from[x], static_cast<float>(steps));
                if (!pixel) {
                    within = false;
                    break;
                }
                into[x] = sum += *pixel;
            }
        }
    });
    if (!within) {
        sums_ = {};
        return;
    }
    forRanges(across, 64, [&](std::size_t begin, std::size_t end) {
        for (std::size_t y = 2; y < down; ++y)
            for (std::size_t x = begin; x < end; ++x) sums_[y * across + x] += sums_[(y - 1) * across + x];
    });
}

template <class V>
V QuickSums<V>::mean(float u, float v, float width, float height) const {
    const PixelSpan<float> across = spanAbout(u, width / 2, width_), down = spanAbout(1 - v, height / 2, height_);
    // Of whole rows from one up to another.
    const auto between = [&](int first, int last) {
        const auto column = [&](int x) {
            const auto upTo = [&](int row) {
                return sums_[static_cast<std::size_t>(row) * static_cast<std::size_t>(width_ + 1) + static_cast<std::size_t>(x)];
            };
            return upTo(last) - upTo(first);
        };
        const Sum low = column(across.low), high = column(across.high);
        const auto whole = numbersOf(high - low), after = numbersOf(column(across.high + 1) - high),
                   before = numbersOf(column(across.low + 1) - low);
        return whole + (after * across.highShare - before * across.lowShare);
    };
    const auto whole = between(down.low, down.high), after = between(down.high, down.high + 1), before = between(down.low, down.low + 1);
    return pixelFrom((whole + (after * down.highShare - before * down.lowShare)) * (unit_ / (across.length * down.length)));
}

template class QuickSums<float>;
template class QuickSums<glm::vec4>;

}  // namespace gswarm
