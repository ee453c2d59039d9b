#include "core/physics/frame_world.h"

#include <BulletCollision/CollisionShapes/btScaledBvhTriangleMeshShape.h>

#include <algorithm>
#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace gswarm {

int stepsOf(std::span<const BodyRules> rules) {
    return std::max_element(rules.begin(), rules.end(), [](const BodyRules& a, const BodyRules& b) { return a.steps < b.steps; })->steps;
}

FrameWorld::FrameWorld(std::span<const BodyTask> tasks, std::span<const Collider> colliders, std::span<const Obstacle> obstacles,
                       std::span<const BodyRules> rules)
    : tasks_(tasks),
      colliders_(colliders),
      obstacles_(obstacles),
      rules_(rules),
      size_(sizeOf()),
      stepSeconds_(static_cast<float>(1 / rules[0].rate / stepsOf(rules))) {
    world_.setGravity({0, 0, 0});  // which is a part of the exact course
    btContactSolverInfo& solver = world_.getSolverInfo();
    solver.m_numIterations = 20;
    world_.getDispatchInfo().m_useContinuous = false;  // nothing is looked for where a body will be
    // Whole faces at once, since no frame finds the contacts of the one before.
    configuration_.setPlaneConvexMultipointIterations(4, 4);
    configuration_.setConvexConvexMultipointIterations(0, 0);
    solver.m_splitImpulse = true;
    solver.m_splitImpulsePenetrationThreshold = 0;
    solver.m_restitutionVelocityThreshold = 0.05f;
    for (std::size_t k = 0; k < rules.size(); ++k) addGround(k);
    for (const Obstacle& obstacle : obstacles) addObstacle(obstacle);
}

void FrameWorld::add(const BodyFrame& from) {
    addBodies(from);
    for (const BodyBond& bond : from.bonds) addBond(bond);
    setRest(from.contacts);
    world_.beforeSolving = [this, contacts = from.contacts] { goOnPressing(contacts); };
}

void FrameWorld::addBodies(const BodyFrame& from) {
    const std::vector<BodyState>& states = from.states;
    for (std::size_t i = 0; i < tasks_.size(); ++i)
        bodies_.push_back(tasks_[i].collider < 0 ? nullptr : bodyOf(states[i], tasks_[i], static_cast<int>(i)));
    for (std::size_t i = 0; i < bodies_.size(); ++i)
        if (bodies_[i]) world_.addRigidBody(bodies_[i].get(), fixed(tasks_[i]) ? heldGroup : freeGroup, meets(i));
}

float FrameWorld::sizeOf() const {
    std::vector<float> sizes;
    for (const BodyTask& task : tasks_)
        if (task.collider >= 0) {
            const glm::vec3 side = colliders_[static_cast<std::size_t>(task.collider)].half * glm::abs(task.scale) * 2.0f;
            sizes.push_back(std::max({side.x, side.y, side.z}));
        }
    if (sizes.empty()) return 1;
    const auto middle = sizes.begin() + static_cast<std::ptrdiff_t>(sizes.size() / 2);
    std::nth_element(sizes.begin(), middle, sizes.end());
    return std::clamp(*middle, 1e-6f, 1e6f);
}

void FrameWorld::addGround(std::size_t of) {
    const BodyRules& rules = rules_[of];
    if (!rules.ground) return;
    planes_.push_back(std::make_unique<Floor>(rules.groundHeight / size_));
    auto ground = std::make_unique<btRigidBody>(btRigidBody::btRigidBodyConstructionInfo(0, nullptr, planes_.back().get()));
    ground->setUserIndex(-1);
    ground->setFriction(rules.friction);
    ground->setRestitution(rules.bounce);
    world_.addRigidBody(ground.get(), firstGround << of, freeGroup);
    grounds_.push_back(std::move(ground));
}

void FrameWorld::addObstacle(const Obstacle& obstacle) {
    auto* shape = const_cast<btBvhTriangleMeshShape*>(&obstacle.mesh->shape());  // it is only read
    scaled_.push_back(std::make_unique<btScaledBvhTriangleMeshShape>(shape, bullet(obstacle.scale / size_)));
    btRigidBody::btRigidBodyConstructionInfo info(0, nullptr, scaled_.back().get());
    info.m_startWorldTransform = transformOf(obstacle.before, obstacle.turnBefore);
    const BodyRules& rules = rules_[static_cast<std::size_t>(obstacle.rules)];
    info.m_friction = rules.friction;
    info.m_restitution = rules.bounce;
    auto wall = std::make_unique<btRigidBody>(info);
    if (obstacle.place != obstacle.before || obstacle.turn != obstacle.turnBefore) {
        wall->setCollisionFlags(wall->getCollisionFlags() | btCollisionObject::CF_KINEMATIC_OBJECT);
        wall->setActivationState(DISABLE_DEACTIVATION);
    }
    wall->setUserIndex(-2 - static_cast<int>(walls_.size()));
    world_.addRigidBody(wall.get(), wallGroup, freeGroup);
    walls_.push_back(std::move(wall));
}

