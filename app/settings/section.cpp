#include "app/settings/section.h"

#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QToolButton>

#include "app/theme/retire.h"
#include "app/theme/theme.h"

Section::Section(const QString& title, QWidget* parent) : QWidget(parent) {
    setObjectName("section-" + title);
    column_ = new QVBoxLayout(this);
    column_->setContentsMargins(0, 0, 0, 0);
    column_->setSpacing(0);
    auto* row = new QHBoxLayout;
    row->setContentsMargins(4, 0, 8, 0);
    row->setSpacing(6);
    header_ = new QToolButton(this);
    header_->setText(title);
    header_->setFont(theme::text(13, QFont::DemiBold));
    header_->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    header_->setCheckable(true);
    header_->setChecked(true);
    header_->setIcon(theme::icon("down", theme::quiet));
    header_->setIconSize({12, 12});
    header_->setStyleSheet(
        "QToolButton, QToolButton:checked { background: transparent; border: 1px solid transparent; padding: 3px 4px; } QToolButton:focus "
        "{ border-color: #d9a441; }");
    summary_ = new QLabel(this);
    summary_->setStyleSheet("color: #a3967f;");
    summary_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    row->addWidget(header_);
    row->addWidget(summary_, 1);
    help_ = new QToolButton(this);
    help_->setText("?");
    help_->setObjectName("help-" + title);
    help_->setToolTip("What the guide says about this (F1 for what is selected)");
    help_->setAccessibleName("Help: " + title);
    help_->setFixedSize(18, 20);
    help_->setStyleSheet("QToolButton { color: #a3967f; }");
    row->addWidget(help_);
    connect(help_, &QToolButton::clicked, this, &Section::helpAsked);
    column_->addLayout(row);
    makeBody();
    auto* line = new QFrame(this);
    line->setFixedHeight(1);
    line->setStyleSheet("background: #29241d;");
    column_->addWidget(line);
    connect(header_, &QToolButton::clicked, this, [this](bool open) {
        setOpen(open);
        emit toggled(open);
    });
    setOpen(true);
}

void Section::makeBody() {
    content_ = new QWidget(this);
    body_ = new QVBoxLayout(content_);
    body_->setContentsMargins(12, 0, 10, 8);
    body_->setSpacing(3);
    column_->insertWidget(1, content_);
}

void Section::clear() {
    QWidget* old = content_;
    makeBody();
    content_->setVisible(isOpen());
    column_->removeWidget(old);
    old->setParent(nullptr);
    retire(old);
}

void Section::setTitle(const QString& title) {
    setObjectName("section-" + title);
    header_->setText(title);
}

QString Section::title() const { return header_->text(); }
bool Section::isOpen() const { return header_->isChecked(); }
void Section::setSummary(const QString& summary) {
    said_ = summary;
    tell();
}

void Section::setNote(const QString& note, bool trouble) {
    note_ = note;
    trouble_ = trouble;
    tell();
}

void Section::tell() {
    const bool warn = trouble_ && isOpen();
    summary_->setStyleSheet(warn ? "color: #f08a72;" : "color: #a3967f;");
    summary_->setText(isOpen() ? note_ : said_);
    summary_->setToolTip(summary_->text());
}

void Section::setOpen(bool open) {
    header_->setChecked(open);
    header_->setIcon(theme::icon(open ? "down" : "right", theme::quiet));
    content_->setVisible(open);
    tell();
}
