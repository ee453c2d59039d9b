#include "live/lamp_groups.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <span>
#include <tuple>

namespace gswarm::live {
namespace {

using Group = std::span<Lamp>;

float powerOf(const Lamp& lamp) {
    const glm::vec3 light = intensityOf(lamp);
    return light.x + light.y + light.z;
}

/// Where a lamp is and where it shines.
std::array<float, 6> marksOf(const Lamp& lamp) {
    const glm::vec3 &from = lamp.position, to = from + lamp.along * lampConeLength;
    return {from.x, from.y, from.z, to.x, to.y, to.z};
}

struct Spread {
    float squared = 0;       ///< of the diagonal of a box around all marks
    std::size_t widest = 0;  ///< of its six sides
};
Spread spreadOf(Group group) {
    std::array<float, 6> low = marksOf(group.front()), high = low;
    for (const Lamp& lamp : group) {
        const std::array<float, 6> marks = marksOf(lamp);
        for (std::size_t side = 0; side < 6; ++side)
            low[side] = std::min(low[side], marks[side]), high[side] = std::max(high[side], marks[side]);
    }
    Spread spread;
    for (std::size_t side = 0; side < 6; ++side) {
        const float width = high[side] - low[side];
        spread.squared += width * width;
        if (width > high[spread.widest] - low[spread.widest]) spread.widest = side;
    }
    return spread;
}

/// What would be wrong if a group were drawn as one.
float costOf(Group group) {
    float power = 0;
    for (const Lamp& lamp : group) power += powerOf(lamp);
    return power * spreadOf(group).squared;
}

/// One lamp for all of a group.
Lamp joined(Group group) {
    Lamp one = *std::max_element(group.begin(), group.end(), [](const Lamp& a, const Lamp& b) { return powerOf(a) < powerOf(b); });
    if (group.size() == 1) return one;
    glm::vec3 light(0), position(0), along(0);
    float power = 0;
    for (const Lamp& lamp : group) {
        const float mine = std::max(powerOf(lamp), 1e-12f);
        light += intensityOf(lamp);
        position += lamp.position * mine;
        along += lamp.along * mine;
        power += mine;
        // Cut off nowhere if one of them is.
        one.reach = one.reach > 0 && lamp.reach > 0 ? std::max(one.reach, lamp.reach) : 0;
        one.cosineNone = std::min(one.cosineNone, lamp.cosineNone);
    }
    one.light = isFlat(one) ? light / std::max(areaOf(one), 1e-12f) : light;
    one.position = position / power;
    if (glm::length(along) > 1e-3f * power) one.along = glm::normalize(along);
    return one;
}

std::vector<Lamp> grouped(std::vector<Lamp>& lamps) {
    const auto formOf = [](const Lamp& lamp) { return std::tuple(lamp.form, lamp.bothSides); };
    std::stable_sort(lamps.begin(), lamps.end(), [&](const Lamp& a, const Lamp& b) { return formOf(a) < formOf(b); });
    struct Costly {
        Group lamps;
        float cost;
    };
    std::vector<Costly> groups;
    for (auto from = lamps.begin(); from != lamps.end();) {
        const auto to = std::find_if(from, lamps.end(), [&](const Lamp& lamp) { return formOf(lamp) != formOf(*from); });
        groups.push_back({Group(from, to), costOf(Group(from, to))});
        from = to;
    }
    while (groups.size() < mostLamps) {
        auto dearest = std::max_element(groups.begin(), groups.end(), [](const Costly& a, const Costly& b) { return a.cost < b.cost; });
        if (dearest->cost <= 0) break;
        const Group all = dearest->lamps;
        const std::size_t side = spreadOf(all).widest, half = all.size() / 2;
        const auto before = [&](const Lamp& a, const Lamp& b) { return marksOf(a)[side] < marksOf(b)[side]; };
        std::nth_element(all.begin(), all.begin() + static_cast<std::ptrdiff_t>(half), all.end(), before);
        *dearest = {all.first(half), costOf(all.first(half))};
        groups.push_back({all.subspan(half), costOf(all.subspan(half))});
    }
    std::vector<Lamp> drawn;
    for (const Costly& group : groups) drawn.push_back(joined(group.lamps));
    return drawn;
}

}  // namespace

std::vector<Lamp> drawnLamps(std::vector<Lamp> lamps) {
    if (lamps.size() > mostLamps) lamps = grouped(lamps);
    std::stable_sort(lamps.begin(), lamps.end(), [](const Lamp& a, const Lamp& b) { return powerOf(a) > powerOf(b); });
    return lamps;
}

}  // namespace gswarm::live
