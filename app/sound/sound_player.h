#pragma once
#include <condition_variable>
#include <deque>
#include <memory>
#include <mutex>
#include <optional>
#include <QObject>
#include <QTimer>
#include <thread>

#include "app/sound/play_way.h"
#include "app/sound/sound_device.h"
#include "core/provide/store.h"
#include "core/scene/scene.h"

class Document;

/// Lets the project's sounds be heard: all of them while it plays, and short grains while the playhead is dragged. They are mixed on a
/// thread of their own, a third of a second ahead; what is not there in time is silent, and time goes on. Where it plays, the device's
/// count of samples is the clock, so that picture and sound never part.
class SoundPlayer : public QObject {
    Q_OBJECT

  public:
    SoundPlayer(Document& document, gswarm::Store& store, QObject* parent);
    ~SoundPlayer() override;

    /// In place of the system's loudspeaker.
    void setDevice(std::unique_ptr<SoundDevice> device);
    /// Whether anything in the project is to be heard.
    bool somethingToHear() const;
    /// Whether the person wants to hear it.
    bool on() const { return on_; }
    void setOn(bool on);
    /// Begins to play where there is something to hear, a device, and it is wanted.
    void start(const PlayWay& way);
    void stop();
    /// Seconds since it was started, by the device; nothing where none plays.
    std::optional<double> heardSeconds() const;
    /// A tenth of a second of a frame, while nothing plays.
    void grain(double frame);
    /// Why nothing is heard, or what of it is not; empty where all is well.
    QString trouble() const { return trouble_; }
    /// Waits until what is played next is mixed; for those who pull faster than in real time.
    void waitUntilAhead();

  signals:
    void changed();

  private:
    /// What the thread is to do.
    struct Task {
        gswarm::Scene scene;
        std::filesystem::path folder;
        std::optional<PlayWay> way;  ///< none for a grain
        double frame = 0;
        int number = 0;   ///< which beginning this is
        int changes = 0;  ///< of the scene
    };
    bool begin(const std::optional<PlayWay>& way, double frame);
    /// One is being mixed, or waits to be heard.
    bool grainIsDue() const;
    void pull(float* stereo, std::int64_t count);
    void work();
    void refreshTrouble(const QString& sentence);

    Document& document_;
    gswarm::Store& store_;
    std::unique_ptr<SoundDevice> device_;
    QTimer idle_;  ///< after a grain
    bool on_ = true, playing_ = false;
    bool pulls_ = false;  ///< the device is started
    int begun_ = 0, changes_ = 0;
    QString trouble_;

    mutable std::mutex mutex_;
    std::condition_variable wake_, ahead_;
    std::optional<Task> next_;
    bool stopped_ = true, quit_ = false;
    bool mixingGrain_ = false;
    std::deque<float> mixed_;  ///< of two channels, from the sample that is heard next
    std::thread thread_;
};
