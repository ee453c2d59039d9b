#include "app/help/walk.h"

#include <algorithm>
#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/theme/theme.h"

namespace {

constexpr int wide = 320, margin = 12;

}  // namespace

Walk::Walk(std::vector<Step> steps, QWidget* window) : QFrame(window), steps_(std::move(steps)) {
    setObjectName("walk");
    setStyleSheet("#walk { background: #29241d; border: 1px solid #a3967f; border-radius: 4px; }");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 10, 12, 10);
    column->setSpacing(6);
    title_ = new QLabel(this);
    title_->setFont(theme::text(13, QFont::DemiBold));
    text_ = new QLabel(this);
    text_->setObjectName("walkText");
    text_->setWordWrap(true);
    column->addWidget(title_);
    column->addWidget(text_);
    auto* row = new QHBoxLayout;
    skip_ = new QPushButton("Next", this);
    skip_->setObjectName("walkNext");
    leave_ = new QPushButton("Leave the walk", this);
    leave_->setObjectName("walkLeave");
    row->addStretch(1);
    row->addWidget(leave_);
    row->addWidget(skip_);
    column->addLayout(row);
    mark_ = new QFrame(window);
    mark_->setObjectName("walkMark");
    mark_->setStyleSheet("#walkMark { background: transparent; border: 2px solid #d9a441; border-radius: 5px; }");
    mark_->setAttribute(Qt::WA_TransparentForMouseEvents);
    mark_->hide();
    hide();
    connect(skip_, &QPushButton::clicked, this, [this] {
        ++at_;
        showStep();
    });
    connect(leave_, &QPushButton::clicked, this, &Walk::leave);
    timer_.setInterval(150);
    connect(&timer_, &QTimer::timeout, this, &Walk::look);
    window->installEventFilter(this);
}

void Walk::start() {
    at_ = 0;
    timer_.start();
    showStep();
}

void Walk::leave() {
    at_ = -1;
    timer_.stop();
    mark_->hide();
    hide();
}

/// Whether the step has been done, and where its place is now: panels come and go.
void Walk::look() {
    if (at_ >= 0 && at_ < static_cast<int>(steps_.size()) && steps_[static_cast<std::size_t>(at_)].done()) {
        ++at_;
        showStep();
    }
    place();
}

void Walk::showStep() {
    if (at_ < 0) return;
    const bool over = at_ >= static_cast<int>(steps_.size());
    title_->setText(over ? QString("That was it")
                         : QString("%1 of %2 · %3").arg(at_ + 1).arg(steps_.size()).arg(steps_[static_cast<std::size_t>(at_)].title));
    text_->setText(over ? "You have made a swarm that moves. F1 opens the guide at whatever is selected, Ctrl+K finds everything, and this "
                          "walk can be taken again from the project's menu."
                        : steps_[static_cast<std::size_t>(at_)].text);
    skip_->setVisible(!over);
    leave_->setText(over ? "Close" : "Leave the walk");
    show();
    raise();
    place();
}

void Walk::place() {
    if (at_ < 0) return;
    QWidget* window = parentWidget();
    setFixedWidth(wide);
    setFixedHeight(layout()->totalHeightForWidth(wide));
    const bool over = at_ >= static_cast<int>(steps_.size());
    QWidget* where = over ? nullptr : steps_[static_cast<std::size_t>(at_)].where();
    mark_->setVisible(where && where->isVisible());
    QPoint at((window->width() - wide) / 2, 130);
    if (where && where->isVisible()) {
        const QRect target(where->mapTo(window, QPoint(0, 0)), where->size());
        mark_->setGeometry(target.adjusted(-3, -3, 3, 3));
        mark_->raise();
        // Below what it shows, or above it, inside the window.
        at = QPoint(target.center().x() - wide / 2, target.bottom() + margin);
        if (at.y() + height() > window->height() - margin) at.setY(target.top() - height() - margin);
    }
    at.setX(std::clamp(at.x(), margin, std::max(margin, window->width() - wide - margin)));
    at.setY(std::clamp(at.y(), 40, std::max(40, window->height() - height() - margin)));
    move(at);
    raise();
}

bool Walk::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::Resize && walking()) place();
    return QFrame::eventFilter(watched, event);
}
