#pragma once
#include "core/formation/formation_kind.h"

namespace gswarm {

/// Points on a mesh, no two nearer than `distance` (metres along straight lines), as many as fit: no gap is left that
/// could take another point, save slivers narrower than a fiftieth of the distance. Order is by id, which is the number
/// of the dart; the same seed gives the same points on every machine. Cancels and reports as it goes.
/// Throws Error if the mesh has no area or more points would fit than `most`.
/// Dart throwing on a hash grid, then subdivision of what is uncovered (Cline, Jeschke, White, Razdan and Wonka 2009).
SurfacePoints evenlySpacedPoints(const Mesh& mesh, float distance, std::uint32_t seed, std::size_t most, const FormationSource& source);

/// How many points of a distance an area takes, nearly: once no more fit, discs of half the distance cover 0.547 of it.
double evenlySpacedGuess(double area, double distance);

}  // namespace gswarm
