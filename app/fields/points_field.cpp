#include "app/fields/points_field.h"

#include <algorithm>
#include <QHBoxLayout>
#include <QLabel>
#include <QToolButton>

#include "app/fields/number_field.h"
#include "app/theme/theme.h"

using namespace gswarm;

namespace {

constexpr std::size_t mostRows = 12;

/// A coordinate as a parameter of its own, so that it is typed and dragged like any other.
const Parameter& coordinate() {
    static const Parameter parameter = [] {
        Parameter p;
        p.label = "Point";
        p.type = ParameterType::length;
        p.unit = "m";
        p.standard = fixedNumbers({0});
        p.suggested = {-10, 10};
        p.components = 3;
        return p;
    }();
    return parameter;
}

}  // namespace

PointsField::PointsField(QWidget* parent) : QWidget(parent) {
    column_ = new QVBoxLayout(this);
    column_->setContentsMargins(0, 0, 0, 0);
    column_->setSpacing(2);
    further_ = new QLabel(this);
    further_->setObjectName("furtherPoints");
    further_->setStyleSheet("color: #a3967f;");
    further_->hide();
    column_->addWidget(further_);
}

void PointsField::insertBehind(std::size_t point) {
    Points points = points_;
    const auto& here = points[point];
    const bool last = point + 1 == points.size();
    const auto& next = last ? points[point - 1] : points[point + 1];
    std::array<double, 3> fresh;
    // Halfway to the next, or as far again as the last step.
    for (std::size_t c = 0; c < 3; ++c) fresh[c] = last ? 2 * here[c] - next[c] : (here[c] + next[c]) / 2;
    points.insert(points.begin() + static_cast<std::ptrdiff_t>(point) + 1, fresh);
    emit edited(points);
    emit finished();
}

void PointsField::addRow() {
    const std::size_t point = rows_.size();
    auto* row = new QWidget(this);
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(2);
    fields_.emplace_back();
    for (std::size_t c = 0; c < 3; ++c) {
        auto* field = new NumberField(coordinate(), 25, row);
        field->setObjectName(QString("point-%1-%2").arg(point + 1).arg("xyz"[c]));
        line->addWidget(field);
        fields_.back().push_back(field);
        connect(field, &NumberField::edited, this, [this, point, c](double v) {
            Points points = points_;
            points[point][c] = v;
            emit edited(points);
        });
        connect(field, &NumberField::finished, this, &PointsField::finished);
        connect(field, &NumberField::trouble, this, &PointsField::trouble);
    }
    const auto button = [&](const char* icon, const QString& tip) {
        auto* made = new QToolButton(row);
        made->setIcon(theme::icon(icon, theme::quiet));
        made->setToolTip(tip);
        made->setAccessibleName(tip);
        made->setFixedWidth(20);
        line->addWidget(made);
        return made;
    };
    auto* more = button("plus", "A further point behind this one");
    more->setObjectName(QString("addPoint-%1").arg(point + 1));
    connect(more, &QToolButton::clicked, this, [this, point] { insertBehind(point); });
    connect(button("close", "Take this point away"), &QToolButton::clicked, this, [this, point] {
        Points points = points_;
        points.erase(points.begin() + static_cast<std::ptrdiff_t>(point));
        emit edited(points);
        emit finished();
    });
    column_->insertWidget(static_cast<int>(point), row);
    rows_.push_back(row);
}

void PointsField::show(const Points& points) {
    points_ = points;
    const std::size_t wanted = std::min(points.size(), mostRows);
    while (rows_.size() < wanted) addRow();
    further_->setVisible(points.size() > wanted);
    further_->setText(QString("and %1 more, to be dragged in the view").arg(points.size() - wanted));
    for (std::size_t r = 0; r < rows_.size(); ++r) {
        rows_[r]->setVisible(r < wanted);
        for (std::size_t c = 0; c < 3 && r < wanted; ++c) fields_[r][c]->show(points[r][c], NumberField::Mark::none);
    }
}
