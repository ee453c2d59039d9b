#pragma once
#include <array>
#include <cstddef>
#include <cstdint>
#include <functional>
#include <glm/vec3.hpp>
#include <span>
#include <vector>

/// The skin of a volume that closed triangles enclose. It is made by a module, gswarm-volume, that is loaded when it is first asked for:
/// the library it needs takes longer to load than everything else together.
namespace gswarm {

struct SkinWanted {
    std::span<const glm::vec3> places;
    std::span<const std::uint32_t> triangles;  ///< places, three by three, counterclockwise from outside
    double voxel = 0;                          ///< metres
    double blend = 0;                          ///< metres: the radius of the rounding where shapes meet
    double adaptivity = 0;                     ///< 0 … 1: fewer faces where it is flat
    std::function<bool()> cancelled;           ///< asked from any thread
    std::function<void()> check;               ///< called between steps; may throw
};

struct Skin {
    std::vector<glm::vec3> places;
    std::vector<std::uint32_t> triangles, quads;  ///< places, counterclockwise from outside
    /// For each place the wanted triangles that are nearest to the eight middles of voxels around it, or noTriangle: x changes first.
    std::vector<std::array<std::int32_t, 8>> nearest;
    static constexpr std::int32_t noTriangle = -1;
    double bytes = 0, voxels = 0;  ///< that the volume took
};

/// Voxels on either side of a surface whose distances are kept.
inline constexpr float volumeBand = 3;

/// Throws Error where the module is missing, and what `check` throws.
Skin skinOf(const SkinWanted& wanted);

}  // namespace gswarm
