#pragma once
#include <btBulletDynamicsCommon.h>
#include <BulletCollision/CollisionDispatch/btBoxBoxCollisionAlgorithm.h>
#include <BulletCollision/CollisionDispatch/btCompoundCompoundCollisionAlgorithm.h>
#include <BulletCollision/CollisionDispatch/btConvexConcaveCollisionAlgorithm.h>
#include <BulletCollision/CollisionDispatch/btConvexConvexAlgorithm.h>
#include <BulletCollision/CollisionDispatch/btConvexPlaneCollisionAlgorithm.h>
#include <BulletCollision/CollisionDispatch/btSphereSphereCollisionAlgorithm.h>
#include <BulletCollision/CollisionDispatch/btSphereTriangleCollisionAlgorithm.h>
#include <LinearMath/btPoolAllocator.h>

#include <algorithm>
#include <memory>

namespace gswarm {

/// Room for as many contacts as there may be. The worlds of a thread use it one after the other: to make it anew takes as long as a step.
struct ContactPools {
    static constexpr std::size_t largestAlgorithm =
        std::max({sizeof(btConvexConvexAlgorithm), sizeof(btConvexConcaveCollisionAlgorithm), sizeof(btCompoundCollisionAlgorithm),
                  sizeof(btCompoundCompoundCollisionAlgorithm), sizeof(btConvexPlaneCollisionAlgorithm), sizeof(btBoxBoxCollisionAlgorithm),
                  sizeof(btSphereSphereCollisionAlgorithm)});

    btPoolAllocator contacts, algorithms;

    explicit ContactPools(int count)
        : contacts(sizeof(btPersistentManifold), count), algorithms(static_cast<int>(largestAlgorithm), count) {}

    static btDefaultCollisionConstructionInfo roomFor(std::size_t bodies) {
        thread_local std::unique_ptr<ContactPools> pools;
        const auto count = static_cast<int>(std::clamp<std::size_t>(8 * bodies, 32, 1 << 16));
        if (!pools || pools->contacts.getMaxCount() < count) pools = std::make_unique<ContactPools>(count);
        btDefaultCollisionConstructionInfo info;
        info.m_persistentManifoldPool = &pools->contacts;
        info.m_collisionAlgorithmPool = &pools->algorithms;
        return info;
    }
};

}  // namespace gswarm
