#include "core/physics/rigid_bodies.h"

#include <btBulletDynamicsCommon.h>
#include <BulletCollision/CollisionShapes/btScaledBvhTriangleMeshShape.h>

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <functional>
#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <memory>
#include <utility>

#include "core/physics/body_shapes.h"
#include "core/physics/contact_pools.h"
#include "core/physics/course.h"
#include "core/physics/near_pairs.h"
#include "core/physics/stepped_world.h"

namespace gswarm {
namespace {

constexpr float sleepSeconds = 0.5f;
constexpr float slowest = 0.05f, slowestTouching = 0.1f;  // sizes and radians a second below which a body lies still
constexpr float homeSeconds = 0.12f;                      // in which what is held loses most of its way home
constexpr float samePoint = 0.1f;                         // sizes within which a contact goes on
constexpr double partedAfter = 0.5;                       // seconds until little of an overlap is left

btVector3 bullet(const glm::vec3& v) { return {v.x, v.y, v.z}; }
btQuaternion bullet(const glm::quat& q) { return {q.x, q.y, q.z, q.w}; }
glm::vec3 ours(const btVector3& v) { return {v.x(), v.y(), v.z()}; }
glm::quat ours(const btQuaternion& q) { return {q.w(), q.x(), q.y(), q.z()}; }
bool finite(const glm::vec3& v) { return std::abs(v.x) < 1e30f && std::abs(v.y) < 1e30f && std::abs(v.z) < 1e30f; }

int stepsOf(std::span<const BodyRules> rules) {
    return std::max_element(rules.begin(), rules.end(), [](const BodyRules& a, const BodyRules& b) { return a.steps < b.steps; })->steps;
}

/// One frame of a world: all in sizes of a body, for which Bullet is made.
class World {
  public:
    World(std::span<const BodyTask> tasks, std::span<const Collider> colliders, std::span<const Obstacle> obstacles,
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
    World(const World&) = delete;
    ~World() { near_.forgetPairs(dispatcher_); }  // all at once; the bodies go with the world, which is gone before them

    void add(const BodyFrame& from) {
        addBodies(from);
        for (const BodyBond& bond : from.bonds) addBond(bond);
        setRest(from.contacts);
        world_.beforeSolving = [this, &from] { goOnPressing(from.contacts); };
    }

    /// Pairs of bodies by how deep they lie in each other, where they touch or nearly; in their order.
    std::vector<std::pair<std::pair<int, int>, float>> touching() {
        world_.performDiscreteCollisionDetection();
        std::vector<std::pair<std::pair<int, int>, float>> pairs;
        forManifolds([&](btPersistentManifold& manifold, int one, int other) {
            if (one < 0 || other < 0 || manifold.getNumContacts() == 0) return;
            float deepest = manifold.getContactPoint(0).getDistance();
            for (int k = 1; k < manifold.getNumContacts(); ++k) deepest = std::min(deepest, manifold.getContactPoint(k).getDistance());
            pairs.push_back({std::minmax(one, other), -deepest});
        });
        // What is made of several hulls may meet another more than once.
        std::sort(pairs.begin(), pairs.end());
        std::size_t kept = 0;
        for (std::size_t k = 0; k < pairs.size(); ++k)
            if (k + 1 == pairs.size() || pairs[k + 1].first != pairs[k].first) pairs[kept++] = pairs[k];
        pairs.resize(kept);
        return pairs;
    }

    std::vector<BodyBond> bondsLeft(const std::vector<BodyBond>& before) const {
        std::vector<BodyBond> left;
        for (std::size_t k = 0; k < before.size(); ++k)
            if (bondOf_[k] < 0 || bonds_[static_cast<std::size_t>(bondOf_[k])]->isEnabled()) left.push_back(before[k]);
        return left;
    }

    void addBodies(const BodyFrame& from) {
        const std::vector<BodyState>& states = from.states;
        for (std::size_t i = 0; i < tasks_.size(); ++i)
            bodies_.push_back(tasks_[i].collider < 0 ? nullptr : bodyOf(states[i], tasks_[i], static_cast<int>(i)));
        for (std::size_t i = 0; i < bodies_.size(); ++i)
            if (bodies_[i]) world_.addRigidBody(bodies_[i].get(), fixed(tasks_[i]) ? heldGroup : freeGroup, meets(i));
    }

    /// One step of so many seconds; the aims run from `begin` to `end`, shares of the whole.
    void step(std::vector<BodyState>& states, const std::vector<BodyState>& first, double seconds, float begin, float end) {
        const bool parting = std::any_of(rules_.begin(), rules_.end(), [](const BodyRules& rules) { return rules.parting; });
        world_.getSolverInfo().m_erp2 = parting ? 1 - static_cast<float>(std::pow(0.02, seconds / partedAfter)) : 0.2f;
        std::vector<Motion> moves, turns;  // of those that nothing grips, by their rules
        for (const BodyRules& rules : rules_) {
            moves.emplace_back(seconds, rules.strive, rules.striveDamping, rules.damping);
            turns.emplace_back(seconds, rules.turnStrive, rules.turnDamping, rules.spinDamping);
        }
        std::vector<Course> moved(states.size()), turned(states.size());
        std::vector<glm::vec3> sought(states.size());  // where the course leads if nothing is met
        const auto t = static_cast<float>(seconds);
        for (std::size_t i = 0; i < states.size(); ++i) {
            const BodyTask& task = tasks_[i];
            BodyState& state = states[i];
            const glm::vec3 aim = glm::mix(first[i].aim, task.aim, end), gone = aim - glm::mix(first[i].aim, task.aim, begin);
            const glm::quat aimTurn = glm::slerp(first[i].aimTurn, task.aimTurn, end);
            btRigidBody* body = bodies_[i].get();
            const glm::quat aimBefore = glm::slerp(first[i].aimTurn, task.aimTurn, begin);
            if (task.still) continue;
            if (!body || task.held) {
                glide(state, aim, gone, aimBefore, aimTurn, t);
                if (body) body->setWorldTransform(transformOf(state));
                continue;
            }
            if (!body->isActive()) continue;
            const BodyRules& rules = rulesOf(i);
            const Motion &move = moves[static_cast<std::size_t>(task.rules)], &turn = turns[static_cast<std::size_t>(task.rules)];
            const glm::vec3 pull = task.push + rules.gravity;
            const Motion own = task.grip > 0 ? Motion(seconds, rules.strive, rules.striveDamping, rules.damping, task.grip) : move;
            moved[i] = own.after(state.place - (aim - gone), state.speed, gone, pull);
            sought[i] = aim + moved[i].away;
            const glm::vec3 linear = (sought[i] - state.place) / t;
            const glm::vec3 turnGone = turnVector(aimTurn * glm::conjugate(aimBefore));
            turned[i] = turn.after(turnVector(state.turn * glm::conjugate(aimBefore)), state.spin, turnGone, {});
            const glm::vec3 angular =
                rules.turnStrive > 0 ? turnVector(turnOf(turned[i].away) * aimTurn * glm::conjugate(state.turn)) / t : state.spin;
            if (task.grip > 0) turned[i].speed *= std::exp(-task.grip * t);
            body->setLinearVelocity(bullet(linear / size_));
            body->setAngularVelocity(bullet(angular));
            // What it gains or loses by what it meets comes on top of the exact course.
            moved[i].speed -= linear, turned[i].speed -= angular;
        }
        moveObstacles(end);
        world_.stepSimulation(static_cast<btScalar>(seconds), 0);
        for (std::size_t i = 0; i < states.size(); ++i) {
            btRigidBody* body = bodies_[i].get();
            if (!body || tasks_[i].held || tasks_[i].still) continue;
            BodyState& state = states[i];
            state.asleep = !body->isActive();
            state.still = body->getDeactivationTime();
            if (state.asleep) {
                state.speed = state.spin = {};
                continue;
            }
            state.lost = false;
            const glm::vec3 place = ours(body->getWorldTransform().getOrigin()) * size_;
            state.speed = ours(body->getLinearVelocity()) * size_ + moved[i].speed;
            // Of what meets something the course is none any more: height that it gained in this step it pays with its speed.
            const float risen = -2 * glm::dot(rulesOf(i).gravity, place - state.place), swift = glm::dot(state.speed, state.speed);
            if (risen > 0 && swift > 0 && glm::distance(place, sought[i]) > 1e-5f * size_)
                state.speed *= std::sqrt(std::max(0.0f, 1 - risen / swift));
            state.place = place;
            state.turn = glm::normalize(ours(body->getWorldTransform().getRotation()));
            state.spin = ours(body->getAngularVelocity()) + turned[i].speed;
            if (!finite(state.place) || !finite(state.speed) || glm::length(state.place) > bodyWorldSizes * size_)
                stop(state, first[i], *body);
        }
    }

    /// Where bodies touch now; each is told with how many. Those that sleep on each other are not looked at again: `before` tells of them.
    std::vector<BodyContact> contacts(std::vector<BodyState>& states, const std::vector<BodyContact>& before) {
        for (BodyState& state : states) state.contacts = 0;
        const auto touch = [&](int one, int other) {
            for (const int body : {one, other})
                if (body >= 0) ++states[static_cast<std::size_t>(body)].contacts;
        };
        std::vector<BodyContact> all;
        std::vector<std::uint64_t> looked;
        forManifolds([&](btPersistentManifold& manifold, int one, int other) {
            if (manifold.getNumContacts() == 0) return;
            looked.push_back(pairOf(one, other));
            for (int k = 0; k < manifold.getNumContacts(); ++k) {
                const btManifoldPoint& point = manifold.getContactPoint(k);
                all.push_back({one, other, ours(point.m_localPointA), point.m_appliedImpulse});
            }
        });
        std::sort(looked.begin(), looked.end());
        looked.erase(std::unique(looked.begin(), looked.end()), looked.end());
        for (const std::uint64_t pair : looked) touch(static_cast<int>(pair >> 32), static_cast<int>(pair & 0xFFFFFFFFu));
        const auto sleeps = [&](int body) { return body < 0 || states[static_cast<std::size_t>(body)].asleep; };
        std::uint64_t last = ~std::uint64_t{0};  // those of a pair of bodies that sleep follow each other
        for (const BodyContact& contact : before) {
            const std::uint64_t pair = pairOf(contact.one, contact.other);
            if (!sleeps(contact.one) || !sleeps(contact.other) || std::binary_search(looked.begin(), looked.end(), pair)) continue;
            all.push_back(contact);
            if (pair != last) touch(contact.one, contact.other);
            last = pair;
        }
        return all;
    }

  private:
    void forManifolds(const auto& take) {
        const auto numberOf = [](const btCollisionObject* one) { return one->getUserIndex(); };
        for (int k = 0; k < dispatcher_.getNumManifolds(); ++k) {
            btPersistentManifold& manifold = *dispatcher_.getManifoldByIndexInternal(k);
            take(manifold, numberOf(manifold.getBody0()), numberOf(manifold.getBody1()));
        }
    }

    static std::uint64_t pairOf(int one, int other) {
        return std::uint64_t{static_cast<std::uint32_t>(one)} << 32 | static_cast<std::uint32_t>(other);
    }

    /// How slow is still: what touches others may tremble, by what a step of gravity gives, and rock.
    void setRest(const std::vector<BodyContact>& contacts) {
        std::vector<bool> touches(bodies_.size());
        for (const BodyContact& contact : contacts)
            for (const int body : {contact.one, contact.other})
                if (body >= 0) touches[static_cast<std::size_t>(body)] = true;
        for (std::size_t i = 0; i < bodies_.size(); ++i) {
            if (!bodies_[i]) continue;
            const float still = (touches[i] ? slowestTouching : slowest) + glm::length(rulesOf(i).gravity) / size_ * stepSeconds_;
            bodies_[i]->setSleepingThresholds(still, still);
        }
    }

    /// Lets bodies press where they did, once it is known where they touch.
    void goOnPressing(const std::vector<BodyContact>& contacts) {
        std::vector<std::pair<std::uint64_t, const BodyContact*>> known;
        for (const BodyContact& contact : contacts) known.emplace_back(pairOf(contact.one, contact.other), &contact);
        std::sort(known.begin(), known.end());
        forManifolds([&](btPersistentManifold& manifold, int one, int other) {
            const std::uint64_t pair = pairOf(one, other);
            const auto first = std::lower_bound(known.begin(), known.end(), std::pair<std::uint64_t, const BodyContact*>{pair, nullptr});
            for (int k = 0; k < manifold.getNumContacts(); ++k) {
                btManifoldPoint& point = manifold.getContactPoint(k);
                float nearest = samePoint;
                for (auto at = first; at != known.end() && at->first == pair; ++at)
                    if (const float away = glm::distance(at->second->at, ours(point.m_localPointA)); away < nearest) {
                        nearest = away;
                        point.m_appliedImpulse = at->second->impulse;
                    }
            }
        });
    }

    /// The median size of the bodies.
    float sizeOf() const {
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

    /// The floor of those that go by some rules.
    void addGround(std::size_t of) {
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

    /// One that moves counts as held: it pushes and is not pushed.
    void addObstacle(const Obstacle& obstacle) {
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
    void moveObstacles(float share) {
        for (std::size_t k = 0; k < walls_.size(); ++k)
            if (walls_[k]->isKinematicObject())
                walls_[k]->setWorldTransform(transformOf(glm::mix(obstacles_[k].before, obstacles_[k].place, share),
                                                         glm::slerp(obstacles_[k].turnBefore, obstacles_[k].turn, share)));
    }

    btTransform transformOf(const glm::vec3& place, const glm::quat& turn) const {
        return btTransform(bullet(turn), bullet(place / size_));
    }
    btTransform transformOf(const BodyState& state) const { return transformOf(state.place, state.turn); }

    /// What meets what: those that are free meet all but other floors, those that nothing moves only what is free.
    static constexpr int freeGroup = 1, heldGroup = 2, wallGroup = 4, firstGround = 8;
    int meets(std::size_t body) const {
        if (fixed(tasks_[body])) return rulesOf(body).meet ? freeGroup : 0;
        return (rulesOf(body).meet ? freeGroup | heldGroup : 0) | wallGroup | firstGround << tasks_[body].rules;
    }
    const BodyRules& rulesOf(std::size_t body) const { return rules_[static_cast<std::size_t>(tasks_[body].rules)]; }

    static bool fixed(const BodyTask& task) { return task.held || task.still; }

    /// None between two that nothing moves.
    void addBond(const BodyBond& bond) {
        const auto one = static_cast<std::size_t>(bond.one), other = static_cast<std::size_t>(bond.other);
        const bool there = bodies_[one] && bodies_[other] && !(fixed(tasks_[one]) && fixed(tasks_[other]));
        bondOf_.push_back(there ? static_cast<int>(bonds_.size()) : -1);
        if (!there) return;
        auto made = std::make_unique<btFixedConstraint>(*bodies_[one], *bodies_[other], transformOf(bond.place, bond.turn),
                                                        btTransform::getIdentity());
        if (const float holds = rulesOf(one).bondHolds; holds > 0) {
            const auto lighter = [](const btRigidBody& body) { return body.getInvMass() > 0 ? 1 / body.getInvMass() : 1e30f; };
            made->setBreakingImpulseThreshold(holds / size_ * stepSeconds_ * std::min(lighter(*bodies_[one]), lighter(*bodies_[other])));
        }
        world_.addConstraint(made.get(), true);
        bonds_.push_back(std::move(made));
    }

    std::unique_ptr<btRigidBody> bodyOf(const BodyState& state, const BodyTask& task, int number) {
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

    /// With its aim; what is away from it comes home on the way, whatever it meets.
    void glide(BodyState& state, const glm::vec3& aim, const glm::vec3& gone, const glm::quat& aimBefore, const glm::quat& aimTurn,
               float seconds) const {
        const glm::vec3 away = (state.place - (aim - gone)) * std::exp(-seconds / homeSeconds);
        const glm::vec3 turned = turnVector(state.turn * glm::conjugate(aimBefore)) * std::exp(-seconds / homeSeconds);
        const glm::vec3 place = glm::length(away) > 1e-4f * size_ ? aim + away : aim;
        state.turn = glm::length(turned) > 1e-4f ? turnOf(turned) * aimTurn : aimTurn;
        state.speed = (place - state.place) / seconds;
        state.spin = {};
        state.place = place;
        state.asleep = false;
        state.still = 0;
    }

    /// What ran away, or is nowhere, sleeps where it was.
    static void stop(BodyState& state, const BodyState& was, btRigidBody& body) {
        state.place = was.place, state.turn = was.turn;
        state.speed = state.spin = {};
        state.asleep = state.lost = true;
        body.forceActivationState(DISABLE_SIMULATION);
    }

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

}  // namespace

BodyStart startOf(const BodyFrame& frame, std::span<const BodyTask> tasks, std::span<const Collider> colliders,
                  std::span<const BodyRules> rules) {
    constexpr float deep = 0.01f;
    BodyStart start;
    // What is held meets nothing that is held too.
    std::vector<BodyTask> free(tasks.begin(), tasks.end());
    for (BodyTask& task : free) task.held = task.still = false;
    std::vector<BodyRules> meeting(rules.begin(), rules.end());
    for (BodyRules& one : meeting) one.meet = true;
    World world(free, colliders, {}, meeting);
    world.add({frame.states, {}, {}});
    for (const auto& [pair, depth] : world.touching()) {
        const BodyState &one = frame.states[static_cast<std::size_t>(pair.first)],
                        &other = frame.states[static_cast<std::size_t>(pair.second)];
        const glm::quat back = glm::conjugate(one.turn);
        start.near.push_back({{pair.first, pair.second, back * (other.place - one.place), back * other.turn}, depth > deep});
    }
    return start;
}

BodyFrame advanced(const BodyFrame& from, std::span<const BodyTask> tasks, std::span<const Collider> colliders,
                   std::span<const Obstacle> obstacles, std::span<const BodyRules> rules, double frames, Progress& progress) {
    BodyFrame now = from;
    for (std::size_t i = 0; i < now.states.size(); ++i)
        if (tasks[i].fresh) {
            BodyState& state = now.states[i] = {};
            state.place = state.aim = tasks[i].aim;
            state.turn = state.aimTurn = tasks[i].aimTurn;
        }
    const std::vector<BodyState> first = now.states;
    [[maybe_unused]] static const btScalar once = gDeactivationTime = sleepSeconds;  // of all worlds
    World world(tasks, colliders, obstacles, rules);
    world.add(now);
    const int steps = stepsOf(rules);
    const double seconds = frames / rules[0].rate / steps;
    for (int k = 0; seconds > 0 && k < steps; ++k) {
        progress.check();
        world.step(now.states, first, seconds, static_cast<float>(k) / static_cast<float>(steps),
                   static_cast<float>(k + 1) / static_cast<float>(steps));
    }
    now.contacts = world.contacts(now.states, from.contacts);
    now.bonds = world.bondsLeft(from.bonds);
    for (std::size_t i = 0; i < now.states.size(); ++i) now.states[i].aim = tasks[i].aim, now.states[i].aimTurn = tasks[i].aimTurn;
    return now;
}

}  // namespace gswarm
