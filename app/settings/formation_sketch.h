#pragma once
#include <QPushButton>
#include <vector>

#include "core/evaluate/evaluator.h"

/// One formation in the picker: its name and a small picture of what it does, made by the formation itself.
class FormationSketch : public QPushButton {
    Q_OBJECT

  public:
    FormationSketch(const gswarm::Kind& kind, QWidget* parent);
    const gswarm::Kind& kind() const { return kind_; }
    void setCount(const QString& text, bool trouble);
    void setCurrent(bool current);

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    const gswarm::Kind& kind_;
    std::vector<QPointF> dots_;    ///< −1 … 1 each way, far ones first
    std::vector<float> nearness_;  ///< 0 … 1 for each
    QString count_;
    bool trouble_ = false, current_ = false;
};
