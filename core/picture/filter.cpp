#include "core/picture/filter.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>

#include "core/base/parallel.h"
#include "core/picture/wavelet.h"

namespace gswarm {
namespace {

using glm::vec3;

constexpr int widths = 5, evenTile = 16;
constexpr float least = 0.02f;  ///< albedo below this is not divided by

void forRows(int height, const Progress& progress, const auto& work) {
    forRanges(static_cast<std::size_t>(height), 8, [&](std::size_t begin, std::size_t end) {
        for (std::size_t y = begin; y < end && !progress.cancelled(); ++y) work(static_cast<int>(y));
    });
    progress.check();
}

vec3 albedoOf(const Film::Pixel& p) { return p.samples == 0 ? vec3(0) : p.albedo / static_cast<float>(p.samples); }

void describe(const Film& film, const LinearPicture& picture, FilterPlanes& planes, int y) {
    for (int x = 0; x < film.width; ++x) {
        const Film::Pixel& p = film.at(x, y);
        const std::size_t i = planes.at(x, y), from = static_cast<std::size_t>(&p - film.pixels.data());
        const float length = glm::length(p.normal);
        const vec3 normal = length > 0 ? p.normal / length : vec3(0, 0, 1), albedo = albedoOf(p);
        for (int c = 0; c < 3; ++c) planes.normal[c][i] = normal[c], planes.albedo[c][i] = albedo[c];
        planes.depth[i] = picture.depth[from];
        planes.coverage[i] = picture.coverage[from];
        // The lesser of both sides: an edge has a jump on one of them.
        const auto to = [&](int u, int v) {
            if (u < 0 || v < 0 || u >= film.width || v >= film.height) return 1e30f;
            const std::size_t there = static_cast<std::size_t>(v) * static_cast<std::size_t>(film.width) + static_cast<std::size_t>(u);
            return std::abs(picture.depth[there] - picture.depth[from]);
        };
        const float slope = std::max(std::min(to(x + 1, y), to(x - 1, y)), std::min(to(x, y + 1), to(x, y - 1)));
        planes.slope[i] = slope < 1e29f ? slope : 0;
    }
}

/// Of a pixel's mean, smoothed with its neighbours': few samples tell their variance badly.
float variance(const Film& film, int x, int y) {
    float sum = 0, weights = 0;
    for (int v = std::max(0, y - 1); v <= std::min(film.height - 1, y + 1); ++v)
        for (int u = std::max(0, x - 1); u <= std::min(film.width - 1, x + 1); ++u) {
            const Film::Pixel& p = film.at(u, v);
            if (p.samples < 2) continue;
            const float own = luminanceOf(albedoOf(p)) + least;
            const float weight = (u == x ? 0.5f : 0.25f) * (v == y ? 0.5f : 0.25f);
            sum += weight * varianceOf(p) / (own * own);
            weights += weight;
        }
    return weights > 0 ? sum / weights : 1;
}

}  // namespace

LinearPicture filtered(const Film& film, const Progress& progress) {
    LinearPicture picture = developed(film);
    FilterPlanes planes(film.width, film.height);
    FilterLight light(planes), next(planes);
    // How much better than chance the samples are differs from place to place.
    const int across = (film.width + evenTile - 1) / evenTile, down = (film.height + evenTile - 1) / evenTile;
    std::vector<float> even(static_cast<std::size_t>(across) * static_cast<std::size_t>(down));
    const auto tileAt = [&](int x, int y) {
        return static_cast<std::size_t>(y / evenTile) * static_cast<std::size_t>(across) + static_cast<std::size_t>(x / evenTile);
    };
    forRows(down, progress, [&](int v) {
        for (int u = 0; u < across; ++u) {
            const PixelRect part{u * evenTile, v * evenTile, std::min(evenTile, film.width - u * evenTile),
                                 std::min(evenTile, film.height - v * evenTile)};
            even[tileAt(part.x, part.y)] = evennessOf(film, part);
        }
    });
    forRows(film.height, progress, [&](int y) {
        describe(film, picture, planes, y);
        for (int x = 0; x < film.width; ++x) {
            const Film::Pixel& p = film.at(x, y);
            const std::size_t i = planes.at(x, y);
            const vec3 by = picture.light[static_cast<std::size_t>(&p - film.pixels.data())] / (albedoOf(p) + least);
            for (int c = 0; c < 3; ++c) light.light[c][i] = by[c];
            light.luminance[i] = luminanceOf(by);
            light.variance[i] = variance(film, x, y) * even[tileAt(x, y)];
        }
    });
    for (int w = 0; w < widths; ++w) {
        forRows(film.height, progress, [&](int y) { spreadRow(planes, light, next, 1 << w, y); });
        std::swap(light, next);
    }
    forRows(film.height, progress, [&](int y) {
        for (int x = 0; x < film.width; ++x) {
            const Film::Pixel& p = film.at(x, y);
            const std::size_t i = planes.at(x, y);
            picture.light[static_cast<std::size_t>(&p - film.pixels.data())] =
                vec3(light.light[0][i], light.light[1][i], light.light[2][i]) * (albedoOf(p) + least);
        }
    });
    return picture;
}

}  // namespace gswarm
