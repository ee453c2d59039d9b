#pragma once
#include <condition_variable>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <QObject>
#include <QRectF>
#include <QString>
#include <thread>
#include <vector>

#include "app/document/document.h"
#include "core/base/progress.h"
#include "core/sound/sound_peaks.h"

class QPainter;

/// The waves of the project's sounds as they lie in time, and where strokes and notes begin in them. Read on a thread of its own, piece
/// by piece: what is read is shown while the rest is read.
class SoundWaves : public QObject {
    Q_OBJECT

  public:
    struct Wave {
        gswarm::ObjectId id;
        QString name;
        double start = 0, rate = 25;  ///< its first frame, frames a second
        gswarm::SoundPart part;
        std::shared_ptr<const gswarm::SoundPeaks> peaks;
        std::vector<double> onsets;  ///< frames of the project, rising; of one that repeats those of a lap
        QString doing;               ///< “reading 40 %” or “listening” while it is looked through
        QString trouble;             ///< why it can't be read

        /// How far it swings between two frames.
        gswarm::SoundPeaks::Swing between(double from, double to) const;
        /// Onsets between two frames, laps and all.
        std::vector<double> onsetsBetween(double from, double to) const;
    };

    SoundWaves(Document& document, gswarm::Store& store, QObject* parent);
    ~SoundWaves() override;

    const std::vector<Wave>& waves() const { return waves_; }
    /// Whether there are sounds in the project, read or not.
    bool any() const;
    /// The onset nearest to a frame, if one is no further than so many frames.
    std::optional<double> onsetNear(double frame, double reach) const;
    /// Over a box, whose x are told for frames. Names stand left of it, as wide as `namesWidth`.
    void paint(QPainter& painter, const QRectF& box, double firstFrame, double lastFrame, double namesWidth) const;

  signals:
    void changed();

  private:
    struct Task {
        gswarm::Scene scene;
        std::filesystem::path folder;
    };
    void ask();
    void work();
    void listen(const Task& task);
    void listenForNumbers(const gswarm::Scene& scene, gswarm::ObjectId sound);
    void publish(std::vector<Wave> waves);

    Document& document_;
    gswarm::Store& store_;
    std::vector<Wave> waves_;
    std::vector<std::shared_ptr<const gswarm::Object>> asked_;  ///< the sounds as they were when they were asked for
    double askedRate_ = 0;
    std::filesystem::path askedFolder_;

    std::mutex mutex_;
    std::condition_variable wake_;
    std::optional<Task> next_;
    std::shared_ptr<gswarm::Progress> progress_;
    bool quit_ = false;
    std::thread thread_;
    /// Of the thread alone: what was read, by the sounds' keys.
    std::map<std::uint64_t, std::shared_ptr<const gswarm::SoundPeaks>> read_;
};
