#pragma once
#include <btBulletCollisionCommon.h>

#include <glm/vec3.hpp>
#include <map>
#include <memory>
#include <tuple>
#include <vector>

#include "core/physics/collider.h"

namespace gswarm {

/// Colliders as Bullet has them, in sizes of a body; those of one scale are shared.
class BodyShapes {
  public:
    /// `size`: metres that count as 1.
    explicit BodyShapes(float size) : size_(size) {}
    /// `number` tells colliders apart; its axes may be mirrored by the scale.
    btCollisionShape& of(const Collider& collider, int number, const glm::vec3& scale);

  private:
    std::unique_ptr<btCollisionShape> made(const Collider& collider, const glm::vec3& scale);

    float size_;
    std::map<std::tuple<int, float, float, float>, std::unique_ptr<btCollisionShape>> shapes_;
    std::vector<std::unique_ptr<btCollisionShape>> pieces_;  ///< of those that are made of several
};

}  // namespace gswarm
