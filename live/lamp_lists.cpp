#include "live/lamp_lists.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace gswarm::live {
namespace {

void add(glm::uvec3& list, unsigned lamp, bool shadowed) {
    const unsigned count = list.z >> 8;
    list[count / 8] |= lamp << (4 * (count % 8));
    list.z += 256u + (shadowed ? 1u : 0u);
}

}  // namespace

bool mayLight(const Lamp& lamp, const glm::vec3& middle, float radius) {
    const glm::vec3 from = middle - lamp.position;
    const float away = glm::length(from);
    if (lamp.reach > 0 && away - radius > lamp.reach) return false;
    const float along = glm::dot(from, lamp.along);
    if (isFlat(lamp)) return lamp.bothSides || along + radius > 0;
    if (lamp.form == LampForm::point) return true;
    // How far the middle is from the cone's side, along a line square to it.
    const float aside = std::sqrt(std::max(away * away - along * along, 0.0f));
    const float cosine = std::clamp(lamp.cosineNone, -1.0f, 1.0f), sine = std::sqrt(1 - cosine * cosine);
    return cosine * aside - sine * along <= radius;
}

glm::uvec3 allLampsListed(std::size_t lamps, std::size_t shadowed) {
    glm::uvec3 list(0);
    for (std::size_t k = 0; k < lamps; ++k) add(list, static_cast<unsigned>(k), k < shadowed);
    return list;
}

glm::uvec3 lampsInto(std::span<const Lamp> lamps, std::size_t shadowed, const glm::vec3& middle, float radius) {
    glm::uvec3 list(0);
    for (std::size_t k = 0; k < lamps.size(); ++k)
        if (mayLight(lamps[k], middle, radius)) add(list, static_cast<unsigned>(k), k < shadowed);
    return list;
}

}  // namespace gswarm::live
