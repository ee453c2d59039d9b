// Pictures read at many places at once: to the bit as one by one; means from sums that run over.
#include "core/pattern/picture_lanes.h"

#include <gtest/gtest.h>

#include <cmath>
#include <glm/geometric.hpp>
#include <limits>

#include "core/base/block.h"
#include "core/base/chance.h"

using namespace gswarm;
using glm::vec4;

namespace {

constexpr PictureEdges allEdges[] = {PictureEdges::hold, PictureEdges::repeat, PictureEdges::mirror, PictureEdges::nothing};

BytePixels bytesOf(int width, int height) {
    auto pixels = std::make_shared<std::vector<std::uint8_t>>(std::size_t{4} * static_cast<std::size_t>(width * height));
    for (std::size_t i = 0; i < pixels->size(); ++i) (*pixels)[i] = static_cast<std::uint8_t>(scrambled(static_cast<std::uint32_t>(i)));
    return bytePixels(width, height, pixels, PictureAs::light);
}

Pixels<float> numbersOf(int width, int height) {
    Pixels<float> numbers{width, height, {}};
    for (int i = 0; i < width * height; ++i) numbers.pixels.push_back(chance(8, static_cast<std::uint64_t>(i), 0));
    return numbers;
}

/// Places within, on the edges, beyond them and nowhere.
struct Places {
    alignas(64) Column u, v;
    alignas(64) Columns3 lanes, one;

    Places() {
        for (int i = 0; i < blockSize; ++i) {
            const auto random = [&](std::uint32_t which) { return chance(3, static_cast<std::uint64_t>(i), which); };
            const float reach = i < blockSize / 2 ? 1.0f : 3.0f;
            u[i] = 0.5f + reach * (random(0) - 0.5f), v[i] = 0.5f + reach * (random(1) - 0.5f);
        }
        const float odd[] = {
            0, 1, -1, 2, 1e6f, -1e9f, 1e31f, std::numeric_limits<float>::infinity(), std::numeric_limits<float>::quiet_NaN()};
        for (int i = 0; i < 81; ++i) u[i * 5] = odd[i % 9], v[i * 5] = odd[i / 9];
    }
    PicturePlaces to(Columns3& columns, PictureEdges edges, float* (&out)[3]) const {
        out[0] = columns.x, out[1] = columns.y, out[2] = columns.z;
        return {u, v, blockSize, edges, out};
    }
    void expectAlike(int channels, const char* what, PictureEdges edges) const {
        for (int i = 0; i < blockSize; ++i) {
            EXPECT_EQ(lanes.x[i], one.x[i]) << what << " at " << u[i] << " " << v[i] << " edges " << int(edges);
            if (channels == 3) {
                EXPECT_EQ(lanes.y[i], one.y[i]) << what << " " << i;
                EXPECT_EQ(lanes.z[i], one.z[i]) << what << " " << i;
            }
        }
    }
};

/// Sums for rectangles that reach so far.
template <class V, class P>
QuickSums<V> quickSums(const P& picture, const HalfShare& half) {
    return QuickSums<V>::of(picture, QuickSums<V>::stepsFor(picture.width, picture.height, 2 * half.width, 2 * half.height));
}

/// The exact mean by its definition: every pixel by how much of it lies in the rectangle.
double meanByHand(const Pixels<float>& picture, double u, double v, const HalfShare& half) {
    double sum = 0, all = 0;
    const auto overlap = [](double low, double high, int pixel) {
        return std::max(0.0, std::min(high, pixel + 1.0) - std::max(low, double(pixel)));
    };
    for (int y = 0; y < picture.height; ++y)
        for (int x = 0; x < picture.width; ++x) {
            const double share = overlap((u - half.width) * picture.width, (u + half.width) * picture.width, x) *
                                 overlap((1 - v - half.height) * picture.height, (1 - v + half.height) * picture.height, y);
            sum += share * double(picture.at(x, y)), all += share;
        }
    return sum / all;
}

}  // namespace

TEST(PictureLanes, ReadSmoothlyAndNearestAsOneByOne) {
    const auto places = std::make_unique<Places>();
    for (const auto& [width, height] : {std::pair{61, 47}, {1, 9}, {2, 2}, {300, 1}})
        for (const PictureEdges edges : allEdges) {
            float *lanes[3], *one[3];
            const PicturePlaces many = places->to(places->lanes, edges, lanes), single = places->to(places->one, edges, one);
            const BytePixels bytes = bytesOf(width, height);
            readSmooth(bytes, many), readSmoothOneByOne(bytes, single, 0, blockSize);
            places->expectAlike(3, "bytes", edges);
            const Pixels<float> numbers = numbersOf(width, height);
            readSmooth(numbers, many), readSmoothOneByOne(numbers, single, 0, blockSize);
            places->expectAlike(1, "numbers", edges);
            readNearest(bytes, many), readNearestOneByOne(bytes, single, 0, blockSize);
            places->expectAlike(3, "nearest bytes", edges);
            readNearest(numbers, many), readNearestOneByOne(numbers, single, 0, blockSize);
            places->expectAlike(1, "nearest numbers", edges);
        }
}

