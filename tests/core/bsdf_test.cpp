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

/// The same at all sixteen places.
Scattering prepared(const Material& material, float cosine, const vec3& colour = vec3(1), bool inside = false) {
    Scattering s;
    Material coloured = material;
    coloured.colour = glm::vec4(colour, 1);
    for (int place = 0; place < placesTogether; ++place) {
        s.put(place, coloured);
        s.normal.put(place, {0, 0, 1});
        s.view.put(place, {std::sqrt(1 - cosine * cosine), 0, cosine});
        s.ior[place] = material.ior;
        s.inside[place] = inside ? 1 : 0;
    }
    prepare(s);
    return s;
}

/// Ways by the numbers of one sequence, sixteen at a time.
template <class See>
void eachWay(const Scattering& s, int count, std::uint32_t seed, const See& see) {
    for (int first = 0; first < count; first += placesTogether) {
        NumberLanes choose, u, v;
        for (int place = 0; place < placesTogether; ++place) {
            Sobol numbers(1, 2, static_cast<std::uint32_t>(first + place), seed);
            choose[place] = numbers.next(), u[place] = numbers.next(), v[place] = numbers.next();
        }
        WaysOn ways;
        sample(s, choose, u, v, ways);
        for (int place = 0; place < placesTogether; ++place) see(ways, place);
    }
}

Scattered evaluated(const Scattering& s, const vec3& light) {
    VectorLanes toward;
    for (int place = 0; place < placesTogether; ++place) toward.put(place, light);
    Scattered found;
    evaluate(s, toward, found);
    return found;
}

/// What goes on of an even light of 1 from all around.
double returned(const Scattering& s) {
    double sum = 0;
    eachWay(s, samples, 7, [&](const WaysOn& ways, int place) { sum += ways.share.y[place]; });
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
    for (int first = 0; first < 16 * samples; first += placesTogether) {
        VectorLanes toward;
        for (int place = 0; place < placesTogether; ++place) {
            Sobol numbers(3, 4, static_cast<std::uint32_t>(first + place), 9);
            const float z = numbers.next(), around = 2 * std::numbers::pi_v<float> * numbers.next(), r = std::sqrt(1 - z * z);
            toward.put(place, {r * std::cos(around), r * std::sin(around), z});
        }
        // The frame of the places turns about the normal; directions are of the world.
        Scattered found;
        evaluate(s, toward, found);
        for (int place = 0; place < placesTogether; ++place) {
            density += found.density[place] * 2 * std::numbers::pi;
            evenly += found.share.x[place] * 2 * std::numbers::pi;
        }
    }
    eachWay(s, 16 * samples, 9, [&](const WaysOn& ways, int place) {
        taken += ways.share.x[place];
        if (ways.density[place] <= 0) ++below;
    });
    EXPECT_NEAR((density + below) / (16 * samples), 1, 0.01);
    EXPECT_NEAR(evenly / taken, 1, 0.01);
}

TEST(Bsdf, ReflectionIsTheSameBothWays) {
    Material m = rough(0.35f);
    m.metal = 1;
    const Scattering s = prepared(m, 0.8f), back = prepared(m, 0.3f);
    const vec3 there = back.view.at(0);
    // Without the factor that gives back what one bounce loses, which looks from one side only.
    const float one = evaluated(s, there).share.x[0] / s.metalLoss.x[0] / there.z;
    const float other = evaluated(back, s.view.at(0)).share.x[0] / back.metalLoss.x[0] / s.view.z[0];
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
            NumberLanes choose, u, v;
            choose[0] = 0.9999f, u[0] = 0.3f, v[0] = 0.6f;
            WaysOn ways;
            sample(s, choose, u, v, ways);
            ASSERT_EQ(ways.through[0], 1) << ior;
            const vec3 way = ways.direction.at(0);
            const float wanted = inside ? sine * ior : sine / ior;
            EXPECT_NEAR(std::sqrt(way.x * way.x + way.y * way.y), wanted, 2e-3) << ior << inside;
            EXPECT_LT(way.z, 0);
            EXPECT_LT(way.x, 0) << "it goes on to the other side of the normal";
        }
    // Beyond the critical angle all is thrown back.
    m.ior = 1.5f;
    const Scattering s = prepared(m, 0.5f, vec3(1), true);
    NumberLanes choose, half;
    for (int place = 0; place < placesTogether; ++place) choose[place] = static_cast<float>(place) / placesTogether, half[place] = 0.5f;
    WaysOn ways;
    sample(s, choose, half, half, ways);
    for (int place = 0; place < placesTogether; ++place) EXPECT_EQ(ways.through[place], 0);
}

