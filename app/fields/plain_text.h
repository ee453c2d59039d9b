#pragma once
#include <QMimeData>
#include <QPlainTextEdit>

/// Several lines of plain text. Takes nothing but text: Qt 6.4 reads the first format of whatever is pasted and ends the program
/// where there is none, as with an empty clipboard.
class PlainText : public QPlainTextEdit {
  public:
    using QPlainTextEdit::QPlainTextEdit;

  protected:
    bool canInsertFromMimeData(const QMimeData* source) const override { return source->hasText(); }
    void insertFromMimeData(const QMimeData* source) override {
        if (source->hasText()) insertPlainText(source->text());
    }
};
