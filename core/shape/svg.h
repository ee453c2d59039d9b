#pragma once
#include <glm/vec4.hpp>
#include <memory>
#include <string>
#include <vector>

#include "core/shape/outline.h"

namespace gswarm {

/// One filled area of a drawing, in the drawing's units with Y upward.
struct SvgArea {
    FlatContours contours;
    FillRule rule = FillRule::nonZero;
    glm::vec4 colour{1};  ///< sRGB-encoded, straight alpha
};
/// One stroked outline of a drawing, already cut into its dashes.
struct SvgStroke {
    FlatContours lines;
    std::vector<bool> closed;
    Stroke stroke;
    glm::vec4 colour{1};
};
/// What shows of an item that is clipped: what all of these areas together cover.
using SvgClip = std::vector<SvgArea>;

/// Fills and strokes in the order in which they are painted: of each pair of entries at one index either may be empty.
struct SvgItem {
    SvgArea area;
    SvgStroke stroke;
    std::vector<std::shared_ptr<const SvgClip>> clips;  ///< every one of them cuts
};
struct SvgDrawing {
    std::vector<SvgItem> items;
    double width = 0, height = 0;      ///< of the viewBox or the page
    std::vector<std::string> leftOut;  ///< what was not read or not as it is meant, as people say it: "2 texts"
};

/// Reads paths, rectangles, circles, ellipses, lines, polylines, polygons, groups and drawings within the drawing, with
/// their transforms, units, fill rules, fills, strokes, dashes, clip paths and simple style sheets (SVG 1.1, static).
/// Gradients are taken as the colour nearest their middle and told. Throws Error if the text is no SVG, is nested too
/// deeply or draws more than two million points, with the end of a sentence that begins with the file's name.
SvgDrawing readSvg(const std::string& text, int curveSteps);

}  // namespace gswarm
