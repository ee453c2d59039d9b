#include "app/export/export_queue.h"

#include <algorithm>
#include <QDateTime>

#include "app/export/export_leftovers.h"
#include "core/base/error.h"
#include "core/evaluate/evaluator.h"
#include "live/live_still.h"

using namespace gswarm;

namespace {

/// Writes it on the calling thread. Returns what to say of it.
QString write(const ExportJob& job, Progress& progress) {
    Evaluator evaluator;
    ExportFrames frames{evaluator, job.scene, {{}, job.folder}, job.frame, job.range, job.swarm};
    frames.live = live::liveStill();
    frames.replaces = job.replaces;
    int kept = 0;
    QString more;
    frames.kept = [&](int, const std::filesystem::path&) { ++kept; };
    frames.told = [&](const std::string& sentence) { more += " " + QString::fromStdString(sentence); };
    writeExport(job.settings, frames, job.file, progress);
    const QString name = QString::fromStdString(job.file.string());
    if (kept > 0 && !job.kind().numbered) return name + " is there already, just as it would be written." + more;
    if (kept > 0) more += QString(" %1 that were there already were kept.").arg(kept);
    return "Wrote " + name + "." + more;
}

}  // namespace

ExportQueue::ExportQueue(std::filesystem::path folder, QObject* parent) : QObject(parent), folder_(std::move(folder)) {
    timer_.setInterval(200);
    connect(&timer_, &QTimer::timeout, this, &ExportQueue::tick);
}

ExportQueue::~ExportQueue() {
    if (progress_) progress_->cancel();
    if (thread_.joinable()) thread_.join();
    for (const ExportJob& job : jobs_)
        if (job.ended()) export_leftovers::forget(job.id, folder_);
}

int ExportQueue::add(ExportJob job) {
    job.id = ++last_;
    job.state = ExportJob::State::waiting;
    export_leftovers::keep(job, folder_);
    jobs_.push_back(std::move(job));
    next();
    emit changed();
    return last_;
}

void ExportQueue::addLeft(std::vector<ExportJob> jobs) {
    for (ExportJob& job : jobs) {
        job.id = ++last_;
        job.state = ExportJob::State::paused;
        job.sentence = "Left by an earlier run.";
        export_leftovers::keep(job, folder_);
        jobs_.push_back(std::move(job));
    }
    if (!jobs.empty()) emit changed();
}

ExportJob* ExportQueue::find(int id) {
    const auto found = std::find_if(jobs_.begin(), jobs_.end(), [&](const ExportJob& job) { return job.id == id; });
    return found == jobs_.end() ? nullptr : &*found;
}

void ExportQueue::pause(int id) {
    ExportJob* job = find(id);
    if (!job || job->ended() || job->state == ExportJob::State::paused) return;
    job->state = ExportJob::State::paused;
    job->sentence = job->kind().numbered ? "Paused; files that are done are kept." : "Paused; going on begins it again.";
    if (id == running_) progress_->cancel();
    emit changed();
}

void ExportQueue::resume(int id) {
    ExportJob* job = find(id);
    if (!job || job->state != ExportJob::State::paused) return;
    job->state = ExportJob::State::waiting;
    job->sentence.clear();
    next();
    emit changed();
}

void ExportQueue::replace(int id) {
    ExportJob* job = find(id);
    if (!job || !job->inTheWay || job->state != ExportJob::State::failed) return;
    job->replaces = true;
    job->state = ExportJob::State::waiting;
    job->sentence.clear();
    export_leftovers::keep(*job, folder_);
    next();
    emit changed();
}

void ExportQueue::remove(int id) {
    if (id == running_) {
        removed_ = true;
        progress_->cancel();
        return;
    }
    std::erase_if(jobs_, [&](const ExportJob& job) { return job.id == id; });
    export_leftovers::forget(id, folder_);
    emit changed();
}

void ExportQueue::hurry(int id) {
    const auto found = std::find_if(jobs_.begin(), jobs_.end(), [&](const ExportJob& job) { return job.id == id; });
    const auto first =
        std::find_if(jobs_.begin(), jobs_.end(), [](const ExportJob& job) { return job.state == ExportJob::State::waiting; });
    if (found == jobs_.end() || first == jobs_.end() || found <= first) return;
    std::rotate(first, found, found + 1);
    emit changed();
}

void ExportQueue::next() {
    if (running_) return;
    const auto job = std::find_if(jobs_.begin(), jobs_.end(), [](const ExportJob& one) { return one.state == ExportJob::State::waiting; });
    if (job == jobs_.end()) return;
    if (thread_.joinable()) thread_.join();
    job->state = ExportJob::State::running;
    job->share = 0;
    job->secondsLeft = -1;
    running_ = job->id;
    removed_ = false;
    progress_ = std::make_shared<Progress>();
    began_ = QDateTime::currentMSecsSinceEpoch();
    beganAt_ = 0;
    timer_.start();
    thread_ = std::thread([this, progress = progress_, job = *job] {
        Outcome outcome = Outcome::failed;
        QString sentence;
        try {
            sentence = write(job, *progress);
            outcome = Outcome::fine;
        } catch (const Cancelled&) {
            outcome = Outcome::cancelled;
        } catch (const InTheWay& error) {
            outcome = Outcome::inTheWay;
            sentence = QString::fromUtf8(error.what());
        } catch (const std::exception& error) {
            sentence = QString::fromUtf8(error.what());
        }
        QMetaObject::invokeMethod(
            this, [this, id = job.id, outcome, sentence] { finish(id, outcome, sentence); }, Qt::QueuedConnection);
    });
}

void ExportQueue::finish(int id, Outcome outcome, const QString& sentence) {
    thread_.join();
    timer_.stop();
    progress_.reset();
    running_ = 0;
    QString said = sentence;
    const bool fine = outcome == Outcome::fine, cancelled = outcome == Outcome::cancelled;
    if (ExportJob* job = find(id)) {
        if (cancelled) said = job->kind().numbered ? "Cancelled; finished files were kept." : "Cancelled; nothing was written.";
        // Paused, it may have been told to go on meanwhile.
        if (!cancelled) {
            job->state = fine ? ExportJob::State::done : ExportJob::State::failed;
            job->inTheWay = outcome == Outcome::inTheWay;
            job->share = fine ? 1 : job->share;
            job->sentence = said;
            export_leftovers::forget(id, folder_);
        }
        if (removed_) remove(id);
    }
    removed_ = false;
    next();
    emit changed();
    emit ended(fine, said);
}

void ExportQueue::tick() {
    ExportJob* job = find(running_);
    if (!job || !progress_) return;
    job->share = progress_->fraction();
    const double gone = static_cast<double>(QDateTime::currentMSecsSinceEpoch() - began_) / 1000;
    // Files that were there already go by in no time: what they took says nothing of the others.
    if (gone < 1) beganAt_ = job->share;
    const double share = job->share - beganAt_;
    job->secondsLeft = gone > 2 && share > 0.005 ? gone / share * (1 - job->share) : -1;
    emit moved();
}
