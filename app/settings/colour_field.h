#pragma once
#include <QColor>
#include <QWidget>

class QLineEdit;
class QPushButton;

/// A colour: a swatch and its hex text; the swatch unfolds hue, saturation and brightness in place.
class ColourField : public QWidget {
    Q_OBJECT

  public:
    explicit ColourField(QWidget* parent);
    void show(const QColor& colour);

  signals:
    void edited(const QColor& colour);
    void finished();
    void trouble(const QString& sentence);

  private:
    void takeHex();
    void unfold();

    QColor colour_;
    QPushButton* swatch_;
    QLineEdit* hex_;
    QWidget* strips_;
};
