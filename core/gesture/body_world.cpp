#include "core/gesture/body_world.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <map>

#include "core/base/error.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

constexpr float partedAfter = 0.5f;  // seconds in which what overlaps at the beginning is parted
constexpr std::size_t mostBodies = 100'000;
constexpr float strongestGrip = 1e3f;  // a second

/// The stock of the swarms of a world as bodies: the collider of each variant, which several may share.
struct Stock {
    std::vector<Collider> colliders{};
    std::map<std::uint64_t, int> known{};
    std::vector<int> of{};  ///< the colliders of the variants of the swarm at hand

    void take(const Bodies& bodies, const WholeMoment& moment) {
        of.clear();
        for (const WholeMoment::Shape& shape : moment.shapes) {
            ContentHash key;
            key.add(shape.meshes->hash);
            key.add(static_cast<std::uint64_t>(bodies.collider));
            const auto [found, fresh] = known.try_emplace(key.value(), static_cast<int>(colliders.size()));
            if (fresh) colliders.push_back(*bodies.colliderFor(*shape.meshes));
            of.push_back(found->second);
        }
    }
    const Collider* at(int variant) const {
        return variant < 0 ? nullptr : &colliders[static_cast<std::size_t>(of[static_cast<std::size_t>(variant)])];
    }
};

BodyRules rulesOf(const Bodies& bodies, const WholeMoment& moment) {
    BodyRules rules;
    rules.rate = moment.moment.rate;
    rules.steps = bodies.steps;
    rules.gravity = {0, -bodies.gravity, 0};
    rules.ground = bodies.ground;
    rules.groundHeight = bodies.groundHeight;
    rules.friction = bodies.friction / 100, rules.bounce = bodies.bounce / 100;
    rules.damping = bodies.damping / 100, rules.spinDamping = bodies.spinDamping / 100;
    rules.strive = bodies.strive, rules.striveDamping = bodies.striveDamping;
    rules.turnStrive = bodies.turnStrive, rules.turnDamping = bodies.turnDamping;
    rules.meet = bodies.meet;
    rules.sleep = bodies.sleeps;
    rules.massBySize = bodies.massBySize;
    rules.density = bodies.density;
    rules.bondHolds = bodies.glueHolds;
    return rules;
}

bool isFinite(const glm::vec3& v) { return std::abs(v.x) < 1e30f && std::abs(v.y) < 1e30f && std::abs(v.z) < 1e30f; }

/// Where the cards before have an instance, as the aim of its body.
BodyTask aimOf(const WholeSwarm& all, const WholeMoment& moment, const Stock& stock, std::size_t i, BodyMember& member) {
    BodyTask task;
    const glm::quat turn(all.qw[i], all.qx[i], all.qy[i], all.qz[i]);
    glm::vec3 middle(all.x[i], all.y[i], all.z[i]);
    if (const Collider* collider = stock.at(moment.shape[i])) {
        const WholeMoment::Shape& repeats = moment.shapes[static_cast<std::size_t>(moment.shape[i])];
        const glm::vec3 scale = glm::vec3(all.scaleX[i], all.scaleY[i], all.scaleZ[i]) * repeats.size;
        member.offset = scale * (collider->centre - repeats.foot);
        middle += turn * member.offset;
        task.scale = scale * moment.swarm.scale;
        const glm::vec3 side = 2.0f * collider->half * glm::abs(task.scale);
        member.size = std::max({side.x, side.y, side.z});
        // What has no place, or no size, is no body.
        if (isFinite(middle) && member.size > 1e-6f && member.size < 1e6f)
            task.collider = static_cast<int>(collider - stock.colliders.data());
    }
    task.aim = isFinite(middle) ? moment.swarm.toWorld(middle) : glm::vec3(0);
    task.aimTurn = moment.swarm.rotation * turn;
    return task;
}

/// A body that waits is free from the weight that wakes it until it has come home, or, held up on the way by others that are home
/// again, has striven as long as two swings take; without a spring for good. Or it freezes where the weight leaves it.
BodyMode modeOf(const Bodies& bodies, bool woken, const BodyMember& member, const BodyState& state) {
    if (woken || bodies.wakes == BodyWakes::always) return BodyMode::free;
    if (bodies.then == BodyThen::freeze) return member.mode == BodyMode::waits ? BodyMode::waits : BodyMode::frozen;
    if (member.mode == BodyMode::waits || !(bodies.strive > 0)) return member.mode;
    const bool home = glm::distance(state.place, state.aim) < 0.02f * member.size && glm::length(state.speed) < 0.1f * member.size &&
                      std::abs(glm::dot(state.turn, state.aimTurn)) > 0.999f;
    return home || member.idle >= 2 / bodies.strive ? BodyMode::waits : BodyMode::free;
}

