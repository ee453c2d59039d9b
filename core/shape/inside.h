#pragma once
#include <array>
#include <glm/vec2.hpp>
#include <glm/vec3.hpp>
#include <vector>

#include "core/shape/mesh.h"

namespace gswarm {

/// Tells places inside a mesh from places outside. Surfaces crossed toward +X, +Y and +Z are counted with their sign,
/// which gives the winding number seen along each axis; a place is inside if two of the three are not 0. So meshes may
/// overlap themselves, and a small hole leaks along one axis only and is outvoted. (The vote is after Nooruddin and
/// Turk 2003, with winding instead of parity.) Sides that meet share their edge exactly, so no ray slips between.
class InsideTest {
  public:
    /// Keeps a reference to the mesh.
    explicit InsideTest(const Mesh& mesh);
    bool operator()(const glm::vec3& place) const;

  private:
    /// Triangles binned over the plane across one axis.
    struct Sheet {
        int columns = 1, rows = 1;
        glm::dvec2 low{0}, perBin{1};
        std::vector<std::uint32_t> start, triangles;
    };
    Sheet sheetAcross(int axis) const;
    int windingToward(int axis, const glm::vec3& place) const;

    const Mesh& mesh_;
    Bounds bounds_;
    std::array<Sheet, 3> sheets_;
};

/// Enclosed volume in cubic metres; meaningful for closed meshes. The signed one is below 0 where faces look inward.
double volumeOf(const Mesh& mesh);
double signedVolumeOf(const Mesh& mesh);
double areaOf(const Mesh& mesh);

}  // namespace gswarm
