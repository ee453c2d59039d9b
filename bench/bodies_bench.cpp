// 1 728 balls on springs, stirred by a ball that passes through them, against bare Bullet with the same forces; 10 000 boxes that fall and
// come to rest. Quote ratios within one run.
//   gswarm-bodies-bench
#include <btBulletDynamicsCommon.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <glm/geometric.hpp>
#include <memory>
#include <numbers>

#include "core/base/chance.h"
#include "core/flow/weigh.h"
#include "core/physics/rigid_bodies.h"
#include "core/response/response.h"

using namespace gswarm;
using glm::vec3;

namespace {

constexpr int side = 12, balls = side * side * side, frames = 100;
constexpr float strive = 1, damping = 0.5f;

double millisecondsOf(const auto& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
}

vec3 homeOf(int i) { return vec3(i % side, i / side % side, i / (side * side)) * 1.02f; }

/// What pushes a ball that was at a place: an even current of its own, within a ball that passes.
vec3 pushAt(int i, const vec3& place, int frame) {
    const vec3 middle(-4 + 0.2f * static_cast<float>(frame), 6, 6);
    if (glm::distance(place, middle) > 4) return vec3(0);
    const auto random = [&](std::uint32_t which) { return 2 * chance(3, static_cast<std::uint64_t>(i), which) - 1; };
    return vec3(random(0), random(1), random(2)) * 40.0f;
}

struct Stirred {
    BodyFrame now;
    std::vector<BodyTask> tasks{std::size_t{balls}};
    std::vector<Collider> colliders{Collider{ColliderForm::ball, vec3(0), vec3(0.5f), {}}};
    BodyRules rules;

    Stirred() {
        rules.gravity = vec3(0);
        rules.ground = false;
        rules.strive = strive;
        rules.striveDamping = damping;
        now.states.resize(balls);
        for (int i = 0; i < balls; ++i) {
            BodyTask& task = tasks[static_cast<std::size_t>(i)];
            task.collider = 0;
            task.aim = homeOf(i);
            task.fresh = true;
        }
        advance(0);
        for (BodyTask& task : tasks) task.fresh = false;
    }
    void advance(double share) {
        Progress progress;
        now = advanced(now, tasks, colliders, {}, std::span(&rules, 1), share, progress);
    }
    void step(int frame) {
        for (int i = 0; i < balls; ++i) {
            const auto at = static_cast<std::size_t>(i);
            tasks[at].push = pushAt(i, now.states[at].place, frame);
        }
        advance(1);
    }
};

/// The same by Bullet alone: one world for all frames, springs as forces.
struct Bare {
    btDefaultCollisionConfiguration configuration;
    btCollisionDispatcher dispatcher{&configuration};
    btDbvtBroadphase broadphase;
    btSequentialImpulseConstraintSolver solver;
    btDiscreteDynamicsWorld world{&dispatcher, &broadphase, &solver, &configuration};
    btSphereShape ball{0.5f};
    std::vector<std::unique_ptr<btRigidBody>> bodies;

