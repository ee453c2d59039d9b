#pragma once
#include <glm/vec3.hpp>
#include <span>

#include "core/light/light_kind.h"

namespace gswarm::live {

/// Lamps as shaders go through them: sixteen numbers of four bits, the first in the lowest; and how many there are, times 256 plus how
/// many of them throw shadows, which come first.
glm::uvec3 allLampsListed(std::size_t lamps, std::size_t shadowed);

/// Whether a lamp's light may come into a ball: it is within its reach, its cone and before its face.
bool mayLight(const Lamp& lamp, const glm::vec3& middle, float radius);

/// Those of at most sixteen lamps that may light a ball. The first `shadowed` of them throw shadows.
glm::uvec3 lampsInto(std::span<const Lamp> lamps, std::size_t shadowed, const glm::vec3& middle, float radius);

}  // namespace gswarm::live