TEST(PictureLanes, ReadMeansAsOneByOne) {
    const auto places = std::make_unique<Places>();
    for (const auto& [width, height, across] : {std::tuple{61, 47, 10}, {1, 9, 3}, {200, 150, 1000}})
        for (const PictureEdges edges : allEdges) {
            float *lanes[3], *one[3];
            const PicturePlaces many = places->to(places->lanes, edges, lanes), single = places->to(places->one, edges, one);
            const HalfShare half{0.5f / static_cast<float>(across), 0.25f / static_cast<float>(across)};
            const auto three = quickSums<vec4>(bytesOf(width, height), half);
            const auto sums = quickSums<float>(numbersOf(width, height), half);
            ASSERT_FALSE(three.empty() || sums.empty());
            readMeans(three, half, many), readMeansOneByOne(three, half, single, 0, blockSize);
            places->expectAlike(3, "colours", edges);
            readMeans(sums, half, many), readMeansOneByOne(sums, half, single, 0, blockSize);
            places->expectAlike(1, "numbers", edges);
        }
}

TEST(QuickSums, GiveTheMeanOfItsDefinition) {
    const Pixels<float> picture = numbersOf(40, 30);
    Pixels<vec4> colours{40, 30, std::vector<vec4>(picture.pixels.size())};
    for (std::size_t i = 0; i < picture.pixels.size(); ++i) colours.pixels[i] = {picture.pixels[i], 1 - picture.pixels[i], i % 2, 1};
    for (const HalfShare half : {HalfShare{0.05f, 0.04f}, {0.16f, 0.2f}, {0.002f, 0.003f}}) {
        const auto sums = quickSums<float>(picture, half);
        const auto colourSums = quickSums<vec4>(colours, half);
        const PictureSums<float> exact(picture);
        const PictureSums<vec4> exactColours(colours);
        for (int i = 0; i < 200; ++i) {
            const float u = chance(1, static_cast<std::uint64_t>(i), 0), v = chance(1, static_cast<std::uint64_t>(i), 1);
            const double mean = meanByHand(picture, double(u), double(v), half);
            EXPECT_NEAR(sums.mean(u, v, 2 * half.width, 2 * half.height), mean, 2e-5) << u << " " << v;
            EXPECT_NEAR(exact.mean(u, v, 2 * half.width, 2 * half.height), mean, 2e-5);
            const vec4 colour = colourSums.mean(u, v, 2 * half.width, 2 * half.height),
                       wanted = exactColours.mean(u, v, 2 * half.width, 2 * half.height);
            for (int c = 0; c < 3; ++c) EXPECT_NEAR(colour[c], wanted[c], 5e-5) << u << " " << v << " " << c;
        }
    }
}

TEST(QuickSums, RunOverWithoutHarm) {
    // All sums together are 4 000 times what 32 bits hold, and those of red and green run over into blue.
    const Pixels<float> white{1100, 1000, std::vector<float>(1'100'000, 1.0f)};
    const Pixels<vec4> yellow{1100, 1000, std::vector<vec4>(1'100'000, vec4(1, 1, 0, 1))};
    const HalfShare half{0.004f, 0.004f};
    const auto sums = quickSums<float>(white, half);
    const auto colours = quickSums<vec4>(yellow, half);
    ASSERT_FALSE(sums.empty() || colours.empty());
    for (int i = 0; i < 1000; ++i) {
        const float u = chance(2, static_cast<std::uint64_t>(i), 0), v = chance(2, static_cast<std::uint64_t>(i), 1);
        EXPECT_NEAR(sums.mean(u, v, 2 * half.width, 2 * half.height), 1, 1e-6);
        const vec4 colour = colours.mean(u, v, 2 * half.width, 2 * half.height);
        EXPECT_NEAR(colour.x, 1, 1e-6);
        EXPECT_NEAR(colour.y, 1, 1e-6);
        EXPECT_EQ(colour.z, 0);
    }
}

TEST(QuickSums, AreForSmallSharesOfPlainNumbersAlone) {
    EXPECT_EQ(QuickSums<float>::stepsFor(4096, 4096, 0.001f, 0.001f), 1 << 24);
    EXPECT_EQ(QuickSums<vec4>::stepsFor(4096, 4096, 0.001f, 0.001f), ((1 << 21) - 1) / 49) << "seven by seven pixels at most";
    EXPECT_EQ(QuickSums<float>::stepsFor(4096, 4096, 0.1f, 0.1f), 0) << "such shares have too many pixels";
    EXPECT_EQ(QuickSums<vec4>::stepsFor(4096, 4096, 0.004f, 0.004f), 0);
    EXPECT_EQ(QuickSums<float>::stepsFor(60'000, 60'000, 1e-5f, 1e-5f), 0);
    Pixels<float> bright = numbersOf(9, 9);
    bright.pixels[40] = 1.5f;
    EXPECT_TRUE(QuickSums<float>::of(bright, 1 << 24).empty());
    bright.pixels[40] = std::numeric_limits<float>::quiet_NaN();
    EXPECT_TRUE(QuickSums<float>::of(bright, 1 << 24).empty());
    Pixels<vec4> colours{9, 9, std::vector<vec4>(81, vec4(0.5f))};
    EXPECT_FALSE(QuickSums<vec4>::of(colours, 1 << 14).empty());
    colours.pixels[40].z = -0.1f;
    EXPECT_TRUE(QuickSums<vec4>::of(colours, 1 << 14).empty());
}
