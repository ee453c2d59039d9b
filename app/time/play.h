#pragma once
#include <deque>
#include <QElapsedTimer>
#include <QObject>
#include <QTimer>

#include "app/sound/play_way.h"

class Document;
class Evaluation;
class SoundPlayer;

/// Plays the project in real time: pictures may be dropped, time never.
class Play : public QObject {
    Q_OBJECT

  public:
    using Mode = PlayWay::Mode;

    Play(Document& document, Evaluation& evaluation, SoundPlayer& sound, QObject* parent);
    bool playing() const { return timer_.isActive(); }
    Mode mode() const { return mode_; }
    void setMode(Mode mode);
    void toggle();
    void stop();
    void stepFrames(int frames);
    void toStart();
    void toEnd();
    /// Pictures a second that were really shown of late; 0 while nothing plays.
    double shownRate() const;
    /// A picture of a frame is on the screen.
    void shown();
    /// Shows the frame of this moment: by the count of the loudspeaker where one plays, else by the clock.
    void goOn();

  signals:
    void changed();

  private:
    void begin();
    PlayWay way() const;
    double seconds() const;

    Document& document_;
    Evaluation& evaluation_;
    SoundPlayer& sound_;
    QTimer timer_;
    QElapsedTimer clock_;
    double startFrame_ = 0;
    Mode mode_ = Mode::loop;
    PlayWay begun_;             ///< as it was when playing began
    bool heard_ = true;         ///< whether sound was wanted then
    std::deque<qint64> shown_;  ///< milliseconds at which pictures came
    double lastShown_ = -1e9;   ///< the frame that was shown last
};
