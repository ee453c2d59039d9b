#include "core/light/panorama.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <numbers>
#include <string>

#include "core/base/error.h"

namespace gswarm {
namespace {

using glm::vec2;
using glm::vec3;

constexpr float pi = std::numbers::pi_v<float>;
/// Of the mean: what a dark place is picked by at least.
constexpr float leastShare = 1e-2f;

float luminous(const vec3& c) { return c.x * 0.2126f + c.y * 0.7152f + c.z * 0.0722f; }

/// The first whose sum reaches a share, and how far into it that is.
std::pair<int, float> within(const float* sums, int count, float share) {
    const auto found = static_cast<int>(std::upper_bound(sums, sums + count, share) - sums);
    const int k = std::min(found, count - 1);
    const float before = k > 0 ? sums[k - 1] : 0, width = sums[k] - before;
    return {k, width > 0 ? std::clamp((share - before) / width, 0.0f, 0.999999f) : 0.5f};
}

}  // namespace

vec2 onPanorama(const vec3& d) {
    const float right = std::atan2(d.x, -d.z) / (2 * pi) + 0.5f;
    return {right, std::acos(std::clamp(d.y, -1.0f, 1.0f)) / pi};
}

vec3 fromPanorama(const vec2& place) {
    const float around = (place.x - 0.5f) * 2 * pi, down = place.y * pi;
    return {std::sin(down) * std::sin(around), std::cos(down), -std::sin(down) * std::cos(around)};
}

Panorama::Panorama(FloatPicture picture) {
    if (std::abs(picture.width - 2 * picture.height) > picture.width / 10)
        throw Error("The picture has " + std::to_string(picture.width) + " × " + std::to_string(picture.height) +
                    " pixels; one of all directions is twice as wide as high.");
    if (picture.width > mostWidth) picture = reduced(picture, (picture.width + mostWidth - 1) / mostWidth);
    width_ = picture.width, height_ = picture.height;
    light_ = std::move(picture.light);
    for (vec3& light : light_) light = glm::max(light, vec3(0));
    double weight = 0;
    glm::dvec3 sum(0);
    const auto sineOf = [&](int y) { return std::sin((static_cast<float>(y) + 0.5f) / static_cast<float>(height_) * pi); };
    for (int y = 0; y < height_; ++y)
        for (int x = 0; x < width_; ++x) {
            const double part = sineOf(y);
            sum += glm::dvec3(pixel(x, y)) * part, weight += part;
        }
    mean_ = sum / weight;
    // Between the middles of pixels light is that of four: each is picked by all around it, so that none is missed.
    const float least = std::max(luminous(mean_) * leastShare, 1e-20f);
    rows_.resize(static_cast<std::size_t>(height_)), columns_.resize(light_.size());
    double all = 0;
    for (int y = 0; y < height_; ++y) {
        double row = 0;
        float* columns = &columns_[static_cast<std::size_t>(y) * static_cast<std::size_t>(width_)];
        std::vector<double> upTo(static_cast<std::size_t>(width_));
        for (int x = 0; x < width_; ++x) {
            float around = 0;
            for (int b = -1; b <= 1; ++b)
                for (int a = -1; a <= 1; ++a) around += luminous(pixel(x + a, y + b)) * (a ? 0.25f : 0.5f) * (b ? 0.25f : 0.5f);
            upTo[static_cast<std::size_t>(x)] = row += std::max(around, least);
        }
        for (int x = 0; x < width_; ++x) columns[x] = static_cast<float>(upTo[static_cast<std::size_t>(x)] / row);
        rows_[static_cast<std::size_t>(y)] = static_cast<float>(all += row * sineOf(y));
    }
    for (float& row : rows_) row = static_cast<float>(row / all);
}

vec3 Panorama::pixel(int x, int y) const {
    x = x < 0 ? x + width_ : x >= width_ ? x - width_ : x;
    y = std::clamp(y, 0, height_ - 1);
    return light_[static_cast<std::size_t>(y) * static_cast<std::size_t>(width_) + static_cast<std::size_t>(x)];
}

vec3 Panorama::from(const vec3& direction) const { return at(onPanorama(direction)).light; }

vec2 Panorama::pick(float u, float v) const {
    const auto [y, down] = within(rows_.data(), height_, v);
    const auto [x, right] = within(&columns_[static_cast<std::size_t>(y) * static_cast<std::size_t>(width_)], width_, u);
    return {(static_cast<float>(x) + right) / static_cast<float>(width_), (static_cast<float>(y) + down) / static_cast<float>(height_)};
}

Panorama::Seen Panorama::at(const vec2& place) const {
    const vec2 size(static_cast<float>(width_), static_cast<float>(height_)), on = place * size;
    const int x = std::clamp(static_cast<int>(on.x), 0, width_ - 1), y = std::clamp(static_cast<int>(on.y), 0, height_ - 1);
    const auto step = [](const float* sums, int k) { return sums[k] - (k > 0 ? sums[k - 1] : 0); };
    const float chance = step(rows_.data(), y) * step(&columns_[static_cast<std::size_t>(y) * static_cast<std::size_t>(width_)], x);
    return {betweenPixels(on.x - 0.5f, on.y - 0.5f, [&](int a, int b) { return pixel(a, b); }), chance * size.x * size.y};
}

float Panorama::bySolidAngle(float density, float sine) { return density / (2 * pi * pi * std::max(sine, 1e-4f)); }

}  // namespace gswarm
