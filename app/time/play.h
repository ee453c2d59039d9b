#pragma once
#include <QElapsedTimer>
#include <QObject>
#include <QTimer>

class Document;

/// Plays the piece in real time, over and over: pictures may be dropped, time never.
class Play : public QObject {
    Q_OBJECT

  public:
    Play(Document& document, QObject* parent);
    bool playing() const { return timer_.isActive(); }
    void toggle();
    void stop();
    void stepFrames(int frames);
    void toStart();
    void toEnd();

  signals:
    void changed();

  private:
    void tick();

    Document& document_;
    QTimer timer_;
    QElapsedTimer clock_;
    double startFrame_ = 0;
};
