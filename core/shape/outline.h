#pragma once
#include <cstdint>
#include <glm/gtc/type_precision.hpp>
#include <glm/vec2.hpp>
#include <vector>

#include "core/base/progress.h"
#include "core/shape/mesh.h"

namespace gswarm {

/// Flat closed contours on a lattice of whole steps, so that everything made from them meets to the bit.
/// Once cleaned: outer contours run counter-clockwise, holes clockwise, and none cross.
struct Outline {
    using Contour = std::vector<glm::i64vec2>;
    std::vector<Contour> contours;
    double step = 1e-6;  ///< metres
};

/// Flat contours in metres as they come from fonts and drawings: they may cross, overlap and run either way.
using FlatContours = std::vector<std::vector<glm::dvec2>>;

enum class FillRule { nonZero, evenOdd };
enum class StrokeJoin { miter, round, bevel };
enum class StrokeCap { butt, round, square };

/// The area that contours fill, without crossings. Contours whose bounds are apart are filled one after the other, with a
/// look at the progress between. Throws Error if it is wider than the lattice (about 1000 km), or if it crosses itself so
/// often, or lies so densely, that filling it would take minutes.
Outline filled(const FlatContours& contours, FillRule rule, double step, Progress* progress = nullptr);

/// What of an outline lies in all of the others, which have the same step.
Outline clippedBy(const Outline& outline, const std::vector<Outline>& clips);
/// What any of the outlines covers; all have the same step.
Outline unitedOf(const std::vector<Outline>& outlines);

struct Stroke {
    double width = 0.01;
    StrokeJoin join = StrokeJoin::miter;
    StrokeCap cap = StrokeCap::butt;
    double miterLimit = 4;
};
/// The area that a pen covers along lines; `closed` tells which of them come back to their beginning.
Outline stroked(const FlatContours& lines, const std::vector<bool>& closed, const Stroke& stroke, double step,
                Progress* progress = nullptr);

enum class BevelForm { rounded, chamfered };

struct Extrusion {
    float depth = 0.2f;  ///< metres, half to either side of z = 0
    float bevel = 0;     ///< metres, at most half the depth
    BevelForm form = BevelForm::rounded;
    int bevelSteps = 4;
};

/// The solid with the outline as its widest section, in XY and facing +Z: closed and oriented, whatever the outline's
/// nesting. Where a bevel is wider than half a stroke it ends early. UV lie flat over the whole outline.
/// Bevels are insets of the outline; each band between two insets is filled by the GLU tessellator.
/// Checks for cancelling between islands.
Mesh extrude(const Outline& outline, const Extrusion& extrusion, Progress* progress = nullptr);

/// Triangles that fill polygons (odd winding), three indices each into the corners of all contours in order, counter-
/// clockwise. Corners stand at their places in a plane. Empty if the contours enclose nothing.
std::vector<std::uint32_t> fillPolygons(const FlatContours& contours);

}  // namespace gswarm
