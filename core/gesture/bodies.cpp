// Lets instances move as rigid bodies: they fall, meet each other, are pushed by what drives the card, and strive back to where the
// cards before have them. What they remember is all that goes on from frame to frame.
#include <cmath>
#include <functional>
#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <map>

#include "core/base/error.h"
#include "core/gesture/against.h"
#include "core/gesture/body_memory.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

enum class BodyWakes { always, where };
enum class BodyThen { home, freeze };
enum class BodyGlue { none, blow, weight };

struct Bodies : GestureBasics {
    ColliderForm collider;
    bool meet, massBySize, ground, sleeps, loops;
    float blend;
    float groundHeight, friction, bounce, damping, spinDamping, gravity;
    glm::vec3 push;
    float forces;
    float strive, striveDamping, turnStrive, turnDamping;
    BodyWakes wakes;
    BodyThen then;
    float from;
    BodyGlue glue;
    float glueHolds, partsFrom;
    int steps;
    ObjectId against, with;
    ObjectId speed, away, touching, resting;

    // Prepared.
    std::function<std::shared_ptr<const Collider>(const ShapeMeshes&)> colliderFor{};
    StandingShapes standing{};
    std::vector<std::shared_ptr<const ObstacleMesh>> walls{};  ///< of each that stands there
    int speedColumn = -1, awayColumn = -1, touchingColumn = -1, restingColumn = -1;
};

constexpr float partedAfter = 0.5f;    // seconds in which what overlaps at the beginning is parted
constexpr float strongestGrip = 1e3f;  // a second
constexpr std::size_t mostBodies = 100'000, mostObstacles = 10'000;

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
        BodyFrame now = advanced(before_, tasks_, stock_.colliders, around_.obstacles, rules_, frames_, progress);
        around_.contacts = std::move(now.contacts);
        glue(now);
        std::vector<WholeColumns> made;
        for (std::size_t s = 0; s < shares_.size(); ++s) {
            const auto from = first_[s], to = from + static_cast<std::ptrdiff_t>(shares_[s].all->count());
            BodiesAround around = around_;
            around.overlapping = overlapping_[s];
            around.bonds.clear();
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
        const auto knows =
            std::find_if(shares_.begin(), shares_.end(), [](const WholeShare& share) { return !share.moment->from.empty(); });
        around_ = recallAround(*(knows == shares_.end() ? shares_.front() : *knows).moment, std::move(obstacles), bodies);
        before_.contacts = std::move(around_.contacts);
    }

    void takeBodies(std::size_t s) {
        const Bodies& bodies = bodiesOf(s);
        const WholeSwarm& all = *shares_[s].all;
        const WholeMoment& moment = *shares_[s].moment;
        const bool begins = moment.from.empty();
        const auto first = static_cast<std::ptrdiff_t>(tasks_.size());
        first_.push_back(first);
        overlapping_.push_back(recallAround(moment, {}, 0).overlapping);
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
            task.fresh = !recall(moment, i, state, member);
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
        takeBonds(bodies, moment, static_cast<int>(first));
    }

    /// Those that hold, and that the weight does not part.
    void takeBonds(const Bodies& bodies, const WholeMoment& moment, int first) {
        for (const BodyBond& bond : recallAround(moment, {}, moment.shape.size()).bonds) {
            const float weight =
                std::max(weightAt(moment, static_cast<std::size_t>(bond.one)), weightAt(moment, static_cast<std::size_t>(bond.other)));
            if (bodies.glue == BodyGlue::weight && weight * 100 >= bodies.partsFrom) continue;
            before_.bonds.push_back(shifted(bond, first));
        }
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
                ++overlapping_[s];
        }
    }

    std::span<const WholeShare> shares_;
    double frames_ = 0;
    Stock stock_;
    BodiesAround around_;
    BodyFrame before_;
    std::vector<BodyTask> tasks_;
    std::vector<BodyMember> members_;
    std::vector<BodyRules> rules_;
    std::vector<std::ptrdiff_t> first_;  ///< body of each swarm
    std::vector<int> overlapping_;       ///< pairs of each swarm, where they began
};

