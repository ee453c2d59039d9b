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
    row->addWidget(text_, 1);
    for (std::size_t k = 0; k < buttons_.size(); ++k) {
        buttons_[k] = new QPushButton(this);
        buttons_[k]->setObjectName(QString("lineAnswer%1").arg(k + 1));
        row->addWidget(buttons_[k]);
        connect(buttons_[k], &QPushButton::clicked, this, [this, k] { answer(k); });
    }
    passing_.setSingleShot(true);
    passing_.setInterval(10000);
    connect(&passing_, &QTimer::timeout, this, &Line::dismiss);
    stage->installEventFilter(this);
    hide();
}

void Line::tell(const QString& sentence) {
    if (!sentence.isEmpty()) return put(sentence, "color: #f08a72;");
    if (!asks_ && !passing_.isActive()) hide();
}

void Line::say(const QString& sentence) {
    put(sentence, "color: #ece3d2;");
    if (!asks_) passing_.start();
}

void Line::put(const QString& sentence, const char* style) {
    if (asks_) return;
    passing_.stop();
    text_->setStyleSheet(style);
    text_->setText(sentence);
    answers_ = {{"Close", {}}};
    appear();
}

void Line::ask(const QString& sentence, const std::vector<Answer>& answers) {
    passing_.stop();
    text_->setStyleSheet("color: #ece3d2;");
    text_->setText(sentence);
    answers_ = answers;
    asks_ = true;
    appear();
    buttons_.front()->setFocus();
}

void Line::dismiss() {
    if (!asks_) hide();
}

void Line::answer(std::size_t which) {
    if (!isVisible() || which >= answers_.size()) return;   // a button that kept the keyboard from an earlier question
    const std::function<void()> act = answers_[which].act;  // answering may set the next question
    asks_ = false;
    hide();
    if (act) act();
}

/// As wide as the sentence needs, at most as the stage; several lines where that is not enough.
void Line::appear() {
    int buttons = 0;
    for (std::size_t k = 0; k < buttons_.size(); ++k) {
        buttons_[k]->setVisible(k < answers_.size());
        if (k >= answers_.size()) continue;
        buttons_[k]->setText(answers_[k].text);
        buttons += buttons_[k]->sizeHint().width() + layout()->spacing();
    }
    show();
    raise();
    const int most = parentWidget()->width() - 2 * besideIt;
    const int wanted = text_->fontMetrics().horizontalAdvance(text_->text()) + buttons + 40;
    const int width = std::max(120, std::min(most, wanted));
    const int height = std::max(layout()->totalHeightForWidth(width), layout()->totalMinimumSize().height());
    setGeometry((parentWidget()->width() - width) / 2, parentWidget()->height() - height - belowIt, width, height);
}

bool Line::eventFilter(QObject* stage, QEvent* event) {
    if (event->type() == QEvent::Resize && isVisible()) appear();
    return QFrame::eventFilter(stage, event);
}
