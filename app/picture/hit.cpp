#include "app/picture/hit.h"

#include <algorithm>
#include <QLineF>

#include "core/picture/draw_list.h"

using namespace gswarm;

namespace hit {
namespace {

glm::vec3 corner(const Bounds& b, int which) {
    return {which & 1 ? b.low.x : b.high.x, which & 2 ? b.low.y : b.high.y, which & 4 ? b.low.z : b.high.z};
}

/// An instance's own metres into the world, in the copy that stands there.
glm::vec3 worldOf(const Result& result, std::uint32_t row, const glm::mat4& stand, const glm::vec3& p) {
    return glm::vec3(stand * (matrixOf(result, row) * glm::vec4(p, 1)));
}

/// Where a swarm's copies by symmetry stand, the original first.
std::vector<glm::mat4> standsOf(const Result& result) {
    std::vector<glm::mat4> stands;
    for (std::uint32_t copy = 0; copy < result.copies.size(); ++copy) stands.push_back(standOf(result, copy));
    return stands;
}

/// Andrew's monotone chain.
QPolygonF hullOf(QPolygonF points) {
    if (points.size() < 3) return {};
    std::sort(points.begin(), points.end(),
              [](const QPointF& a, const QPointF& b) { return a.x() != b.x() ? a.x() < b.x() : a.y() < b.y(); });
    QPolygonF hull;
    const auto turns = [](const QPointF& o, const QPointF& a, const QPointF& b) {
        return (a.x() - o.x()) * (b.y() - o.y()) - (a.y() - o.y()) * (b.x() - o.x());
    };
    const auto add = [&](const QPointF& p, qsizetype least) {
        while (hull.size() >= least + 2 && turns(hull[hull.size() - 2], hull.back(), p) <= 0) hull.removeLast();
        hull << p;
    };
    for (const QPointF& p : points) add(p, 0);
    const qsizetype lower = hull.size() - 1;
    for (qsizetype k = points.size() - 2; k >= 0; --k) add(points[k], lower);
    hull.removeLast();
    return hull;
}

/// Projects many places: the matrix is made once.
struct Projector {
    Projector(const ViewCamera& view, QSizeF size)
        : viewport(size),
          toClip(view.matrix(static_cast<float>(size.width() / size.height()))),
          eye(view.camera().position),
          forward(glm::normalize(view.target - eye)),
          parallel(view.parallel),
          metresPerPixelAtTarget(view.metresPerPixel(view.target, size)),
          distance(std::max(view.distance, 0.01f)) {}
    /// The pixel, and how deep the place lies.
    std::optional<std::pair<QPointF, float>> operator()(const glm::vec3& world) const {
        const glm::vec4 clip = toClip * glm::vec4(world, 1);
        if (clip.w <= 1e-4f) return std::nullopt;
        return std::pair(QPointF((clip.x / clip.w * 0.5 + 0.5) * viewport.width(), (0.5 - clip.y / clip.w * 0.5) * viewport.height()),
                         glm::dot(world - eye, forward));
    }
    float metresPerPixel(float depth) const { return parallel ? metresPerPixelAtTarget : metresPerPixelAtTarget / distance * depth; }

