// Soft light kept away by what stands around, over lanes against one pixel after the other.
#include <gtest/gtest.h>

#include <cmath>
#include <glm/geometric.hpp>
#include <numbers>
#include <random>

#include "core/picture/lens.h"
#include "core/picture/occlusion.h"

using namespace gswarm;
using glm::vec3;

namespace {

Setting lookingAhead(Projection projection) {
    Setting setting{};
    setting.camera.position = {0, 0, 10};
    setting.camera.target = {0, 0, 0};
    setting.camera.projection = projection;
    setting.camera.width = 8;
    setting.camera.focalLength = 36;
    setting.camera.nearCut = 0.1f;
    return setting;
}

LinearPicture picture(int width, int height) {
    const std::size_t count = static_cast<std::size_t>(width) * static_cast<std::size_t>(height);
    LinearPicture p{width, height, {}, {}, {}, {}, {}};
    p.light.assign(count, vec3(1));
    p.coverage.assign(count, 1);
    p.depth.assign(count, 10);
    p.normal.assign(count, vec3(0, 0, 1));
    return p;
}

/// As occlusion.h says it.
std::vector<float> plainly(const LinearPicture& p, const Setting& setting) {
    const int width = p.width, height = p.height;
    const float w = static_cast<float>(width), h = static_cast<float>(height), reach = h * 0.06f;
    const Lens lens({&setting, 1}, w / h);
    const auto at = [&](int x, int y) {
        return static_cast<std::size_t>(std::clamp(y, 0, height - 1)) * static_cast<std::size_t>(width) +
               static_cast<std::size_t>(std::clamp(x, 0, width - 1));
    };
    std::vector<vec3> place(p.light.size());
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const auto ray =
                lens.through((static_cast<float>(x) + 0.5f) / w * 2 - 1, 1 - (static_cast<float>(y) + 0.5f) / h * 2, 0, 0.5f, 0.5f);
            const float depth = p.depth[at(x, y)] > 0 ? p.depth[at(x, y)] : 1e6f;
            place[at(x, y)] = ray.from + ray.direction * (depth - ray.begun);
        }
    const float perPixel = 2 * std::tan(verticalFieldOfView(setting.camera, w / h) / 2) / h;
    std::vector<float> open(p.light.size(), 1), shares(p.light.size(), 1);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const std::size_t i = at(x, y);
            const float metres =
                reach * (setting.camera.projection == Projection::parallel ? setting.camera.width / w : perPixel * p.depth[i]);
            float sum = 0;
            for (int k = 0; k < 12; ++k) {
                const int turn = (y & 3) * 4 + (x & 3);
                const float share = (static_cast<float>(k) + static_cast<float>(turn * 7 % 16) / 16) / 12;
                const float angle =
                    2.39996323f * static_cast<float>(k) + static_cast<float>(turn * 5 % 16) / 16 * 2 * std::numbers::pi_v<float>;
                const float radius = std::sqrt(std::clamp(share, 0.01f, 1.0f));
                const vec3 toward = place[at(x + static_cast<int>(std::lround(radius * std::cos(angle) * reach)),
                                             y + static_cast<int>(std::lround(radius * std::sin(angle) * reach)))] -
                                    place[i];
                const float d2 = glm::dot(toward, toward);
                if (d2 <= 0 || d2 > metres * metres) continue;
                sum += std::max(0.0f, glm::dot(p.normal[i], toward) / std::sqrt(d2) - 0.12f) * (1 - d2 / (metres * metres));
            }
            open[i] = 1 - std::min(0.9f, 2.4f * sum / 12);
        }
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            if (p.depth[at(x, y)] <= 0) continue;
            float sum = 0, count = 0;
            for (int v = y - 2; v < y + 2; ++v)
                for (int u = x - 2; u < x + 2; ++u)
                    if (std::abs(p.depth[at(u, v)] - p.depth[at(x, y)]) <= 0.02f * p.depth[at(x, y)]) sum += open[at(u, v)], count += 1;
            shares[at(x, y)] = sum / count;
        }
    return shares;
}

}  // namespace

TEST(Occlusion, IsWhatOnePixelAfterTheOtherIs) {
    std::mt19937 dice(5);
    std::uniform_real_distribution<float> share(0, 1);
    for (const Projection projection : {Projection::perspective, Projection::parallel})
        for (const auto& [width, height] : {std::pair{64, 80}, {77, 61}, {5, 90}, {16, 16}}) {
            const Setting setting = lookingAhead(projection);
            LinearPicture p = picture(width, height);
            // Hills, with steps and holes in between.
            for (int y = 0; y < height; ++y)
                for (int x = 0; x < width; ++x) {
                    const std::size_t i = static_cast<std::size_t>(y * width + x);
                    p.depth[i] = 10 + 0.2f * std::sin(static_cast<float>(x) * 0.4f) * std::cos(static_cast<float>(y) * 0.3f);
                    if ((x / 9 + y / 7) % 3 == 0) p.depth[i] -= 0.15f;
                    if (x / 4 % 5 == 4 && y / 4 % 5 == 4) p.depth[i] = 0;
                    p.normal[i] = glm::normalize(vec3(share(dice) - 0.5f, share(dice) - 0.5f, 1));
                    p.light[i] = {share(dice), 3 * share(dice), 1};
                }
            const std::vector<float> expected = plainly(p, setting);
            const std::vector<vec3> before = p.light;
            occlude(p, setting);
            float darkest = 1;
            for (std::size_t i = 0; i < before.size(); ++i) {
                darkest = std::min(darkest, expected[i]);
                for (int c = 0; c < 3; ++c)
                    EXPECT_NEAR(p.light[i][c], before[i][c] * expected[i], 5e-4f * before[i][c]) << width << " " << i << " " << c;
            }
            if (height == 80) {
                EXPECT_LT(darkest, 0.8f) << "something is dark";
            }
        }
}

TEST(Occlusion, LeavesAnOpenWallAsItIsAndDarkensTheFootOfAStep) {
    const Setting setting = lookingAhead(Projection::parallel);
    LinearPicture p = picture(120, 120);
    occlude(p, setting);
    for (const vec3& light : p.light) EXPECT_FLOAT_EQ(light.x, 1);
    // The right half stands a fifth of a metre nearer.
    for (std::size_t i = 0; i < p.depth.size(); ++i)
        if (i % 120 >= 60) p.depth[i] = 9.8f;
    occlude(p, setting);
    const auto at = [&](std::size_t x) { return p.light[60 * 120 + x].x; };
    EXPECT_LT(at(58), 0.9f);
    EXPECT_FLOAT_EQ(at(40), 1) << "too far away";
    EXPECT_FLOAT_EQ(at(62), 1) << "what stands higher gets all light";
}
