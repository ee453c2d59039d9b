#include "app/window/preferences.h"

#include <cmath>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/document/evaluation.h"
#include "app/fields/number_field.h"
#include "app/fields/switch.h"
#include "app/theme/theme.h"

using namespace gswarm;

namespace {

Parameter megabytes(const char* id, const char* label, const char* summary) {
    Parameter p;
    p.id = id;
    p.label = label;
    p.summary = summary;
    p.unit = "MB";
    p.suggested = {64, 4096};
    p.hard = {16, 65536};
    return p;
}

Parameter memoryParameter() {
    return megabytes("followThroughMemory", "Memory for follow-through",
                     "How much of what swarms remember from frame to frame stays in memory; the rest goes to disk");
}

Parameter pictureParameter() {
    return megabytes("pictureMemory", "Memory for pictures",
                     "How much of what was read or made of files and shapes is kept; no single picture or clip takes more");
}

}  // namespace

Preferences::Preferences(Evaluation& evaluation, QWidget* parent) : QFrame(parent, Qt::Popup), evaluation_(evaluation) {
    setObjectName("preferences");
    setStyleSheet("#preferences { background: #1e1a15; border: 1px solid #3a3329; border-radius: 4px; }");
    setFixedWidth(wide);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 10, 12, 12);
    column->setSpacing(8);
    auto* title = new QLabel("Preferences", this);
    title->setFont(theme::text(15, QFont::DemiBold));
    column->addWidget(title);
    memory_ = addNumber(column, memoryParameter(), "memoryLimit");
    used_ = new QLabel(this);
    used_->setObjectName("memoryUsed");
    used_->setWordWrap(true);
    used_->setStyleSheet("color: #a3967f;");
    column->addWidget(used_);
    pictures_ = addNumber(column, pictureParameter(), "pictureLimit");
    auto* larger = new QHBoxLayout;
    auto* largerLabel = new QLabel("Larger text, from the next start on", this);
    auto* largerText = new Switch(this);
    largerText->setObjectName("largerText");
    largerText->setAccessibleName(largerLabel->text());
    largerText->setChecked(theme::largerText());
    larger->addWidget(largerLabel, 1);
    larger->addWidget(largerText);
    column->addLayout(larger);
    connect(largerText, &Switch::clicked, this, [](bool on) { theme::setLargerText(on); });
    auto* panels = new QPushButton("Put the panels back where they were at first", this);
    panels->setObjectName("resetPanels");
    column->addWidget(panels);
    connect(memory_, &NumberField::edited, this, [this](double megabytes) {
        evaluation_.limitMemory(static_cast<int>(std::lround(megabytes)));
        refresh();
    });
    connect(pictures_, &NumberField::edited, this, [this](double megabytes) {
        evaluation_.limitPictures(static_cast<int>(std::lround(megabytes)));
        refresh();
    });
    connect(pictures_, &NumberField::trouble, this, [this](const QString& sentence) { used_->setText(sentence); });
    connect(memory_, &NumberField::trouble, this, [this](const QString& sentence) { used_->setText(sentence); });
    connect(panels, &QPushButton::clicked, this, [this] {
        hide();
        emit panelsAsked();
    });
    timer_.setInterval(500);
    connect(&timer_, &QTimer::timeout, this, &Preferences::refresh);
}

NumberField* Preferences::addNumber(QVBoxLayout* column, const Parameter& parameter, const char* name) {
    auto* row = new QHBoxLayout;
    auto* label = new QLabel(QString::fromStdString(parameter.label), this);
    label->setToolTip(QString::fromStdString(parameter.summary));
    auto* number = new NumberField(parameter, 25, this);
    number->setObjectName(name);
    number->setToolTip(label->toolTip());
    number->setFixedWidth(110);
    row->addWidget(label, 1);
    row->addWidget(number);
    column->addLayout(row);
    return number;
}

void Preferences::open(const QPoint& at) {
    refresh();
    adjustSize();
    move(at);
    show();
    memory_->setFocus();
}

void Preferences::refresh() {
    const Checkpoints& kept = evaluation_.evaluator().store().checkpoints();
    const auto megabytes = [](std::size_t bytes) { return QString::number(static_cast<double>(bytes) / (1 << 20), 'f', 0) + " MB"; };
    memory_->show(evaluation_.memoryLimit(), NumberField::Mark::none);
    pictures_->show(evaluation_.pictureLimit(), NumberField::Mark::none);
    used_->setText(QString("Now %1 in memory and %2 on disk; what memory does not hold goes to disk.")
                       .arg(megabytes(kept.bytes()), megabytes(kept.bytesOnDisk())));
}
