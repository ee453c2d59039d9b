#include "core/physics/body_shapes.h"

#include <cmath>
#include <glm/common.hpp>
#include <numbers>

namespace gswarm {
namespace {

/// A tube has faces, since only these meet others all over at once.
std::vector<glm::vec3> tubeCorners(const glm::vec3& half) {
    constexpr int sides = 12;
    std::vector<glm::vec3> corners;
    for (int k = 0; k < sides; ++k) {
        const float turn = static_cast<float>(k) * (2 * std::numbers::pi_v<float> / sides);
        for (const float y : {-half.y, half.y}) corners.emplace_back(half.x * std::cos(turn), y, half.z * std::sin(turn));
    }
    return corners;
}

std::unique_ptr<btCollisionShape> hullOf(const std::vector<glm::vec3>& corners, const glm::vec3& scale) {
    auto hull = std::make_unique<btConvexHullShape>();
    for (const glm::vec3& corner : corners) hull->addPoint({corner.x * scale.x, corner.y * scale.y, corner.z * scale.z}, false);
    hull->recalcLocalAabb();
    hull->setMargin(0.01f);
    hull->initializePolyhedralFeatures();
    return hull;
}

}  // namespace

btCollisionShape& BodyShapes::of(const Collider& collider, int number, const glm::vec3& scale) {
    auto& shape = shapes_[{number, scale.x, scale.y, scale.z}];
    if (!shape) shape = made(collider, scale);
    return *shape;
}

std::unique_ptr<btCollisionShape> BodyShapes::made(const Collider& collider, const glm::vec3& scale) {
    const glm::vec3 half = glm::max(collider.half * glm::abs(scale) / size_, 1e-4f);
    switch (collider.form) {
        case ColliderForm::ball:
            return std::make_unique<btSphereShape>((half.x + half.y + half.z) / 3);
        case ColliderForm::tube:
            return hullOf(tubeCorners(half), glm::vec3(1));
        case ColliderForm::hull:
            return hullOf(collider.hulls.front(), scale / size_);
        case ColliderForm::hulls: {
            auto all = std::make_unique<btCompoundShape>();
            for (const auto& corners : collider.hulls) {
                pieces_.push_back(hullOf(corners, scale / size_));
                all->addChildShape(btTransform::getIdentity(), pieces_.back().get());
            }
            return all;
        }
        default:
            return std::make_unique<btBoxShape>(btVector3(half.x, half.y, half.z));
    }
}

}  // namespace gswarm
