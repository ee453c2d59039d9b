#pragma once
#include "core/evaluate/evaluator.h"
#include "core/provide/store.h"

namespace gswarm {

/// Where a zone without a form of its own begins to act and where it acts wholly: lines in the world, in planes through the
/// middle of a swarm's homes. A flat swarm has one such plane, another three.
struct ZoneContours {
    ObjectId zone;
    ZoneLines begins, wholly;
};

/// True for zones whose contours are found by weighing places: near things, inside a mesh, noise, formulas. Others draw their
/// form themselves.
bool hasContours(const Object& zone);

/// Marching squares over 120 steps along the longer side, crossings mixed linearly between the places (Lorensen
/// and Cline 1987, in the plane). Empty where the zone waits for something, and for one that
/// chooses instances or reads what only they have. Kept in the store until something of it
/// changes. Throws Cancelled.
ZoneContours contoursOf(const Scene& scene, ObjectId zone, const Result& around, const PlanOptions& options, Store& store,
                        Progress& progress);

}  // namespace gswarm
