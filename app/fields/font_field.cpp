#include "app/fields/font_field.h"

#include <algorithm>
#include <QAbstractItemView>
#include <QCompleter>
#include <QFontDatabase>
#include <QLineEdit>
#include <QPainter>
#include <QStyledItemDelegate>

#include "app/theme/theme.h"

namespace {

const QString shippedFamily = "Cabin SemiBold";
constexpr int sampleSize = 17, rowHeight = 42, listWidth = 280;

/// Families that letters can be made of, without what only this program has loaded for its own words.
QStringList families() {
    QStringList all;
    for (const QString& family : QFontDatabase::families()) {
        if (!QFontDatabase::isScalable(family) || QFontDatabase::isPrivateFamily(family) || theme::loads(family)) continue;
        const QString name = family.section(" [", 0, 0);  // without who made it
        if (!all.contains(name)) all << name;
    }
    all.prepend(shippedFamily);
    return all;
}

/// A family's name in its own letters, and below in plain ones, for families of signs.
class Itself : public QStyledItemDelegate {
  public:
    using QStyledItemDelegate::QStyledItemDelegate;

    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const QString family = index.data().toString();
        const bool chosen = option.state & QStyle::State_Selected;
        painter->fillRect(option.rect, chosen ? theme::line : theme::raised);
        QFont itself(family);
        itself.setPixelSize(sampleSize);
        if (family == shippedFamily) itself = theme::text(sampleSize, QFont::DemiBold);
        const QRect box = option.rect.adjusted(8, 2, -6, -3);
        painter->setFont(itself);
        painter->setPen(theme::ivory);
        painter->drawText(box.adjusted(0, 0, 0, -14), Qt::AlignVCenter,
                          QFontMetrics(itself).elidedText(family, Qt::ElideRight, box.width()));
        painter->setFont(theme::text(11));
        painter->setPen(theme::quiet);
        painter->drawText(box, Qt::AlignBottom, family);
    }
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {listWidth, rowHeight}; }
};

}  // namespace

FontField::FontField(QWidget* parent) : QComboBox(parent) {
    setEditable(true);
    setSizeAdjustPolicy(AdjustToMinimumContentsLengthWithIcon);  // long names never widen the panel
    setMinimumContentsLength(8);
    setInsertPolicy(NoInsert);
    addItems(families());
    setItemDelegate(new Itself(this));
    view()->setMinimumWidth(listWidth);
    completer()->setCompletionMode(QCompleter::PopupCompletion);
    completer()->setFilterMode(Qt::MatchContains);
    completer()->setCaseSensitivity(Qt::CaseInsensitive);
    completer()->popup()->setItemDelegate(itemDelegate());
    connect(this, &QComboBox::activated, this, [this] { emit taken(currentText()); });
    connect(lineEdit(), &QLineEdit::editingFinished, this, [this] { emit taken(lineEdit()->text()); });
}

void FontField::show(const QString& family) {
    if (lineEdit()->hasFocus() && lineEdit()->isModified()) return;
    const QSignalBlocker quiet(this);
    setCurrentIndex(findText(family, Qt::MatchFixedString));
    setEditText(family);
}
