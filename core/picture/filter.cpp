#include "core/picture/filter.h"

#include <algorithm>
#include <cmath>

#include "core/base/parallel.h"
#include "core/picture/regression.h"

namespace gswarm {
namespace {

using glm::vec3;

constexpr float least = 1e-3f;  ///< light below this is not divided by

/// Rows, some at a time.
void forRows(int height, const Progress& progress, const auto& work) {
    const auto bands = static_cast<std::size_t>((height + rowsRegressed - 1) / rowsRegressed);
    forEach(bands, [&](std::size_t band) {
        const int first = static_cast<int>(band) * rowsRegressed;
        if (!progress.cancelled()) work(first, std::min(rowsRegressed, height - first));
    });
    progress.check();
}

/// The variance of all colours, as far as they vary with the luminance. That is known of what was held below the brightest: what is
/// above varies alike.
float varianceOf(const Film::Pixel& pixel, const vec3& light) {
    const float held = pixel.luminance / static_cast<float>(std::max(pixel.samples, 1u));
    const vec3 share = (light + least) / (held + least);
    return varianceOf(pixel) * glm::dot(share, share);
}

void describe(const Film& film, const LinearPicture& picture, FilterPlanes& planes, int x, int y) {
    const Film::Pixel& p = film.at(x, y);
    const std::size_t i = planes.at(x, y), from = static_cast<std::size_t>(&p - film.pixels.data());
    const float each = p.samples == 0 ? 0 : 1 / static_cast<float>(p.samples);
    const vec3& light = picture.light[from];
    for (int c = 0; c < 3; ++c)
        planes.light[c][i] = light[c], planes.albedo[c][i] = p.albedo[c] * each, planes.normal[c][i] = p.normal[c] * each;
    planes.variance[i] = varianceOf(p, light);
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

}  // namespace

LinearPicture filtered(const Film& film, const Progress& progress) {
    LinearPicture picture = developed(film);
    FilterPlanes planes(film.width, film.height);
    FilteredLight smooth;
    for (auto& plane : smooth) plane.resize(planes.depth.size());
    forRows(film.height, progress, [&](int first, int rows) {
        for (int y = first; y < first + rows; ++y)
            for (int x = 0; x < film.width; ++x) describe(film, picture, planes, x, y);
    });
    planes.fillRim();
    forRows(film.height, progress, [&](int first, int rows) { regressRows(planes, smooth, first, rows); });
    forRows(film.height, progress, [&](int first, int rows) {
        for (int y = first; y < first + rows; ++y)
            for (int x = 0; x < film.width; ++x) {
                const std::size_t i = planes.at(x, y);
                picture.light[static_cast<std::size_t>(&film.at(x, y) - film.pixels.data())] = {smooth[0][i], smooth[1][i], smooth[2][i]};
            }
    });
    return picture;
}

}  // namespace gswarm