/// How strongly the card acts where a body is, before its strength.
float weightAt(const WholeMoment& moment, std::size_t i) { return std::abs(moment.where[i]) < 1e30f ? moment.where[i] : 0; }

/// What accelerates a body: what drives the card, and the forces of the scene.
void addPush(const Bodies& bodies, const WholeMoment& moment, std::size_t i, BodyTask& task) {
    if (isFinite(moment.driven[i])) task.push = bodies.push * moment.driven[i] * weightAt(moment, i);
    if (moment.push.empty()) return;
    task.push += moment.push[i] * (bodies.forces / 100);
    task.grip = std::clamp(moment.grip[i] * (bodies.forces / 100), 0.0f, strongestGrip);
}

/// Some swarms of one world on their way from one frame to the next.
class BodyWorld {
  public:
    explicit BodyWorld(std::span<const WholeShare> shares) : shares_(shares) {
        std::size_t bodies = 0;
        for (const WholeShare& share : shares) bodies += share.all->count();
        if (bodies > mostBodies)
            throw Error(shares.size() > 1
                            ? "Swarms that share a world have at most 100 000 bodies together; these have more. Take one out, "
                              "or let fewer stand."
                            : "A card with bodies takes at most 100 000 instances; this swarm has more. Split it, or let "
                              "fewer stand.");
        if (shares.size() > mostBodyRules) throw Error("At most 16 swarms share a world; take some out.");
        frames_ = 0;
        for (const WholeShare& share : shares)
            if (!share.moment->from.empty()) frames_ = share.moment->frames;
        takeObstacles();
        for (std::size_t s = 0; s < shares.size(); ++s) takeBodies(s);
    }

    std::vector<WholeColumns> carriedOn(Progress& progress) {
        const bool known = std::all_of(shares_.begin(), shares_.end(), [](const WholeShare& share) { return !share.moment->next.empty(); });
        BodyFrame now = known ? onTheWay() : advanced(before_, tasks_, stock_.colliders, around_.obstacles, rules_, frames_, progress);
        around_.contacts = std::move(now.contacts);
        glue(now);
        std::vector<WholeColumns> made;
        for (std::size_t s = 0; s < shares_.size(); ++s) {
            const auto from = first_[s], to = from + static_cast<std::ptrdiff_t>(shares_[s].all->count());
            BodiesAround around = around_;
            around.overlapping = remembered_[s].overlapping;
            for (const BodyBond& bond : now.bonds)
                if (bond.one >= from && bond.one < to) around.bonds.push_back(shifted(bond, -static_cast<int>(from)));
            made.push_back(columnsOf(std::span(now.states).subspan(static_cast<std::size_t>(from), static_cast<std::size_t>(to - from)),
                                     std::span(members_).subspan(static_cast<std::size_t>(from), static_cast<std::size_t>(to - from)),
                                     around, *shares_[s].moment));
        }
        return made;
    }

  private:
    const Bodies& bodiesOf(std::size_t share) const { return *static_cast<const Bodies*>(shares_[share].data); }
    static BodyBond shifted(BodyBond bond, int by) {
        bond.one += by, bond.other += by;
        return bond;
    }

    /// All that stands in the way, whichever swarm names it.
    void takeObstacles() {
        std::vector<Obstacle> obstacles;
        std::size_t bodies = 0;
        for (std::size_t s = 0; s < shares_.size(); ++s) {
            const Bodies& own = bodiesOf(s);
            bodies += shares_[s].all->count();
            for (std::size_t k = 0; k < own.standing.size(); ++k) {
                if (!own.walls[k]) continue;
                obstacles.emplace_back(own.walls[k], own.standing[k].stand);
                obstacles.back().rules = static_cast<int>(s);
            }
        }
        // What touched is remembered by each of them alike, but for one that only now begins.
        for (const WholeShare& share : shares_) remembered_.push_back(recallAround(*share.moment, obstacles, bodies));
        std::size_t knows = 0;
        while (knows + 1 < shares_.size() && shares_[knows].moment->from.empty()) ++knows;
        around_.obstacles = std::move(remembered_[knows].obstacles);
        before_.contacts = std::move(remembered_[knows].contacts);
    }

