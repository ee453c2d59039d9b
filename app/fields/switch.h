#pragma once
#include <QAbstractButton>

/// On or off: a small track with a knob.
class Switch : public QAbstractButton {
    Q_OBJECT

  public:
    explicit Switch(QWidget* parent);
    QSize sizeHint() const override { return {30, 18}; }
    /// A keyed switch has a diamond in its knob.
    void showKeyed(bool keyed);

  signals:
    void keyAsked();  ///< K: wants a key here, or to lose it

  protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    bool keyed_ = false;
};
