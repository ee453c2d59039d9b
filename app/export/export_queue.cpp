#include "app/export/export_queue.h"

#include <algorithm>

#include "app/export/export_leftovers.h"
#include "core/base/error.h"

using namespace gswarm;

namespace {

/// Writes it on the calling thread. Returns what to say of it.
QString write(const ExportJob& job, Progress& progress) {
    int kept = 0;
    QString more = writeJob(job, progress, kept);
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
    for (const auto& [id, work] : works_) work->progress.cancel();
    for (const auto& [id, work] : works_) work->thread.join();
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

int ExportQueue::unfinished() const {
    return static_cast<int>(std::count_if(jobs_.begin(), jobs_.end(), [](const ExportJob& job) { return !job.ended(); }));
}

ExportJob* ExportQueue::find(int id) {
    const auto found = std::find_if(jobs_.begin(), jobs_.end(), [&](const ExportJob& job) { return job.id == id; });
    return found == jobs_.end() ? nullptr : &*found;
}

void ExportQueue::pause(int id) {
    ExportJob* job = find(id);
    if (!job || job->ended() || job->state == ExportJob::State::paused) return;
    job->state = ExportJob::State::paused;
    job->sentence = works_.contains(id) ? "Paused; it goes on where it is." : "Paused.";
    if (id == running_) {
        works_.at(id)->progress.hold(true);
        running_ = 0;
        next();
    }
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
    const auto work = works_.find(id);
    if (work != works_.end()) return work->second->progress.cancel();
    std::erase_if(jobs_, [&](const ExportJob& job) { return job.id == id; });
    export_leftovers::forget(id, folder_);
    emit changed();
}

void ExportQueue::removeUnfinished() {
    std::vector<int> ids;
    for (const ExportJob& job : jobs_)
        if (!job.ended()) ids.push_back(job.id);
    for (const int id : ids) {
        remove(id);
        export_leftovers::forget(id, folder_);
    }
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
    if (job == jobs_.end()) return timer_.stop();
    job->state = ExportJob::State::running;
    job->secondsLeft = -1;
    running_ = job->id;
    timer_.start();
    if (const auto held = works_.find(job->id); held != works_.end()) {
        held->second->clock.start();
        held->second->shareBefore = -1;
        held->second->progress.hold(false);
    } else {
        begin(*job);
    }
}

void ExportQueue::begin(const ExportJob& asked) {
    auto& work = works_[asked.id] = std::make_unique<Work>();
    work->clock.start();
    work->thread = std::thread([this, &progress = work->progress, job = asked] {
        Outcome outcome = Outcome::failed;
        QString sentence;
        try {
            sentence = write(job, progress);
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

/// Whether it ran or was held as it ended: a held one ends where it is cancelled, or had nothing left to wait in.
void ExportQueue::finish(int id, Outcome outcome, const QString& sentence) {
    const auto work = works_.extract(id);
    work.mapped()->thread.join();
    if (running_ == id) running_ = 0;
    QString said = sentence;
    ExportJob* job = find(id);
    if (outcome == Outcome::cancelled) {
        said = job->kind().numbered ? "Cancelled; finished files were kept." : "Cancelled; nothing was written.";
        remove(id);
    } else {
        job->state = outcome == Outcome::fine ? ExportJob::State::done : ExportJob::State::failed;
        job->inTheWay = outcome == Outcome::inTheWay;
        job->share = outcome == Outcome::fine ? 1 : job->share;
        job->sentence = said;
        export_leftovers::forget(id, folder_);
    }
    next();
    emit changed();
    emit ended(outcome == Outcome::fine, said);
}

void ExportQueue::tick() {
    ExportJob* job = find(running_);
    if (!job) return;
    Work& work = *works_.at(running_);
    job->share = work.progress.fraction();
    const double gone = static_cast<double>(work.clock.elapsed()) / 1000;
    // Files that were there already go by in no time: what they took says nothing of the others.
    if (gone < 1 || work.shareBefore < 0) work.shareBefore = job->share;
    const double share = job->share - work.shareBefore;
    job->secondsLeft = gone > 2 && share > 0.005 ? (gone - 1) / share * (1 - job->share) : -1;
    emit moved();
}
