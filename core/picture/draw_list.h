#pragma once
#include <glm/mat4x4.hpp>
#include <glm/vec4.hpp>
#include <memory>
#include <span>
#include <vector>

#include "core/flow/result.h"
#include "core/flow/tree.h"
#include "core/light/light_kind.h"
#include "core/symmetry/copies.h"

/// All that a picture or an export is made from. The live view, the tracer and the exporters read nothing else of results, so
/// what one shows the others show.
namespace gswarm {

/// A mesh that is seen once, or as often as a swarm shows it.
struct Surface {
    ObjectId shape;
    std::shared_ptr<const ShapeMeshes> meshes;
    int look = 0;  ///< in the list
    /// Into the world: from the swarm's space, or of the mesh itself where it is seen once. A similarity, which may mirror.
    glm::mat4 pose{1};
    glm::vec4 colour{1};  ///< linear, straight alpha; instances carry their own instead
    bool dimmed = false;  ///< seen while working, left out of pictures and exports
    /// Whose instances they are; null for a mesh that is seen once. `instances` are the rows that show this mesh, in number
    /// order; their matrices, colours and placements stand in the result.
    std::shared_ptr<const Result> swarm;
    std::shared_ptr<const std::vector<std::uint32_t>> rows;
    std::uint32_t copy = 0;  ///< by symmetry, of the swarm or of what it carries; 0 is the original
    glm::vec4 tint{1};       ///< linear: of the instances that repeat this swarm, which those of its own are times
    InstanceOf within;       ///< of the outermost swarm that repeats it; no swarm at the top
    std::uint64_t path = 0;  ///< tells apart where the same swarm is repeated; 0 at the top

    /// Of one of its instances, linear with straight alpha.
    glm::vec4 colourOf(std::uint32_t row) const { return tint * linearColour(swarm->columns->colour[row]); }
    std::span<const std::uint32_t> instances() const { return rows ? std::span(*rows) : std::span<const std::uint32_t>(); }
};

struct DrawList {
    std::vector<Look> looks;
    std::vector<Surface> surfaces;
    std::vector<Lamp> lamps;  ///< that swarms repeat, in the world: each with the colour of its instance, and its size as strength
};

/// What some swarms show: the instances of those that are shown, mesh by mesh and of each mesh copy by copy, swarms that they repeat
/// taken apart; then the shapes that are themselves seen.
DrawList drawListOf(std::span<const std::shared_ptr<const Result>> swarms);

/// From the swarm's space into the world, for one of its copies.
glm::mat4 standOf(const Result& swarm, std::uint32_t copy);
/// The lamps that a swarm repeats, in the world, also through swarms that it repeats, each with its copies; no more than `most`.
std::vector<Lamp> lampsOf(const std::shared_ptr<const Result>& swarm, std::size_t most = SIZE_MAX);
/// A scene's own lamps, then those that swarms repeat; those whose place or light is no number are left out.
std::vector<Lamp> allLamps(std::vector<Lamp> own, const DrawList& list);

}  // namespace gswarm