std::vector<WholeColumns> carryOn(std::span<const WholeShare> shares, Progress& progress) { return BodyWorld(shares).carriedOn(progress); }

void apply(const GestureInput& in, Block& block, EffectColumns& effect) {
    const auto& bodies = in.as<Bodies>();
    const WholeColumns& whole = *in.whole;
    const auto mark = [&](EffectChannel channel, int i) { effect.use(channel, in.effectWords)[in.card / 32][i] |= 1u << (in.card % 32); };
    const auto name = [&](int column, int i, float value) {
        if (column < 0) return;
        block.named[column][i] = value;
        mark(otherEffect, i);
    };
    for (int i = 0; i < block.count; ++i) {
        const auto row = static_cast<std::size_t>(in.row + i);
        if (in.to)
            for (std::size_t c = 0; c < rememberedColumns; ++c) in.to[c][i] = whole[c][row];
        const float x = in.numbers[0].column ? in.numbers[0].column[i] : in.numbers[0].value;
        const auto three = [&](std::size_t c) { return glm::vec3(whole[c][row], whole[c + 1][row], whole[c + 2][row]); };
        name(bodies.speedColumn, i, glm::length(three(speedAt)));
        name(bodies.awayColumn, i, glm::distance(three(placeAt), three(aimAt)));
        name(bodies.touchingColumn, i, whole[contactsAt][row]);
        name(bodies.restingColumn, i, std::min(whole[restsAt][row], 1.0f));
        if (x == 0) continue;
        const glm::vec3 was(block.position.x[i], block.position.y[i], block.position.z[i]), to = three(shownPlaceAt);
        const glm::vec3 now = x == 1 ? to : was + (to - was) * x;
        if (now != was) {
            block.position.x[i] = now.x, block.position.y[i] = now.y, block.position.z[i] = now.z;
            mark(positionEffect, i);
        }
        const glm::quat turn(block.rotation.w[i], block.rotation.x[i], block.rotation.y[i], block.rotation.z[i]);
        const glm::quat goal(whole[shownTurnAt + 3][row], whole[shownTurnAt][row], whole[shownTurnAt + 1][row],
                             whole[shownTurnAt + 2][row]);
        if (std::abs(glm::dot(turn, goal)) > 1 - 1e-7f) continue;
        const glm::quat turned = x == 1 ? goal : glm::slerp(turn, goal, x);
        block.rotation.x[i] = turned.x, block.rotation.y[i] = turned.y, block.rotation.z[i] = turned.z, block.rotation.w[i] = turned.w;
        mark(rotationEffect, i);
    }
}

void prepareObstacles(Bodies& bodies, const RailSource& source) {
    std::uint64_t hash = 0;
    bodies.standing = standingAgainst(bodies.against, source, hash);
    if (bodies.standing.size() > mostObstacles)
        throw Error("What they meet has more than 10 000 parts; choose a swarm of fewer instances.");
    for (const StandingShape& one : bodies.standing) {
        ContentHash key;
        key.add("obstacle");
        key.add(one.meshes->hash);
        const bool solid = !one.meshes->mesh().triangles.empty();
        bodies.walls.push_back(solid ? source.keptAs<ObstacleMesh>(key.value(), [&] { return ObstacleMesh(one.meshes->mesh()); })
                                     : nullptr);
    }
}

