#include "app/fields/formula_editor.h"

#include <algorithm>
#include <QAbstractItemView>
#include <QCompleter>
#include <QKeyEvent>
#include <QLabel>
#include <QScrollBar>
#include <QStandardItemModel>
#include <QTextBlock>
#include <QVBoxLayout>

#include "app/fields/plain_text.h"
#include "app/theme/theme.h"
#include "core/formula/bind.h"
#include "core/formula/operation.h"

namespace {

bool inWord(QChar c) { return c.isLetterOrNumber() || c == '_' || c == '.' || c == '\''; }

}  // namespace

FormulaEditor::FormulaEditor(std::function<std::vector<Offer>()> offers, QWidget* parent) : QWidget(parent), offers_(std::move(offers)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    editor_ = new PlainText(this);
    editor_->setObjectName("formula");
    editor_->setFont(theme::text());
    editor_->setTabChangesFocus(true);
    editor_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    editor_->setWordWrapMode(QTextOption::WrapAtWordBoundaryOrAnywhere);
    editor_->installEventFilter(this);
    error_ = new QLabel(this);
    error_->setObjectName("formulaError");
    error_->setWordWrap(true);
    error_->setStyleSheet("color: #f08a72;");
    error_->hide();
    column->addWidget(editor_);
    column->addWidget(error_);
    names_ = new QStandardItemModel(0, 2, this);
    completer_ = new QCompleter(names_, this);
    completer_->setWidget(editor_);
    completer_->setCaseSensitivity(Qt::CaseInsensitive);
    completer_->setMaxVisibleItems(9);
    completer_->popup()->setFont(theme::text());
    completer_->popup()->setStyleSheet(
        "QAbstractItemView { background: #29241d; color: #ece3d2; border: 1px solid #3a3329; padding: 2px; } "
        "QAbstractItemView::item { padding: 3px 6px; } QAbstractItemView::item:selected { background: #3a3329; color: #d9a441; }");
    completer_->popup()->installEventFilter(this);  // before the completer's own, which would let Enter break the line
    connect(completer_, qOverload<const QString&>(&QCompleter::activated), this, &FormulaEditor::take);
    connect(editor_, &QPlainTextEdit::textChanged, this, [this] {
        fitHeight();
        // Keys reach the editor past its event filter while the names are open: the text is what tells.
        const bool writing = editor_->hasFocus() || completer_->popup()->isVisible();
        if (writing && !taking_) QMetaObject::invokeMethod(this, &FormulaEditor::offer, Qt::QueuedConnection);
        emit typed(text());
    });
    fitHeight();
}

QString FormulaEditor::text() const { return editor_->toPlainText(); }

void FormulaEditor::show(const QString& text) {
    if (editor_->hasFocus() || text == this->text()) return;
    const QSignalBlocker quiet(editor_);
    editor_->setPlainText(text);
    clearError();
    fitHeight();
}

/// One to four lines, as many as the text needs.
void FormulaEditor::fitHeight() {
    const int lines = std::clamp(static_cast<int>(editor_->document()->documentLayout()->documentSize().height()), 1, 4);
    editor_->setFixedHeight(lines * editor_->fontMetrics().lineSpacing() + 12);
}

std::vector<FormulaEditor::Offer> FormulaEditor::offersFor(const gswarm::Scene& scene) {
    std::vector<Offer> offers;
    for (const gswarm::FormulaName& name : gswarm::formulaNames()) offers.push_back({name.name, QString::fromUtf8(name.summary)});
    for (const gswarm::FormulaFunction& function : gswarm::formulaFunctions())
        offers.push_back({function.shown, QString::fromUtf8(function.summary)});
    offers.push_back({"pi", "3.14159…"});
    for (const std::string& name : gswarm::reachableNames(scene))
        offers.push_back({QString::fromStdString(name), "A setting of the scene"});
    return offers;
}

