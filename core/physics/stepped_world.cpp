#include "core/physics/stepped_world.h"

#include <BulletCollision/CollisionDispatch/btSimulationIslandManager.h>

namespace gswarm {

void SteppedWorld::solveConstraints(btContactSolverInfo& info) {
    if (beforeSolving) std::exchange(beforeSolving, nullptr)();
    btDiscreteDynamicsWorld::solveConstraints(info);
}

void SteppedWorld::calculateSimulationIslands() {
    int moving = 0;
    for (int i = 0; i < m_collisionObjects.size(); ++i) {
        btCollisionObject& object = *m_collisionObjects[i];
        object.setIslandTag(object.isStaticOrKinematicObject() ? -1 : moving++);
        object.setCompanionId(-1);
    }
    m_islandManager->initUnionFind(moving);
    const auto unite = [&](const btCollisionObject& one, const btCollisionObject& other) {
        if (one.getIslandTag() >= 0 && other.getIslandTag() >= 0)
            m_islandManager->getUnionFind().unite(one.getIslandTag(), other.getIslandTag());
    };
    for (int k = 0; k < m_dispatcher1->getNumManifolds(); ++k) {
        const btPersistentManifold& manifold = *m_dispatcher1->getManifoldByIndexInternal(k);
        if (manifold.getNumContacts() > 0) unite(*manifold.getBody0(), *manifold.getBody1());
    }
    for (int k = 0; k < m_constraints.size(); ++k)
        if (m_constraints[k]->isEnabled()) unite(m_constraints[k]->getRigidBodyA(), m_constraints[k]->getRigidBodyB());
    m_islandManager->storeIslandActivationState(this);
}

void Floor::getAabb(const btTransform& at, btVector3& least, btVector3& most) const {
    btStaticPlaneShape::getAabb(at, least, most);
    most.setY(at.getOrigin().y() + getPlaneConstant());
}

}  // namespace gswarm
