#include "app/theme/theme.h"

#include <algorithm>
#include <QApplication>
#include <QFile>
#include <QFontDatabase>
#include <QLocale>
#include <QPainter>
#include <QPalette>
#include <QPixmapCache>
#include <QSettings>
#include <QStyleFactory>
#include <QSvgRenderer>

#include "app/theme/behaviour.h"
#include "app/theme/spoken.h"
#include "core/base/text.h"

namespace theme {
namespace {

const char* const styleSheet = R"(
* { outline: none; }
QWidget { background: transparent; color: #ece3d2; }
QMainWindow, QDialog { background: #15120e; }
QToolTip { background: #29241d; color: #ece3d2; border: 1px solid #3a3329; padding: 4px 6px; }
QPlainTextEdit { background: #15120e; border: 1px solid #3a3329; border-radius: 4px; padding: 0 3px; selection-background-color: #d9a441; selection-color: #15120e; }
QPlainTextEdit:focus { border-color: #d9a441; }
QLineEdit, QComboBox { background: #15120e; border: 1px solid #3a3329; border-radius: 4px; padding: 0 6px; min-height: 24px; max-height: 24px; selection-background-color: #d9a441; selection-color: #15120e; }
QLineEdit:focus, QComboBox:focus { border-color: #d9a441; }
QComboBox::drop-down { width: 18px; border: none; }
QComboBox::down-arrow { image: url(:/icons/down.svg); width: 10px; height: 10px; }
QComboBox QAbstractItemView { background: #29241d; border: 1px solid #3a3329; selection-background-color: #3a3329; selection-color: #ece3d2; padding: 2px; }
QPushButton { background: #29241d; border: 1px solid #3a3329; border-radius: 4px; padding: 0 10px; min-height: 24px; }
QPushButton:hover { border-color: #a3967f; }
QPushButton:focus { border-color: #d9a441; }
QPushButton:checked { background: #3a3329; border-color: #d9a441; color: #ece3d2; }
QPushButton:disabled { color: #a3967f; }
QToolButton { background: transparent; border: 1px solid transparent; border-radius: 4px; padding: 2px; }
QToolButton:hover { background: #29241d; }
QToolButton:focus { border-color: #d9a441; }
QToolButton:checked { background: #3a3329; }
QToolButton[popupMode="1"] { padding-right: 14px; }
QToolButton[popupMode="2"] { padding-right: 12px; }
QToolButton::menu-button { background: transparent; border: none; width: 14px; }
QToolButton::menu-arrow, QToolButton::menu-indicator { image: url(:/icons/down.svg); width: 8px; height: 8px; }
QToolButton::menu-indicator { subcontrol-origin: padding; subcontrol-position: center right; right: 2px; }
QMenu { background: #29241d; border: 1px solid #3a3329; padding: 4px; }
QMenu::item { padding: 4px 18px 4px 10px; border-radius: 3px; }
QMenu::item:selected { background: #3a3329; }
QMenu::item:disabled { color: #a3967f; }
QMenu::separator { height: 1px; background: #3a3329; margin: 4px 2px; }
QHeaderView::section { background: #29241d; color: #a3967f; border: none; border-right: 1px solid #3a3329; padding: 0 4px; }
QScrollBar:vertical { background: transparent; width: 8px; margin: 0; }
QScrollBar:horizontal { background: transparent; height: 8px; margin: 0; }
QScrollBar::handle { background: #3a3329; border-radius: 3px; min-height: 24px; min-width: 24px; margin: 1px; }
QScrollBar::handle:hover { background: #6b6153; }
QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page { background: transparent; border: none; width: 0; height: 0; }
QScrollArea { border: none; }
QProgressBar { background: #15120e; border: 1px solid #3a3329; border-radius: 4px; text-align: center; min-height: 20px; max-height: 20px; }
QProgressBar::chunk { background: #3a3329; border-right: 2px solid #d9a441; border-radius: 3px; }
QSplitter::handle { background: #15120e; }
QListView, QTreeView { background: transparent; border: none; }
)";

const char* const largerKey = "largerText";
bool larger = false;  // as the program began
QStringList loaded;   // families

/// One step larger is a seventh: 13 become 15.
int sized(int pixels) { return larger ? (pixels * 8 + 3) / 7 : pixels; }

}  // namespace

void apply(QApplication& application) {
    larger = largerText();
    application.installEventFilter(new Behaviour(&application));
    spoken::install();
    for (const char* file : {"Cabin-Regular", "Cabin-Medium", "Cabin-SemiBold", "B612-Regular"})
        loaded += QFontDatabase::applicationFontFamilies(QFontDatabase::addApplicationFont(QString(":/fonts/%1.otf").arg(file)));
    application.setStyle(QStyleFactory::create("Fusion"));
    QPalette palette;
    palette.setColor(QPalette::Window, ink);
    palette.setColor(QPalette::Base, ink);
    palette.setColor(QPalette::AlternateBase, panel);
    palette.setColor(QPalette::Button, raised);
    for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText, QPalette::ToolTipText})
        palette.setColor(role, ivory);
    palette.setColor(QPalette::PlaceholderText, quiet);
    palette.setColor(QPalette::Highlight, gold);
    palette.setColor(QPalette::HighlightedText, ink);
    application.setPalette(palette);
    application.setFont(text());
    application.setStyleSheet(styleSheet);
}

bool loads(const QString& family) { return loaded.contains(family); }

bool largerText() { return QSettings().value(largerKey, false).toBool(); }
void setLargerText(bool on) { QSettings().setValue(largerKey, on); }

QFont text(int pixels, QFont::Weight weight) {
    QFont font("Cabin");
    font.setPixelSize(sized(pixels));
    font.setWeight(weight);
    return font;
}

QFont numbers(int pixels) {
    QFont font("B612");
    font.setPixelSize(sized(pixels));
    return font;
}

void paintIcon(QPainter& painter, const QString& name, const QRectF& in, const QColor& colour) {
    QFile file(":/icons/" + name + ".svg");
    if (!file.open(QIODevice::ReadOnly)) return;
    const QByteArray svg = file.readAll().replace("#ece3d2", colour.name().toUtf8());
    QSvgRenderer(svg).render(&painter, in);
}

QString grouped(qint64 count) { return QLocale(QLocale::English).toString(count).replace(',', ' '); }

QString counted(qint64 count, const QString& one) { return grouped(count) + " " + one + (count == 1 ? "" : "s"); }

QIcon icon(const QString& name, const QColor& colour) {
    // Lists ask for the same few again with every change.
    const QString key = "icon " + name + colour.name(QColor::HexArgb);
    QPixmap pixmap;
    if (QPixmapCache::find(key, &pixmap)) return QIcon(pixmap);
    pixmap = QPixmap(64, 64);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    paintIcon(painter, name, QRectF(0, 0, 64, 64), colour);
    painter.end();
    QPixmapCache::insert(key, pixmap);
    return QIcon(pixmap);
}

QString tileStyle() {
    return "QToolButton { background: #1e1a15; border: 1px solid #3a3329; } QToolButton:hover { border-color: #a3967f; } "
           "QToolButton:checked { background: #29241d; border-color: #d9a441; } QToolButton:focus { border-color: #d9a441; }";
}

QColor weightColour(double weight) {
    const double w = std::clamp(weight, 0.0, 1.0);
    const QColor from = w < 0.5 ? weightLow : verdigris, to = w < 0.5 ? verdigris : ivory;
    const double x = w < 0.5 ? w * 2 : w * 2 - 1;
    const auto mix = [x](int a, int b) { return static_cast<int>(a + (b - a) * x + 0.5); };
    return {mix(from.red(), to.red()), mix(from.green(), to.green()), mix(from.blue(), to.blue())};
}

}  // namespace theme
