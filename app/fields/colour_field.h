#pragma once
#include <array>
#include <QString>
#include <QWidget>

class QLineEdit;
class QPushButton;

/// A colour as it is typed: red, green, blue, sRGB-encoded and also above 1 or below 0, and straight opacity. A swatch and its
/// text; the swatch unfolds hue, saturation, brightness and opacity in place. What one of them does not change it leaves alone.
class ColourField : public QWidget {
    Q_OBJECT

  public:
    using Numbers = std::array<double, 4>;

    /// Without opacity for colours of which nothing is seen through.
    ColourField(bool withOpacity, QWidget* parent);
    void show(const Numbers& colour);

  signals:
    void edited(const std::array<double, 4>& colour);
    void finished();
    void trouble(const QString& sentence);

  private:
    void takeText();
    void unfold();

    Numbers colour_{0, 0, 0, 1};
    bool withOpacity_;
    QPushButton* swatch_;
    QLineEdit* text_;
    QWidget* strips_;
};

/// As people read it: #d9a441, #d9a44180 where it is not opaque, and "1.4, 0.9, 0.2" where a hex text can't say it.
QString textOf(const ColourField::Numbers& colour);
