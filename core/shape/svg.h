#pragma once
#include <glm/vec4.hpp>
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
/// One stroked outline of a drawing.
struct SvgStroke {
    FlatContours lines;
    std::vector<bool> closed;
    Stroke stroke;
    glm::vec4 colour{1};
};
/// Fills and strokes in the order in which they are painted: of each pair of entries at one index either may be empty.
struct SvgItem {
    SvgArea area;
    SvgStroke stroke;
};
struct SvgDrawing {
    std::vector<SvgItem> items;
    double width = 0, height = 0;  ///< of the viewBox or the page
    std::string leftOut;           ///< what was not read, as people say it: "2 texts, 1 picture"; empty if nothing
};

/// Reads paths, rectangles, circles, ellipses, lines, polylines, polygons and groups with their transforms, fill rules,
/// fills and strokes (SVG 1.1, static). Colours that are no plain colour (gradients, patterns) are taken as grey and
/// told. Throws Error if the text is no SVG, is nested too deeply or draws too much.
SvgDrawing readSvg(const std::string& text, const std::string& nameForPeople, int curveSteps);

}  // namespace gswarm
