#include "core/picture/draw_list.h"

#include <algorithm>
#include <glm/gtc/matrix_transform.hpp>

namespace gswarm {
namespace {

int indexOf(DrawList& list, const Look& look) {
    const auto found = std::find(list.looks.begin(), list.looks.end(), look);
    if (found != list.looks.end()) return static_cast<int>(found - list.looks.begin());
    list.looks.push_back(look);
    return static_cast<int>(list.looks.size()) - 1;
}

void addInstances(DrawList& list, const std::shared_ptr<const Result>& swarm) {
    const auto byVariant = instancesByVariant(*swarm);
    for (std::size_t v = 0; v < byVariant.size(); ++v) {
        if (byVariant[v].empty()) continue;
        const Variant& variant = swarm->variants[v];
        list.surfaces.push_back({variant.shape, variant.meshes, indexOf(list, variant.look), swarm->pose, variant.look.plain.colour, false,
                                 swarm, byVariant[v]});
    }
}

void addBackdrops(DrawList& list, const Result& swarm) {
    for (const Backdrop& backdrop : swarm.backdrops)
        if (!backdrop.meshes->mesh().triangles.empty())
            list.surfaces.push_back({backdrop.shape,
                                     backdrop.meshes,
                                     indexOf(list, backdrop.look),
                                     backdrop.pose,
                                     backdrop.look.plain.colour,
                                     backdrop.dimmed,
                                     nullptr,
                                     {}});
}

}  // namespace

DrawList drawListOf(std::span<const std::shared_ptr<const Result>> swarms) {
    DrawList list;
    for (const auto& swarm : swarms)
        if (swarm->shown) addInstances(list, swarm);
    for (const auto& swarm : swarms)
        if (swarm->shown) addBackdrops(list, *swarm);
    return list;
}

glm::mat4 matrixOf(const WorldPose& pose) {
    glm::mat4 matrix = glm::mat4_cast(pose.rotation) * glm::scale(glm::mat4(1), glm::vec3(pose.scale));
    matrix[3] = glm::vec4(pose.position, 1);
    return matrix;
}

}  // namespace gswarm
