#pragma once
#include <filesystem>
#include <map>
#include <vector>

#include "core/base/content_hash.h"
#include "core/flow/home_plan.h"
#include "core/flow/stock_plan.h"
#include "core/material/material_kind.h"
#include "core/scene/scene.h"

namespace gswarm {

class Store;

/// How deep materials may be mixed from mixed ones; what lies deeper counts as its first.
inline constexpr int deepestMix = 4;

/// The materials of a swarm and of what is seen with it, at one frame. It refers to the scene, which must outlive it.
class Looks {
  public:
    /// Without a swarm and its homes they are those of things that are no instances. Files lie in the project's folder; empty for the
    /// present one.
    Looks(const Scene& scene, ObjectId swarm, const HomePlan* homes, double frame, std::filesystem::path projectFolder, Store& store)
        : scene_(scene), swarm_(swarm), homes_(homes), frame_(frame), folder_(std::move(projectFolder)), store_(store) {}
    /// `standard` where there is no such material.
    Look of(ObjectId material, const Look& standard) { return of(material, standard, 0); }

    /// Of all that the looks so far depend on.
    std::uint64_t hash() const { return hash_.value(); }
    /// What mixes them, in the order of Mix::column.
    const std::vector<MixColumn>& columns() const { return columns_; }
    /// One sentence, where more mixes than may, or a picture can't be read.
    const std::string& note() const { return note_; }

  private:
    Look of(ObjectId material, const Look& standard, int depth);
    int column(ObjectId namedValue);
    std::string name(ObjectId namedValue);
    int weight(ObjectId gesture);
    std::shared_ptr<const FloatPicture> picture(ObjectId material, const std::string& file, PictureAs as);
    std::shared_ptr<const ShownPictures> shown(ObjectId material, const ShownAsk& ask);
    int columnOf(const MixColumn& wanted);

    const Scene& scene_;
    ObjectId swarm_;
    const HomePlan* homes_;
    double frame_;
    std::filesystem::path folder_;
    Store& store_;
    ContentHash hash_;
    std::map<std::pair<ObjectId, int>, Look> made_;
    std::vector<MixColumn> columns_;
    std::string note_;
};

/// Of stock and of shapes that have no material.
const Look& plainClay();
const Look& plainStone();

}  // namespace gswarm
