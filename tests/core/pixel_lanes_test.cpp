// Rows of pixels over lanes against one pixel after the other.
#include <gtest/gtest.h>

#include <cmath>
#include <random>
#include <vector>

#include "core/picture/bloom.h"
#include "core/picture/pixel_lanes.h"
#include "core/picture/row_lanes.h"

using namespace gswarm;
using glm::vec3;

namespace {

/// Lengths with and without a rest.
constexpr std::size_t lengths[] = {0, 1, 15, 16, 17, 64, 203};

/// The number that a half's sixteen bits mean.
float fromHalf(std::uint16_t bits) {
    const int exponent = bits >> 10 & 31, mantissa = bits & 1023;
    const double size = exponent == 0 ? std::ldexp(mantissa, -24) : std::ldexp(1024 + mantissa, exponent - 25);
    return static_cast<float>(bits & 0x8000 ? -size : size);
}

}  // namespace

TEST(PixelLanes, HalvesAreTheNumbersTheyMean) {
    std::mt19937 dice(7);
    for (const std::size_t length : lengths) {
        std::vector<std::uint16_t> halves(4 * length);
        // Any but infinities and what is no number; coverage is never negative.
        for (std::size_t k = 0; k < halves.size(); ++k) do
                halves[k] = static_cast<std::uint16_t>(dice() & (k % 4 == 3 ? 0x7FFF : 0xFFFF));
            while ((halves[k] >> 10 & 31) == 31);
        std::vector<vec3> light(length);
        std::vector<float> coverage(length + 1, -5);
        unpackHalves(halves.data(), light, coverage.data());
        for (std::size_t i = 0; i < length; ++i) {
            for (int c = 0; c < 3; ++c) EXPECT_EQ(light[i][c], fromHalf(halves[4 * i + static_cast<std::size_t>(c)])) << i;
            EXPECT_EQ(coverage[i], std::min(1.0f, fromHalf(halves[4 * i + 3]))) << i;
        }
        EXPECT_EQ(coverage[length], -5) << "nothing is written behind the row";
    }
}

TEST(PixelLanes, FogThickensExponentially) {
    std::mt19937 dice(8);
    std::uniform_real_distribution<float> share(0, 1);
    const vec3 colour(0.2f, 0.5f, 0.9f);
    const float start = 3, fogDepth = 12;
    for (const std::size_t length : lengths) {
        std::vector<vec3> light(length);
        std::vector<float> coverage(length), depth(length);
        for (std::size_t i = 0; i < length; ++i)
            light[i] = {share(dice), 4 * share(dice), share(dice)}, coverage[i] = share(dice),
            depth[i] = i % 9 == 0 ? 1e9f : 60 * share(dice);
        std::vector<vec3> fogged = light;
        fogOver(fogged, coverage.data(), depth.data(), start, fogDepth, colour);
        for (std::size_t i = 0; i < length; ++i) {
            const double clear = std::exp(-std::max(0.0, double(depth[i]) - start) / fogDepth);
            for (int c = 0; c < 3; ++c)
                EXPECT_NEAR(fogged[i][c], light[i][c] * clear + colour[c] * coverage[i] * (1 - clear), 4e-6) << length << " " << i;
        }
    }
}

TEST(PixelLanes, BytesAreRounded) {
    for (const std::size_t length : lengths) {
        std::vector<vec3> shown(length);
        for (std::size_t i = 0; i < length; ++i)
            shown[i] = {float(i % 256) / 255, 1 - float(i) / 300, std::min(1.0f, (float(i % 256) + 0.49f) / 255)};
        std::vector<std::uint8_t> bytes(4 * length + 1, 77);
        toBytes(shown, bytes.data());
        for (std::size_t i = 0; i < length; ++i) {
            for (std::size_t c = 0; c < 3; ++c)
                EXPECT_EQ(bytes[4 * i + c], static_cast<std::uint8_t>(shown[i][static_cast<int>(c)] * 255 + 0.5f)) << i;
            EXPECT_EQ(bytes[4 * i + 3], 255);
        }
        EXPECT_EQ(bytes[4 * length], 77);
    }
}

TEST(RowLanes, AreWhatOnePixelAfterTheOtherIs) {
    std::mt19937 dice(11);
    std::uniform_real_distribution<float> share(0, 1);
    const auto row = [&](std::size_t count) {
        std::vector<float> numbers(count + 1);
        for (float& number : numbers) number = 5 * share(dice);
        return numbers;
    };
    for (const std::size_t length : lengths) {
        const std::vector<float> a = row(length), b = row(length), c = row(length), d = row(length);
        std::vector<float> out(length + 1, -5);
        mixFourRows(a.data(), b.data(), c.data(), d.data(), out.data(), length);
        for (std::size_t i = 0; i < length; ++i) EXPECT_EQ(out[i], (a[i] + d[i]) * 0.125f + (b[i] + c[i]) * 0.375f) << i;
        EXPECT_EQ(out[length], -5) << "nothing is written behind the row";
        const std::vector<float> before = out;
        mixOntoRow(out.data(), 0.6f, a.data(), b.data(), length);
        for (std::size_t i = 0; i < length; ++i) EXPECT_EQ(out[i], before[i] * 0.6f + a[i] * 0.75f + b[i] * 0.25f) << i;
        EXPECT_EQ(out[length], -5);
        std::vector<vec3> light(length);
        for (vec3& each : light) each = {share(dice), 4 * share(dice), share(dice)};
        std::vector<vec3> over = light, dimmed = light;
        const vec3 colour(0.2f, 0.5f, 0.9f);
        addBehind(over, a.data(), colour);
        dimRow(dimmed, b.data());
        for (std::size_t i = 0; i < length; ++i) {
            EXPECT_EQ(over[i], light[i] + (1 - a[i]) * colour) << i;
            EXPECT_EQ(dimmed[i], light[i] * b[i]) << i;
        }
    }
}

TEST(Bloom, APixelBecomesAHillThatIsEvenOnAllSides) {
    // Odd and even sizes; the pixel stands where all widths have their middle, or next to it.
    for (const int size : {64, 65}) {
        std::vector<vec3> light(static_cast<std::size_t>(size) * static_cast<std::size_t>(size));
        const auto at = [&](int x, int y) -> vec3& { return light[static_cast<std::size_t>(y * size + x)]; };
        at(31, 32) = {100, 50, 0};
        bloom(light, size, size, 8, 0.5f);
        vec3 sum(0);
        for (const vec3& each : light) sum += each;
        EXPECT_NEAR(sum.x, 100, 0.5);
        EXPECT_NEAR(sum.y, 50, 0.25);
        EXPECT_EQ(sum.z, 0);
        EXPECT_GT(at(31, 32).x, 50);
        // Along the row as along the column, and less and less.
        for (int k = 1; k < 6; ++k) {
            EXPECT_NEAR(at(31 + k, 32).x, at(31, 32 - k).x, 1e-4) << k;
            EXPECT_NEAR(at(31 - k, 32).x, at(31, 32 + k).x, 1e-4) << k;
            EXPECT_LE(at(31 + k, 32).x, at(31 + k - 1, 32).x + 1e-6f) << k;
            EXPECT_GT(at(31 + k, 32).x, 0) << k;
        }
    }
}
