// Lets instances move as rigid bodies: they fall, meet each other, are pushed by what drives the card, and strive back to where the
// cards before have them. What they remember is all that goes on from frame to frame.
#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <glm/trigonometric.hpp>

#include "core/base/error.h"
#include "core/gesture/against.h"
#include "core/gesture/body_world.h"
#include "core/gesture/kept_collider.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

constexpr std::size_t mostObstacles = 10'000;

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
        name(bodies.spinColumn, i, glm::degrees(glm::length(three(spinAt))));
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
        return keptCollider(meshes, form, kept);
    };
    const auto& sharing = source.sharing;
    if (bodies.with && std::find(sharing.begin(), sharing.end(), bodies.with) == sharing.end())
        throw Error("The swarm with which they are in one world has no bodies; give it that gesture, or choose another swarm.");
    if (bodies.against) prepareObstacles(bodies, source);
    for (const auto& [number, column] : {std::pair{bodies.speed, &bodies.speedColumn},
                                         {bodies.spin, &bodies.spinColumn},
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
        .label("One world with")
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
        .number("density", &Bodies::density, 1, {0.1, 10}, "How heavy they are for their size, against others in one world")
        .hard(1e-3, 1e5)
        .since(2)
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
        .reference("spin", &Bodies::spin, {ObjectType::namedValue}, "A named value that gets how fast each turns, degrees a second")
        .label("Spin into")
        .optional()
        .since(3)
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
        .migrated({2, {}, nullptr})
        .migrated({3, {}, nullptr});
    GestureKind kind = preparing(makes(d, apply), prepare);
    kind.carryOn = carriedOn;
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
