#include "core/picture/draw_list.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace gswarm {
namespace {

int indexOf(DrawList& list, const Look& look) {
    const auto found = std::find(list.looks.begin(), list.looks.end(), look);
    if (found != list.looks.end()) return static_cast<int>(found - list.looks.begin());
    list.looks.push_back(look);
    return static_cast<int>(list.looks.size()) - 1;
}

/// It shines along its own −Y, and stronger the larger its instance and those that repeat its swarm are.
Lamp lampOf(const Leaves& leaves, std::uint32_t row) {
    const Result& swarm = *leaves.swarm;
    const glm::mat4 own = matrixOf(swarm, row), world = leaves.pose * own;
    const float above = leaves.within.swarm ? scaleOf(leaves.pose) / leaves.within.swarm->pose.scale : 1;
    const float size = above * (glm::length(glm::vec3(own[0])) + glm::length(glm::vec3(own[1])) + glm::length(glm::vec3(own[2]))) / 3;
    const glm::vec3 along = -glm::vec3(world[1]), side(world[0]);
    const glm::vec4 colour = leaves.tint * linearColour(swarm.columns->colour[row]);
    Lamp lamp = *leaves.variant->lamp;
    lamp.of = swarm.swarm;
    lamp.light *= glm::vec3(colour) * (colour.w * size);
    lamp.position = glm::vec3(world[3]);
    if (glm::length(along) > 0) lamp.along = glm::normalize(along);
    if (glm::length(side) > 0) lamp.side = glm::normalize(side);
    return lamp;
}

bool repeatsLamps(const Result& swarm) {
    return std::any_of(swarm.variants.begin(), swarm.variants.end(),
                       [](const Variant& v) { return v.lamp || (v.inner && repeatsLamps(*v.inner)); });
}

/// Of one result, whatever list its leaves are added to.
void addInstances(DrawList& list, const std::shared_ptr<const Result>& swarm) {
    // Looks are compared whole; what is seen often is looked up once.
    std::map<const Look*, int> looks;
    const auto lookOf = [&](const Look& look) {
        const auto [at, isNew] = looks.try_emplace(&look, 0);
        if (isNew) at->second = indexOf(list, look);
        return at->second;
    };
    eachLeaves(swarm, matrixOf(swarm->pose), [&](const Leaves& leaves) {
        if (leaves.variant && leaves.variant->lamp) return;
        Surface surface;
        const Look& look = leaves.variant ? leaves.variant->look : leaves.backdrop->look;
        surface.shape = leaves.variant ? leaves.variant->shape : leaves.backdrop->shape;
        surface.meshes = leaves.variant ? leaves.variant->meshes : leaves.backdrop->meshes;
        surface.look = lookOf(look);
        surface.pose = leaves.pose;
        surface.colour = leaves.variant ? look.plain.colour : look.plain.colour * leaves.tint;
        surface.tint = leaves.tint;
        if (leaves.variant) surface.swarm = leaves.swarm;
        surface.rows = leaves.rows;
        surface.copy = leaves.copy;
        surface.within = leaves.within;
        surface.path = leaves.path;
        list.surfaces.push_back(std::move(surface));
    });
}

void addBackdrops(DrawList& list, const Result& swarm) {
    for (const Backdrop& backdrop : swarm.backdrops) {
        if ((!swarm.shown && !backdrop.alone) || backdrop.meshes->mesh().triangles.empty()) continue;
        const int look = indexOf(list, backdrop.look);
        // What the swarm carries is part of its result.
        const auto copies = static_cast<std::uint32_t>(backdrop.copied ? swarm.copies.size() : 1);
        for (std::uint32_t copy = 0; copy < copies; ++copy) {
            const glm::mat4 pose = copy == 0 ? matrixOf(backdrop.pose) : standOf(swarm, copy);
            Surface surface;
            surface.shape = backdrop.shape;
            surface.meshes = backdrop.meshes;
            surface.look = look;
            surface.pose = pose;
            surface.colour = backdrop.look.plain.colour;
            surface.dimmed = backdrop.dimmed;
            surface.copy = copy;
            list.surfaces.push_back(std::move(surface));
        }
    }
}

}  // namespace

DrawList drawListOf(std::span<const std::shared_ptr<const Result>> swarms) {
    DrawList list;
    for (const auto& swarm : swarms) {
        if (!swarm->shown) continue;
        addInstances(list, swarm);
        const auto lamps = lampsOf(swarm);
        list.lamps.insert(list.lamps.end(), lamps.begin(), lamps.end());
    }
    for (const auto& swarm : swarms) addBackdrops(list, *swarm);
    return list;
}

glm::mat4 standOf(const Result& swarm, std::uint32_t copy) {
    return copy == 0 ? matrixOf(swarm.pose) : matrixOf(swarm.pose) * swarm.copies[copy];
}

std::vector<Lamp> lampsOf(const std::shared_ptr<const Result>& swarm, std::size_t most) {
    std::vector<Lamp> lamps;
    if (!repeatsLamps(*swarm)) return lamps;
    eachLeaves(swarm, matrixOf(swarm->pose), [&](const Leaves& leaves) {
        if (!leaves.variant || !leaves.variant->lamp) return;
        for (const std::uint32_t row : *leaves.rows)
            if (lamps.size() < most) lamps.push_back(lampOf(leaves, row));
    });
    return lamps;
}

std::vector<Lamp> allLamps(std::vector<Lamp> own, const DrawList& list) {
    own.insert(own.end(), list.lamps.begin(), list.lamps.end());
    std::erase_if(own, [](const Lamp& lamp) {
        const glm::vec3 all = lamp.position + lamp.along + lamp.light;
        return !std::isfinite(all.x + all.y + all.z);
    });
    return own;
}

}  // namespace gswarm
