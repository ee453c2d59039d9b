// Lets instances move as rigid bodies: they fall, meet each other, are pushed by what drives the card, and strive back to where the
// cards before have them. What they remember is all that goes on from frame to frame.
#include <cmath>
#include <functional>
#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <map>

#include "core/base/error.h"
#include "core/gesture/against.h"
#include "core/gesture/gesture_kind.h"
#include "core/physics/rigid_bodies.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

enum class BodyWakes { always, where };

struct Bodies : GestureBasics {
    ColliderForm collider;
    bool meet, massBySize, ground, sleeps, loops;
    float groundHeight, friction, bounce, damping, spinDamping, gravity;
    glm::vec3 push;
    float forces;
    float strive, striveDamping, turnStrive, turnDamping;
    BodyWakes wakes;
    float from;
    int steps;
    ObjectId against;
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

/// What each body remembers; behind that what is shown of it.
enum BodyColumn : std::size_t {
    placeAt = 0,
    turnAt = 3,
    speedAt = 7,
    spinAt = 10,
    stillAt = 13,
    asleepAt,
    freeAt,
    ageAt,
    idleAt,
    aimAt,
    aimTurnAt = aimAt + 3,
    rememberedColumns = aimTurnAt + 4,
    shownPlaceAt = rememberedColumns,
    shownTurnAt = shownPlaceAt + 3,
    contactsAt = shownTurnAt + 4,
    bodyColumns
};

void put(WholeColumns& columns, std::size_t at, std::size_t row, const glm::vec3& v) {
    for (int c = 0; c < 3; ++c) columns[at + static_cast<std::size_t>(c)][row] = v[c];
}
void put(WholeColumns& columns, std::size_t at, std::size_t row, const glm::quat& q) {
    columns[at][row] = q.x, columns[at + 1][row] = q.y, columns[at + 2][row] = q.z, columns[at + 3][row] = q.w;
}

/// Reads rows of columns.
struct Row {
    const std::vector<const float*>& columns;
    std::size_t row;
    float operator[](std::size_t column) const { return columns[column][row]; }
    glm::vec3 three(std::size_t column) const { return {(*this)[column], (*this)[column + 1], (*this)[column + 2]}; }
    glm::quat turn(std::size_t column) const { return {(*this)[column + 3], (*this)[column], (*this)[column + 1], (*this)[column + 2]}; }
};

/// The stock as bodies: the collider of each variant, which several may share.
struct Stock {
    std::vector<Collider> colliders;
    std::vector<int> of;

