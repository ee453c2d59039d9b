#include "app/settings/formation_sketch.h"

#include <algorithm>
#include <cmath>
#include <QPainter>

#include "app/theme/theme.h"
#include "core/edit/edit.h"
#include "core/formation/formation_kind.h"
#include "core/kinds/registry.h"

using namespace gswarm;

namespace {

/// A swarm that shows what the formation is: a few dozen instances on a shape of its own.
Scene sampleScene(const Kind& kind) {
    Edit edit = addSwarm(emptyScene());
    const ObjectId formation = edit.scene.at(edit.made).list("formations").front();
    const bool standsOnSwarm = std::any_of(kind.parameters.begin(), kind.parameters.end(), [](const Parameter& p) {
        return !p.references.empty() && p.references.front() == ObjectType::swarm;
    });
    ObjectId shown = formation;
    if (standsOnSwarm) {
        edit = addSwarm(edit.scene);
        edit.scene = setKind(edit.scene, formation, "formation", hexagonsFormation).scene;
        edit.scene = setNumber(edit.scene, addressOf(edit.scene, formation, "rings"), 3, 0).scene;
        shown = edit.scene.at(edit.made).list("formations").front();
    }
    Scene scene = setFormation(edit.scene, shown, kind).scene;
    for (const auto& [parameter, value] : static_cast<const FormationKind&>(kind).sample)
        scene = setValue(scene, addressOf(scene, shown, parameter), value).scene;
    return scene;
}

/// From the quiet brown of what is far to the ivory of what is near.
QColor shade(double near) {
    const QColor &a = theme::weightLow, &b = theme::ivory;
    return QColor::fromRgbF(a.redF() + (b.redF() - a.redF()) * near, a.greenF() + (b.greenF() - a.greenF()) * near,
                            a.blueF() + (b.blueF() - a.blueF()) * near);
}

}  // namespace

FormationSketch::FormationSketch(const Kind& kind, QWidget* parent) : QPushButton(parent), kind_(kind) {
    setObjectName("formation-" + QString::fromStdString(kind.id));
    setStyleSheet("min-width: 148px; max-width: 148px; min-height: 104px; max-height: 104px; padding: 0; border: none;");
    setAccessibleName(QString::fromStdString(kind.label));
    setToolTip(QString::fromStdString(kind.summary));
    const Scene scene = sampleScene(kind);
    static Evaluator evaluator(1);
    Progress progress;
    struct Dot {
        QPointF at;
        float depth;
    };
    std::vector<Dot> dots;
    try {
        const auto swarms = scene.all(ObjectType::swarm);
        const auto result = evaluator.evaluate(scene, swarms.back(), 0, {}, progress);
        const glm::vec3 middle = result->bounds.centre();
        for (int i = 0; i < result->count; ++i) {
            const float* m = &result->columns->matrix[12 * static_cast<std::size_t>(i)];
            const glm::vec3 p = glm::vec3(m[3], m[7], m[11]) - middle;
            // Seen from above the right, without perspective.
            const float x = p.x * 0.82f + p.z * 0.57f, depth = -p.x * 0.5f + p.z * 0.72f + p.y * 0.42f;
            dots.push_back({QPointF(x, p.x * 0.24f - p.z * 0.34f - p.y * 0.91f), depth});
        }
    } catch (const std::exception&) {
        // A formation that reads a file has none here: it shows a sheet of rows instead of dots.
    }
    std::sort(dots.begin(), dots.end(), [](const Dot& a, const Dot& b) { return a.depth < b.depth; });
    QRectF bounds;
    for (const Dot& d : dots) bounds |= QRectF(d.at - QPointF(0.01, 0.01), QSizeF(0.02, 0.02));
    const double scale = 2 / std::max({bounds.width(), bounds.height() * 1.7, 1e-6});
    for (const Dot& d : dots) {
        dots_.push_back((d.at - bounds.center()) * scale);
        const float span = dots.back().depth - dots.front().depth;
        nearness_.push_back(span > 0 ? (d.depth - dots.front().depth) / span : 1);
    }
}

void FormationSketch::setCount(const QString& text, bool trouble) {
    count_ = text;
    trouble_ = trouble;
    update();
}

void FormationSketch::setCurrent(bool current) {
    current_ = current;
    update();
}

void FormationSketch::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(current_ || hasFocus() ? theme::gold : underMouse() ? theme::quiet : theme::line, current_ ? 1.5 : 1));
    painter.setBrush(theme::panel);
    painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
    const QPointF middle(width() / 2.0, 36);
    painter.setPen(Qt::NoPen);
    const double size = dots_.size() > 60 ? 1.6 : dots_.size() > 30 ? 2.1 : 2.6;
    for (std::size_t i = 0; i < dots_.size(); ++i) {
        const double near = nearness_[i];
        painter.setBrush(shade(0.25 + 0.75 * near));
        painter.drawEllipse(middle + dots_[i] * 50, size * (0.75 + 0.35 * near), size * (0.75 + 0.35 * near));
    }
    if (dots_.empty()) {
        painter.setPen(QPen(theme::quiet, 1.5));
        for (int line = 0; line < 5; ++line)
            painter.drawLine(QPointF(width() / 2.0 - 22, 18 + line * 9), QPointF(width() / 2.0 + (line == 4 ? 4 : 22), 18 + line * 9));
    }
    painter.setFont(theme::text(13, QFont::DemiBold));
    painter.setPen(theme::ivory);
    painter.drawText(QRectF(8, 68, width() - 16, 18),
                     painter.fontMetrics().elidedText(QString::fromStdString(kind_.label), Qt::ElideRight, width() - 16));
    painter.setFont(theme::text(11));
    painter.setPen(trouble_ ? theme::coral : theme::quiet);
    painter.drawText(QRectF(8, 84, width() - 16, 16), painter.fontMetrics().elidedText(count_, Qt::ElideRight, width() - 16));
}
