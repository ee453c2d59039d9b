#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>

#include "core/physics/course.h"
#include "core/physics/frame_world.h"

namespace gswarm {
namespace {

constexpr float homeSeconds = 0.12f;  // in which what is held loses most of its way home
constexpr double partedAfter = 0.5;   // seconds until little of an overlap is left

bool finite(const glm::vec3& v) { return std::abs(v.x) < 1e30f && std::abs(v.y) < 1e30f && std::abs(v.z) < 1e30f; }

}  // namespace

void FrameWorld::step(std::vector<BodyState>& states, const std::vector<BodyState>& first, double seconds, float begin, float end) {
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
        if (!finite(state.place) || !finite(state.speed) || glm::length(state.place) > bodyWorldSizes * size_) stop(state, first[i], *body);
    }
}

void FrameWorld::moveObstacles(float share) {
    for (std::size_t k = 0; k < walls_.size(); ++k)
        if (walls_[k]->isKinematicObject())
            walls_[k]->setWorldTransform(transformOf(glm::mix(obstacles_[k].before, obstacles_[k].place, share),
                                                     glm::slerp(obstacles_[k].turnBefore, obstacles_[k].turn, share)));
}

void FrameWorld::glide(BodyState& state, const glm::vec3& aim, const glm::vec3& gone, const glm::quat& aimBefore, const glm::quat& aimTurn,
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

void FrameWorld::stop(BodyState& state, const BodyState& was, btRigidBody& body) {
    state.place = was.place, state.turn = was.turn;
    state.speed = state.spin = {};
    state.asleep = state.lost = true;
    body.forceActivationState(DISABLE_SIMULATION);
}

}  // namespace gswarm
