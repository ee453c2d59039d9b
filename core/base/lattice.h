#pragma once
#include <cstdint>
#include <glm/vec3.hpp>

namespace gswarm {

/// A grid whose homes have their whole coordinates as ids.
struct Lattice {
    glm::ivec3 count{0};   ///< along X, Y and Z
    glm::ivec3 anchor{0};  ///< the place that has the coordinates 0, counted from the least
};

/// The id of a home: 21 bits each of X, Y and Z.
inline std::uint64_t latticeId(int x, int y, int z) {
    const auto bits = [](int v) { return static_cast<std::uint64_t>(static_cast<std::uint32_t>(v)) & 0x1FFFFF; };
    return bits(x) | bits(y) << 21 | bits(z) << 42;
}
/// The coordinates in an id.
inline glm::ivec3 latticeCoordinates(std::uint64_t id) {
    const auto coordinate = [id](int from) {
        const auto bits = static_cast<std::int32_t>(id >> from & 0x1FFFFF);
        return bits & 0x100000 ? bits - 0x200000 : bits;
    };
    return {coordinate(0), coordinate(21), coordinate(42)};
}

}  // namespace gswarm
