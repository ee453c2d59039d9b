#pragma once
#include <vector>

#include "core/scene/scene.h"

class Document;

/// The zones whose lines the picture shows: those of the chosen gesture, those that are pinned, the one that has handles,
/// and all while one is being picked. Ascending, each once.
std::vector<gswarm::ObjectId> shownZones(const Document& document);

/// A gesture that warps space, which so has handles of its own; the empty id for anything else.
gswarm::ObjectId warpIn(const gswarm::Scene& scene, gswarm::ObjectId thing);
