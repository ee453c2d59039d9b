#include "core/picture/filter.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>

#include "core/base/parallel.h"

namespace gswarm {
namespace {

using glm::vec3;

constexpr int widths = 5;
constexpr float kernel[3] = {0.375f, 0.25f, 0.0625f};
constexpr float least = 0.02f;  ///< albedo below this is not divided by

/// What tells surfaces apart.
struct Guide {
    vec3 normal, albedo;
    float depth, slope;  ///< metres, and their change to the next pixel
    float coverage;
};
struct Light {
    vec3 light;      ///< by the albedo
    float variance;  ///< of the luminance of it
};

struct Plane {
    int width, height;
    std::size_t at(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x);
    }
};

/// Of a pixel's mean, smoothed with its neighbours': few samples tell their variance badly.
float variance(const Film& film, const Plane& plane, int x, int y, const std::vector<Guide>& guides) {
    float sum = 0, weights = 0;
    for (int v = std::max(0, y - 1); v <= std::min(plane.height - 1, y + 1); ++v)
        for (int u = std::max(0, x - 1); u <= std::min(plane.width - 1, x + 1); ++u) {
            const Film::Pixel& p = film.at(u, v);
            if (p.samples < 2) continue;
            const auto n = static_cast<float>(p.samples);
            const float mean = p.luminance / n, own = luminanceOf(guides[plane.at(u, v)].albedo) + least;
            const float weight = kernel[std::abs(u - x)] * kernel[std::abs(v - y)];
            sum += weight * std::max(p.squares / n - mean * mean, 0.0f) / (n - 1) / (own * own);
            weights += weight;
        }
    return weights > 0 ? sum / weights : 1;
}

/// One wavelet: neighbours `step` pixels apart.
void spread(const Plane& plane, const std::vector<Guide>& guides, const std::vector<Light>& from, std::vector<Light>& to, int step,
            const Progress& progress) {
    forRanges(static_cast<std::size_t>(plane.height), 8, [&](std::size_t begin, std::size_t end) {
        for (int y = static_cast<int>(begin); y < static_cast<int>(end); ++y) {
            if (progress.cancelled()) return;
            for (int x = 0; x < plane.width; ++x) {
                const std::size_t here = plane.at(x, y);
                const Guide& g = guides[here];
                const Light& own = from[here];
                // Of what noise explains: three and a half deviations, as far as neighbours agree on them.
                float around = 0, all = 0;
                for (int v = std::max(0, y - 1); v <= std::min(plane.height - 1, y + 1); ++v)
                    for (int u = std::max(0, x - 1); u <= std::min(plane.width - 1, x + 1); ++u) {
                        const float w = kernel[std::abs(u - x)] * kernel[std::abs(v - y)];
                        around += w * from[plane.at(u, v)].variance, all += w;
                    }
                const float explained = 3.5f * std::sqrt(around / all) + 1e-4f, bright = luminanceOf(own.light);
                vec3 sum = own.light * kernel[0] * kernel[0];
                float spread = own.variance * kernel[0] * kernel[0] * kernel[0] * kernel[0], weights = kernel[0] * kernel[0];
                for (int j = -2; j <= 2; ++j)
                    for (int i = -2; i <= 2; ++i) {
                        const int u = x + i * step, v = y + j * step;
                        if ((i == 0 && j == 0) || u < 0 || v < 0 || u >= plane.width || v >= plane.height) continue;
                        const std::size_t there = plane.at(u, v);
                        const Guide& o = guides[there];
                        const float facing = glm::dot(g.normal, o.normal);
                        if (facing <= 0.5f || std::abs(o.coverage - g.coverage) > 0.5f) continue;
                        const float far = static_cast<float>(step) * std::sqrt(static_cast<float>(i * i + j * j));
                        const float apart = std::abs(o.depth - g.depth) / (g.slope * far + 1e-3f * g.depth + 1e-6f);
                        const vec3 paint = o.albedo - g.albedo;
                        const float differs = std::abs(luminanceOf(from[there].light) - bright) / explained;
                        const float away = apart + differs + glm::dot(paint, paint) * 60 + (1 - facing) * 24;
                        if (away > 8) continue;
                        const float weight = kernel[std::abs(i)] * kernel[std::abs(j)] * std::exp(-away);
                        sum += weight * from[there].light;
                        spread += weight * weight * from[there].variance;
                        weights += weight;
                    }
                to[here] = {sum / weights, spread / (weights * weights)};
            }
        }
    });
    progress.check();
}

}  // namespace

LinearPicture filtered(const Film& film, const Progress& progress) {
    LinearPicture picture = developed(film);
    const Plane plane{film.width, film.height};
    std::vector<Guide> guides(film.pixels.size());
    std::vector<Light> light(film.pixels.size()), next(film.pixels.size());
    forEach(static_cast<std::size_t>(film.height), [&](std::size_t row) {
        const int y = static_cast<int>(row);
        for (int x = 0; x < film.width; ++x) {
            const std::size_t i = plane.at(x, y);
            const Film::Pixel& p = film.pixels[i];
            const float n = std::max(1.0f, static_cast<float>(p.samples)), length = glm::length(p.normal);
            guides[i] = {length > 0 ? p.normal / length : vec3(0, 0, 1), p.albedo / n, picture.depth[i], 0, picture.coverage[i]};
        }
    });
    forEach(static_cast<std::size_t>(film.height), [&](std::size_t row) {
        const int y = static_cast<int>(row);
        for (int x = 0; x < film.width; ++x) {
            Guide& g = guides[plane.at(x, y)];
            // The lesser of both sides: an edge has a jump on one of them.
            const auto slope = [&](int dx, int dy) {
                const auto to = [&](int u, int v) {
                    return u < 0 || v < 0 || u >= plane.width || v >= plane.height ? 1e30f
                                                                                   : std::abs(guides[plane.at(u, v)].depth - g.depth);
                };
                return std::min(to(x + dx, y + dy), to(x - dx, y - dy));
            };
            g.slope = std::max(slope(1, 0), slope(0, 1));
            if (g.slope > 1e29f) g.slope = 0;
        }
    });
    forEach(static_cast<std::size_t>(film.height), [&](std::size_t row) {
        const int y = static_cast<int>(row);
        for (int x = 0; x < film.width; ++x) {
            const std::size_t i = plane.at(x, y);
            light[i] = {picture.light[i] / (guides[i].albedo + least), variance(film, plane, x, y, guides)};
        }
    });
    for (int w = 0; w < widths; ++w) {
        spread(plane, guides, light, next, 1 << w, progress);
        light.swap(next);
    }
    for (std::size_t i = 0; i < light.size(); ++i) picture.light[i] = light[i].light * (guides[i].albedo + least);
    return picture;
}

}  // namespace gswarm
