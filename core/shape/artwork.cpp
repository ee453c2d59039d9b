// SVG artwork as a solid; every fill keeps its colour.

#include <algorithm>
#include <atomic>
#include <glm/common.hpp>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/base/outside_file.h"
#include "core/base/parallel.h"
#include "core/base/text.h"
#include "core/shape/shape_kind.h"
#include "core/shape/svg.h"

namespace gswarm {
namespace {

constexpr std::uintmax_t mostBytes = 64u << 20;
constexpr std::size_t mostTriangles = 20'000'000;

struct Artwork {
    std::string file;
    float width, depth, lift, bevel;
    BevelForm bevelForm;
    int bevelSteps, curveSteps;
    bool strokes;
};

/// A drawing's contours in the artwork's metres: as wide as asked for, standing on its lower edge.
struct Placing {
    glm::dvec2 from;
    double scale;

    FlatContours operator()(FlatContours contours) const {
        for (auto& contour : contours)
            for (auto& p : contour) p = (p - from) * scale;
        return contours;
    }
};

/// One layer of paint: what it covers, and in which colour.
struct Layer {
    Outline outline;
    glm::vec4 colour;
};

/// The fill and the stroke of an item, cut by its clip paths.
std::vector<Layer> layersOf(const SvgItem& item, const Artwork& a, const Placing& placed, double step, Progress* progress) {
    std::vector<Layer> layers;
    if (!item.area.contours.empty())
        layers.push_back({filled(placed(item.area.contours), item.area.rule, step, progress), item.area.colour});
    if (a.strokes && !item.stroke.lines.empty()) {
        Stroke stroke = item.stroke.stroke;
        stroke.width *= placed.scale;
        layers.push_back({stroked(placed(item.stroke.lines), item.stroke.closed, stroke, step, progress), item.stroke.colour});
    }
    std::vector<Outline> clips;
    for (const auto& clip : item.clips) {
        std::vector<Outline> areas;
        for (const SvgArea& area : *clip) areas.push_back(filled(placed(area.contours), area.rule, step, progress));
        clips.push_back(unitedOf(areas));
    }
    if (!clips.empty())
        for (Layer& layer : layers) layer.outline = clippedBy(layer.outline, clips);
    std::erase_if(layers, [](const Layer& layer) { return layer.outline.contours.empty(); });
    return layers;
}

/// All layers of a drawing in the order in which they are painted. Items are independent, so that all cores work on them.
std::vector<Layer> layersOf(const SvgDrawing& drawing, const Artwork& a, const Placing& placed, double step, Progress* progress) {
    std::vector<std::vector<Layer>> layers(drawing.items.size());
    forEach(drawing.items.size(), [&](std::size_t i) {
        if (progress) progress->check();
        layers[i] = layersOf(drawing.items[i], a, placed, step, progress);
    });
    std::vector<Layer> out;
    for (auto& few : layers)
        for (Layer& layer : few) out.push_back(std::move(layer));
    return out;
}

ShapeForm solid(const SvgDrawing& drawing, const Artwork& a, Progress* progress) {
    glm::dvec2 low(1e300), high(-1e300);
    for (const SvgItem& item : drawing.items)
        for (const auto* contours : {&item.area.contours, &item.stroke.lines})
            for (const auto& contour : *contours)
                for (const auto& p : contour) low = glm::min(low, p), high = glm::max(high, p);
    if (!(high.x > low.x || high.y > low.y)) throw Error("draws nothing that can be filled or stroked; choose another drawing");
    const double extent = std::max(high.x - low.x, high.y - low.y), scale = a.width / std::max(high.x - low.x, extent * 1e-6);
    const Placing placed{{(low.x + high.x) / 2, low.y}, scale};
    const std::vector<Layer> layers = layersOf(drawing, a, placed, extent * scale * 1e-7, progress);
    // Later paint lies over earlier: each a little further out, so that faces never fall on one another.
    const auto depthOf = [&](std::size_t layer) { return a.depth + 2 * a.lift * static_cast<float>(layer); };
    std::vector<Mesh> meshes(layers.size());
    std::atomic<std::size_t> done{0}, triangles{0};
    forEach(layers.size(), [&](std::size_t l) {
        if (progress) progress->check(), progress->report(static_cast<double>(++done) / static_cast<double>(layers.size()));
        if (triangles > mostTriangles) return;
        meshes[l] = extrude(layers[l].outline, {depthOf(l), a.bevel, a.bevelForm, a.bevelSteps});
        triangles += meshes[l].triangleCount();
    });
    if (triangles > mostTriangles) throw Error("would have more triangles than the limit of 20 million; lower its steps or simplify it");
    ShapeForm form;
    for (std::size_t l = 0; l < layers.size(); ++l) {
        const glm::vec4& c = layers[l].colour;
        meshes[l].colours.assign(meshes[l].positions.size(), {linearFromSrgb(c.x), linearFromSrgb(c.y), linearFromSrgb(c.z), c.w});
        append(form.mesh, meshes[l]);
        meshes[l] = {};
        for (const auto& contour : layers[l].outline.contours) {
            form.curves.push_back({{}, true});
            for (const auto& p : contour)
                form.curves.back().points.emplace_back(glm::vec2(glm::dvec2(p) * layers[l].outline.step), depthOf(l) / 2);
        }
    }
    return form;
}

ShapeForm make(const Artwork& a, const ShapeSource& source) {
    if (a.file.empty()) throw Error("This shape has no file yet; choose an SVG drawing in the project's folder.");
    const std::string text = readFile(pathInProject(a.file, source.projectFolder), mostBytes);
    try {
        const SvgDrawing drawing = readSvg(text, a.curveSteps);
        ShapeForm form = solid(drawing, a, source.progress);
        if (!drawing.leftOut.empty())
            form.note = "Not as in “" + a.file + "”: " + listed(drawing.leftOut) +
                        " left out or changed; turn them into plain paths in the drawing.";
        return form;
    } catch (const Error& error) {
        throw Error("“" + a.file + "” " + error.what() + ".");
    }
}

}  // namespace

const ShapeKind artworkShape = withCurves(
    makes(DescribeShape<Artwork>("artwork", "Artwork", "An SVG drawing, with depth and bevel")
              .found("svg vector logo drawing icon import")
              .file("file", &Artwork::file, {".svg"}, "An SVG drawing in the project's folder")
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
