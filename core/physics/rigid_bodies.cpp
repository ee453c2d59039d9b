#include "core/physics/rigid_bodies.h"

#include <algorithm>
#include <cstdint>

#include "core/physics/frame_world.h"

namespace gswarm {

void countContacts(BodyFrame& frame) {
    for (BodyState& state : frame.states) state.contacts = 0;
    std::vector<std::uint64_t> pairs;
    for (const BodyContact& contact : frame.contacts) pairs.push_back(pairOf(contact.one, contact.other));
    std::sort(pairs.begin(), pairs.end());
    pairs.erase(std::unique(pairs.begin(), pairs.end()), pairs.end());
    for (const std::uint64_t pair : pairs)
        for (const int body : {static_cast<int>(pair >> 32), static_cast<int>(pair & 0xFFFFFFFFu)})
            if (body >= 0) ++frame.states[static_cast<std::size_t>(body)].contacts;
}

BodyStart startOf(const BodyFrame& frame, std::span<const BodyTask> tasks, std::span<const Collider> colliders,
                  std::span<const BodyRules> rules) {
    constexpr float deep = 0.01f;
    BodyStart start;
    // What is held meets nothing that is held too.
    std::vector<BodyTask> free(tasks.begin(), tasks.end());
    for (BodyTask& task : free) task.held = task.still = false;
    std::vector<BodyRules> meeting(rules.begin(), rules.end());
    for (BodyRules& one : meeting) one.meet = true;
    FrameWorld world(free, colliders, {}, meeting);
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
    [[maybe_unused]] static const btScalar once = gDeactivationTime = 0.5f;  // of all worlds
    FrameWorld world(tasks, colliders, obstacles, rules);
    world.add(now);
    const int steps = stepsOf(rules);
    const double seconds = frames / rules[0].rate / steps;
    for (int k = 0; seconds > 0 && k < steps; ++k) {
        progress.check();
        world.step(now.states, first, seconds, static_cast<float>(k) / static_cast<float>(steps),
                   static_cast<float>(k + 1) / static_cast<float>(steps));
    }
    now.contacts = world.contacts(now.states, from.contacts);
    countContacts(now);
    now.bonds = world.bondsLeft(from.bonds);
    for (std::size_t i = 0; i < now.states.size(); ++i) now.states[i].aim = tasks[i].aim, now.states[i].aimTurn = tasks[i].aimTurn;
    return now;
}

}  // namespace gswarm
