#include "core/picture/draw_list.h"

#include <algorithm>
#include <array>

namespace gswarm {
namespace {

int indexOf(DrawList& list, const Look& look) {
    const auto found = std::find(list.looks.begin(), list.looks.end(), look);
    if (found != list.looks.end()) return static_cast<int>(found - list.looks.begin());
    list.looks.push_back(look);
    return static_cast<int>(list.looks.size()) - 1;
}

/// It shines along its own −Y.
Lamp lampOf(const Result& swarm, const glm::mat4& stand, std::uint32_t row, const Lamp& repeated) {
    const float* m = &swarm.columns->matrix[12 * static_cast<std::size_t>(row)];
    const glm::mat4 own{m[0], m[4], m[8], 0, m[1], m[5], m[9], 0, m[2], m[6], m[10], 0, m[3], m[7], m[11], 1};
    const glm::mat4 world = stand * own;
    const glm::vec3 x(own[0]), y(own[1]), z(own[2]), along = -glm::vec3(world[1]), side(world[0]);
    const glm::vec4 colour = linearColour(swarm.columns->colour[row]);
    Lamp lamp = repeated;
    lamp.of = swarm.swarm;
    lamp.light *= glm::vec3(colour) * (colour.w * (glm::length(x) + glm::length(y) + glm::length(z)) / 3);
    lamp.position = glm::vec3(world[3]);
    if (glm::length(along) > 0) lamp.along = glm::normalize(along);
    if (glm::length(side) > 0) lamp.side = glm::normalize(side);
    return lamp;
}

void addInstances(DrawList& list, const std::shared_ptr<const Result>& swarm) {
    auto byVariant = instancesByVariant(*swarm);
    for (std::size_t v = 0; v < byVariant.size(); ++v) {
        if (byVariant[v].empty()) continue;
        const Variant& variant = swarm->variants[v];
        if (variant.lamp) continue;
        const auto rows = std::make_shared<const std::vector<std::uint32_t>>(std::move(byVariant[v]));
        const int look = indexOf(list, variant.look);
        for (std::uint32_t copy = 0; copy < swarm->copies.size(); ++copy)
            list.surfaces.push_back(
                {variant.shape, variant.meshes, look, standOf(*swarm, copy), variant.look.plain.colour, false, swarm, rows, copy});
    }
}

void addBackdrops(DrawList& list, const Result& swarm) {
    for (const Backdrop& backdrop : swarm.backdrops) {
        if ((!swarm.shown && !backdrop.alone) || backdrop.meshes->mesh().triangles.empty()) continue;
        const int look = indexOf(list, backdrop.look);
        // What the swarm carries is part of its result.
        const auto copies = static_cast<std::uint32_t>(backdrop.alone ? swarm.copies.size() : 1);
        for (std::uint32_t copy = 0; copy < copies; ++copy) {
            const glm::mat4 pose = copy == 0 ? matrixOf(backdrop.pose) : standOf(swarm, copy);
            list.surfaces.push_back(
                {backdrop.shape, backdrop.meshes, look, pose, backdrop.look.plain.colour, backdrop.dimmed, nullptr, nullptr, copy});
        }
    }
}

}  // namespace

DrawList drawListOf(std::span<const std::shared_ptr<const Result>> swarms) {
    DrawList list;
    for (const auto& swarm : swarms) {
        if (!swarm->shown) continue;
        addInstances(list, swarm);
        const auto lamps = lampsOf(*swarm);
        list.lamps.insert(list.lamps.end(), lamps.begin(), lamps.end());
    }
    for (const auto& swarm : swarms) addBackdrops(list, *swarm);
    return list;
}

glm::mat4 standOf(const Result& swarm, std::uint32_t copy) {
    return copy == 0 ? matrixOf(swarm.pose) : matrixOf(swarm.pose) * swarm.copies[copy];
}

std::vector<Lamp> lampsOf(const Result& swarm, std::size_t most) {
    std::vector<Lamp> lamps;
    const bool any = std::any_of(swarm.variants.begin(), swarm.variants.end(), [](const Variant& v) { return v.lamp != nullptr; });
    for (std::uint32_t row = 0; any && row < static_cast<std::uint32_t>(swarm.count) && lamps.size() < most; ++row) {
        const std::uint16_t variant = swarm.columns->variant[row];
        if (variant == notShown || !swarm.variants[variant].lamp) continue;
        for (std::uint32_t copy = 0; copy < swarm.copies.size() && lamps.size() < most; ++copy)
            lamps.push_back(lampOf(swarm, standOf(swarm, copy), row, *swarm.variants[variant].lamp));
    }
    return lamps;
}

std::vector<Lamp> allLamps(std::vector<Lamp> own, const DrawList& list) {
    own.insert(own.end(), list.lamps.begin(), list.lamps.end());
    return own;
}

glm::vec4 linearColour(std::uint32_t c) {
    static const auto table = [] {
        std::array<float, 256> made{};
        for (std::size_t k = 0; k < 256; ++k) made[k] = static_cast<float>(linearFromSrgb(static_cast<double>(k) / 255.0));
        return made;
    }();
    return {table[c & 255], table[c >> 8 & 255], table[c >> 16 & 255], static_cast<float>(c >> 24) / 255.0f};
}

}  // namespace gswarm
