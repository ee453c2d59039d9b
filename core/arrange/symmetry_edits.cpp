#include "core/arrange/symmetry_edits.h"

#include <algorithm>

#include "core/edit/edit_parts.h"
#include "core/flow/extent.h"
#include "core/kinds/registry.h"

namespace gswarm {

Edit addSymmetry(const Scene& scene, ObjectId swarm, const SymmetryKind& kind, const Result* seen) {
    Object symmetry = standardObject(ObjectType::symmetry, edits::freeName(scene, kind.label), {&kind});
    if (seen) {
        const Bounds all = extentOf(*seen);
        if (!all.empty() && all.low.x < 0 && all.high.x > 0) {
            Part& part = symmetry.part("symmetry");
            std::get<Numbers>(part.values[static_cast<std::size_t>(kind.indexOf("centre"))])[0].value = edits::toMillimetres(all.high.x);
        }
    }
    Edit edit{scene, scene.at(swarm).name + ": " + symmetry.name, {}, symmetry.id};
    edits::insert(edit.scene, symmetry);
    edits::changed(edit.scene, swarm).list("symmetries").push_back(symmetry.id);
    return edit;
}

Edit duplicateSymmetry(const Scene& scene, ObjectId symmetry) {
    const ObjectId swarm = scene.ownerOf(symmetry);
    Edit edit{scene, "Duplicate " + scene.at(symmetry).name, {}, {}};
    edit.made = edits::copyWithOwned(edit.scene, symmetry);
    edits::changed(edit.scene, edit.made).name = edits::freeName(scene, scene.at(symmetry).name);
    auto& all = edits::changed(edit.scene, swarm).list("symmetries");
    all.insert(std::find(all.begin(), all.end(), symmetry) + 1, edit.made);
    return edit;
}

}  // namespace gswarm
