#pragma once
#include <QWidget>
#include <vector>

#include "core/scene/kind.h"

class NumberField;
class QLabel;
class QVBoxLayout;

/// The points of a path as rows of three numbers, with one to add and take away each. Many points show their first
/// dozen; the others are dragged in the picture.
class PointsField : public QWidget {
    Q_OBJECT

  public:
    explicit PointsField(QWidget* parent);
    void show(const gswarm::Points& points);

  signals:
    void edited(const gswarm::Points& points);
    void finished();
    void trouble(const QString& sentence);

  private:
    void addRow();
    void insertBehind(std::size_t point);

    gswarm::Points points_;
    QLabel* further_;  ///< how many have no row
    QVBoxLayout* column_;
    std::vector<QWidget*> rows_;
    std::vector<std::vector<NumberField*>> fields_;
};
