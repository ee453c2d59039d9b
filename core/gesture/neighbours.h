#pragma once
#include <cstdint>
#include <glm/vec3.hpp>
#include <span>
#include <vector>

namespace gswarm {

/// Who is near whom: for each of n places the others within a distance, in ascending order of their index.
/// Bins of the distance's width in sorted order; neighbours are looked up in the 27 bins around. At most `most` are
/// kept for each, those with the lowest index.
struct Neighbours {
    std::vector<std::uint32_t> start;  ///< n + 1 entries into `others`
    std::vector<std::uint32_t> others;
    std::span<const std::uint32_t> of(std::size_t i) const { return {others.data() + start[i], others.data() + start[i + 1]}; }
};
Neighbours neighboursWithin(const std::vector<float>& x, const std::vector<float>& y, const std::vector<float>& z, float distance,
                            std::size_t most);

}  // namespace gswarm
