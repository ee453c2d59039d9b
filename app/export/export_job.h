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
    std::filesystem::path folder;  ///< the project's
    gswarm::ObjectId swarm;
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
