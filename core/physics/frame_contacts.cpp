#include <algorithm>
#include <glm/geometric.hpp>

#include "core/physics/frame_world.h"

namespace gswarm {
namespace {

constexpr float slowest = 0.05f, slowestTouching = 0.1f;  // sizes and radians a second below which a body lies still
constexpr float samePoint = 0.1f;                         // sizes within which a contact goes on

}  // namespace

std::vector<std::pair<std::pair<int, int>, float>> FrameWorld::touching() {
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

std::vector<BodyContact> FrameWorld::contacts(const std::vector<BodyState>& states, const std::vector<BodyContact>& before) {
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
    const auto sleeps = [&](int body) { return body < 0 || states[static_cast<std::size_t>(body)].asleep; };
    for (const BodyContact& contact : before)
        if (sleeps(contact.one) && sleeps(contact.other) &&
            !std::binary_search(looked.begin(), looked.end(), pairOf(contact.one, contact.other)))
            all.push_back(contact);
    return all;
}

void FrameWorld::setRest(const std::vector<BodyContact>& contacts) {
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

void FrameWorld::goOnPressing(const std::vector<BodyContact>& contacts) {
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

}  // namespace gswarm
