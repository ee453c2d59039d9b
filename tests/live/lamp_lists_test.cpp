// Which lamps the live view looks at for an instance.
#include <gtest/gtest.h>

#include <cmath>
#include <glm/geometric.hpp>
#include <random>
#include <set>

#include "live/lamp_lists.h"

using namespace gswarm;
using namespace gswarm::live;
using glm::vec3;

namespace {

std::set<unsigned> listed(const glm::uvec3& list) {
    std::set<unsigned> all;
    for (unsigned k = 0; k < list.z >> 8; ++k) all.insert(list[static_cast<int>(k / 8)] >> (4 * (k % 8)) & 15);
    return all;
}

/// Whether any of a lamp's light comes to a place, as shaders have it.
bool lights(const Lamp& lamp, const vec3& place) {
    const vec3 from = place - lamp.position;
    const float away = glm::length(from), along = glm::dot(from, lamp.along);
    if (lamp.reach > 0 && away >= lamp.reach) return false;
    if (lamp.form == LampForm::spot) return along > away * lamp.cosineNone;
    return lamp.form == LampForm::point || lamp.bothSides || along > 0;
}

}  // namespace

TEST(LampLists, NoLampIsLeftOutThatLightsAPlaceInTheBall) {
    std::mt19937 random(7);
    const auto number = [&](float low, float high) { return std::uniform_real_distribution<float>(low, high)(random); };
    const auto place = [&](float size) { return vec3(number(-size, size), number(-size, size), number(-size, size)); };
    int left = 0, kept = 0;
    for (int round = 0; round < 400; ++round) {
        std::vector<Lamp> lamps(16);
        for (Lamp& lamp : lamps) {
            lamp.form = static_cast<LampForm>(random() % 4);
            lamp.position = place(4);
            lamp.along = glm::normalize(place(1));
            lamp.cosineNone = number(-0.4f, 0.99f);
            lamp.bothSides = random() % 4 == 0;
            lamp.reach = random() % 3 == 0 ? number(0.5f, 4) : 0;
        }
        const vec3 middle = place(4);
        const float radius = number(0.05f, 2);
        const auto all = listed(lampsInto(lamps, 3, middle, radius));
        for (unsigned k = 0; k < lamps.size(); ++k) {
            if (all.contains(k)) {
                ++kept;
                continue;
            }
            ++left;
            for (int look = 0; look < 60; ++look) {
                vec3 inside = place(1);
                inside *= number(0, 1) / std::max(glm::length(inside), 1e-6f);
                EXPECT_FALSE(lights(lamps[k], middle + inside * radius)) << "lamp " << k << " of round " << round;
            }
        }
    }
    // It leaves out a good part, or it would be of no use.
    EXPECT_GT(left, kept / 2);
}

TEST(LampLists, ThoseWithShadowsComeFirstAndAreCounted) {
    std::vector<Lamp> lamps(16);
    for (std::size_t k = 0; k < lamps.size(); ++k) {
        lamps[k].reach = 1;
        lamps[k].position = {k % 2 ? 0.0f : 9.0f, 0, 0};
    }
    const glm::uvec3 odd = lampsInto(lamps, 4, vec3(0), 0.5f);
    EXPECT_EQ(listed(odd), (std::set<unsigned>{1, 3, 5, 7, 9, 11, 13, 15}));
    EXPECT_EQ(odd.z, 8u * 256 + 2);
    EXPECT_EQ(odd.x & 15, 1u);
    const glm::uvec3 all = allLampsListed(16, 4);
    EXPECT_EQ(all, glm::uvec3(0x76543210u, 0xfedcba98u, 16u * 256 + 4));
    EXPECT_EQ(allLampsListed(0, 0), glm::uvec3(0));
}
