#pragma once
#include <map>

#include "core/exchange/exporter_kind.h"

namespace gswarm {

/// Instances that show pictures of their own, for formats that know one material for each mesh: every part and moment that is shown
/// becomes a variant of its own, which keeps its number over all frames, and what tints an instance goes into its colour.
class ShownApart {
  public:
    /// The same result where nothing shows pictures of its own. Throws Error where there are more than can be told apart.
    std::shared_ptr<const Result> of(const std::shared_ptr<const Result>& result);
    /// All that is drawn or exported at a frame, with placements.
    DrawList placedAt(const ExportFrames& frames, double frame, Progress& progress);
    /// Numbers what is shown at all frames of the range, each `later`, so that those of the first know it. Does nothing in a scene without
    /// such materials.
    void meetAll(const ExportFrames& frames, double later, Progress& progress);

  private:
    struct Part {
        std::uint16_t variant;
        ShownWhich which;
        auto operator<=>(const Part&) const = default;
    };
    /// Of one swarm, in the order in which they were met.
    struct Known {
        std::map<Part, std::uint16_t> number;
        std::vector<Part> parts;
    };
    std::map<ObjectId, Known> known_;
};

}  // namespace gswarm