    Stock(const Bodies& bodies, const WholeMoment& moment) {
        std::map<std::uint64_t, int> known;
        for (const WholeMoment::Shape& shape : moment.shapes) {
            const auto [found, fresh] = known.try_emplace(shape.meshes->hash, static_cast<int>(colliders.size()));
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
    return rules;
}

/// An instance on its way: beside its state and task, what goes on from frame to frame.
struct Member {
    glm::vec3 offset{0};  ///< from the instance's place to the middle of its collider, turned with it
    float size = 0;       ///< the longest side, metres
    float age = 0;        ///< seconds since it began
    float idle = 0;       ///< seconds since its weight would have woken it
    bool free = true;
};

bool isFinite(const glm::vec3& v) { return std::abs(v.x) < 1e30f && std::abs(v.y) < 1e30f && std::abs(v.z) < 1e30f; }

/// Where the cards before have an instance, as the aim of its body.
BodyTask aimOf(const WholeSwarm& all, const WholeMoment& moment, const Stock& stock, std::size_t i, Member& member) {
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

/// Takes up what was remembered of an instance; false where nothing is known of it yet.
bool recall(const WholeMoment& moment, std::size_t i, BodyState& state, Member& member) {
    if (moment.from.empty()) return false;
    const Row row{moment.from, i};
    if (!(std::abs(row[placeAt]) < 1e30f)) return false;
    state.place = row.three(placeAt), state.turn = row.turn(turnAt);
    state.speed = row.three(speedAt), state.spin = row.three(spinAt);
    state.still = row[stillAt], state.asleep = row[asleepAt] != 0;
    state.aim = row.three(aimAt), state.aimTurn = row.turn(aimTurnAt);
    member.age = row[ageAt], member.idle = row[idleAt], member.free = row[freeAt] != 0;
    return true;
}

/// Whether a body that waits to be woken is free: from the weight that wakes it until it has come home, or, held up on the way by others
/// that are home again, has striven as long as two swings take. Without a spring it is let go for good.
bool isFree(const Bodies& bodies, bool woken, const Member& member, const BodyState& state) {
    if (woken || bodies.wakes == BodyWakes::always) return true;
    if (!member.free || !(bodies.strive > 0)) return member.free;
    const bool home = glm::distance(state.place, state.aim) < 0.02f * member.size && glm::length(state.speed) < 0.1f * member.size &&
                      std::abs(glm::dot(state.turn, state.aimTurn)) > 0.999f;
    return !home && member.idle < 2 / bodies.strive;
}

WholeColumns columnsOf(const std::vector<BodyState>& states, const std::vector<Member>& members, const WorldPose& swarm) {
    WholeColumns columns(bodyColumns, std::vector<float>(states.size()));
    for (std::size_t i = 0; i < states.size(); ++i) {
        const BodyState& state = states[i];
        put(columns, placeAt, i, state.place), put(columns, turnAt, i, state.turn);
        put(columns, speedAt, i, state.speed), put(columns, spinAt, i, state.spin);
        columns[stillAt][i] = state.still;
        columns[asleepAt][i] = state.asleep;
        columns[freeAt][i] = members[i].free;
        columns[idleAt][i] = members[i].idle;
        columns[ageAt][i] = members[i].age;
        put(columns, aimAt, i, state.aim), put(columns, aimTurnAt, i, state.aimTurn);
        const glm::quat turn = glm::conjugate(swarm.rotation) * state.turn;
        put(columns, shownPlaceAt, i, swarm.fromWorld(state.place) - turn * members[i].offset);
        put(columns, shownTurnAt, i, turn);
        columns[contactsAt][i] = static_cast<float>(state.contacts);
    }
    return columns;
}

/// What is remembered of no single body: of how many obstacles, seven numbers each of how they stood, and where bodies touched, six
/// each.
struct Around {
    std::vector<Obstacle> obstacles;  ///< as they stand now, on their way from how they stood
    std::vector<BodyContact> contacts;
};

Around aroundOf(const Bodies& bodies, const WholeMoment& moment) {
    Around around;
    for (std::size_t k = 0; k < bodies.standing.size(); ++k)
        if (bodies.walls[k]) around.obstacles.emplace_back(bodies.walls[k], bodies.standing[k].stand);
    if (!moment.loose || moment.loose->empty()) return around;
    const std::vector<float>& loose = *moment.loose;
    const auto known = static_cast<std::size_t>(loose[0]);
    std::size_t at = 1;
    // Others than before begin at rest.
    const bool same = known == around.obstacles.size();
    for (std::size_t k = 0; k < known; ++k, at += 7)
        if (same) {
            around.obstacles[k].before = {loose[at], loose[at + 1], loose[at + 2]};
            around.obstacles[k].turnBefore = {loose[at + 6], loose[at + 3], loose[at + 4], loose[at + 5]};
        }
    for (; at + 6 <= loose.size(); at += 6)
        around.contacts.push_back(
            {static_cast<int>(loose[at]), static_cast<int>(loose[at + 1]), {loose[at + 2], loose[at + 3], loose[at + 4]}, loose[at + 5]});
    return around;
}

std::vector<float> looseOf(const std::vector<Obstacle>& obstacles, const std::vector<BodyContact>& contacts) {
    std::vector<float> loose{static_cast<float>(obstacles.size())};
    for (const Obstacle& o : obstacles)
        loose.insert(loose.end(), {o.place.x, o.place.y, o.place.z, o.turn.x, o.turn.y, o.turn.z, o.turn.w});
    for (const BodyContact& c : contacts)
        loose.insert(loose.end(), {static_cast<float>(c.one), static_cast<float>(c.other), c.at.x, c.at.y, c.at.z, c.impulse});
    return loose;
}

WholeColumns carryOn(const Bodies& bodies, const WholeSwarm& all, const WholeMoment& moment, Progress& progress) {
    const std::size_t n = all.count();
    if (n > mostBodies)
        throw Error("A card with bodies takes at most 100 000 instances; this swarm has more. Split it, or let fewer stand.");
    const Stock stock(bodies, moment);
    BodyRules rules = rulesOf(bodies, moment);
    Around around = aroundOf(bodies, moment);
    BodyFrame before{std::vector<BodyState>(n), std::move(around.contacts)};
    std::vector<BodyTask> tasks(n);
    std::vector<Member> members(n);
    const double frames = moment.from.empty() ? 0 : moment.frames;
    for (std::size_t i = 0; i < n; ++i) {
        Member& member = members[i];
        BodyTask& task = tasks[i] = aimOf(all, moment, stock, i, member);
        member.free = bodies.wakes == BodyWakes::always;
        task.fresh = !recall(moment, i, before.states[i], member);
        const float where = std::abs(moment.where[i]) < 1e30f ? moment.where[i] : 0;
        if (isFinite(moment.driven[i])) task.push = bodies.push * moment.driven[i] * where;
        if (!moment.push.empty()) {
            task.push += moment.push[i] * (bodies.forces / 100);
            task.grip = std::clamp(moment.grip[i] * (bodies.forces / 100), 0.0f, strongestGrip);
        }
        const bool woken = where > 0 && where * 100 >= bodies.from;
        member.free = isFree(bodies, woken, member, before.states[i]);
        task.held = !member.free;
        rules.parting = rules.parting || member.age < partedAfter;
        const auto seconds = static_cast<float>(frames / rules.rate);
        member.age += seconds;
        member.idle = woken ? 0 : member.idle + seconds;
    }
    const BodyFrame now = advanced(before, tasks, stock.colliders, around.obstacles, rules, frames, progress);
    WholeColumns columns = columnsOf(now.states, members, moment.swarm);
    columns.push_back(looseOf(around.obstacles, now.contacts));
    return columns;
}

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
        name(bodies.restingColumn, i, whole[asleepAt][row]);
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
                {{"fitting", "What fits its shape"}, {"ball", "A ball"}, {"box", "A box"}, {"tube", "A tube"}, {"hull", "Its hull"}},
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
        .number("push", &Bodies::push, {0, 0, 0}, {-20, 20}, "Along X, Y and Z of the world, times what drives the card and its weight")
        .unit("m/s²")
        .hard(-1e4, 1e4)
        .number("forces", &Bodies::forces, 100, {0, 100}, "How much they feel the forces of the scene")
        .unit("%")
        .hard(-1e4, 1e4)
        .label("Forces felt")
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
        .optional();
    GestureKind kind = preparing(makes(d, apply), prepare);
    kind.carryOn = [](const void* data, const WholeSwarm& all, const WholeMoment& moment, Progress& progress) {
        return carryOn(*static_cast<const Bodies*>(data), all, moment, progress);
    };
    kind.placeColumn = placeAt;
    kind.feelsForces = true;
    kind.remembers = [](const void*) { return std::vector<bool>(rememberedColumns, true); };
    kind.startsEarly = [](const Part& part) { return switchOf(part, "loops"); };
    kind.stillReason = "all rest where the cards before have them";
    return kind;
}

}  // namespace

const GestureKind bodiesGesture = bodiesKind();

}  // namespace gswarm
