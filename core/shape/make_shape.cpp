#include <cmath>

#include "core/base/error.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

std::shared_ptr<const Mesh> finished(Mesh mesh) {
    if (mesh.triangleCount() > mostTriangles)
        throw Error("It would have more triangles than the limit of 20 million; lower its divisions.");
    for (const auto& p : mesh.positions)
        if (!std::isfinite(p.x) || !std::isfinite(p.y) || !std::isfinite(p.z))
            throw Error("It has a corner at a place that is not a valid number; change its sizes.");
    addTangents(mesh);
    return std::make_shared<const Mesh>(std::move(mesh));
}

}  // namespace

bool gives(const ShapeKind& kind, Needs needs) {
    switch (needs) {
        case Needs::anything:
            return true;
        case Needs::curve:
            return kind.curves;
        case Needs::surface:
        case Needs::faces:
            return kind.surface;
        case Needs::closedMesh:
            return kind.closed;
    }
    return false;
}

ShapeMeshes makeShape(const ShapeKind& kind, const void* data, const ShapeSource& source) {
    ShapeMeshes out;
    for (int detail = 0; detail < detailLevels; ++detail) {
        const auto d = static_cast<std::size_t>(detail);
        if (detail > 0 && !kind.levels) {
            out.level[d] = out.level[0];
            continue;
        }
        if (source.progress) source.progress->check();
        ShapeForm form = kind.make(data, detail, source);
        out.level[d] = finished(std::move(form.mesh));
        if (detail > 0) continue;
        out.curves = std::move(form.curves);
        out.note = std::move(form.note);
    }
    out.bounds = boundsOf(out.mesh());
    if (out.bounds.empty())
        for (const Curve& curve : out.curves)
            for (const auto& p : curve.points) out.bounds.add(p);
    return out;
}

}  // namespace gswarm
