#pragma once
#include <cstdint>
#include <functional>
#include <memory>
#include <mutex>
#include <vector>

#include "core/base/aligned_allocator.h"
#include "core/shape/shape_kind.h"

namespace gswarm {

/// What stays the same of a mesh whose corners are carried: made once, however often they move.
struct CarriedRest {
    static constexpr std::size_t row = 16;  ///< vertices that are worked on together

    std::shared_ptr<const ShapeMeshes> base;
    std::vector<glm::vec3> places;      ///< of the corners at rest
    std::vector<std::uint32_t> corner;  ///< of each vertex, padded to whole rows
    /// The corners around each vertex that its smooth normal is made of, counter-clockwise. Two that follow each other span a face
    /// with the vertex; where faces don't follow each other, and behind the last one, stands the vertex's own corner, with which
    /// nothing is spanned. From `start` on, for each place around the vertices of a row: one corner of each of the sixteen; or just
    /// that of the first, where they are numbered one after the other, of the first 64 places told by a bit.
    struct Ring {
        std::uint32_t start, length;
        std::uint64_t straight;
    };
    std::vector<Ring> rings;  ///< of each row
    std::vector<std::uint32_t> ring;

    std::size_t rows() const { return rings.size(); }
    std::size_t bytes() const;
};

/// Faces of a vertex are smooth with those of every vertex at the same corner that has the same normal at rest, so that edges that
/// are sharp at rest stay sharp.
CarriedRest carriedRest(std::shared_ptr<const ShapeMeshes> base);

/// Where the corners of a mesh are at a frame.
struct Carried {
    std::vector<float, AlignedAllocator<float>> x, y, z;  ///< of each corner, metres
    std::vector<glm::vec4> colours;                       ///< of each corner, linear; empty where no gesture colours
    std::vector<NamedNumbers> numbers;                    ///< of each corner
};

/// The mesh as its corners lie now, in the memory of one that was made before from the same rest, or of a new one. Normals are sums
/// of the faces' normals, weighted by the angle at the corner (G. Thürmer and C. Wüthrich, Computing vertex normals from polygonal
/// facets, 1998), or those at rest where all faces have vanished; tangents and UV are the base's, the former at a right angle to
/// the new normals. Fills in the bounds.
Mesh carriedMesh(const CarriedRest& rest, const Carried& carried, Mesh memory, Bounds& bounds);

/// The meshes that were made last from one rest. Frames come one after the other: the memory of those that nobody holds any more is
/// used again, so that nothing large is asked of the system. Safe from several threads.
class CarriedMeshes {
  public:
    explicit CarriedMeshes(std::shared_ptr<const CarriedRest> rest) : rest_(std::move(rest)) {}
    const CarriedRest& rest() const { return *rest_; }
    /// The mesh of that hash, or, if it is none of the last few, what `fill` makes of columns that have room for every corner and
    /// hold anything. A hash of 0 is never found.
    std::shared_ptr<const ShapeMeshes> get(std::uint64_t hash, const std::function<void(Carried&)>& fill);

  private:
    struct Made {
        std::uint64_t hash;
        std::shared_ptr<Mesh> mesh;
        std::shared_ptr<const ShapeMeshes> meshes;
    };
    std::shared_ptr<const CarriedRest> rest_;
    std::mutex mutex_;
    std::vector<Made> made_;  ///< the latest last
    Carried columns_;         ///< while nobody fills them
};

/// A swarm that shapes are made of, at a frame: a hash of all that it depends on (0 where that can't be told), and what makes the
/// one or the other. Either throws Error where there is none.
struct SwarmForm {
    std::uint64_t hash = 0;
    std::function<std::shared_ptr<const ShapeMeshes>()> carried;  ///< the mesh on whose corners it stands, as these lie now
    std::function<std::shared_ptr<const SwarmShown>()> shown;     ///< in its own space, with its copies by symmetry
};

}  // namespace gswarm
