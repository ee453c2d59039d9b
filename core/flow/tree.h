#pragma once
#include <functional>
#include <glm/mat4x4.hpp>
#include <glm/vec4.hpp>
#include <memory>
#include <vector>

#include "core/flow/result.h"
#include "core/shape/standing_shape.h"

/// A result whose instances may be swarms is a tree. Here it is walked down to what is drawn.
namespace gswarm {

/// Swarms repeat swarms no deeper than this.
inline constexpr int deepestNesting = 8;

/// One instance of a swarm.
struct InstanceOf {
    std::shared_ptr<const Result> swarm;
    std::uint32_t row = 0;
    std::uint32_t copy = 0;  ///< by the swarm's symmetries; 0 is the original
};

/// The instances of one swarm that show the same variant, or a shape that is made of the swarm, as one copy of it shows them: of the
/// swarm itself, or of one that it repeats.
struct Leaves {
    std::shared_ptr<const Result> swarm;  ///< whose they are
    const Variant* variant = nullptr;     ///< null for a shape that is made of the swarm
    const Backdrop* backdrop = nullptr;
    std::shared_ptr<const std::vector<std::uint32_t>> rows;  ///< in number order; shared by all that show the same
    glm::mat4 pose{1};                                       ///< from that swarm's space
    glm::vec4 tint{1};                                       ///< of all instances above them, which theirs are times
    std::uint32_t copy = 0;
    InstanceOf within;       ///< of the outermost swarm; no swarm where they are its own
    std::uint64_t path = 0;  ///< tells apart what the same instances are in different instances above them; 0 at the top
};

/// All leaves of a swarm that stands somewhere: variant by variant, and of each copy by copy, then what is made of swarms that it
/// repeats (what is made of itself, its backdrops tell). Lamps are leaves too.
void eachLeaves(const std::shared_ptr<const Result>& swarm, const glm::mat4& stand, const std::function<void(const Leaves&)>& take);

/// Every shape that it shows, instance by instance and then copy by copy, without lights. Throws Error if there are too many.
StandingShapes standingShapes(const Result& swarm, const glm::mat4& stand);

/// Fills in how many leaves it has, from those that it repeats.
void countLeaves(Result& result);

}  // namespace gswarm
