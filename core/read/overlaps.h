#pragma once
#include "core/flow/result.h"

namespace gswarm {

/// How many shown instances of a result overlap at least one other. What only touches does not count: everything is
/// taken as a ten-thousandth smaller. Oriented boxes come first; where they meet, convex shapes are told by their hulls
/// (Gilbert, Johnson and Keerthi 1988) and others by their triangles. Neither threads nor order matter.
/// Throws Cancelled.
int countOverlaps(const Result& result, Progress& progress);

}  // namespace gswarm
