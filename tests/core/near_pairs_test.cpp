#include "core/physics/near_pairs.h"

#include <gtest/gtest.h>

#include <cmath>
#include <memory>
#include <set>

#include "core/base/chance.h"
#include "core/physics/stepped_world.h"

using namespace gswarm;

namespace {

/// Balls and boxes of sizes from a hundredth to ten, close together, some at rest, over a floor.
struct Crowd {
    btDefaultCollisionConfiguration configuration;
    btCollisionDispatcher dispatcher{&configuration};
    NearPairs near;
    btCollisionWorld world{&dispatcher, &near, &configuration};
    std::vector<std::unique_ptr<btCollisionShape>> shapes;
    std::vector<std::unique_ptr<btCollisionObject>> objects;
    Floor floor{-3};
    btCollisionObject ground;

    explicit Crowd(int count) {
        for (int i = 0; i < count; ++i) {
            const auto random = [&](std::uint32_t which) { return chance(5, static_cast<std::uint64_t>(i), which); };
            const float size = std::pow(10.0f, 3 * random(0) - 2);
            if (i % 2)
                shapes.push_back(std::make_unique<btSphereShape>(size));
            else
                shapes.push_back(std::make_unique<btBoxShape>(btVector3(size, 0.7f * size, 0.5f * size)));
            btCollisionObject& object = *objects.emplace_back(std::make_unique<btCollisionObject>());
            object.setCollisionShape(shapes.back().get());
            object.setCollisionFlags(0);
            if (i % 5 == 0) object.setActivationState(ISLAND_SLEEPING);
            world.addCollisionObject(&object, 1, i % 7 ? 3 : 2);
        }
        ground.setCollisionShape(&floor);
        ground.setActivationState(ISLAND_SLEEPING);
        world.addCollisionObject(&ground, 2, 1);
    }
    ~Crowd() { near.forgetPairs(dispatcher); }

    void moveTo(int step) {
        for (std::size_t i = 0; i < objects.size(); ++i) {
            const auto random = [&](std::uint32_t which) { return 2 * chance(9, i, which + 16 * static_cast<std::uint32_t>(step)) - 1; };
            // Some alike, as in a grid.
            btVector3 place(random(0), random(1), random(2));
            place *= 8;
            if (i % 3 == 0) place = {std::round(place.x()), std::round(place.y()), std::round(place.z())};
            objects[i]->setWorldTransform(btTransform(btQuaternion(random(3), random(4), random(5), 1.5f).normalized(), place));
        }
        world.performDiscreteCollisionDetection();
    }

    std::set<std::pair<int, int>> byLookingAtAll() const {
        std::set<std::pair<int, int>> pairs;
        const btCollisionObjectArray& all = world.getCollisionObjectArray();
        for (int i = 0; i < all.size(); ++i)
            for (int j = i + 1; j < all.size(); ++j) {
                const btBroadphaseProxy &one = *all[i]->getBroadphaseHandle(), &other = *all[j]->getBroadphaseHandle();
                if (!(one.m_collisionFilterGroup & other.m_collisionFilterMask) ||
                    !(other.m_collisionFilterGroup & one.m_collisionFilterMask))
                    continue;
                if (!all[i]->isActive() && !all[j]->isActive()) continue;
                bool apart = false;
                for (int axis = 0; axis < 3; ++axis)
                    apart = apart || one.m_aabbMin[axis] > other.m_aabbMax[axis] || other.m_aabbMin[axis] > one.m_aabbMax[axis];
                const auto radius = [](const btCollisionObject& object) {
                    const auto* ball = dynamic_cast<const btSphereShape*>(object.getCollisionShape());
                    return ball ? ball->getRadius() : 1e9f;
                };
                const float reach = radius(*all[i]) + radius(*all[j]) + 0.04f;
                if (!apart && all[i]->getWorldTransform().getOrigin().distance(all[j]->getWorldTransform().getOrigin()) <= reach)
                    pairs.emplace(i, j);
            }
        return pairs;
    }
};

}  // namespace

TEST(NearPairs, AreThoseThatLookingAtAllFindsInTheirOrder) {
    Crowd crowd(400);
    for (int step = 0; step < 6; ++step) {
        crowd.moveTo(step);
        const btBroadphasePairArray& pairs = crowd.near.getOverlappingPairCache()->getOverlappingPairArray();
        std::vector<std::pair<int, int>> found;
        for (int k = 0; k < pairs.size(); ++k) found.emplace_back(pairs[k].m_pProxy0->m_uniqueId, pairs[k].m_pProxy1->m_uniqueId);
        const auto all = crowd.byLookingAtAll();
        EXPECT_GT(all.size(), 500u);
        EXPECT_EQ(found, std::vector(all.begin(), all.end())) << step;
    }
}

TEST(NearPairs, KeepWhatIsKnownOfAPairThatStaysNear) {
    Crowd crowd(60);
    crowd.moveTo(0);
    const auto known = [&] {
        std::set<const btCollisionAlgorithm*> all;
        const btBroadphasePairArray& pairs = crowd.near.getOverlappingPairCache()->getOverlappingPairArray();
        for (int k = 0; k < pairs.size(); ++k)
            if (pairs[k].m_algorithm) all.insert(pairs[k].m_algorithm);
        return all;
    };
    const auto before = known();
    EXPECT_GT(before.size(), 10u);
    crowd.world.performDiscreteCollisionDetection();
    EXPECT_EQ(known(), before);
    crowd.near.forgetPairs(crowd.dispatcher);
    EXPECT_EQ(crowd.dispatcher.getNumManifolds(), 0);
}

TEST(NearPairs, ABodyThatIsTakenOutMeetsNothingMore) {
    Crowd crowd(60);
    crowd.moveTo(0);
    crowd.world.removeCollisionObject(crowd.objects[1].get());
    const btBroadphasePairArray& pairs = crowd.near.getOverlappingPairCache()->getOverlappingPairArray();
    EXPECT_GT(pairs.size(), 0);
    crowd.moveTo(1);
    for (int k = 0; k < pairs.size(); ++k) {
        EXPECT_NE(pairs[k].m_pProxy0->m_uniqueId, 1);
        EXPECT_NE(pairs[k].m_pProxy1->m_uniqueId, 1);
    }
}

TEST(NearPairs, AreFoundFarOutToo) {
    Crowd crowd(3);  // the first of which meets none but the floor
    for (const float place : {1e5f, 3e9f, 1e30f}) {
        for (auto& object : crowd.objects) object->setWorldTransform(btTransform(btQuaternion::getIdentity(), {place, place, -place}));
        crowd.world.performDiscreteCollisionDetection();
        EXPECT_EQ(crowd.near.getOverlappingPairCache()->getNumOverlappingPairs(), 1) << place;
    }
}
