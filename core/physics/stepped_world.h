#pragma once
#include <btBulletDynamicsCommon.h>

#include <functional>
#include <utility>

namespace gswarm {

/// A Bullet world that lets something be done between its first finding of contacts and their solving, and in which only those that
/// truly touch, or are bound, stay awake together: boxes that merely overlap would keep whole fields of bodies from their rest.
struct SteppedWorld : btDiscreteDynamicsWorld {
    using btDiscreteDynamicsWorld::btDiscreteDynamicsWorld;
    std::function<void()> beforeSolving;

    void solveConstraints(btContactSolverInfo& info) override;
    void calculateSimulationIslands() override;
};

/// A floor whose box ends where it does.
struct Floor : btStaticPlaneShape {
    explicit Floor(btScalar height) : btStaticPlaneShape({0, 1, 0}, height) {}
    void getAabb(const btTransform& at, btVector3& least, btVector3& most) const override;
};

}  // namespace gswarm
