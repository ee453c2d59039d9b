#include "app/fields/font_field.h"

#include <QAbstractItemView>
#include <QCompleter>
#include <QLineEdit>

FontField::FontField(QWidget* parent) : QFontComboBox(parent) {
    setFontFilters(ScalableFonts);
    setSizeAdjustPolicy(AdjustToMinimumContentsLengthWithIcon);  // long names never widen the panel
    setMinimumContentsLength(8);
    setInsertPolicy(NoInsert);
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
    setCurrentIndex(findText(family));
    setEditText(family);
}
