// Patterns and zones against their plain definitions, and the same bits for every target and thread count.
#include <gtest/gtest.h>
#include <hwy/targets.h>

#include <cstring>

#include "core/measure/yardstick.h"
#include "tests/core/making.h"
#include "tests/core/scalar_definition.h"

using namespace gswarm;
using making::Build;

namespace {

/// Runs the same work on every target this machine has.
template <class Work>
void onEveryTarget(Work work) {
    const std::int64_t all = hwy::SupportedTargets();
    for (std::int64_t left = all; left != 0; left &= left - 1) {
        hwy::SetSupportedTargetsForTest(left & -left);
        work(hwy::TargetName(left & -left));
    }
    hwy::SetSupportedTargetsForTest(0);
}

std::vector<float> bitsOf(const Result& result) {
    std::vector<float> bits(result.columns->matrix.begin(), result.columns->matrix.end());
    for (const std::uint32_t c : result.columns->colour) bits.push_back(std::bit_cast<float>(c));
    for (const std::uint16_t v : result.columns->variant) bits.push_back(v);
    for (const Census& c : result.cards) {
        bits.insert(bits.end(), {float(c.touched), float(c.seen), c.least, c.most});
        bits.insert(bits.end(), c.samples.strip.begin(), c.samples.strip.end());
    }
    return bits;
}

bool sameBits(const std::vector<float>& a, const std::vector<float>& b) {
    return a.size() == b.size() && std::memcmp(a.data(), b.data(), a.size() * 4) == 0;
}

}  // namespace

TEST(Lanes, RandomMatchesItsDefinitionOnEveryTarget) {
    Build b = Build::grid(7, 3, 5);
    const ObjectId g = b.gesture("random");
    b.set(g, "position", true).set(g, "positionAmount", {1, 1, 1}).set(g, "pattern-from", {0}).set(g, "pattern-seed", {9});
    const auto homes = Build::grid(7, 3, 5).rows();
    onEveryTarget([&](const char* target) {
        const auto rows = b.rows();
        for (std::size_t i = 0; i < rows.size(); ++i)
            for (int c = 0; c < 3; ++c)
                EXPECT_EQ(rows[i].position[c], homes[i].position[c] + scalar::chance(9, rows[i].id, c)) << target << " " << i;
    });
}

TEST(Lanes, NoiseMatchesItsDefinitionOnEveryTarget) {
    Build b = Build::grid(9, 2, 9);
    const ObjectId g = b.gesture("noise");
    b.set(g, "position", true).set(g, "positionAmount", {1, 1, 1}).set(g, "pattern-size", {2}).set(g, "pattern-seed", {5});
    b.set(b.scene.project().id, "loopFrames", {100});
    const auto homes = Build::grid(9, 2, 9).rows();
    onEveryTarget([&](const char* target) {
        const auto rows = b.rows(37);
        const float loop = 0.37f, time = (loop - std::floor(loop)) * 3;
        for (std::size_t i = 0; i < rows.size(); ++i) {
            const glm::vec3 h = homes[i].position;
            for (int c = 0; c < 3; ++c)
                EXPECT_EQ(rows[i].position[c], h[c] + scalar::noise(h.x * 0.5f, h.y * 0.5f, h.z * 0.5f, time, 3, 5, c))
                    << target << " " << i;
        }
    });
}

TEST(Lanes, WaveAndBallMatchTheirDefinitionsOnEveryTarget) {
    Build b = Build::grid(21, 1, 21);
    const ObjectId g = b.gesture("wave");
    b.set(g, "position", true)
        .set(g, "pattern-along", std::string("direction"))
        .set(g, "pattern-length", {4})
        .set(g, "pattern-motion", std::string("still"));
    const ObjectId z = b.zone(g, "ball");
    b.set(z, "radius", {6}).set(z, "softEdge", {4});
    onEveryTarget([&](const char* target) {
        for (const auto& row : b.rows()) {
            float x = row.position.x * 0.25f - 0.0f;
            x = x - std::floor(x);
            const float wave = scalar::sine(x * 6.28318530718f);
            const float weight = scalar::ball(row.position.x, 0, row.position.z, 6, 4);
            EXPECT_EQ(row.position.y, weight * wave) << target << " " << row.number;
        }
    });
}

TEST(Lanes, SameBitsForEveryTargetAndThreadCount) {
    const Scene scene = yardstickScene(20000);
    const ObjectId swarm = scene.all(ObjectType::swarm).front();
    Progress progress;
    Evaluator one(1);
    const auto wanted = bitsOf(*one.evaluate(scene, swarm, 17, {}, progress));
    onEveryTarget([&](const char* target) {
        for (const int threads : {1, 2, 5}) {
            Evaluator evaluator(threads);
            EXPECT_TRUE(sameBits(bitsOf(*evaluator.evaluate(scene, swarm, 17, {}, progress)), wanted)) << target << " on " << threads;
        }
    });
}

TEST(Lanes, SineIsTrue) {
    for (int k = -20000; k <= 20000; ++k) {
        const float x = static_cast<float>(k) * 0.01f;
        EXPECT_NEAR(scalar::sine(x), std::sin(static_cast<double>(x)), 2e-6) << x;
    }
}

TEST(Lanes, NoiseStaysInRangeAndUsesIt) {
    float least = 1, most = -1;
    double square = 0;
    constexpr int n = 40000;
    for (int i = 0; i < n; ++i) {
        const float v = scalar::noise(static_cast<float>(i) * 0.137f, static_cast<float>(i) * 0.071f, 0.3f, 1.5f, 4, 1, i % 3);
        least = std::min(least, v), most = std::max(most, v), square += double(v) * v;
    }
    EXPECT_GE(least, -1);
    EXPECT_LE(most, 1);
    EXPECT_LT(least, -0.8f);
    EXPECT_GT(most, 0.8f);
    EXPECT_NEAR(std::sqrt(square / n), 0.4, 0.15);
}
