// SVG artwork as a solid; every fill keeps its colour.
#include <algorithm>
#include <glm/common.hpp>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/shape/shape_kind.h"
#include "core/shape/svg.h"

namespace gswarm {
namespace {

constexpr std::uintmax_t mostBytes = 64u << 20;

struct Artwork {
    std::string file;
    float width, depth, lift, bevel;
    BevelForm bevelForm;
    int bevelSteps, curveSteps;
    bool strokes;
};

ShapeForm make(const Artwork& a, const ShapeSource& source) {
    if (a.file.empty()) throw Error("This shape has no file yet; choose an SVG drawing in the project's folder.");
    const SvgDrawing drawing = readSvg(readFile(pathInProject(a.file, source), mostBytes), a.file, a.curveSteps);
    glm::dvec2 low(1e300), high(-1e300);
    for (const SvgItem& item : drawing.items)
        for (const auto* contours : {&item.area.contours, &item.stroke.lines})
            for (const auto& contour : *contours)
                for (const auto& p : contour) low = glm::min(low, p), high = glm::max(high, p);
    if (!(high.x > low.x || high.y > low.y))
        throw Error("“" + a.file + "” draws nothing that can be filled or stroked; choose another drawing.");
    const double extent = std::max(high.x - low.x, high.y - low.y), scale = a.width / std::max(high.x - low.x, extent * 1e-6);
    const auto placed = [&](FlatContours contours) {
        for (auto& contour : contours)
            for (auto& p : contour) p = (p - glm::dvec2((low.x + high.x) / 2, low.y)) * scale;
        return contours;
    };
    ShapeForm form;
    int layer = 0;
    const auto add = [&](const Outline& outline, const glm::vec4& colour) {
        if (outline.contours.empty()) return;
        // Later paint lies over earlier: each a little further out, so that faces never fall on one another.
        const float depth = a.depth + 2 * a.lift * static_cast<float>(layer++);
        Mesh mesh = extrude(outline, {depth, a.bevel, a.bevelForm, a.bevelSteps}, source.progress);
        const glm::vec4 linear(linearFromSrgb(colour.x), linearFromSrgb(colour.y), linearFromSrgb(colour.z), colour.w);
        mesh.colours.assign(mesh.positions.size(), linear);
        append(form.mesh, mesh);
        for (const auto& contour : outline.contours) {
            form.curves.push_back({{}, true});
            for (const auto& p : contour) form.curves.back().points.emplace_back(glm::vec2(glm::dvec2(p) * outline.step), depth / 2);
        }
    };
    const double step = extent * scale * 1e-7;
    for (const SvgItem& item : drawing.items) {
        if (source.progress) source.progress->check();
        add(filled(placed(item.area.contours), item.area.rule, step), item.area.colour);
        if (!a.strokes || item.stroke.lines.empty()) continue;
        Stroke stroke = item.stroke.stroke;
        stroke.width *= scale;
        add(stroked(placed(item.stroke.lines), item.stroke.closed, stroke, step), item.stroke.colour);
    }
    if (!drawing.leftOut.empty()) form.note = "Left out of “" + a.file + "”: " + drawing.leftOut + "; turn them into paths in the drawing.";
    return form;
}

}  // namespace

const ShapeKind artworkShape = withCurves(
    makes(DescribeShape<Artwork>("artwork", "Artwork", "An SVG drawing, with depth and bevel")
              .file("file", &Artwork::file, "An SVG drawing in the project's folder")
              .length("width", &Artwork::width, 3, {0.1, 10}, "Of the whole drawing; its height follows")
              .hard(1e-4, 1e4)
              .length("depth", &Artwork::depth, 0.3, {0.01, 4}, "From front to back")
              .hard(1e-4, 1e4)
              .length("lift", &Artwork::lift, 0.01, {0, 0.2}, "How far each layer of paint stands out over the one below")
              .hard(0, 1e3)
              .length("bevel", &Artwork::bevel, 0, {0, 0.5}, "Width of the broken edges, at most half the depth")
              .hard(0, 1e4)
              .choice("bevelForm", &Artwork::bevelForm, {{"rounded", "Rounded"}, {"chamfered", "Chamfered"}}, "Form of the broken edges")
              .whole("bevelSteps", &Artwork::bevelSteps, 3, {1, 16}, "Facets around a rounded edge")
              .only("bevelForm", {"rounded"})
              .whole("curveSteps", &Artwork::curveSteps, 8, {1, 32}, "Straight pieces for each curve")
              .hard(1, 200)
              .toggle("strokes", &Artwork::strokes, true, "Also make solids of the drawing's strokes"),
          make));

}  // namespace gswarm