/// Each place is worked out by what is put there, whatever the others are.
TEST(Bsdf, PlacesDontKnowOfEachOther) {
    Material matt = rough(0.7f), metal = rough(0.2f), glass = rough(0.1f), layered = rough(0.4f);
    metal.metal = 1;
    glass.body = MaterialBody::solid, glass.transmission = 1;
    layered.coat = 0.8f, layered.sheen = 0.6f;
    const Material all[] = {matt, metal, glass, layered};
    Scattering mixed;
    for (int place = 0; place < placesTogether; ++place) {
        mixed.put(place, all[place % 4]);
        mixed.normal.put(place, {0, 0, 1});
        mixed.view.put(place, {std::sqrt(1 - 0.8f * 0.8f), 0, 0.8f});
        mixed.ior[place] = 1.5f;
    }
    prepare(mixed);
    NumberLanes choose, u, v;
    VectorLanes toward;
    for (int place = 0; place < placesTogether; ++place) {
        choose[place] = (static_cast<float>(place) + 0.5f) / placesTogether, u[place] = 0.3f, v[place] = 0.8f;
        toward.put(place, glm::normalize(vec3(-0.3f, 0.1f * static_cast<float>(place), 1)));
    }
    WaysOn ways;
    Scattered found;
    sample(mixed, choose, u, v, ways);
    evaluate(mixed, toward, found);
    for (int place = 0; place < placesTogether; ++place) {
        const Scattering alone = prepared(all[place % 4], 0.8f, vec3(all[place % 4].colour));
        WaysOn own;
        sample(alone, choose, u, v, own);
        EXPECT_EQ(ways.direction.at(place), own.direction.at(place)) << place;
        EXPECT_EQ(ways.share.at(place), own.share.at(place)) << place;
        EXPECT_EQ(ways.density[place], own.density[place]) << place;
        EXPECT_EQ(found.share.at(place), evaluated(alone, toward.at(place)).share.at(place)) << place;
    }
}

/// Sixteen at a time have the numbers that each has alone, and as even ones.
TEST(Sobol, SixteenAreWorkedOutAsEachAlone) {
    std::array<NumberLanes, 4> together, alone;
    std::array<std::vector<int>, 4> steps;
    steps.fill(std::vector<int>(256));
    for (std::uint32_t first = 0; first < 256; first += placesTogether) {
        SobolLanes all;
        for (int place = 0; place < placesTogether; ++place)
            all.put(place, Sobol(5, 6, 0, 9).of(first + static_cast<std::uint32_t>(place)));
        all.group(3, together);
        for (int place = 0; place < placesTogether; ++place) {
            SobolLanes one;
            one.put(0, Sobol(5, 6, first + static_cast<std::uint32_t>(place), 9));
            one.group(3, alone);
            for (std::size_t d = 0; d < 4; ++d) {
                EXPECT_EQ(together[d][place], alone[d][0]) << place;
                ++steps[d][static_cast<std::size_t>(together[d][place] * 256)];
            }
        }
    }
    for (const auto& dimension : steps) EXPECT_EQ(dimension, std::vector<int>(256, 1));
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
