#pragma once
#include <cstdint>
#include <glm/vec3.hpp>
#include <span>
#include <vector>

#include "core/shape/curve.h"
#include "core/shape/mesh.h"

namespace gswarm {

/// Finds what lies nearest to a place among points, lines or triangles: a tree of boxes, split at the median of the
/// longest side, built once and asked from any thread. Of things equally near, the one that was given first.
class NearestTree {
  public:
    static NearestTree ofPoints(std::span<const glm::vec3> points);
    static NearestTree ofCurves(std::span<const Curve> curves);
    static NearestTree ofMesh(const Mesh& mesh);

    struct Found {
        float distance = 1e30f;   ///< metres; stays at the limit if nothing is nearer
        glm::vec3 place{0};       ///< the nearest place itself
        std::uint32_t which = 0;  ///< point, piece of the curves, or triangle
    };
    /// Only what is nearer than `within` metres is found.
    Found nearest(const glm::vec3& place, float within = 1e30f) const;
    bool empty() const { return parts_.empty(); }
    std::size_t bytes() const { return parts_.size() * sizeof(Part) + nodes_.size() * sizeof(Node); }

  private:
    struct Part {
        glm::vec3 a, b, c;  ///< a point has three times the same, a line b = c
        std::uint32_t which;
    };
    struct Node {
        Bounds bounds;
        std::uint32_t first, count;  ///< parts of a leaf; count 0: `first` is the right child, the left one follows
    };
    explicit NearestTree(std::vector<Part> parts);
    std::uint32_t build(std::uint32_t first, std::uint32_t count);
    static glm::vec3 nearestOn(const Part& part, const glm::vec3& place);

    std::vector<Part> parts_;
    std::vector<Node> nodes_;
};

}  // namespace gswarm