    QSizeF viewport;
    glm::mat4 toClip;
    glm::vec3 eye, forward;
    bool parallel;
    float metresPerPixelAtTarget, distance;
};

QPolygonF outlineBy(const Projector& project, const Result& result, std::uint32_t row, const glm::mat4& stand) {
    const std::uint16_t variant = result.columns->variant[row];
    if (variant == notShown) return {};
    QPolygonF points;
    for (int k = 0; k < 8; ++k) {
        const auto at = project(worldOf(result, row, stand, corner(result.variants[variant].meshes->bounds, k)));
        if (!at) return {};
        points << at->first;
    }
    return hullOf(points);
}

}  // namespace

std::vector<QPolygonF> outlinesOf(const Result& result, std::uint32_t row, const ViewCamera& view, QSizeF viewport) {
    const Projector project(view, viewport);
    std::vector<QPolygonF> outlines;
    for (const glm::mat4& stand : standsOf(result))
        if (QPolygonF outline = outlineBy(project, result, row, stand); !outline.isEmpty()) outlines.push_back(std::move(outline));
    return outlines;
}

QPolygonF middlesOf(const Result& result, const std::vector<std::uint32_t>& rows, const ViewCamera& view, QSizeF viewport) {
    const Projector project(view, viewport);
    const auto stands = standsOf(result);
    QPolygonF middles;
    for (const std::uint32_t row : rows) {
        const std::uint16_t variant = result.columns->variant[row];
        if (variant == notShown) continue;
        for (const glm::mat4& stand : stands)
            if (const auto at = project(worldOf(result, row, stand, result.variants[variant].meshes->bounds.centre())))
                middles << at->first;
    }
    return middles;
}

namespace {

/// Looks for an instance in one copy of a swarm that lies nearer than `nearest`.
void findIn(const Result& r, const glm::mat4& stand, const Projector& project, QPointF pixel, float& nearest,
            std::optional<Instance>& found) {
    std::vector<float> half;  // of each variant's size, as if unscaled
    for (const Variant& variant : r.variants) half.push_back(glm::length(variant.meshes->bounds.size()) * 0.5f * scaleOf(stand));
    for (std::uint32_t row = 0; row < static_cast<std::uint32_t>(r.count); ++row) {
        const std::uint16_t variant = r.columns->variant[row];
        if (variant == notShown) continue;
        const auto at = project(worldOf(r, row, stand, r.variants[variant].meshes->bounds.centre()));
        if (!at || at->second >= nearest) continue;
        const float* m = &r.columns->matrix[12 * static_cast<std::size_t>(row)];
        const float scale = std::max({std::abs(m[0]) + std::abs(m[4]) + std::abs(m[8]), std::abs(m[1]) + std::abs(m[5]) + std::abs(m[9]),
                                      std::abs(m[2]) + std::abs(m[6]) + std::abs(m[10])});
        // Those that are far too far away are told cheaply; the others by their outline. Very small ones get a few pixels.
        const double pixels = half[variant] * scale / project.metresPerPixel(at->second);
        const double away = QLineF(at->first, pixel).length();
        if (away > std::max(4.0, pixels)) continue;
        if (away > 3 && !outlineBy(project, r, row, stand).containsPoint(pixel, Qt::OddEvenFill)) continue;
        float depth = at->second;
        if (const auto& inner = r.variants[variant].inner) {
            // Its box is mostly air: what it shows is asked.
            depth = nearest;
            std::optional<Instance> inside;
            for (const glm::mat4& copy : inner->copies) findIn(*inner, stand * matrixOf(r, row) * copy, project, pixel, depth, inside);
            if (!inside) continue;
        }
        nearest = depth;
        found = {r.swarm, r.variants[variant].shape, row};
    }
}

}  // namespace

std::optional<Instance> instanceAt(const Evaluated& evaluated, const ViewCamera& view, QSizeF viewport, QPointF pixel) {
    std::optional<Instance> found;
    float nearest = 1e30f;
    const Projector project(view, viewport);
    for (const auto& r : evaluated.swarms)
        if (r->shown)
            for (const glm::mat4& stand : standsOf(*r)) findIn(*r, stand, project, pixel, nearest, found);
    return found;
}

std::vector<std::uint32_t> instancesIn(const Result& result, const ViewCamera& view, QSizeF viewport, const QRectF& rect) {
    const Projector project(view, viewport);
    const auto stands = standsOf(result);
    std::vector<std::uint32_t> rows;
    for (std::uint32_t row = 0; row < static_cast<std::uint32_t>(result.count); ++row) {
        const std::uint16_t variant = result.columns->variant[row];
        if (variant == notShown) continue;
        const glm::vec3 middle = result.variants[variant].meshes->bounds.centre();
        if (std::any_of(stands.begin(), stands.end(), [&](const glm::mat4& stand) {
                const auto at = project(worldOf(result, row, stand, middle));
                return at && rect.contains(at->first);
            }))
            rows.push_back(row);
    }
    return rows;
}

ObjectId backdropAt(const Evaluated& evaluated, const ViewCamera& view, QSizeF viewport, QPointF pixel) {
    for (const auto& r : evaluated.swarms)
        for (const Backdrop& backdrop : r->backdrops) {
            if (!r->shown && !backdrop.alone) continue;
            const std::size_t copies = backdrop.copied ? r->copies.size() : 1;
            for (std::size_t copy = 0; copy < copies; ++copy) {
                QPolygonF corners;
                for (int k = 0; k < 8; ++k) {
                    const glm::vec4 own(corner(backdrop.meshes->bounds, k), 1);
                    const glm::vec3 world(matrixOf(backdrop.pose) * (r->copies[copy] * own));
                    if (const auto at = view.project(world, viewport)) corners << *at;
                }
                if (corners.boundingRect().contains(pixel)) return backdrop.shape;
            }
        }
    return {};
}

}  // namespace hit