void FormulaEditor::showError(const QString& sentence, int byte) {
    const int place = byte < 0 ? -1 : static_cast<int>(QString::fromUtf8(text().toUtf8().left(byte)).size());
    error_->setText(sentence);
    error_->show();
    QTextEdit::ExtraSelection mark;
    mark.cursor = QTextCursor(editor_->document());
    const int length = static_cast<int>(text().size());
    const int at = std::clamp(place, 0, std::max(length - 1, 0));
    // The word at the place, or the one character; all of it where no place is known.
    int end = at + 1;
    if (at < length && inWord(text()[at]))
        while (end < length && inWord(text()[end])) ++end;
    mark.cursor.setPosition(place < 0 ? 0 : at);
    mark.cursor.setPosition(place < 0 ? length : std::min(end, length), QTextCursor::KeepAnchor);
    mark.format.setUnderlineStyle(QTextCharFormat::WaveUnderline);
    mark.format.setUnderlineColor(theme::coral);
    mark.format.setBackground(QColor(240, 138, 114, 60));
    editor_->setExtraSelections({mark});
    setProperty("errorPlace", at);
}

void FormulaEditor::clearError() {
    error_->hide();
    editor_->setExtraSelections({});
    setProperty("errorPlace", {});
}

QString FormulaEditor::wordBefore() const {
    const QString all = text();
    const int end = editor_->textCursor().position();
    int start = end;
    while (start > 0 && inWord(all[start - 1])) --start;
    // A name in quotes may hold spaces.
    const auto quotes = all.left(end).count('\'');
    if (quotes % 2 == 1) start = static_cast<int>(all.lastIndexOf('\'', end - 1));
    return all.mid(start, end - start);
}

void FormulaEditor::offer() {
    const QString word = wordBefore();
    if (word.isEmpty() || word[0].isDigit()) return completer_->popup()->hide();
    names_->removeRows(0, names_->rowCount());
    for (const Offer& offer : offers_()) {
        auto* name = new QStandardItem(offer.name);
        name->setToolTip(offer.summary);
        names_->appendRow({name, new QStandardItem(offer.summary)});
    }
    completer_->setCompletionPrefix(word);
    const bool whole = completer_->completionCount() == 1 && completer_->currentCompletion() == word;
    if (completer_->completionCount() == 0 || whole) return completer_->popup()->hide();
    completer_->popup()->setCurrentIndex(completer_->completionModel()->index(0, 0));
    QRect at = editor_->cursorRect().translated(editor_->viewport()->pos());
    at.setSize({220, at.height() + 5});
    completer_->complete(at);
    error_->hide();  // what is still being written is no mistake yet
}

void FormulaEditor::take(const QString& name) {
    QTextCursor cursor = editor_->textCursor();
    cursor.movePosition(QTextCursor::Left, QTextCursor::KeepAnchor, static_cast<int>(wordBefore().size()));
    // A function is written up to its bracket.
    const auto bracket = name.indexOf('(');
    taking_ = true;
    cursor.insertText(bracket < 0 ? name : name.left(bracket + 1));
    taking_ = false;
    editor_->setTextCursor(cursor);
}

bool FormulaEditor::eventFilter(QObject* watched, QEvent* event) {
    if (watched == editor_ && event->type() == QEvent::FocusOut) emit finished();
    if (watched == editor_ && event->type() == QEvent::Resize)
        QMetaObject::invokeMethod(this, &FormulaEditor::fitHeight, Qt::QueuedConnection);
    if (event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
    auto* key = static_cast<QKeyEvent*>(event);
    const bool open = completer_->popup()->isVisible();
    const bool enter = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
    if (open && (enter || key->key() == Qt::Key_Tab || key->key() == Qt::Key_Escape)) {
        const QString chosen = completer_->popup()->currentIndex().data().toString();
        completer_->popup()->hide();
        if (key->key() != Qt::Key_Escape)
            take(chosen);
        else
            emit typed(text());
        return true;
    }
    if (open && (key->key() == Qt::Key_Up || key->key() == Qt::Key_Down)) return false;
    if (watched == editor_ && enter) {
        emit finished();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}
