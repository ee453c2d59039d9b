#pragma once
#include <deque>
#include <QElapsedTimer>
#include <QObject>
#include <QTimer>

class Document;
class Evaluation;

/// Plays the project in real time: pictures may be dropped, time never.
class Play : public QObject {
    Q_OBJECT

  public:
    enum class Mode { loop, once, backAndForth };  ///< over and over, to the end of the range, or there and back

    Play(Document& document, Evaluation& evaluation, QObject* parent);
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

  signals:
    void changed();

  private:
    void tick();

    Document& document_;
    Evaluation& evaluation_;
    QTimer timer_;
    QElapsedTimer clock_;
    double startFrame_ = 0;
    Mode mode_ = Mode::loop;
    std::deque<qint64> shown_;  ///< milliseconds at which pictures came
    double lastShown_ = -1e9;   ///< the frame that was shown last
};
