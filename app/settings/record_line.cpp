#include "app/settings/record_line.h"

#include <cmath>
#include <QHBoxLayout>
#include <QPushButton>
#include <QTimer>

#include "app/document/recording.h"
#include "core/scene/frame_range.h"

using namespace gswarm;

RecordLine::RecordLine(Document& document, ObjectId recorded, QWidget* parent)
    : QWidget(parent), document_(document), recorded_(recorded), button_(new QPushButton(this)), timer_(new QTimer(this)) {
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(0, 0, 0, 0);
    button_->setObjectName("recordMedia");
    line->addWidget(button_);
    connect(button_, &QPushButton::clicked, this, &RecordLine::click);
    timer_->setInterval(100);
    connect(timer_, &QTimer::timeout, this, &RecordLine::tell);
    connect(&document_, &Document::sceneChanged, this, &RecordLine::tell);
    tell();
}

void RecordLine::click() {
    if (Recording* recording = Recording::of(document_))
        recording->cancel();
    else
        new Recording(document_, recorded_);
    tell();
}

void RecordLine::tell() {
    const Recording* recording = Recording::of(document_);
    if (recording)
        timer_->start();
    else
        timer_->stop();
    const int count = framesOf(document_.scene()).count();
    button_->setText(recording ? QString("Recording, %1 % — cancel").arg(std::lround(100 * recording->fraction()))
                               : QString("Record %1 frames").arg(count));
    button_->setToolTip(recording ? "Nothing is kept of what is cancelled"
                                  : "Makes a file of all frames of the project, in its folder, and takes it into the project");
}
