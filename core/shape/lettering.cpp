// Lettering: lines of text as a solid.
#include "core/base/error.h"
#include "core/base/outside_file.h"
#include "core/shape/font.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

struct Lettering {
    std::string text, font, fontFile;
    float size, letterSpacing, lineSpacing;
    TextAlign align;
    bool kerning;
    int curveSteps, bevelSteps;
    float depth, bevel;
    BevelForm bevelForm;
};

ShapeForm make(const Lettering& l, const ShapeSource& source) {
    ShapeForm form;
    const Font font =
        l.fontFile.empty() ? Font::named(l.font, form.note) : Font::fromFile(pathInProject(l.fontFile, source.projectFolder), l.fontFile);
    const TypeSetting setting{l.size, l.align, l.letterSpacing / 100, l.lineSpacing / 100, l.kerning, l.curveSteps};
    const FlatContours contours = font.set(l.text, setting, form.note, source.progress);
    if (contours.empty()) throw Error("There is nothing to see in this text; type some letters.");
    const Outline outline = filled(contours, FillRule::nonZero, l.size * 1e-6, source.progress);
    form.mesh = extrude(outline, {l.depth, l.bevel, l.bevelForm, l.bevelSteps}, source.progress);
    for (const auto& contour : outline.contours) {
        form.curves.push_back({{}, true});
        for (const auto& p : contour) form.curves.back().points.emplace_back(glm::vec2(glm::dvec2(p) * outline.step), l.depth / 2);
    }
    return form;
}

}  // namespace

const ShapeKind letteringShape = withCurves(
    makes(DescribeShape<Lettering>("lettering", "Lettering", "Text in any font, with depth and bevel")
              .found("text type font word letters title")
              .text("text", &Lettering::text, "REEF", "What is written; Enter begins a new line")
              .lines()
              .text("font", &Lettering::font, "Cabin SemiBold", "An installed family, such as “DejaVu Serif:bold”")
              .families()
              .file("fontFile", &Lettering::fontFile, {".ttf", ".otf"}, "A font file in the project's folder; it goes before the family")
              .length("size", &Lettering::size, 2, {0.1, 10}, "Of the letters: the height of a line without its spacing")
              .hard(1e-3, 1e4)
              .choice("align", &Lettering::align, {{"left", "Left"}, {"middle", "Middle"}, {"right", "Right"}}, "Where the lines meet")
              .standard("middle")
              .number("letterSpacing", &Lettering::letterSpacing, 0, {-20, 100}, "Added between letters, in percent of the size")
              .unit("%")
              .hard(-100, 1000)
              .number("lineSpacing", &Lettering::lineSpacing, 100, {50, 200}, "From line to line, in percent of the font's own")
              .unit("%")
              .hard(0, 1000)
              .toggle("kerning", &Lettering::kerning, true, "Pairs of letters move together as the font says")
              .whole("curveSteps", &Lettering::curveSteps, 8, {1, 32}, "Straight pieces for each curve")
              .hard(1, 200)
              .length("depth", &Lettering::depth, 0.4, {0.01, 4}, "From front to back")
              .hard(1e-4, 1e4)
              .length("bevel", &Lettering::bevel, 0.03, {0, 0.5}, "Width of the broken edges, at most half the depth")
              .hard(0, 1e4)
              .choice("bevelForm", &Lettering::bevelForm, {{"rounded", "Rounded"}, {"chamfered", "Chamfered"}}, "Form of the broken edges")
              .whole("bevelSteps", &Lettering::bevelSteps, 4, {1, 16}, "Facets around a rounded edge")
              .only("bevelForm", {"rounded"}),
          make));

}  // namespace gswarm
