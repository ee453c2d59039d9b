#pragma once
#include <array>
#include <glm/mat3x3.hpp>
#include <glm/vec3.hpp>
#include <memory>
#include <vector>

#include "core/base/progress.h"
#include "core/shape/mesh.h"

namespace gswarm {

/// A mesh made ready for telling whether two placed copies overlap.
struct Solid {
    struct Node {
        Bounds bounds;
        std::uint32_t first = 0, count = 0;  ///< triangles of a leaf; inner nodes have 0 and children at first and first + 1
    };
    Bounds bounds;
    bool box = false;  ///< fills its bounds, so the oriented box is exact
    bool convex = false;
    float inner = 0;                                  ///< of a convex solid: radius of a ball around the middle that lies inside
    float within = 0;                                 ///< of a convex solid: its bounds shrunk by this factor lie inside
    float outer = 0;                                  ///< radius of the ball around the middle that everything lies in
    std::vector<glm::vec3> hull;                      ///< corners, each once
    std::vector<std::array<glm::vec3, 3>> triangles;  ///< in the order of the tree's leaves
    std::vector<Node> tree;
};

Solid solidOf(const Mesh& mesh);

/// A copy in space: columns of the axes, and the place.
struct Placed {
    const Solid* solid;
    glm::mat3 axes;
    glm::vec3 place;
    glm::vec3 toWorld(const glm::vec3& p) const { return axes * p + place; }
};

/// Boxes around the middles of the bounds, of a share of their size.
bool boxesOverlap(const Placed& a, const Placed& b, float shareA, float shareB);
/// Beyond the boxes; only asked where they overlap. False, whatever is true, once the progress is cancelled.
bool solidsOverlap(const Placed& a, const Placed& b, const Progress& progress);

}  // namespace gswarm
