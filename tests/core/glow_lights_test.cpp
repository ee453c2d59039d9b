// Things that glow light what is around them: by closed forms, and the same whether they are looked for or only met.
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "core/kinds/registry.h"
#include "core/resolve/resolve.h"
#include "tests/core/following.h"
#include "tests/core/making.h"

using namespace gswarm;
using glm::vec3;
using making::Build;
using std::numbers::pi;

namespace {

/// A paper on the floor of a dark world, things that glow over it, and what one place of the paper sends up.
struct Glowing {
    Build paper = Build::grid(1, 1, 1), things;

    explicit Glowing(Build glowing) : things(std::move(glowing)) {
        paper.scene = setKind(paper.scene, paper.shape, "maker", *findKind(Family::shape, "card")).scene;
        paper.set(paper.shape, "width", {40}).set(paper.shape, "depth", {40});
        paper.set(paper.sun(), "strength", {0}).set(paper.sky(), "strength", {0}).set(paper.sky(), "ground", false);
        paper.set(paper.material, "colour", {1, 1, 1, 1}).set(paper.material, "roughness", {1});
        paper.set(paper.scene.project().id, "background", {0, 0, 0, 1});
        things.set(things.material, "glows", true);
        things.set(things.material, "emissionColour", {1, 1, 1, 1}).set(things.material, "emission", {2});
        things.set(things.material, "colour", {0, 0, 0, 1});
    }

    /// Mean and standard error of what comes up from the middle, times π: of a matt white paper the lux there.
    std::pair<double, double> sentUp(int samples, bool lookedFor, const vec3& direction = {0, -1, 0}) const {
        const Setting setting = settingAt(paper.scene, 0, making::store());
        Progress progress;
        const DrawList list = drawListOf(std::vector{paper.result(), things.result()}), nothing;
        MeshTrees trees;
        const TraceWorld world({&list, 1}, setting.light.ground, trees, progress), dark({&nothing, 1}, {}, trees, progress);
        const LampTree lamps({});
        const GlowLights glow(lookedFor ? world : dark);
        EXPECT_EQ(glow.empty(), !lookedFor);
        const PathScene scene{world, setting, lamps, glow, FarSampler(setting.light)};
        double sum = 0, squares = 0;
        for (const Sample& sample : making::followed(scene, {-0.2f * direction, direction}, samples, 5)) {
            const double light = pi * double(sample.light.y);
            sum += light, squares += light * light;
        }
        const double mean = sum / samples;
        return {mean, std::sqrt(std::max(0.0, squares / samples - mean * mean) / samples)};
    }
};

/// Some balls in a row over the middle.
Build balls(int count, double radius, double height) {
    Build b = Build::grid(count, 1, 1);
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "ball")).scene;
    b.set(b.shape, "radius", {radius});
    b.set(b.swarm, "position", {0, height, 0});
    return b;
}

void expectAlike(const Glowing& glowing, const vec3& direction = {0, -1, 0}) {
    const auto [looked, lookedError] = glowing.sentUp(20'000, true, direction);
    const auto [met, metError] = glowing.sentUp(60'000, false, direction);
    EXPECT_GT(met, 0);
    EXPECT_NEAR(looked, met, 4 * (lookedError + metError) + 0.003 * met);
}

}  // namespace

TEST(GlowLights, ASmallBallLightsByItsSize) {
    // Seen from below a ball of radiance L gives π L (r / h)² lux, whatever its distance.
    const Glowing glowing(balls(1, 0.2, 3));
    const double wanted = pi * 2 * 0.2 * 0.2 / 9;
    const auto [mean, error] = glowing.sentUp(256, true);
    EXPECT_NEAR(mean, wanted, 0.02 * wanted) << "± " << error;
}

TEST(GlowLights, ManyAreLookedForByWhatTheyGive) {
    const Glowing glowing(balls(41, 0.1, 1));
    double wanted = 0;
    for (int k = -20; k <= 20; ++k) {
        const double square = 1 + double(k) * k;
        wanted += pi * 2 * 0.01 / square / std::sqrt(square);
    }
    const auto [mean, error] = glowing.sentUp(1024, true);
    EXPECT_NEAR(mean, wanted, 0.02 * wanted) << "± " << error;
}

TEST(GlowLights, WhatIsSmallIsFoundFiveTimesAsWell) {
    const Glowing glowing(balls(3, 0.1, 1));
    const double looked = glowing.sentUp(4096, true).second, met = glowing.sentUp(4096, false).second;
    EXPECT_LT(5 * looked, met) << "standard errors of as many samples";
}

TEST(GlowLights, LookedForOrMetItIsTheSame) {
    expectAlike(Glowing(balls(3, 0.3, 1)));
    Glowing stretched(balls(3, 0.3, 1));
    stretched.things.set(stretched.things.swarm, "rotation", {20, 40, 60});
    stretched.things.set(stretched.things.swarm, "scale", {1.5});
    expectAlike(stretched);
}

TEST(GlowLights, PartlyThereTheyLightByTheirPart) {
    Glowing glowing(balls(2, 0.3, 1));
    glowing.things.set(glowing.things.material, "colour", {0, 0, 0, 0.4});
    expectAlike(glowing);
}

TEST(GlowLights, OnGlossyPaperToo) {
    for (const double roughness : {0.1, 0.35}) {
        Glowing glowing(balls(3, 0.3, 1));
        glowing.paper.set(glowing.paper.material, "metal", {1}).set(glowing.paper.material, "roughness", {roughness});
        const vec3 slanting = glm::normalize(vec3(0.3f, -1, 0.1f));
        const auto [looked, lookedError] = glowing.sentUp(20'000, true, slanting);
        const auto [met, metError] = glowing.sentUp(60'000, false, slanting);
        EXPECT_NEAR(looked, met, 4 * (lookedError + metError) + 0.003 * met) << roughness;
    }
}

TEST(GlowLights, ManyMoreThanAreLookedForAreStillMet) {
    Build many = balls(200, 0.2, 2);
    many.set(many.formation, "count", {200, 1, 160});
    const Glowing glowing(many);
    const DrawList list = drawListOf(std::vector{glowing.things.result()});
    MeshTrees trees;
    Progress progress;
    const TraceWorld world({&list, 1}, {}, trees, progress);
    EXPECT_TRUE(GlowLights(world).empty());
    EXPECT_GT(glowing.sentUp(200, false).first, 0);
}
