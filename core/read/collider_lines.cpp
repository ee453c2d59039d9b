#include "core/read/collider_lines.h"

#include "core/gesture/gesture_kind.h"
#include "core/gesture/kept_collider.h"
#include "core/resolve/resolve.h"

namespace gswarm {

std::vector<ZoneLines> colliderLines(const Object& gesture, const Result& result, Store& store) {
    const Part& part = gesture.part("change");
    if (part.kind != &bodiesGesture) return {};
    const auto& choices = part.kind->parameters[static_cast<std::size_t>(part.kind->indexOf("collider"))].choices;
    std::size_t form = 0;
    while (choices[form].id != choiceOf(part, "collider")) ++form;
    std::vector<ZoneLines> lines;
    for (const Variant& variant : result.variants)
        lines.push_back(linesOf(
            *keptCollider(*variant.meshes, static_cast<ColliderForm>(form),
                          [&store](std::uint64_t key, const auto& make, const auto& bytesOf) { return store.keep(key, make, bytesOf); })));
    return lines;
}

}  // namespace gswarm