    void takeBodies(std::size_t s) {
        const Bodies& bodies = bodiesOf(s);
        const WholeSwarm& all = *shares_[s].all;
        const WholeMoment& moment = *shares_[s].moment;
        const bool begins = moment.from.empty();
        const auto first = static_cast<std::ptrdiff_t>(tasks_.size());
        first_.push_back(first);
        rules_.push_back(rulesOf(bodies, moment));
        BodyRules& rules = rules_.back();
        stock_.take(bodies, moment);
        const auto seconds = static_cast<float>((begins ? 0 : moment.frames) / rules.rate);
        for (std::size_t i = 0; i < all.count(); ++i) {
            BodyMember& member = members_.emplace_back();
            BodyState& state = before_.states.emplace_back();
            BodyTask task = aimOf(all, moment, stock_, i, member);
            task.rules = static_cast<int>(s);
            member.mode = bodies.wakes == BodyWakes::always ? BodyMode::free : BodyMode::waits;
            task.fresh = !recall(moment.from, i, state, member);
            addPush(bodies, moment, i, task);
            const float where = weightAt(moment, i);
            const bool woken = where > 0 && where * 100 >= bodies.from;
            member.mode = modeOf(bodies, woken, member, state);
            // At its own first frame a swarm is where the cards before have it, even if others are on their way.
            task.held = member.mode == BodyMode::waits || begins;
            task.still = member.mode == BodyMode::frozen;
            rules.parting = rules.parting || member.age < partedAfter;
            member.age += seconds;
            member.idle = woken ? 0 : member.idle + seconds;
            tasks_.push_back(task);
        }
        takeBonds(s);
    }

    /// Those that hold, and that the weight does not part.
    void takeBonds(std::size_t s) {
        const Bodies& bodies = bodiesOf(s);
        const WholeMoment& moment = *shares_[s].moment;
        for (const BodyBond& bond : remembered_[s].bonds) {
            const float weight =
                std::max(weightAt(moment, static_cast<std::size_t>(bond.one)), weightAt(moment, static_cast<std::size_t>(bond.other)));
            if (bodies.glue == BodyGlue::weight && weight * 100 >= bodies.partsFrom) continue;
            before_.bonds.push_back(shifted(bond, static_cast<int>(first_[s])));
        }
    }

    /// Between two frames that are known.
    BodyFrame onTheWay() const {
        BodyFrame now = before_;
        for (std::size_t s = 0; s < shares_.size(); ++s)
            for (std::size_t i = 0; i < shares_[s].all->count(); ++i) {
                const std::size_t body = static_cast<std::size_t>(first_[s]) + i;
                const BodyTask& task = tasks_[body];
                BodyState next;
                BodyMember unused;
                if (task.fresh)
                    now.states[body].place = task.aim, now.states[body].turn = task.aimTurn;
                else if (recall(shares_[s].moment->next, i, next, unused))
                    now.states[body] = between(now.states[body], next, static_cast<float>(frames_), static_cast<float>(1 / rules_[s].rate));
                now.states[body].aim = task.aim, now.states[body].aimTurn = task.aimTurn;
            }
        countContacts(now);
        return now;
    }

    /// Where swarms begin: what touches is glued, or what overlaps counted.
    void glue(BodyFrame& now) {
        const auto begins = [](const WholeShare& share) { return share.moment->from.empty(); };
        if (std::none_of(shares_.begin(), shares_.end(), begins)) return;
        const BodyStart start = startOf(now, tasks_, stock_.colliders, rules_);
        for (const BodyNear& near : start.near) {
            const auto s = static_cast<std::size_t>(tasks_[static_cast<std::size_t>(near.bond.one)].rules);
            const bool own = tasks_[static_cast<std::size_t>(near.bond.other)].rules == static_cast<int>(s);
            const Bodies& bodies = bodiesOf(s);
            if (!begins(shares_[s])) continue;
            if (own && bodies.glue != BodyGlue::none)
                now.bonds.push_back(near.bond);
            else if (bodies.meet && near.overlaps)
                ++remembered_[s].overlapping;
        }
    }

    std::span<const WholeShare> shares_;
    double frames_ = 0;
    Stock stock_;
    std::vector<BodiesAround> remembered_;  ///< by each swarm
    BodiesAround around_;
    BodyFrame before_;
    std::vector<BodyTask> tasks_;
    std::vector<BodyMember> members_;
    std::vector<BodyRules> rules_;
    std::vector<std::ptrdiff_t> first_;  ///< body of each swarm
};

}  // namespace

std::vector<WholeColumns> carriedOn(std::span<const WholeShare> shares, Progress& progress) {
    return BodyWorld(shares).carriedOn(progress);
}

}  // namespace gswarm
