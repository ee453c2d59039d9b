#pragma once
#include <cstdint>
#include <functional>
#include <memory>
#include <vector>

#include "core/base/aligned_allocator.h"
#include "core/shape/mesh.h"

namespace gswarm {

struct ShapeMeshes;

/// What stays the same of a mesh whose corners are carried: made once, however often they move.
struct CarriedRest {
    static constexpr std::size_t row = 16;  ///< vertices that are worked on together

    std::shared_ptr<const ShapeMeshes> base;
    std::vector<glm::vec3> places;      ///< of the corners at rest
    std::vector<std::uint32_t> corner;  ///< of each vertex, padded to whole rows
    /// The corners around each vertex that its smooth normal is made of, counter-clockwise: for each row of vertices
    /// `ring[16 · (ringStart[row] … ringStart[row + 1])]`, one corner of each of the sixteen after the other. Two that follow each
    /// other span a face with the vertex; where faces don't follow each other, and behind the last one, stands the vertex's own
    /// corner, with which nothing is spanned.
    std::vector<std::uint32_t> ring, ringStart;

    std::size_t rows() const { return ringStart.size() - 1; }
};

/// Faces of a vertex are smooth with those of every vertex at the same corner that has the same normal at rest, so that edges that
/// are sharp at rest stay sharp.
CarriedRest carriedRest(std::shared_ptr<const ShapeMeshes> base);

/// Where the corners of a mesh are at a frame.
struct Carried {
    using Column = std::vector<float, AlignedAllocator<float>>;

    std::shared_ptr<const CarriedRest> rest;
    Column x, y, z;                  ///< of each corner, metres
    std::vector<glm::vec4> colours;  ///< of each corner, linear; empty where no gesture colours

    /// All at rest.
    explicit Carried(std::shared_ptr<const CarriedRest> from);
};

/// A swarm that carries a mesh: a hash of all that this depends on (0 where that can't be told), and what makes it.
struct CarriedSwarm {
    std::uint64_t hash = 0;
    std::function<Carried()> make;
};

/// The mesh as its corners lie now. Normals are sums of the faces' normals, weighted by the angle at the corner (G. Thürmer and C.
/// Wüthrich, Computing vertex normals from polygonal facets, 1998), or those at rest where all faces have vanished; tangents and UV
/// are the base's, the former at a right angle to the new normals.
Mesh carriedMesh(const Carried& carried);

}  // namespace gswarm
