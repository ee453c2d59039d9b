#include "core/shape/outline.h"

#include <GL/glu.h>
#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <memory>
#include <polyclipping/clipper.hpp>

#include "core/base/error.h"
#include "core/base/precise.h"
#include "core/shape/tangle.h"

namespace gswarm {
namespace {

using ClipperLib::IntPoint;
using FixedPath = ClipperLib::Path;
using FixedPaths = ClipperLib::Paths;

constexpr double mostSteps = 1e12;

FixedPath toPath(const std::vector<glm::dvec2>& contour, double step) {
    FixedPath path;
    for (const auto& p : contour) {
        if (!(std::abs(p.x / step) < mostSteps && std::abs(p.y / step) < mostSteps))
            throw Error("It has a point that is not a valid number or too far away; check its sizes.");
        path.emplace_back(std::llround(p.x / step), std::llround(p.y / step));
    }
    return path;
}

Outline toOutline(const FixedPaths& paths, double step) {
    Outline out{{}, step};
    for (const FixedPath& path : paths) {
        out.contours.emplace_back();
        for (const IntPoint& p : path) out.contours.back().emplace_back(p.X, p.Y);
    }
    return out;
}

FixedPaths toPaths(const Outline& outline) {
    FixedPaths paths;
    for (const auto& contour : outline.contours) {
        paths.emplace_back();
        for (const auto& p : contour) paths.back().emplace_back(p.x, p.y);
    }
    return paths;
}

/// Puts corners that touch an edge into that edge too, so that whatever is made from the contours meets there. Corners are
/// looked for along the axis along which edges are shorter.
void joinTouches(FixedPaths& paths) {
    std::vector<IntPoint> corners;
    double wide = 0, high = 0;
    for (const FixedPath& path : paths)
        for (std::size_t i = 0; i < path.size(); ++i) {
            const IntPoint &a = path[i], &b = path[(i + 1) % path.size()];
            corners.push_back(a);
            wide += std::abs(static_cast<double>(b.X - a.X)), high += std::abs(static_cast<double>(b.Y - a.Y));
        }
    if (corners.empty()) return;
    const auto along = wide <= high ? &IntPoint::X : &IntPoint::Y, across = wide <= high ? &IntPoint::Y : &IntPoint::X;
    std::sort(corners.begin(), corners.end(),
              [&](const IntPoint& a, const IntPoint& b) { return a.*along != b.*along ? a.*along < b.*along : a.*across < b.*across; });
    corners.erase(std::unique(corners.begin(), corners.end()), corners.end());
    for (FixedPath& path : paths) {
        FixedPath joined;
        for (std::size_t i = 0; i < path.size(); ++i) {
            const IntPoint &a = path[i], &b = path[(i + 1) % path.size()];
            joined.push_back(a);
            const double dx = static_cast<double>(b.X - a.X), dy = static_cast<double>(b.Y - a.Y), length2 = dx * dx + dy * dy;
            std::vector<std::pair<double, IntPoint>> on;
            const auto first = std::lower_bound(corners.begin(), corners.end(), std::min(a.*along, b.*along) - 1,
                                                [&](const IntPoint& p, ClipperLib::cInt v) { return p.*along < v; });
            for (auto p = first; p != corners.end() && (*p).*along <= std::max(a.*along, b.*along) + 1; ++p) {
                if ((*p).*across < std::min(a.*across, b.*across) - 1 || (*p).*across > std::max(a.*across, b.*across) + 1) continue;
                if (*p == a || *p == b) continue;
                const double px = static_cast<double>(p->X - a.X), py = static_cast<double>(p->Y - a.Y);
                const double onward = px * dx + py * dy, beside = px * dy - py * dx;
                // Nearer than one and a half steps of the lattice.
                if (onward > 0 && onward < length2 && beside * beside < 2.25 * length2) on.emplace_back(onward, *p);
            }
            std::sort(on.begin(), on.end(), [](const auto& x, const auto& y) { return x.first < y.first; });
            for (const auto& [onward, point] : on) joined.push_back(point);
        }
        path = std::move(joined);
    }
}

/// The union of paths that may cross. Touching contours become contours of their own where the library can afford to look
/// for them: its time for that grows with the square of a contour's corners.
FixedPaths unitedOnce(const FixedPaths& paths, FillRule rule) {
    constexpr std::size_t mostForTouches = 20'000;
    std::size_t corners = 0;
    for (const FixedPath& path : paths) corners += path.size();
    ClipperLib::Clipper clipper;
    clipper.StrictlySimple(corners <= mostForTouches);
    clipper.AddPaths(paths, ClipperLib::ptSubject, true);
    FixedPaths out;
    const auto fill = rule == FillRule::nonZero ? ClipperLib::pftNonZero : ClipperLib::pftEvenOdd;
    clipper.Execute(ClipperLib::ctUnion, out, fill, fill);
    joinTouches(out);
    return out;
}

/// Each group of paths by itself: how far a union reaches is told by its bounds.
FixedPaths united(const FixedPaths& paths, FillRule rule, Progress* progress = nullptr) {
    const auto groups = pathsApart(paths);
    if (groups.size() < 2) {
        refuseTangles(paths);
        return unitedOnce(paths, rule);
    }
    FixedPaths out;
    for (std::size_t g = 0; g < groups.size(); ++g) {
        if (progress) progress->check(), progress->report(static_cast<double>(g) / static_cast<double>(groups.size()));
        FixedPaths group;
        for (const std::size_t i : groups[g]) group.push_back(paths[i]);
        refuseTangles(group);
        for (FixedPath& path : unitedOnce(group, rule)) out.push_back(std::move(path));
    }
    return out;
}

FixedPaths insetBy(const FixedPaths& paths, double steps) {
    ClipperLib::ClipperOffset offset(4);
    offset.AddPaths(paths, ClipperLib::jtMiter, ClipperLib::etClosedPolygon);
    FixedPaths out;
    offset.Execute(out, -steps);
    return united(out, FillRule::nonZero);
}

/// Outer contours, each with the holes directly in it.
std::vector<FixedPaths> islands(const FixedPaths& paths) {
    std::vector<FixedPaths> out;
    for (const auto& group : pathsApart(paths)) {
        ClipperLib::Clipper clipper;
        std::size_t corners = 0;
        for (const std::size_t i : group) corners += paths[i].size();
        clipper.StrictlySimple(corners <= 20'000);
        for (const std::size_t i : group) clipper.AddPath(paths[i], ClipperLib::ptSubject, true);
        ClipperLib::PolyTree tree;
        clipper.Execute(ClipperLib::ctUnion, tree, ClipperLib::pftNonZero, ClipperLib::pftNonZero);
        for (const auto* node = tree.GetFirst(); node; node = node->GetNext()) {
            if (node->IsHole()) continue;
            out.push_back({node->Contour});
            for (const auto* hole : node->Childs) out.back().push_back(hole->Contour);
            joinTouches(out.back());
        }
    }
    return out;
}

/// The GLU tessellator with what it fills; vertices carry their number.
class Tessellator {
  public:
    Tessellator() : glu_(gluNewTess(), gluDeleteTess) {
        gluTessCallback(glu_.get(), GLU_TESS_VERTEX_DATA, reinterpret_cast<void (*)()>(&Tessellator::vertex));
        gluTessCallback(glu_.get(), GLU_TESS_COMBINE_DATA, reinterpret_cast<void (*)()>(&Tessellator::combine));
        gluTessCallback(glu_.get(), GLU_TESS_EDGE_FLAG_DATA, reinterpret_cast<void (*)()>(&Tessellator::edgeFlag));  // triangles only
        gluTessProperty(glu_.get(), GLU_TESS_WINDING_RULE, GLU_TESS_WINDING_ODD);
        gluTessNormal(glu_.get(), 0, 0, 1);
    }
    std::vector<std::uint32_t> fill(const FlatContours& contours) {
        triangles_.clear();
        std::size_t total = 0, next = 0;
        for (const auto& contour : contours) total += contour.size();
        places_.resize(3 * total);
        gluTessBeginPolygon(glu_.get(), this);
        for (const auto& contour : contours) {
            gluTessBeginContour(glu_.get());
            for (const auto& p : contour) {
                double* place = &places_[3 * next];
                place[0] = p.x, place[1] = p.y, place[2] = 0;
                gluTessVertex(glu_.get(), place, reinterpret_cast<void*>(next++));
            }
            gluTessEndContour(glu_.get());
        }
        gluTessEndPolygon(glu_.get());
        triangles_.resize(triangles_.size() / 3 * 3);
        return std::move(triangles_);
    }

  private:
    static void vertex(void* number, void* self) {
        static_cast<Tessellator*>(self)->triangles_.push_back(static_cast<std::uint32_t>(reinterpret_cast<std::size_t>(number)));
    }
    /// Contours that touch: the crossing is the nearest corner that is there, so that nothing splits an edge twice.
    static void combine(double*, void* corners[4], float weights[4], void** out, void*) {
        *out = corners[std::max_element(weights, weights + 4) - weights];
    }
    static void edgeFlag(unsigned char, void*) {}

    std::unique_ptr<GLUtesselator, void (*)(GLUtesselator*)> glu_;
    std::vector<double> places_;
    std::vector<std::uint32_t> triangles_;
};

FlatContours flat(const FixedPaths& paths) {
    FlatContours out;
    for (const FixedPath& path : paths) {
        out.emplace_back();
        for (const IntPoint& p : path) out.back().emplace_back(p.X, p.Y);
    }
    return out;
}

/// One section of the solid: the outline inset, at a distance from the middle.
struct Layer {
    FixedPaths paths;
    float z;
};

std::vector<Layer> layersOf(const FixedPaths& island, const Extrusion& e, double step) {
    // A little wall always stays, so that no part is without thickness where the bevel finds no room.
    const float half = e.depth / 2, bevel = std::clamp(e.bevel, 0.0f, half * 0.98f);
    std::vector<Layer> layers = {{island, half - bevel}};
    if (bevel <= 0) return layers;
    const bool straight = e.form == BevelForm::chamfered;
    // One step will do for a straight edge unless it meets the one across, which then happens somewhere between.
    const int steps = !straight ? std::max(1, e.bevelSteps) : insetBy(island, bevel / step).size() == island.size() ? 1 : 8;
    for (int k = 1; k <= steps; ++k) {
        const auto turn = precise::sineCosineOfTurns(0.25 * k / steps);
        const double in = k == steps ? 1 : straight ? double(k) / steps : 1 - turn.cosine;
        const double out = k == steps ? 1 : straight ? double(k) / steps : turn.sine;
        FixedPaths next = insetBy(island, in * bevel / step);
        if (next.empty()) break;
        layers.push_back({std::move(next), half - bevel + static_cast<float>(out) * bevel});
    }
    return layers;
}

struct Builder {
    Mesh mesh;
    double step;
    glm::vec2 low, size;
    Tessellator tessellator;

    std::uint32_t corner(const IntPoint& p, float z) {
        const glm::vec2 flat(static_cast<double>(p.X) * step, static_cast<double>(p.Y) * step);
        return addVertex(mesh, {flat, z}, {0, 0, z < 0 ? -1 : 1}, (flat - low) / size);
    }

    /// Fills between two sections (or the last one alone), on the front and, mirrored, on the back.
    void addBand(const Layer& outer, const Layer* inner, bool onePolygon) {
        FixedPaths both = outer.paths;
        if (inner) both.insert(both.end(), inner->paths.begin(), inner->paths.end());
        const auto triangles = tessellator.fill(flat(both));
        for (const float side : {1.0f, -1.0f}) {
            std::vector<std::uint32_t> numbers;
            for (std::size_t p = 0; p < both.size(); ++p)
                for (const IntPoint& point : both[p])
                    numbers.push_back(corner(point, side * (p < outer.paths.size() ? outer.z : inner->z)));
            std::uint32_t face = mesh.faceCount();
            for (std::size_t t = 0; t < triangles.size(); t += 3) {
                const std::uint32_t a = numbers[triangles[t]], b = numbers[triangles[t + 1]], c = numbers[triangles[t + 2]];
                mesh.triangles.insert(mesh.triangles.end(), {a, side > 0 ? b : c, side > 0 ? c : b});
                mesh.faces.push_back(onePolygon ? face : face++);
            }
        }
    }

    void addWall(const FixedPath& contour, float z) {
        for (std::size_t i = 0; i < contour.size(); ++i) {
            const IntPoint &p = contour[i], &q = contour[(i + 1) % contour.size()];
            const std::uint32_t a = corner(p, -z), b = corner(q, -z), c = corner(q, z), d = corner(p, z);
            addFace(mesh, {a, b, c, a, c, d});
        }
    }
};

}  // namespace

Outline filled(const FlatContours& contours, FillRule rule, double step, Progress* progress) {
    FixedPaths paths;
    for (const auto& contour : contours) paths.push_back(toPath(contour, step));
    FixedPaths clean = united(paths, rule, progress);
    ClipperLib::CleanPolygons(clean, 1.0);
    return toOutline(united(clean, FillRule::nonZero, progress), step);
}

Outline clippedBy(const Outline& outline, const std::vector<Outline>& clips) {
    FixedPaths paths = toPaths(outline);
    for (const Outline& clip : clips) {
        FixedPaths all = paths;
        const FixedPaths cutting = toPaths(clip);
        all.insert(all.end(), cutting.begin(), cutting.end());
        refuseTangles(all);
        ClipperLib::Clipper clipper;
        clipper.AddPaths(paths, ClipperLib::ptSubject, true);
        clipper.AddPaths(cutting, ClipperLib::ptClip, true);
        FixedPaths out;
        clipper.Execute(ClipperLib::ctIntersection, out, ClipperLib::pftNonZero, ClipperLib::pftNonZero);
        paths = united(out, FillRule::nonZero);
    }
    return toOutline(paths, outline.step);
}

Outline unitedOf(const std::vector<Outline>& outlines) {
    FixedPaths paths;
    for (const Outline& outline : outlines)
        for (FixedPath& path : toPaths(outline)) paths.push_back(std::move(path));
    return toOutline(united(paths, FillRule::nonZero), outlines.empty() ? 1e-6 : outlines.front().step);
}

Outline stroked(const FlatContours& lines, const std::vector<bool>& closed, const Stroke& stroke, double step, Progress* progress) {
    const auto join = stroke.join == StrokeJoin::round   ? ClipperLib::jtRound
                      : stroke.join == StrokeJoin::bevel ? ClipperLib::jtSquare
                                                         : ClipperLib::jtMiter;
    const auto cap = stroke.cap == StrokeCap::round    ? ClipperLib::etOpenRound
                     : stroke.cap == StrokeCap::square ? ClipperLib::etOpenSquare
                                                       : ClipperLib::etOpenButt;
    FixedPaths paths;
    for (const auto& line : lines) paths.push_back(toPath(line, step));
    FixedPaths out;
    const double half = stroke.width / step / 2;
    // The pen reaches beyond its line by half its width, or further in a mitre.
    for (const auto& group : pathsApart(paths, half * std::max(2.0, stroke.miterLimit))) {
        if (progress) progress->check();
        ClipperLib::ClipperOffset offset(std::max(1.0, stroke.miterLimit), std::max(0.25, stroke.width / step * 0.002));
        FixedPaths together;
        for (const std::size_t i : group) {
            offset.AddPath(paths[i], join, closed[i] ? ClipperLib::etClosedLine : cap);
            together.push_back(paths[i]);
        }
        refuseTangles(together);
        FixedPaths covered;
        offset.Execute(covered, half);
        for (FixedPath& path : covered) out.push_back(std::move(path));
    }
    return toOutline(united(out, FillRule::nonZero, progress), step);
}

Mesh extrude(const Outline& outline, const Extrusion& extrusion, Progress* progress) {
    glm::dvec2 low(1e300), high(-1e300);
    for (const auto& contour : outline.contours)
        for (const auto& p : contour) {
            low = glm::min(low, glm::dvec2(p) * outline.step);
            high = glm::max(high, glm::dvec2(p) * outline.step);
        }
    Builder builder{{}, outline.step, glm::vec2(low), glm::max(glm::vec2(high - low), glm::vec2(1e-20f)), {}};
    const auto parts = islands(toPaths(outline));
    for (std::size_t part = 0; part < parts.size(); ++part) {
        if (progress) progress->check(), progress->report(static_cast<double>(part) / static_cast<double>(parts.size()));
        const FixedPaths& island = parts[part];
        const auto layers = layersOf(island, extrusion, outline.step);
        for (std::size_t k = 0; k < layers.size(); ++k) {
            const bool last = k + 1 == layers.size();
            builder.addBand(layers[k], last ? nullptr : &layers[k + 1], last);
        }
        if (layers.front().z <= 0) continue;  // the bevels meet in the middle
        for (const FixedPath& contour : layers.front().paths) builder.addWall(contour, layers.front().z);
    }
    return withNormals(builder.mesh, 38);
}

std::vector<std::uint32_t> fillPolygons(const FlatContours& contours) { return Tessellator().fill(contours); }

}  // namespace gswarm
