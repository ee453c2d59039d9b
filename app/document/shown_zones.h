#pragma once
#include <vector>

#include "core/scene/scene.h"

class Document;

/// The zones whose lines the picture shows: those of the chosen gesture or force, those that are pinned, the one that has handles,
/// and all while one is being picked. Ascending, each once.
std::vector<gswarm::ObjectId> shownZones(const Document& document);

/// Whether a thing is a gesture that feels forces.
bool feelsForces(const gswarm::Scene& scene, gswarm::ObjectId thing);
/// The forces whose lines the picture shows: the chosen one, or all that the chosen gesture feels.
std::vector<gswarm::ObjectId> shownForces(const Document& document);

/// A gesture that has handles of its own: one that warps space, or whose pattern has a place. The empty id for anything else.
gswarm::ObjectId handledGesture(const gswarm::Scene& scene, gswarm::ObjectId thing);
gswarm::ObjectId placedPatternIn(const gswarm::Scene& scene, gswarm::ObjectId thing);
gswarm::ObjectId warpIn(const gswarm::Scene& scene, gswarm::ObjectId thing);
