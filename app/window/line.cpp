#include "app/window/line.h"

#include <algorithm>
#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/theme/theme.h"

namespace {

constexpr int besideIt = 12, belowIt = 64;  // free pixels of the stage; below are the view's choices and progress

}  // namespace

Line::Line(QWidget* stage) : QFrame(stage) {
    setObjectName("line");
    setStyleSheet("#line { background: #29241d; border: 1px solid #3a3329; border-radius: 4px; }");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 4, 6, 4);
    row->setSpacing(8);
    text_ = new QLabel(this);
    text_->setObjectName("lineText");
    text_->setWordWrap(true);
    yes_ = new QPushButton(this);
    yes_->setObjectName("lineYes");
    no_ = new QPushButton(this);
    no_->setObjectName("lineNo");
    row->addWidget(text_, 1);
    row->addWidget(yes_);
    row->addWidget(no_);
    connect(yes_, &QPushButton::clicked, this, [this] { answer(onYes_); });
    connect(no_, &QPushButton::clicked, this, [this] { answer(onNo_); });
    stage->installEventFilter(this);
    hide();
}

void Line::tell(const QString& sentence) {
    if (asks_) return;
    if (sentence.isEmpty()) return hide();
    text_->setStyleSheet("color: #f08a72;");
    text_->setText(sentence);
    yes_->hide();
    no_->setText("Close");
    onNo_ = nullptr;
    appear();
}

void Line::ask(const QString& sentence, const QString& yes, const std::function<void()>& onYes, const QString& no,
               const std::function<void()>& onNo) {
    text_->setStyleSheet("color: #ece3d2;");
    text_->setText(sentence);
    yes_->setText(yes);
    yes_->show();
    no_->setText(no);
    onYes_ = onYes;
    onNo_ = onNo;
    asks_ = true;
    appear();
    yes_->setFocus();
}

void Line::dismiss() {
    if (!asks_) hide();
}

void Line::answer(const std::function<void()>& act) {
    const std::function<void()> kept = act;  // answering may set the next question
    asks_ = false;
    hide();
    if (kept) kept();
}

/// As wide as the sentence needs, at most as the stage; several lines where that is not enough.
void Line::appear() {
    show();
    raise();
    const int most = parentWidget()->width() - 2 * besideIt;
    const int buttons = (yes_->isHidden() ? 0 : yes_->sizeHint().width() + layout()->spacing()) + no_->sizeHint().width();
    const int wanted = text_->fontMetrics().horizontalAdvance(text_->text()) + buttons + 40;
    const int width = std::max(120, std::min(most, wanted));
    const int height = std::max(layout()->totalHeightForWidth(width), layout()->totalMinimumSize().height());
    setGeometry((parentWidget()->width() - width) / 2, parentWidget()->height() - height - belowIt, width, height);
}

bool Line::eventFilter(QObject* stage, QEvent* event) {
    if (event->type() == QEvent::Resize && isVisible()) appear();
    return QFrame::eventFilter(stage, event);
}
