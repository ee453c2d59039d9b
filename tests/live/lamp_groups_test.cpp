// Many lamps as the view draws them: in groups, with as much light, where it was.
#include "live/lamp_groups.h"

#include <gtest/gtest.h>

#include <cmath>
#include <glm/geometric.hpp>
#include <random>

#include "core/picture/draw_list.h"

using namespace gswarm;
using namespace gswarm::live;
using glm::vec3;

namespace {

std::vector<Lamp> ring(int count, float radius, float height) {
    std::vector<Lamp> lamps;
    for (int k = 0; k < count; ++k) {
        const float at = 6.2831853f * static_cast<float>(k) / static_cast<float>(count);
        Lamp lamp;
        lamp.position = {radius * std::cos(at), height, radius * std::sin(at)};
        lamp.light = vec3(1, 0.5f, 0.25f) * (1 + 0.5f * std::sin(at));
        lamps.push_back(lamp);
    }
    return lamps;
}

vec3 lightOf(const std::vector<Lamp>& lamps) {
    vec3 sum(0);
    for (const Lamp& lamp : lamps) sum += intensityOf(lamp);
    return sum;
}

/// What points send to a place on the floor, in lux.
float luxAt(const std::vector<Lamp>& lamps, const vec3& place) {
    float sum = 0;
    for (const Lamp& lamp : lamps) {
        const vec3 to = lamp.position - place;
        sum += lamp.light.x * to.y / std::pow(glm::length(to), 3.0f);
    }
    return sum;
}

}  // namespace

TEST(LampGroups, UpToSixteenStayAsTheyAre) {
    std::vector<Lamp> lamps = ring(16, 3, 4);
    const std::vector<Lamp> drawn = drawnLamps(lamps);
    std::stable_sort(lamps.begin(), lamps.end(), [](const Lamp& a, const Lamp& b) { return a.light.x > b.light.x; });
    EXPECT_EQ(drawn, lamps) << "the brightest first";
}

TEST(LampGroups, ManyLightTheFloorAsTheyDo) {
    std::mt19937 chance(3);
    std::uniform_real_distribution<float> anywhere(-5, 5), high(3, 4);
    std::vector<Lamp> scattered = ring(2000, 0, 4);
    for (Lamp& lamp : scattered) lamp.position = {anywhere(chance), high(chance), anywhere(chance)};
    for (const std::vector<Lamp>& lamps : {ring(17, 3, 4), ring(100, 3, 4), scattered}) {
        const std::vector<Lamp> drawn = drawnLamps(lamps);
        EXPECT_EQ(drawn.size(), 16u);
        const vec3 off = lightOf(drawn) / lightOf(lamps) - vec3(1);
        EXPECT_LT(glm::length(off), 1e-4f);
        for (float x = -4; x <= 4; x += 0.5f)
            for (float z = -4; z <= 4; z += 0.5f)
                EXPECT_NEAR(luxAt(drawn, {x, 0, z}) / luxAt(lamps, {x, 0, z}), 1, 0.06) << lamps.size() << " at " << x << ", " << z;
    }
}

TEST(LampGroups, WhatShinesElsewhereOrOtherwiseStaysApart) {
    std::vector<Lamp> lamps;
    for (int k = 0; k < 40; ++k) {
        Lamp spot;
        spot.form = LampForm::spot;
        spot.light = vec3(10);
        spot.cosineNone = 0.9f;
        spot.position = {0.01f * static_cast<float>(k), 4, 0};
        spot.along = k % 2 == 0 ? vec3(1, 0, 0) : vec3(-1, 0, 0);
        lamps.push_back(spot);
        Lamp disc;
        disc.form = LampForm::disc;
        disc.radius = 0.1f * static_cast<float>(1 + k % 3);
        disc.light = vec3(1);
        disc.reach = k == 7 ? 0.0f : 5.0f;
        disc.position = {0, 4, static_cast<float>(k)};
        lamps.push_back(disc);
    }
    vec3 discs(0), before(0);
    for (const Lamp& lamp : lamps)
        if (isFlat(lamp)) before += intensityOf(lamp);
    bool endless = false;
    for (const Lamp& lamp : drawnLamps(lamps)) {
        if (isFlat(lamp)) {
            discs += intensityOf(lamp), endless = endless || lamp.reach == 0;
        } else {
            EXPECT_EQ(std::abs(lamp.along.x), 1) << "neither way is taken for the other";
            EXPECT_FLOAT_EQ(lamp.cosineNone, 0.9f);
        }
    }
    EXPECT_NEAR(discs.x, before.x, 1e-3f * before.x) << "none of their light is a spot's";
    EXPECT_TRUE(endless) << "what one of them lights far away still is lit";
}

TEST(LampGroups, WhoseNumbersAreNoneAreLeftOut) {
    std::vector<Lamp> lamps = ring(60, 3, 4);
    for (std::size_t k = 0; k < lamps.size(); k += 3) lamps[k].position.x = std::nanf("");
    lamps[1].light.y = INFINITY;
    DrawList list;
    list.lamps = lamps;
    const std::vector<Lamp> all = allLamps({}, list);
    EXPECT_EQ(all.size(), 39u);
    for (const Lamp& lamp : drawnLamps(all)) EXPECT_TRUE(std::isfinite(lamp.position.x + lamp.light.y));
}

TEST(LampGroups, AllAtOnePlaceAreOne) {
    const std::vector<Lamp> drawn = drawnLamps(std::vector<Lamp>(30, ring(1, 0, 2).front()));
    ASSERT_EQ(drawn.size(), 1u);
    EXPECT_NEAR(drawn.front().light.x, 30, 1e-3f);
    EXPECT_TRUE(drawnLamps({}).empty());
}
