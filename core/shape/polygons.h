#pragma once
#include <array>
#include <cstdint>
#include <span>
#include <vector>

#include "core/shape/mesh.h"
#include "core/shape/topology.h"

namespace gswarm {

/// Faces of any number of sides over places that they share.
struct Polygons {
    std::vector<std::uint32_t> start{0};  ///< of each face among corners, and the end
    std::vector<std::uint32_t> corners;   ///< counter-clockwise from outside
    std::vector<glm::vec2> uv;            ///< of each corner
    /// Sides by the two corners between which they lie; filled in by join().
    struct Side {
        std::array<std::uint32_t, 2> corners;
        std::array<std::uint32_t, 2> faces{noFace, noFace};  ///< the second is noFace at a rim
        bool more = false;                                   ///< more than two faces meet
    };
    std::vector<Side> sides;
    std::vector<std::uint32_t> sideAt;  ///< the side from each corner to the next

    std::uint32_t count() const { return static_cast<std::uint32_t>(start.size() - 1); }
    std::span<const std::uint32_t> cornersOf(std::uint32_t face) const { return {&corners[start[face]], start[face + 1] - start[face]}; }
    std::span<const glm::vec2> uvOf(std::uint32_t face) const { return {&uv[start[face]], start[face + 1] - start[face]}; }
    std::span<const std::uint32_t> sidesOf(std::uint32_t face) const { return {&sideAt[start[face]], start[face + 1] - start[face]}; }
    void add(std::span<const std::uint32_t> some, std::span<const glm::vec2> theirUv);
    /// Finds which faces share a side. Time grows with n log n.
    void join();
};

/// The faces of a mesh, with places that lie together as one; joined. Faces with holes have their longest loop.
Polygons polygonsOf(const Mesh& mesh, std::vector<glm::vec3>& places);

}  // namespace gswarm
