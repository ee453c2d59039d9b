#pragma once
#include <functional>
#include <memory>

#include "core/base/content_hash.h"
#include "core/physics/collider.h"
#include "core/scene/rail_source.h"
#include "core/shape/shape_kind.h"

namespace gswarm {

/// The solid of a form around a shape, made once; `kept` as a RailSource and the Store have it.
inline std::shared_ptr<const Collider> keptCollider(const ShapeMeshes& meshes, ColliderForm form, const decltype(RailSource::kept)& kept) {
    ContentHash key;
    key.add("collider");
    key.add(meshes.hash);
    key.add(static_cast<std::uint64_t>(form));
    return std::static_pointer_cast<const Collider>(kept(
        key.value(), [&] { return std::make_shared<const Collider>(colliderOf(meshes.mesh(), meshes.bounds, form)); },
        [](const void* made) {
            std::size_t corners = 0;
            for (const auto& hull : static_cast<const Collider*>(made)->hulls) corners += hull.size();
            return sizeof(Collider) + corners * sizeof(glm::vec3);
        }));
}

}  // namespace gswarm
