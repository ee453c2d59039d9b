#pragma once
#include <filesystem>
#include <map>
#include <memory>
#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <thread>
#include <vector>

#include "app/export/export_job.h"
#include "core/base/progress.h"

/// What is to be written, one after the other, on a thread of its own while the work goes on. Jobs are kept on disk until they ended, so
/// that the next start can go on with what a crash left.
class ExportQueue : public QObject {
    Q_OBJECT

  public:
    /// `folder` is this run's own for what is to survive it.
    ExportQueue(std::filesystem::path folder, QObject* parent);
    ~ExportQueue() override;

    /// Returns its number.
    int add(ExportJob job);
    /// What earlier runs left: each waits until it is told to go on.
    void addLeft(std::vector<ExportJob> jobs);
    /// In the order in which they are worked on; those that ended stay until they are taken away.
    const std::vector<ExportJob>& jobs() const { return jobs_; }
    bool running() const { return running_ != 0; }
    /// How many have not ended.
    int unfinished() const;

    /// Holds it where it is; another one may go on meanwhile.
    void pause(int id);
    /// Goes on where it was. One that an earlier run left begins again, but for files of a sequence that are there.
    void resume(int id);
    /// Once more, over what is in its way.
    void replace(int id);
    /// Takes it away; what it has written whole stays.
    void remove(int id);
    /// All that have not ended.
    void removeUnfinished();
    /// Before all others that wait.
    void hurry(int id);

  signals:
    /// Jobs came, went, changed places or state.
    void changed();
    /// Those that run got on.
    void moved();
    void ended(bool fine, const QString& sentence);

  private:
    enum class Outcome { fine, cancelled, inTheWay, failed };
    /// One that was begun: it has a thread of its own, which waits while it is paused.
    struct Work {
        gswarm::Progress progress;
        std::thread thread;
        QElapsedTimer clock;      ///< since it went on last
        double shareBefore = -1;  ///< that was done then; below 0 until it is known
    };

    ExportJob* find(int id);
    void next();
    void begin(const ExportJob& job);
    void finish(int id, Outcome outcome, const QString& sentence);
    void tick();

    std::filesystem::path folder_;
    std::vector<ExportJob> jobs_;
    std::map<int, std::unique_ptr<Work>> works_;
    int last_ = 0, running_ = 0;
    QTimer timer_;
};
