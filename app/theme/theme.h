#pragma once
#include <QColor>
#include <QFont>
#include <QIcon>
#include <QString>

class QApplication;
class QPainter;
class QRectF;

/// How everything looks: colours, fonts, icons and the style sheet. Gold means chosen or active, verdigris weight,
/// coral trouble; nothing else uses those three.
namespace theme {

inline const QColor ink("#15120e"), panel("#1e1a15"), raised("#29241d"), line("#3a3329");
inline const QColor ivory("#ece3d2"), quiet("#a3967f");
inline const QColor gold("#d9a441"), verdigris("#4f9d8a"), coral("#f08a72");
inline const QColor weightLow("#6b6153");

/// Loads the shipped fonts and sets palette and style sheet. Call once, before any widget.
void apply(QApplication& application);

/// Whether text is one step larger, from the next start on.
bool largerText();
void setLargerText(bool on);

/// Whether a font family is there only because the program brings it for its own words.
bool loads(const QString& family);

QFont text(int pixels = 13, QFont::Weight weight = QFont::Normal);
/// Tabular figures.
QFont numbers(int pixels = 12);

/// A count as people read it, with thin gaps: 1 000 000.
QString grouped(qint64 count);
/// "1 instance", "1 951 instances".
QString counted(qint64 count, const QString& one);

/// One of the line icons by name, in a colour.
QIcon icon(const QString& name, const QColor& colour = ivory);
void paintIcon(QPainter& painter, const QString& name, const QRectF& in, const QColor& colour);

/// The style sheet of a button that is a picture with its name, in galleries.
QString tileStyle();

/// Colour of a weight: 0 grey-brown, ½ verdigris, 1 ivory.
QColor weightColour(double weight);

}  // namespace theme
