#pragma once
#include <memory>
#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <thread>
#include <vector>

#include "app/export/export_job.h"
#include "core/base/progress.h"

/// What writing takes.
struct ExportCost {
    double seconds = 0;
    double bytes = 0;        ///< below 0 where that can't be told
    bool bytesMost = false;  ///< it takes that at most
};

/// Tells what a job takes by writing its first frame into a folder that is gone afterwards. Traced pictures are measured at two small
/// sizes, from which that of the full one follows. Throws as writing does.
ExportCost costOf(const ExportJob& job, gswarm::Progress& progress);

/// Measures what was asked for last on a thread of its own, once nothing else was asked for a moment.
class ExportMeasure : public QObject {
    Q_OBJECT

  public:
    explicit ExportMeasure(QObject* parent);
    ~ExportMeasure() override;

    void ask(std::vector<ExportJob> jobs);
    void stop();

  signals:
    /// All jobs together; empty while nothing can be said.
    void told(const QString& sentence);

  private:
    void begin();
    void finish(const QString& sentence);

    std::vector<ExportJob> asked_;
    QTimer calm_;
    std::shared_ptr<gswarm::Progress> progress_;  ///< of the one at work
    std::thread thread_;
};
