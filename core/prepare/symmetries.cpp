#include "core/prepare/symmetries.h"

#include "core/base/text.h"
#include "core/resolve/resolve.h"
#include "core/symmetry/copies.h"
#include "core/symmetry/symmetry_kind.h"

namespace gswarm {

std::vector<glm::mat4> copiesBySymmetries(const Scene& scene, const Object& swarm, double frame, std::vector<std::string>& notes) {
    std::vector<std::vector<glm::mat4>> symmetries;
    std::size_t count = 1;
    for (const ObjectId id : swarm.list("symmetries")) {
        const Object& symmetry = scene.at(id);
        const ResolvedPart part = resolve(scene, symmetry.part("symmetry"), frame);
        const auto& kind = static_cast<const SymmetryKind&>(*part.kind);
        if (!kind.on(part.data.get())) continue;
        auto copies = kind.copies(part.data.get());
        if (count * copies.size() > mostCopies) {
            notes.push_back("“" + symmetry.name + "” is left out: with it the swarm would be there " +
                            grouped(static_cast<double>(count * copies.size())) + " times, more than the limit of " + grouped(mostCopies) +
                            ".");
            continue;
        }
        count *= copies.size();
        symmetries.push_back(std::move(copies));
    }
    return copiesOfCopies(symmetries);
}

}  // namespace gswarm
