#pragma once
#include <map>

#include "core/provide/store.h"
#include "core/scene/scene.h"
#include "core/shape/carried.h"
#include "core/shape/pieces.h"
#include "core/shape/shape_kind.h"

namespace gswarm {

/// The pieces of a broken shape, each ready to draw.
using PieceSet = std::vector<std::shared_ptr<const ShapeMeshes>>;

/// Makes a scene's shapes at one frame and keeps them in the store, by all that goes into them: their numbers, files and
/// the shapes that they are made from. One thread at a time.
class Shapes {
  public:
    /// Evaluates a swarm that shapes are made of at the frame.
    using FormOf = std::function<SwarmForm(ObjectId swarm)>;

    /// Without `formOf` those that are made of swarms can't be made.
    Shapes(const Scene& scene, double frame, std::filesystem::path projectFolder, Store& store, Progress& progress, FormOf formOf = {})
        : scene_(scene), frame_(frame), folder_(std::move(projectFolder)), store_(store), progress_(progress), formOf_(std::move(formOf)) {}

    /// Throws Error with the shape's name if it is gone or can't be made.
    std::shared_ptr<const ShapeMeshes> get(ObjectId shape) const;
    std::shared_ptr<const PieceSet> pieces(ObjectId shape, PieceMode mode) const;

  private:
    /// 0 where it can't be told.
    std::uint64_t hashOf(const Object& shape, int depth) const;
    const SwarmForm& formOf(ObjectId swarm) const;

    const Scene& scene_;
    double frame_;
    std::filesystem::path folder_;
    Store& store_;
    Progress& progress_;
    FormOf formOf_;
    mutable std::map<ObjectId, SwarmForm> forms_;  ///< those that were asked for
};

}  // namespace gswarm