int FrameWorld::meets(std::size_t body) const {
    if (fixed(tasks_[body])) return rulesOf(body).meet ? freeGroup : 0;
    return (rulesOf(body).meet ? freeGroup | heldGroup : 0) | wallGroup | firstGround << tasks_[body].rules;
}

void FrameWorld::addBond(const BodyBond& bond) {
    const auto one = static_cast<std::size_t>(bond.one), other = static_cast<std::size_t>(bond.other);
    const bool there = bodies_[one] && bodies_[other] && !(fixed(tasks_[one]) && fixed(tasks_[other]));
    bondOf_.push_back(there ? static_cast<int>(bonds_.size()) : -1);
    if (!there) return;
    auto made =
        std::make_unique<btFixedConstraint>(*bodies_[one], *bodies_[other], transformOf(bond.place, bond.turn), btTransform::getIdentity());
    if (const float holds = rulesOf(one).bondHolds; holds > 0) {
        const auto lighter = [](const btRigidBody& body) { return body.getInvMass() > 0 ? 1 / body.getInvMass() : 1e30f; };
        made->setBreakingImpulseThreshold(holds / size_ * stepSeconds_ * std::min(lighter(*bodies_[one]), lighter(*bodies_[other])));
    }
    world_.addConstraint(made.get(), true);
    bonds_.push_back(std::move(made));
}

std::unique_ptr<btRigidBody> FrameWorld::bodyOf(const BodyState& state, const BodyTask& task, int number) {
    const BodyRules& rules = rules_[static_cast<std::size_t>(task.rules)];
    btCollisionShape* shape = &shapes_.of(colliders_[static_cast<std::size_t>(task.collider)], task.collider, task.scale);
    const glm::vec3 scale = glm::abs(task.scale) / size_;
    const float volume = colliders_[static_cast<std::size_t>(task.collider)].volume() * scale.x * scale.y * scale.z;
    const btScalar mass = fixed(task) ? 0 : std::clamp((rules.massBySize ? volume : 1.0f) * rules.density, 1e-6f, 1e6f);
    btVector3 inertia(0, 0, 0);
    if (mass > 0) shape->calculateLocalInertia(mass, inertia);
    btRigidBody::btRigidBodyConstructionInfo info(mass, nullptr, shape, inertia);
    info.m_startWorldTransform = transformOf(state);
    info.m_friction = rules.friction;
    info.m_restitution = rules.bounce;
    auto body = std::make_unique<btRigidBody>(info);
    body->setUserIndex(number);
    if (task.still) return body;
    if (task.held) {
        body->setCollisionFlags(body->getCollisionFlags() | btCollisionObject::CF_KINEMATIC_OBJECT);
        body->setActivationState(DISABLE_DEACTIVATION);
        return body;
    }
    body->setLinearVelocity(bullet(state.speed / size_));
    body->setAngularVelocity(bullet(state.spin));
    if (!rules.sleep) body->setActivationState(DISABLE_DEACTIVATION);
    // What is pushed, or striving to an aim that moves, does not sleep on.
    const bool called = task.push != glm::vec3(0) ||
                        ((rules.strive > 0 || rules.turnStrive > 0) && (task.aim != state.aim || task.aimTurn != state.aimTurn));
    if (!called) body->setDeactivationTime(state.still);
    if (state.asleep && rules.sleep && !called) body->setActivationState(ISLAND_SLEEPING);
    return body;
}

std::vector<BodyBond> FrameWorld::bondsLeft(const std::vector<BodyBond>& before) const {
    std::vector<BodyBond> left;
    for (std::size_t k = 0; k < before.size(); ++k)
        if (bondOf_[k] < 0 || bonds_[static_cast<std::size_t>(bondOf_[k])]->isEnabled()) left.push_back(before[k]);
    return left;
}

}  // namespace gswarm
