#include "app/export/export_queue_panel.h"

#include <cmath>
#include <QDesktopServices>
#include <QFontMetrics>
#include <QProgressBar>
#include <QToolButton>
#include <QUrl>
#include <set>

#include "app/theme/retire.h"
#include "app/theme/theme.h"

using namespace gswarm;

namespace {

constexpr int rowHeight = 32, pictureWidth = 46;

QString inClock(double seconds) {
    const int whole = static_cast<int>(std::ceil(seconds));
    if (whole >= 3600)
        return QString("%1:%2:%3").arg(whole / 3600).arg(whole / 60 % 60, 2, 10, QChar('0')).arg(whole % 60, 2, 10, QChar('0'));
    return QString("%1:%2").arg(whole / 60).arg(whole % 60, 2, 10, QChar('0'));
}

QString stateOf(const ExportJob& job) {
    switch (job.state) {
        case ExportJob::State::waiting:
            return "waits";
        case ExportJob::State::running:
            return job.secondsLeft >= 0 ? inClock(job.secondsLeft) + " left" : "begins";
        default:
            return job.sentence;
    }
}

}  // namespace

ExportRow::ExportRow(ExportQueue& queue, int id, QWidget* parent) : QWidget(parent), queue_(queue), id_(id) {
    setFixedHeight(rowHeight);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(10, 2, 8, 2);
    row->setSpacing(8);
    picture_ = new QLabel(this);
    picture_->setFixedSize(pictureWidth, rowHeight - 6);
    name_ = new QLabel(this);
    name_->setMinimumWidth(120);
    bar_ = new QProgressBar(this);
    bar_->setRange(0, 1000);
    bar_->setFixedWidth(130);
    bar_->setTextVisible(true);
    QSizePolicy inItsPlace = bar_->sizePolicy();
    inItsPlace.setRetainSizeWhenHidden(true);  // so that sentences stand below each other
    bar_->setSizePolicy(inItsPlace);
    said_ = new QLabel(this);
    said_->setFont(theme::text(12));
    said_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    said_->setMinimumWidth(60);
    said_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    row->addWidget(picture_);
    row->addWidget(name_, 1);
    row->addWidget(bar_);
    row->addWidget(said_, 2);
    replace_ = button("exportReplace", "", "Writes over what lies there", [this] { queue_.replace(id_); });
    replace_->setText("Replace");
    hurry_ = button("exportHurry", "up", "Before all others that wait", [this] { queue_.hurry(id_); });
    pause_ = button("exportPause", "pause", "Pause", [this] { queue_.pause(id_); });
    resume_ = button("exportResume", "play", "Go on", [this] { queue_.resume(id_); });
    folder_ = button("exportFolder", "right", "Open the folder", [this] {
        QDesktopServices::openUrl(QUrl::fromLocalFile(QString::fromStdString(std::filesystem::absolute(file_).parent_path().string())));
    });
    remove_ = button("exportCancel", "close", "Cancel", [this] { queue_.remove(id_); });
    for (QToolButton* one : {replace_, hurry_, pause_, resume_, folder_, remove_}) row->addWidget(one);
}

QToolButton* ExportRow::button(const char* name, const char* icon, const QString& tip, const std::function<void()>& act) {
    auto* made = new QToolButton(this);
    made->setObjectName(name);
    if (*icon) made->setIcon(theme::icon(icon));
    made->setToolTip(tip);
    made->setAccessibleName(tip);
    connect(made, &QToolButton::clicked, this, act);
    return made;
}

void ExportRow::showJob(const ExportJob& job) {
    file_ = job.file;
    if (!job.picture.isNull() && picture_->pixmap().isNull())
        picture_->setPixmap(QPixmap::fromImage(
            job.picture.scaled(picture_->size() * devicePixelRatio(), Qt::KeepAspectRatioByExpanding, Qt::SmoothTransformation)));
    name_->setText(QString::fromStdString(job.file.filename().string()));
    name_->setToolTip(
        QString("%1 of “%2”: %3").arg(QString::fromStdString(job.kind().label), job.project, QString::fromStdString(job.file.string())));
    bar_->setValue(static_cast<int>(job.share * 1000));
    bar_->setVisible(job.state == ExportJob::State::running || job.state == ExportJob::State::paused);
    const bool failed = job.state == ExportJob::State::failed;
    said_->setStyleSheet(failed ? "color: #f08a72;" : "color: #a3967f;");
    said_->setText(stateOf(job));
    said_->setToolTip(job.sentence);
    replace_->setVisible(failed && job.inTheWay);
    hurry_->setVisible(job.state == ExportJob::State::waiting);
    pause_->setVisible(job.state == ExportJob::State::running || job.state == ExportJob::State::waiting);
    resume_->setVisible(job.state == ExportJob::State::paused);
    folder_->setVisible(job.state == ExportJob::State::done);
    const QString tip = job.ended() ? "Take it off the list" : "Cancel; files that are done stay";
    remove_->setToolTip(tip);
    remove_->setAccessibleName(tip);
}

ExportQueuePanel::ExportQueuePanel(ExportQueue& queue, QWidget* parent) : QScrollArea(parent), queue_(queue) {
    setObjectName("exportQueue");
    setAccessibleName("What is being written");
    setFrameShape(QFrame::NoFrame);
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inside = new QWidget(this);
    rows_ = new QVBoxLayout(inside);
    rows_->setContentsMargins(0, 4, 0, 4);
    rows_->setSpacing(0);
    empty_ = new QLabel("What you export is listed here while it is written; you can go on working meanwhile.", inside);
    empty_->setContentsMargins(12, 6, 12, 6);
    empty_->setStyleSheet("color: #a3967f;");
    rows_->addWidget(empty_);
    rows_->addStretch(1);
    setWidget(inside);
    connect(&queue_, &ExportQueue::changed, this, &ExportQueuePanel::refresh);
    connect(&queue_, &ExportQueue::moved, this, &ExportQueuePanel::refreshRunning);
    refresh();
}

void ExportQueuePanel::refresh() {
    std::set<int> still;
    for (const ExportJob& job : queue_.jobs()) still.insert(job.id);
    for (auto it = shown_.begin(); it != shown_.end();) {
        if (still.contains(it->first)) {
            ++it;
            continue;
        }
        rows_->removeWidget(it->second);
        retire(it->second);
        it = shown_.erase(it);
    }
    int place = 1;
    for (const ExportJob& job : queue_.jobs()) {
        ExportRow*& row = shown_[job.id];
        if (!row) row = new ExportRow(queue_, job.id, widget());
        if (rows_->indexOf(row) != place) rows_->insertWidget(place, row);
        ++place;
        row->showJob(job);
        row->show();
    }
    empty_->setVisible(shown_.empty());
}

void ExportQueuePanel::refreshRunning() {
    for (const ExportJob& job : queue_.jobs())
        if (job.state == ExportJob::State::running) shown_.at(job.id)->showJob(job);
}