    Bare() {
        world.setGravity({0, 0, 0});
        world.getSolverInfo().m_numIterations = 20;
        const btScalar mass = 0.52f;
        btVector3 inertia;
        ball.calculateLocalInertia(mass, inertia);
        for (int i = 0; i < balls; ++i) {
            btRigidBody::btRigidBodyConstructionInfo info(mass, nullptr, &ball, inertia);
            const vec3 home = homeOf(i);
            info.m_startWorldTransform.setOrigin({home.x, home.y, home.z});
            bodies.push_back(std::make_unique<btRigidBody>(info));
            bodies.back()->setActivationState(DISABLE_DEACTIVATION);
            world.addRigidBody(bodies.back().get());
        }
    }
    ~Bare() {
        for (const auto& body : bodies) world.removeRigidBody(body.get());
    }
    void step(int frame) {
        const float w = 2 * std::numbers::pi_v<float> * strive;
        for (int k = 0; k < 4; ++k) {
            for (int i = 0; i < balls; ++i) {
                btRigidBody& body = *bodies[static_cast<std::size_t>(i)];
                const btVector3& at = body.getWorldTransform().getOrigin();
                const btVector3& speed = body.getLinearVelocity();
                const vec3 home = homeOf(i), push = pushAt(i, {at.x(), at.y(), at.z()}, frame);
                const btVector3 pull = btVector3(home.x, home.y, home.z) - at;
                body.applyCentralForce((pull * (w * w) - speed * (2 * damping * w) + btVector3(push.x, push.y, push.z)) * 0.52f);
            }
            world.stepSimulation(0.01f, 0);
        }
    }
};

void stirred() {
    Stirred ours;
    Bare bare;
    double mine = 0, theirs = 0, slowest = 0;
    for (int frame = 0; frame < frames; ++frame) {
        const double one = millisecondsOf([&] { ours.step(frame); });
        mine += one, slowest = std::max(slowest, one);
        theirs += millisecondsOf([&] { bare.step(frame); });
    }
    std::printf("1 728 balls stirred, a frame: %.1f ms (slowest %.1f), bare Bullet %.1f: %.2f times\n", mine / frames, slowest,
                theirs / frames, mine / theirs);
}

void falling() {
    constexpr int across = 50, high = 4;
    Stirred boxes;
    boxes.rules = {};
    boxes.colliders = {Collider{ColliderForm::box, vec3(0), vec3(0.5f), {}}};
    boxes.tasks.assign(std::size_t{across} * across * high, {});
    boxes.now = {};
    boxes.now.states.resize(boxes.tasks.size());
    for (std::size_t i = 0; i < boxes.tasks.size(); ++i) {
        const auto random = [&](std::uint32_t which) { return chance(7, i, which); };
        const int x = static_cast<int>(i) % across, z = static_cast<int>(i) / across % across, y = static_cast<int>(i) / (across * across);
        BodyTask& task = boxes.tasks[i];
        task.collider = 0;
        task.aim = {1.5f * static_cast<float>(x) + 0.3f * random(0), 1 + 1.6f * static_cast<float>(y),
                    1.5f * static_cast<float>(z) + 0.3f * random(1)};
        task.aimTurn = glm::angleAxis(0.3f * random(2), glm::normalize(vec3(1, 2, 0.5f)));
        task.fresh = true;
    }
    boxes.advance(0);
    for (BodyTask& task : boxes.tasks) task.fresh = false;
    double all = 0;
    int resting = 0, frame = 0;
    for (; frame < 250 && resting < static_cast<int>(boxes.tasks.size()); ++frame) {
        all += millisecondsOf([&] { boxes.advance(1); });
        resting =
            static_cast<int>(std::count_if(boxes.now.states.begin(), boxes.now.states.end(), [](const BodyState& s) { return s.asleep; }));
    }
    float deepest = 0;
    for (const BodyState& s : boxes.now.states) {
        const vec3 x = s.turn * vec3(0.5f, 0, 0), y = s.turn * vec3(0, 0.5f, 0), z = s.turn * vec3(0, 0, 0.5f);
        deepest = std::max(deepest, std::abs(x.y) + std::abs(y.y) + std::abs(z.y) - s.place.y);
    }
    std::printf("10 000 boxes: after %d frames %d rest, the deepest corner %.1f %% of a box below the ground; %.0f ms a frame\n", frame,
                resting, 100 * deepest, all / frame);
}

/// Eddies of two octaves at 100 000 places, on one core.
void felt() {
    constexpr int blocks = 98, repeats = 10;
    Part part = standardPart(turbulenceForce);
    part.values[static_cast<std::size_t>(part.kind->indexOf("octaves"))] = fixedNumbers({2});
    const ResolvedPart resolved = resolvedWith(part, [](const Track& track) { return track.value; });
    turbulenceForce.prepare(resolved.data.get(), {});
    std::vector<ForceStep> forces(1);
    forces[0].kind = &turbulenceForce;
    forces[0].data = resolved.data;
    forces[0].where = resolvedWith(standardPart(responseKind), [](const Track& track) { return track.value; }).as<Response>();
    forces[0].where.table = tableOf(forces[0].where.points);
    const auto block = std::make_unique<Block>();
    const auto out = std::make_unique<ForceColumns>();
    block->count = blockSize;
    double sum = 0;
    const double taken = millisecondsOf([&] {
        for (int b = 0; b < blocks * repeats; ++b) {
            for (int i = 0; i < blockSize; ++i) {
                const auto place = static_cast<float>(b * blockSize + i);
                block->place.x[i] = place * 0.013f, block->place.y[i] = place * 0.007f, block->place.z[i] = static_cast<float>(i) * 0.02f;
            }
            feelForces(forces, {}, *block, *out);
            sum += double(out->push.x[0]);
        }
    });
    std::printf("turbulence of two octaves at 100 000 places: %.1f ms (%g)\n", taken / repeats, sum);
}

}  // namespace

int main() {
    stirred();
    falling();
    felt();
}
