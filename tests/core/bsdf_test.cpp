#include "core/picture/bsdf.h"

#include <gtest/gtest.h>

#include <cmath>
#include <glm/geometric.hpp>
#include <numbers>

#include "core/picture/sobol.h"

using namespace gswarm;
using glm::vec3;

namespace {

constexpr int samples = 1 << 14;

Scattering prepared(const Material& material, float cosine, const vec3& colour = vec3(1), bool inside = false) {
    Scattering s;
    s.material = material;
    s.colour = colour;
    s.ior = material.ior;
    s.inside = inside;
    s.view = {std::sqrt(1 - cosine * cosine), 0, cosine};
    prepare(s);
    return s;
}

/// What goes on of an even light of 1 from all around.
double returned(const Scattering& s) {
    double sum = 0;
    for (int k = 0; k < samples; ++k) {
        Sobol numbers(1, 2, static_cast<std::uint32_t>(k), 7);
        const float choose = numbers.next(), u = numbers.next(), v = numbers.next();
        sum += sample(s, choose, u, v).share.y;
    }
    return sum / samples;
}

Material rough(float roughness) {
    Material m;
    m.roughness = roughness;
    return m;
}

}  // namespace

/// The white furnace: what takes nothing away sends all back, however it is layered.
TEST(Bsdf, AWhiteSurfaceInAWhiteSkyIsNotSeen) {
    for (const float roughness : {0.0f, 0.1f, 0.3f, 0.5f, 0.8f, 1.0f})
        for (const float cosine : {0.15f, 0.4f, 0.7f, 1.0f}) {
            Material metal = rough(roughness), coated = rough(roughness), solid = rough(roughness), thin = rough(roughness);
            metal.metal = 1;
            coated.coat = 1, coated.coatRoughness = 0.25f;
            solid.body = MaterialBody::solid, solid.transmission = 1;
            thin.body = MaterialBody::thin, thin.transmission = 0.6f;
            const std::string at = " at roughness " + std::to_string(roughness) + ", cosine " + std::to_string(cosine);
            EXPECT_NEAR(returned(prepared(rough(roughness), cosine)), 1, 0.005) << "matt" << at;
            EXPECT_NEAR(returned(prepared(metal, cosine)), 1, 0.005) << "metal" << at;
            EXPECT_NEAR(returned(prepared(coated, cosine)), 1, 0.005) << "coated" << at;
            EXPECT_NEAR(returned(prepared(solid, cosine)), 1, 0.005) << "solid" << at;
            EXPECT_NEAR(returned(prepared(solid, cosine, vec3(1), true)), 1, 0.005) << "from inside" << at;
            EXPECT_NEAR(returned(prepared(thin, cosine)), 1, 0.005) << "thin" << at;
        }
}

/// Ways are taken as often as their density says, and carry what evaluate() gives for them.
TEST(Bsdf, WaysAreTakenAsTheirDensitySays) {
    Material m = rough(0.4f);
    m.coat = 0.7f, m.coatRoughness = 0.3f, m.sheen = 0.5f, m.sheenColour = {1, 0.5f, 0.2f}, m.metal = 0.3f;
    const Scattering s = prepared(m, 0.6f, {0.7f, 0.4f, 0.2f});
    // Over all directions evenly: the density makes 1 with what goes below the surface, and both ways find the same light.
    double density = 0, evenly = 0, taken = 0, below = 0;
    for (int k = 0; k < 16 * samples; ++k) {
        Sobol numbers(3, 4, static_cast<std::uint32_t>(k), 9);
        const float z = numbers.next(), around = 2 * std::numbers::pi_v<float> * numbers.next(), r = std::sqrt(1 - z * z);
        const Scattered found = evaluate(s, {r * std::cos(around), r * std::sin(around), z});
        density += found.density * 2 * std::numbers::pi;
        evenly += found.share.x * 2 * std::numbers::pi;
        numbers.together();
        const float choose = numbers.next(), u = numbers.next(), v = numbers.next();
        const WayOn way = sample(s, choose, u, v);
        taken += way.share.x;
        if (way.density <= 0) ++below;
    }
    EXPECT_NEAR((density + below) / (16 * samples), 1, 0.01);
    EXPECT_NEAR(evenly / taken, 1, 0.01);
}

TEST(Bsdf, ReflectionIsTheSameBothWays) {
    Material m = rough(0.35f);
    m.metal = 1;
    const Scattering s = prepared(m, 0.8f), back = prepared(m, 0.3f);
    const vec3 there = back.view;
    // Without the factor that gives back what one bounce loses, which looks from one side only.
    const float one = evaluate(s, there).share.x / s.metalLoss.x / there.z;
    const float other = evaluate(back, s.view).share.x / back.metalLoss.x / s.view.z;
    EXPECT_NEAR(one / other, 1, 1e-4);
}

TEST(Bsdf, GlassBendsLightAsSnellSays) {
    Material m = rough(0);
    m.body = MaterialBody::solid, m.transmission = 1;
    for (const float ior : {1.33f, 1.5f, 2.4f})
        for (const bool inside : {false, true}) {
            m.ior = ior;
            const float cosine = 0.95f, sine = std::sqrt(1 - cosine * cosine);
            const Scattering s = prepared(m, cosine, vec3(1), inside);
            const WayOn way = sample(s, 0.9999f, 0.3f, 0.6f);
            ASSERT_TRUE(way.through) << ior;
            const float wanted = inside ? sine * ior : sine / ior;
            EXPECT_NEAR(std::sqrt(way.direction.x * way.direction.x + way.direction.y * way.direction.y), wanted, 2e-3) << ior << inside;
            EXPECT_LT(way.direction.z, 0);
            EXPECT_LT(way.direction.x, 0) << "it goes on to the other side of the normal";
        }
    // Beyond the critical angle all is thrown back.
    m.ior = 1.5f;
    const Scattering s = prepared(m, 0.5f, vec3(1), true);
    for (int k = 0; k < 64; ++k) EXPECT_FALSE(sample(s, static_cast<float>(k) / 64, 0.5f, 0.5f).through);
}

TEST(Sobol, FillsItsRangesEvenly) {
    // Of 256 points each of 256 equal steps has one in every dimension, and each of 16 by 16 fields in the first two.
    for (int first = 0; first < 4; ++first) {
        std::vector<int> steps(256), fields(256);
        for (std::uint32_t k = 0; k < 256; ++k) {
            Sobol numbers(5, 6, k, 11);
            float four[4];
            for (float& number : four) number = numbers.next();
            ++steps[static_cast<std::size_t>(four[first] * 256)];
            ++fields[static_cast<std::size_t>(four[0] * 16) * 16 + static_cast<std::size_t>(four[1] * 16)];
        }
        for (int k = 0; k < 256; ++k) {
            EXPECT_EQ(steps[static_cast<std::size_t>(k)], 1) << first;
            EXPECT_EQ(fields[static_cast<std::size_t>(k)], 1);
        }
    }
}