void prepare(Bodies& bodies, const RailSource& source) {
    bodies.colliderFor = [kept = source.kept, form = bodies.collider](const ShapeMeshes& meshes) {
        ContentHash key;
        key.add("collider");
        key.add(meshes.hash);
        key.add(static_cast<std::uint64_t>(form));
        return std::static_pointer_cast<const Collider>(kept(
            key.value(), [&] { return std::make_shared<const Collider>(colliderOf(meshes.mesh(), meshes.bounds, form)); },
            [](const void*) { return sizeof(Collider) + 64 * sizeof(glm::vec3); }));
    };
    const auto& sharing = source.sharing;
    if (bodies.with && std::find(sharing.begin(), sharing.end(), bodies.with) == sharing.end())
        throw Error("The swarm with which they are in one world has no bodies; give it that gesture, or choose another swarm.");
    if (bodies.against) prepareObstacles(bodies, source);
    for (const auto& [number, column] : {std::pair{bodies.speed, &bodies.speedColumn},
                                         {bodies.away, &bodies.awayColumn},
                                         {bodies.touching, &bodies.touchingColumn},
                                         {bodies.resting, &bodies.restingColumn}})
        if (number) *column = source.column(number);
}

GestureKind bodiesKind() {
    DescribeGesture<Bodies> d("bodies", "Bodies", "Lets instances fall, meet and push each other, and strive back to where they were");
    d.standard("current");
    d.found("physics rigid body dynamics simulation collide collision gravity fall drop bounce bullet pile stack")
        .choice("collider", &Bodies::collider,
                {{"fitting", "What fits its shape"},
                 {"ball", "A ball"},
                 {"box", "A box"},
                 {"tube", "A tube"},
                 {"hull", "Its hull"},
                 {"hulls", "Hulls that follow its form"}},
                "The simple solid as which each one meets others")
        .label("Meets as")
        .toggle("meet", &Bodies::meet, true, "They meet each other; else only the ground")
        .label("Meet each other")
        .number("gravity", &Bodies::gravity, 9.81, {0, 20}, "Downward in the world; below 0 they rise")
        .unit("m/s²")
        .hard(-1e4, 1e4)
        .toggle("ground", &Bodies::ground, true, "An endless floor")
        .length("groundHeight", &Bodies::groundHeight, 0, {-5, 5}, "Where the floor lies in the world")
        .hard(-1e5, 1e5)
        .only("ground", {"on"})
        .reference("against", &Bodies::against, {ObjectType::swarm, ObjectType::shape},
                   "The shapes of another swarm at each frame, or a shape that stands where this swarm does; it may move, and have holes")
        .label("Meets also")
        .needs(Needs::surface)
        .optional()
        .reference("with", &Bodies::with, {ObjectType::swarm}, "Another swarm with bodies: they meet, push and stack on each other")
        .label("In one world with")
        .optional()
        .since(2)
        .number("push", &Bodies::push, {0, 0, 0}, {-20, 20}, "Along X, Y and Z of the world, times what drives the card and its weight")
        .unit("m/s²")
        .hard(-1e4, 1e4)
        .number("forces", &Bodies::forces, 100, {0, 100}, "How much they feel the forces of the scene")
        .unit("%")
        .hard(-1e4, 1e4)
        .label("Forces felt")
        .since(2)
        .number("strive", &Bodies::strive, 0, {0, 4},
                "How strongly they strive to where the cards before have them: as a spring that swings so often; 0 not at all")
        .unit("Hz")
        .hard(0, 100)
        .number("striveDamping", &Bodies::striveDamping, 1, {0, 1}, "1 comes home without swinging")
        .hard(0, 10)
        .label("Its damping")
        .number("turnStrive", &Bodies::turnStrive, 0, {0, 4}, "The same for how they are turned")
        .unit("Hz")
        .hard(0, 100)
        .label("Turn back")
        .number("turnDamping", &Bodies::turnDamping, 1, {0, 1}, "1 comes to rest without swinging")
        .hard(0, 10)
        .label("Turn damping")
        .choice("wakes", &Bodies::wakes, {{"always", "From the beginning"}, {"where", "Where the weight wakes them"}},
                "Until they are woken they stay where the cards before have them, whatever they meet; come home, they wait again")
        .number("from", &Bodies::from, 5, {1, 100}, "The weight that wakes one")
        .unit("%")
        .hard(0, 1000)
        .label("From weight")
        .only("wakes", {"where"})
        .choice("then", &Bodies::then, {{"home", "They come home"}, {"freeze", "They freeze where they are"}},
                "Once the weight has gone: without a spring they stay free instead of coming home")
        .label("After that")
        .only("wakes", {"where"})
        .since(2)
        .choice("glue", &Bodies::glue,
                {{"none", "Nothing"}, {"blow", "Until a blow parts them"}, {"weight", "Until a blow or the weight parts them"}},
                "Those that touch, or nearly, where they begin hold together")
        .label("Holds together")
        .since(2)
        .number("glueHolds", &Bodies::glueHolds, 300, {0, 2000},
                "They part where a blow would change their speed more strongly; 0 for never")
        .unit("m/s²")
        .hard(0, 1e9)
        .label("Parted by")
        .only("glue", {"blow", "weight"})
        .since(2)
        .number("partsFrom", &Bodies::partsFrom, 50, {1, 100}, "The weight that parts them")
        .unit("%")
        .hard(0, 1000)
        .label("Parted from weight")
        .only("glue", {"weight"})
        .since(2)
        .number("friction", &Bodies::friction, 50, {0, 100}, "How much they hold on to each other where they slide")
        .unit("%")
        .hard(0, 1000)
        .number("bounce", &Bodies::bounce, 10, {0, 100}, "How much of the speed they come back with")
        .unit("%")
        .hard(0, 100)
        .number("damping", &Bodies::damping, 5, {0, 100}, "Lost of their speed in a second")
        .unit("%")
        .hard(0, 100)
        .number("spinDamping", &Bodies::spinDamping, 10, {0, 100}, "Lost of their spin in a second")
        .unit("%")
        .hard(0, 100)
        .toggle("massBySize", &Bodies::massBySize, true, "The larger, the heavier; else all weigh the same")
        .label("Heavier if larger")
        .toggle("sleeps", &Bodies::sleeps, true, "What lies still for half a second rests until it is touched")
        .label("Rest when still")
        .whole("steps", &Bodies::steps, 4, {1, 16}, "Steps a frame: more for what is small and fast")
        .hard(1, 64)
        .toggle("loops", &Bodies::loops, false, "Starts one loop early, so that the last frame comes near the first")
        .label("Loop this memory")
        .number("blend", &Bodies::blend, 0, {0, 50},
                "Over so many frames at its end the loop goes over into how it began; 0 where all come home by themselves")
        .unit("frames")
        .hard(0, 1e4)
        .still()
        .label("Blend the seam")
        .only("loops", {"on"})
        .since(2)
        .reference("speed", &Bodies::speed, {ObjectType::namedValue}, "A named value that gets how fast each goes, metres a second")
        .label("Speed into")
        .optional()
        .reference("away", &Bodies::away, {ObjectType::namedValue},
                   "A named value that gets how far each is from where it was to be, metres")
        .label("Way into")
        .optional()
        .reference("touching", &Bodies::touching, {ObjectType::namedValue}, "A named value that gets how many others each touches")
        .label("Contacts into")
        .optional()
        .reference("resting", &Bodies::resting, {ObjectType::namedValue}, "A named value that gets 1 for those that rest, 0 for others")
        .label("Resting into")
        .optional()
        .migrated({2, {}, nullptr});
    GestureKind kind = preparing(makes(d, apply), prepare);
    kind.carryOn = carryOn;
    kind.told = toldOfBodies;
    kind.placeColumn = placeAt;
    kind.feelsForces = true;
    kind.sharesWith = "with";
    kind.remembers = [](const void*) { return std::vector<bool>(rememberedColumns, true); };
    kind.blendsSeam = [](const Part& part) { return std::get<Numbers>(part["blend"]).front().value; };
    kind.startsEarly = [](const Part& part) { return switchOf(part, "loops"); };
    kind.stillReason = "all rest where the cards before have them";
    return kind;
}

}  // namespace

const GestureKind bodiesGesture = bodiesKind();

}  // namespace gswarm
