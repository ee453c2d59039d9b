#pragma once
#include <string>
#include <vector>

#include "core/edit/edit.h"

namespace gswarm {

/// A material ready to be used, as the gallery offers it.
struct MaterialStart {
    std::string id, label, summary;
    std::string words;  ///< plain trade words that people bring
    /// The numbers that differ from the standard of its kind; switches and choices by their id.
    std::vector<std::pair<std::string, Value>> values;
    bool shows = false;  ///< of the kind that shows pictures on each; else plain

    Object make() const;
};
/// In the order galleries show them.
const std::vector<MaterialStart>& materialStarts();

/// A new material, as the start makes it. One that shows pictures takes the media that came last, or a simulated camera where there are
/// none, which it adds.
Edit addMaterial(const Scene& scene, const MaterialStart& start);
/// The same in the place of the material a stock entry or a shape has, which itself stays.
Edit addMaterialFor(const Scene& scene, ObjectId user, const MaterialStart& start);
/// The material that a stock entry or shape has; the empty id if none, or for anything else.
ObjectId materialOf(const Scene& scene, ObjectId user);
/// The material and all that it is mixed from, each once.
std::vector<ObjectId> materialsBehind(const Scene& scene, ObjectId material);
/// A stock entry or shape gets a material that is there already.
Edit useMaterial(const Scene& scene, ObjectId user, ObjectId material);
/// Two materials become one that mixes them, in the place of the first wherever that is used.
Edit mixMaterial(const Scene& scene, ObjectId material);

}  // namespace gswarm
