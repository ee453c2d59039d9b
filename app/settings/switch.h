#pragma once
#include <QAbstractButton>

/// On or off: a small track with a knob.
class Switch : public QAbstractButton {
    Q_OBJECT

  public:
    explicit Switch(QWidget* parent);
    QSize sizeHint() const override { return {30, 18}; }

  protected:
    void paintEvent(QPaintEvent*) override;
};
