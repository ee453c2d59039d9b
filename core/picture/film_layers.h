#pragma once
#include <cstdint>
#include <glm/vec2.hpp>
#include <glm/vec3.hpp>
#include <vector>

namespace gswarm {

/// What a camera gathers of each pixel beside its film, where it is asked for: sums over the samples like the film's own, rows from
/// the top. A column that is not asked for is empty.
struct FilmLayers {
    /// How much of a pixel a thing covers: samples, each by its coverage.
    struct Covers {
        std::uint32_t thing;  ///< counted from 1 in the order of moments.h, or `floorThing`
        float coverage;
    };
    static constexpr std::uint32_t floorThing = 0xffffffff;

    std::vector<glm::vec3> place;                ///< in the world, of what is seen first, times the coverage
    std::vector<glm::vec2> motion;               ///< pixels that goes until the next frame, to the right and up, times the coverage
    std::vector<glm::vec3> emission;             ///< the light that what is seen first gives of itself
    std::vector<std::vector<glm::vec3>> groups;  ///< light by what it comes from; together they are the film's
    std::vector<std::vector<Covers>> things;

    bool any() const { return !place.empty() || !motion.empty() || !emission.empty() || !groups.empty() || !things.empty(); }
};

}  // namespace gswarm
