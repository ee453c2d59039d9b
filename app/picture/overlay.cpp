#include "app/picture/overlay.h"

#include <algorithm>
#include <cmath>
#include <QPainter>
#include <QPainterPath>

#include "app/document/document.h"
#include "app/picture/hit.h"
#include "app/picture/view_request.h"
#include "app/theme/theme.h"
#include "core/picture/view.h"
#include "core/provide/placing.h"
#include "core/scene/frame_range.h"

using namespace gswarm;

namespace overlay {

void paintText(QPainter& painter, QPointF at, const QString& text) {
    painter.setPen(theme::ink);
    for (const QPointF& aside : {QPointF(1, 1), QPointF(-1, 1), QPointF(1, -1), QPointF(-1, -1)}) painter.drawText(at + aside, text);
    painter.setPen(theme::ivory);
    painter.drawText(at, text);
}

void paintLine(const Over& over, const std::vector<glm::vec3>& places, const QPen& pen) {
    QPolygonF line;
    for (const auto& place : places)
        if (const auto at = over.view.project(place, over.viewport)) line << *at;
    over.painter.setBrush(Qt::NoBrush);
    over.painter.setPen(QPen(theme::ink, pen.widthF() + 2));
    over.painter.drawPolyline(line);
    over.painter.setPen(pen);
    over.painter.drawPolyline(line);
}

void paintZone(const Over& over, ObjectId zone, const ZoneLines& surface, const ZoneLines& core, bool chosen) {
    const Scene& scene = over.document.scene();
    const QColor colour = chosen ? theme::ivory : theme::verdigris;
    for (const auto& line : surface) paintLine(over, line, QPen(colour, 1));
    for (const auto& line : core) paintLine(over, line, QPen(colour, 1, Qt::DotLine));
    const FrameRange range = framesOf(scene);
    over.painter.setPen(Qt::NoPen);
    over.painter.setBrush(theme::ivory);
    for (const auto& place : handles::path(scene, zone, range.first, range.last, over.document.store()))
        if (const auto at = over.view.project(place, over.viewport)) over.painter.drawEllipse(*at, 1.2, 1.2);
}

void paintForces(const Over& over, const Evaluated& evaluated) {
    for (const ForceLines& force : evaluated.forces) {
        const QColor colour = force.force == over.document.chosen() ? theme::ivory : theme::verdigris;
        for (const auto& line : force.lines) paintLine(over, line, QPen(colour, 1));
    }
}

void paintColliders(const Over& over, const std::vector<ZoneLines>& colliders, const Result& result,
                    const std::vector<std::uint32_t>& rows) {
    constexpr std::size_t mostDrawn = 60;
    const glm::mat4 stand = standOf(result, 0);
    for (std::size_t k = 0; k < std::min(rows.size(), mostDrawn); ++k) {
        const std::uint16_t variant = result.columns->variant[rows[k]];
        if (variant == notShown || variant >= colliders.size()) continue;
        const glm::mat4 place = stand * matrixOf(result, rows[k]);
        for (const auto& line : colliders[variant]) {
            std::vector<glm::vec3> world;
            for (const glm::vec3& p : line) world.push_back(glm::vec3(place * glm::vec4(p, 1)));
            paintLine(over, world, QPen(theme::verdigris, 1));
        }
    }
}

void paintLamps(const Over& over, const std::shared_ptr<const Result>& swarm) {
    constexpr std::size_t mostDrawn = 64;
    const Scene& scene = over.document.scene();
    std::size_t drawn = 0;
    if (swarm)
        for (const Lamp& lamp : lampsOf(swarm, mostDrawn))
            for (const auto& line : outlineOf(lamp)) {
                std::vector<glm::vec3> world;
                for (const glm::vec3& p : line) world.push_back(lamp.position + turnOf(lamp) * p);
                paintLine(over, world, QPen(theme::quiet, 1));
            }
    for (const ObjectId light : scene.all(ObjectType::light)) {
        if (isRepeated(scene, light)) continue;
        if (drawn++ == mostDrawn) return;
        const QColor colour = light == over.document.handled() ? theme::ivory : theme::quiet;
        for (const auto& line : handles::lampLines(scene, light, over.document.frame(), over.document.store()))
            paintLine(over, line, QPen(colour, 1));
    }
}

void paintWarp(const Over& over) {
    if (!over.document.handled() || !over.document.scene().find(over.document.handled())) return;
    for (const auto& line :
         handles::warpLines(over.document.scene(), over.document.handled(), over.document.frame(), over.document.store()))
        paintLine(over, line, QPen(theme::ivory, 1, Qt::DotLine));
    for (const auto& line :
         handles::patternLines(over.document.scene(), over.document.handled(), over.document.frame(), over.document.store()))
        paintLine(over, line, QPen(theme::ivory, 1));
    constexpr float share = 0.15f;  // of the way from the eye to what is looked at
    for (const auto& line : handles::symmetryLines(over.document.scene(), over.document.handled(), over.document.frame(),
                                                   share * over.view.distance, over.document.store()))
        paintLine(over, line, QPen(theme::ivory, 1, Qt::DotLine));
}

void paintCameras(const Over& over) {
    constexpr float fromBehind = 0.97f;  // of the cosine between two ways of looking
    const Scene& scene = over.document.scene();
    const glm::vec3 looking = glm::normalize(over.view.camera().target - over.view.camera().position);
    const auto aspect = static_cast<float>(pictureAspect(scene));
    for (const ObjectId id : scene.all(ObjectType::camera)) {
        const Camera camera = cameraAt(scene, id, over.document.frame(), over.document.store());
        const glm::vec3 eye = camera.position, way = camera.target - eye;
        if (glm::length(way) < 1e-4f || glm::length(eye - over.view.camera().position) < 0.01f * over.view.distance) continue;
        // From behind it would cover what both look at.
        if (id != over.document.handled() && glm::dot(glm::normalize(way), looking) > fromBehind) continue;
        const glm::mat4 toWorld = glm::inverse(viewMatrix(camera));
        const bool parallel = camera.projection == Projection::parallel;
        const float length = std::min(glm::length(way), 1.5f), half = parallel ? camera.width / 2 : 18 / camera.focalLength * length;
        const glm::vec3 right = glm::vec3(toWorld[0]) * half, up = glm::vec3(toWorld[1]) * (half / aspect),
                        middle = eye + glm::normalize(way) * length;
        const std::vector<glm::vec3> far{middle - right - up, middle + right - up, middle + right + up, middle - right + up};
        const QPen pen(id == over.document.handled() ? theme::ivory : theme::quiet, 1);
        paintLine(over, {far[0], far[1], far[2], far[3], far[0]}, pen);
        for (const glm::vec3& corner : far) paintLine(over, {parallel ? corner - (middle - eye) : eye, corner}, pen);
        // Which way is up.
        paintLine(over, {far[3], middle + up * 1.35f, far[2]}, pen);
        if (id == over.document.handled()) paintLine(over, {middle, camera.target}, QPen(pen.color(), 1, Qt::DotLine));
    }
}

/// Of the output frame, or of a share of it about its middle.
static QRectF frameIn(const Over& over, double share) {
    const double aspect = pictureAspect(over.document.scene()), width = over.viewport.width(), height = over.viewport.height();
    const double h = std::min(height, width / aspect), w = h * aspect;
    return {(width - w * share) / 2, (height - h * share) / 2, w * share, h * share};
}

void paintOutside(const Over& over) {
    QPainterPath outside;
    outside.addRect(QRectF({0, 0}, over.viewport));
    outside.addRect(frameIn(over, 1));
    over.painter.fillPath(outside, QColor(0, 0, 0, 150));
}

void paintFrame(const Over& over, bool safeAreas) {
    over.painter.setBrush(Qt::NoBrush);
    const auto frame = [&](double share, Qt::PenStyle style) {
        over.painter.setPen(QPen(theme::ivory, 1, style));
        over.painter.drawRect(frameIn(over, share).adjusted(0.5, 0.5, -0.5, -0.5));
    };
    frame(1, Qt::DashLine);
    if (!safeAreas) return;
    frame(0.93, Qt::DotLine);
    frame(0.90, Qt::DotLine);
}

void paintCurves(const Over& over, const Evaluated& evaluated, const std::vector<ObjectId>& shapes) {
    for (const auto& result : evaluated.swarms)
        for (const Backdrop& backdrop : result->backdrops)
            for (const Curve& curve : backdrop.meshes->curves) {
                if (std::find(shapes.begin(), shapes.end(), backdrop.shape) == shapes.end()) continue;
                std::vector<glm::vec3> places;
                for (const glm::vec3& p : curve.points) places.push_back(backdrop.pose.toWorld(p));
                if (curve.closed && !places.empty()) places.push_back(places.front());
                paintLine(over, places, QPen(theme::ivory, 1));
            }
}

void paintHandles(const Over& over, const std::vector<handles::Handle>& all, handles::Mode mode, const QString& held) {
    if (all.empty()) return;
    QPainter& painter = over.painter;
    const glm::vec3 middle =
        handles::poseOf(over.document.scene(), over.document.handled(), over.document.frame(), over.document.store()).position;
    painter.setFont(theme::numbers(11));
    for (const auto& handle : all) {
        const auto at = over.view.project(handle.place, over.viewport);
        if (!at) continue;
        if (handle.parameter != "points" && (mode != handles::Mode::size || handle.name == "thickness" || handle.name == "scale"))
            paintLine(over, {middle, handle.place}, QPen(theme::ivory, 1));
        painter.setPen(QPen(theme::ink, 1.5));
        painter.setBrush(held == handle.name ? theme::gold : theme::ivory);
        if (mode == handles::Mode::size)
            painter.drawRect(QRectF(at->x() - 4.5, at->y() - 4.5, 9, 9));
        else
            painter.drawEllipse(*at, 5, 5);
        const QString said = handle.name == "free"       ? QString()
                             : handle.name == "softEdge" ? QString("soft edge")
                             : handle.name.size() == 1   ? handle.name.toUpper()
                                                         : handle.name;
        paintText(painter, *at + QPointF(9, 4), said);
    }
}

void paintNumbers(const Over& over, const Result& result) {
    over.painter.setFont(theme::numbers(10));
    const int stride = std::max(1, result.count / 600);
    for (int row = 0; row < result.count; row += stride) {
        if (result.columns->variant[static_cast<std::size_t>(row)] == notShown) continue;
        const float* m = &result.columns->matrix[12 * static_cast<std::size_t>(row)];
        const auto at = over.view.project(result.pose.toWorld({m[3], m[7], m[11]}), over.viewport);
        if (!at || !QRectF(QPointF(), over.viewport).contains(*at)) continue;
        paintText(over.painter, *at, QString::number(result.home.orderOf(row)));
    }
}

void paintChosen(const Over& over, const Result& result, const std::vector<std::uint32_t>& rows) {
    constexpr std::size_t mostOutlined = 250;
    over.painter.setBrush(Qt::NoBrush);
    if (rows.size() * result.copies.size() > mostOutlined) {
        const QPolygonF middles = hit::middlesOf(result, rows, over.view, over.viewport);
        over.painter.save();
        over.painter.setRenderHint(QPainter::Antialiasing, false);
        over.painter.setPen(QPen(theme::ink, 4));
        over.painter.drawPoints(middles);
        over.painter.setPen(QPen(theme::ivory, 2));
        over.painter.drawPoints(middles);
        over.painter.restore();
        return;
    }
    std::vector<QPolygonF> outlines;
    for (const std::uint32_t row : rows)
        for (QPolygonF& outline : hit::outlinesOf(result, row, over.view, over.viewport)) outlines.push_back(std::move(outline));
    over.painter.setPen(QPen(theme::ink, 3.5, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    for (const QPolygonF& outline : outlines) over.painter.drawPolygon(outline);
    over.painter.setPen(QPen(theme::ivory, 1.4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    for (const QPolygonF& outline : outlines) over.painter.drawPolygon(outline);
}

void paintVariations(const Over& over, const Evaluated& evaluated, int under) {
    QPainter& painter = over.painter;
    const QSize whole = over.viewport.toSize();
    const auto& number = over.document.session().variations();
    const QString unit = number ? QString::fromStdString(parameterAt(over.document.scene(), number->number).unit) : QString();
    painter.setFont(theme::numbers(12));
    for (std::size_t k = 0; k < evaluated.variations.size(); ++k) {
        const QRect tile = variationRect(static_cast<int>(k), whole);
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(theme::ink, 2));
        painter.drawRect(tile);
        if (static_cast<int>(k) == under) {
            painter.setPen(QPen(theme::gold, 1.5));
            painter.drawRect(QRectF(tile).adjusted(2, 2, -2, -2));
        }
        const double value = std::round(evaluated.variations[k].value * 1000) / 1000;
        paintText(painter, QPointF(tile.left() + 8, tile.bottom() - 8), QString::number(value) + (unit.isEmpty() ? "" : " " + unit));
    }
}

void paintWork(QPainter& painter, const QRectF& box, const QString& work, double done) {
    painter.setPen(QPen(theme::line, 1));
    painter.setBrush(theme::panel);
    painter.drawRoundedRect(box, 4, 4);
    painter.setFont(theme::text(13));
    painter.setPen(theme::ivory);
    painter.drawText(box.adjusted(12, 6, -96, -18), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(work, Qt::ElideRight, static_cast<int>(box.width()) - 112));
    painter.fillRect(QRectF(box.left() + 12, box.bottom() - 12, box.width() - 112, 4), theme::line);
    painter.fillRect(QRectF(box.left() + 12, box.bottom() - 12, (box.width() - 112) * done, 4), theme::gold);
}

}  // namespace overlay
