#include "live/occlusion.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <numbers>

#include "core/base/parallel.h"
#include "core/picture/lens.h"

namespace gswarm::live {
namespace {

constexpr int taps = 12;
constexpr float reachShare = 0.06f;  ///< of the picture's height, how far is looked
constexpr float least = 0.12f;       ///< sine above the surface that does not count: meshes are coarse
constexpr float strength = 2.4f, most = 0.9f;

/// A spiral of places in the unit disc, as many turns of it as pixels of a block of four by four.
std::array<std::array<glm::vec2, taps>, 16> spirals() {
    std::array<std::array<glm::vec2, taps>, 16> out;
    for (std::size_t turn = 0; turn < out.size(); ++turn)
        for (int k = 0; k < taps; ++k) {
            const float share = (static_cast<float>(k) + 0.5f + static_cast<float>(turn * 7 % 16) / 16 - 0.5f) / taps;
            const float angle =
                2.39996323f * static_cast<float>(k) + static_cast<float>(turn * 5 % 16) / 16 * 2 * std::numbers::pi_v<float>;
            const float radius = std::sqrt(std::clamp(share, 0.01f, 1.0f));
            out[turn][static_cast<std::size_t>(k)] = {radius * std::cos(angle), radius * std::sin(angle)};
        }
    return out;
}

}  // namespace

void occlude(LinearPicture& picture, const Setting& setting) {
    const int width = picture.width, height = picture.height;
    const float w = static_cast<float>(width), h = static_cast<float>(height), reach = h * reachShare;
    const Lens lens({&setting, 1}, w / h);
    const auto index = [&](int x, int y) {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x);
    };
    // Where each pixel is; where nothing is, far behind.
    std::vector<glm::vec3> place(picture.light.size());
    forRanges(static_cast<std::size_t>(height), 16, [&](std::size_t begin, std::size_t end) {
        for (auto y = static_cast<int>(begin); y < static_cast<int>(end); ++y)
            for (int x = 0; x < width; ++x) {
                const auto ray =
                    lens.through((static_cast<float>(x) + 0.5f) / w * 2 - 1, 1 - (static_cast<float>(y) + 0.5f) / h * 2, 0, 0.5f, 0.5f);
                const float depth = picture.depth[index(x, y)];
                place[index(x, y)] = ray.from + ray.direction * (depth > 0 ? depth : 1e6f);
            }
    });
    // The spirals in whole pixels.
    static const auto disc = spirals();
    std::array<std::array<glm::ivec2, taps>, 16> steps;
    for (std::size_t turn = 0; turn < steps.size(); ++turn)
        for (std::size_t k = 0; k < taps; ++k)
            steps[turn][k] = {std::lround(disc[turn][k].x * reach), std::lround(disc[turn][k].y * reach)};
    std::vector<float> open(picture.light.size(), 1);
    const float perPixel = 2 * std::tan(verticalFieldOfView(setting.camera, w / h) / 2) / h;
    const bool parallel = setting.camera.projection == Projection::parallel;
    forRanges(static_cast<std::size_t>(height), 8, [&](std::size_t begin, std::size_t end) {
        for (auto y = static_cast<int>(begin); y < static_cast<int>(end); ++y)
            for (int x = 0; x < width; ++x) {
                const std::size_t i = index(x, y);
                if (picture.depth[i] <= 0) continue;
                const glm::vec3 p = place[i], n = picture.normal[i];
                const float metres = reach * (parallel ? setting.camera.width / w : perPixel * picture.depth[i]);
                float sum = 0;
                for (const glm::ivec2& step : steps[static_cast<std::size_t>((y & 3) * 4 + (x & 3))]) {
                    const int u = std::clamp(x + step.x, 0, width - 1), v = std::clamp(y + step.y, 0, height - 1);
                    const glm::vec3 toward = place[index(u, v)] - p;
                    const float d2 = glm::dot(toward, toward);
                    if (d2 <= 0 || d2 > metres * metres) continue;
                    const float above = glm::dot(n, toward) / std::sqrt(d2);
                    sum += std::max(0.0f, above - least) * (1 - d2 / (metres * metres));
                }
                open[i] = 1 - std::min(most, strength * sum / taps);
            }
    });
    forRanges(static_cast<std::size_t>(height), 16, [&](std::size_t begin, std::size_t end) {
        for (auto y = static_cast<int>(begin); y < static_cast<int>(end); ++y)
            for (int x = 0; x < width; ++x) {
                const std::size_t i = index(x, y);
                if (picture.depth[i] <= 0) continue;
                float sum = 0, count = 0;
                for (int v = y - 2; v < y + 2; ++v)
                    for (int u = x - 2; u < x + 2; ++u) {
                        const std::size_t k = index(std::clamp(u, 0, width - 1), std::clamp(v, 0, height - 1));
                        if (std::abs(picture.depth[k] - picture.depth[i]) > 0.02f * picture.depth[i]) continue;
                        sum += open[k], count += 1;
                    }
                picture.light[i] *= sum / std::max(count, 1.0f);
            }
    });
}

}  // namespace gswarm::live
