#pragma once
#include <filesystem>
#include <QImage>
#include <QString>

#include "core/exchange/exporter_kind.h"

/// One thing that is written: of the scene as it was when it was asked for.
struct ExportJob {
    enum class State { waiting, running, paused, done, failed };

    int id = 0;
    gswarm::Part settings;
    gswarm::Scene scene;
    std::filesystem::path folder;        ///< the project's
    gswarm::ObjectId swarm;              ///< whose instances are written, by what writes those of one swarm
    std::vector<gswarm::ObjectId> only;  ///< the swarms that are shown; all that are, where there are none
    gswarm::ObjectId camera;             ///< that it is seen through; the empty id for the one that is on
    double frame = 0;
    gswarm::FrameRange range;
    std::filesystem::path file;
    QString project;
    QImage picture;  ///< what the view showed; may be null
    State state = State::waiting;
    bool replaces = false, inTheWay = false;  ///< writes over what is there; failed because of it
    double share = 0;                         ///< that is done
    double secondsLeft = -1;                  ///< below 0 while that can't be told
    QString sentence;                         ///< how it ended, or why it waits

    const gswarm::ExporterKind& kind() const { return static_cast<const gswarm::ExporterKind&>(*settings.kind); }
    bool ended() const { return state == State::done || state == State::failed; }
};

/// The scene with what is written of it alone shown.
gswarm::Scene sceneOf(const ExportJob& job);

/// Writes it on the calling thread, told of files that were there already just as they would be written. Returns the sentences that the
/// person should know. Throws as writeExport does.
QString writeJob(const ExportJob& job, gswarm::Progress& progress, int& kept);
