#pragma once
#include <btBulletDynamicsCommon.h>

#include <cmath>
#include <cstdint>
#include <memory>
#include <span>
#include <utility>
#include <vector>

#include "core/physics/body_shapes.h"
#include "core/physics/contact_pools.h"
#include "core/physics/near_pairs.h"
#include "core/physics/rigid_bodies.h"
#include "core/physics/stepped_world.h"

namespace gswarm {

inline btVector3 bullet(const glm::vec3& v) { return {v.x, v.y, v.z}; }
inline btQuaternion bullet(const glm::quat& q) { return {q.x, q.y, q.z, q.w}; }
inline glm::vec3 ours(const btVector3& v) { return {v.x(), v.y(), v.z()}; }
inline glm::quat ours(const btQuaternion& q) { return {q.w(), q.x(), q.y(), q.z()}; }

/// Two bodies as one number, in the order in which they are named.
inline std::uint64_t pairOf(int one, int other) {
    return std::uint64_t{static_cast<std::uint32_t>(one)} << 32 | static_cast<std::uint32_t>(other);
}

/// How many steps a frame takes: as many as the rules that ask for most.
int stepsOf(std::span<const BodyRules> rules);

/// The world of one frame, all in sizes of a body, for which Bullet is made. What stands in it is in frame_world.cpp, what it does in a
/// step in frame_step.cpp, what touches in frame_contacts.cpp.
class FrameWorld {
  public:
    FrameWorld(std::span<const BodyTask> tasks, std::span<const Collider> colliders, std::span<const Obstacle> obstacles,
               std::span<const BodyRules> rules);
    FrameWorld(const FrameWorld&) = delete;
    ~FrameWorld() { near_.forgetPairs(dispatcher_); }  // all at once; the bodies go with the world, which is gone before them

    void add(const BodyFrame& from);
    /// Pairs of bodies by how deep they lie in each other, where they touch or nearly; in their order.
    std::vector<std::pair<std::pair<int, int>, float>> touching();
    /// Those that hold.
    std::vector<BodyBond> bondsLeft(const std::vector<BodyBond>& before) const;
    /// One step of so many seconds; the aims run from `begin` to `end`, shares of the whole.
    void step(std::vector<BodyState>& states, const std::vector<BodyState>& first, double seconds, float begin, float end);
    /// Where bodies touch now. Those that sleep on each other are not looked at again: `before` tells of them.
    std::vector<BodyContact> contacts(const std::vector<BodyState>& states, const std::vector<BodyContact>& before);

  private:
    void forManifolds(const auto& take) {
        const auto numberOf = [](const btCollisionObject* one) { return one->getUserIndex(); };
        for (int k = 0; k < dispatcher_.getNumManifolds(); ++k) {
            btPersistentManifold& manifold = *dispatcher_.getManifoldByIndexInternal(k);
            take(manifold, numberOf(manifold.getBody0()), numberOf(manifold.getBody1()));
        }
    }
    /// How slow is still: what touches others may tremble, by what a step of gravity gives, and rock.
    void setRest(const std::vector<BodyContact>& contacts);
    /// Lets bodies press where they did, once it is known where they touch.
    void goOnPressing(const std::vector<BodyContact>& contacts);
    /// The median size of the bodies.
    float sizeOf() const;
    /// The floor of those that go by some rules.
    void addGround(std::size_t of);
    /// One that moves counts as held: it pushes and is not pushed.
    void addObstacle(const Obstacle& obstacle);
    void moveObstacles(float share);
    void addBodies(const BodyFrame& from);
    btTransform transformOf(const glm::vec3& place, const glm::quat& turn) const {
        return btTransform(bullet(turn), bullet(place / size_));
    }
    btTransform transformOf(const BodyState& state) const { return transformOf(state.place, state.turn); }

    /// What meets what: those that are free meet all but other floors, those that nothing moves only what is free.
    static constexpr int freeGroup = 1, heldGroup = 2, wallGroup = 4, firstGround = 8;
    int meets(std::size_t body) const;
    const BodyRules& rulesOf(std::size_t body) const { return rules_[static_cast<std::size_t>(tasks_[body].rules)]; }

    static bool fixed(const BodyTask& task) { return task.held || task.still; }

    /// None between two that nothing moves.
    void addBond(const BodyBond& bond);
    std::unique_ptr<btRigidBody> bodyOf(const BodyState& state, const BodyTask& task, int number);
    /// With its aim; what is away from it comes home on the way, whatever it meets.
    void glide(BodyState& state, const glm::vec3& aim, const glm::vec3& gone, const glm::quat& aimBefore, const glm::quat& aimTurn,
               float seconds) const;
    /// What ran away, or is nowhere, sleeps where it was.
    static void stop(BodyState& state, const BodyState& was, btRigidBody& body);

    std::span<const BodyTask> tasks_;
    std::span<const Collider> colliders_;
    std::span<const Obstacle> obstacles_;
    std::span<const BodyRules> rules_;
    float size_, stepSeconds_;
    BodyShapes shapes_{size_};
    std::vector<std::unique_ptr<Floor>> planes_;
    std::vector<std::unique_ptr<btRigidBody>> grounds_;
    std::vector<std::unique_ptr<btCollisionShape>> scaled_;
    std::vector<std::unique_ptr<btRigidBody>> walls_;
    std::vector<std::unique_ptr<btRigidBody>> bodies_;
    std::vector<std::unique_ptr<btFixedConstraint>> bonds_;
    // What knows of all that comes last, since it goes first.
    btDefaultCollisionConfiguration configuration_{ContactPools::roomFor(tasks_.size())};
    btCollisionDispatcher dispatcher_{&configuration_};
    NearPairs near_;
    btSequentialImpulseConstraintSolver solver_;
    SteppedWorld world_{&dispatcher_, &near_, &solver_, &configuration_};
    std::vector<int> bondOf_;  ///< of each that was asked for; −1 for none
};

}  // namespace gswarm
