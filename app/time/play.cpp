#include "app/time/play.h"

#include <cmath>

#include "app/document/document.h"
#include "core/exchange/export.h"

using namespace gswarm;

Play::Play(Document& document, QObject* parent) : QObject(parent), document_(document) {
    timer_.setInterval(8);
    timer_.setTimerType(Qt::PreciseTimer);
    connect(&timer_, &QTimer::timeout, this, &Play::tick);
}

void Play::toggle() {
    if (playing()) return stop();
    startFrame_ = document_.frame();
    clock_.start();
    timer_.start();
    emit changed();
}

void Play::stop() {
    timer_.stop();
    emit changed();
}

void Play::tick() {
    const FrameRange range = framesOf(document_.scene());
    const double length = range.last - range.first + 1;
    const double gone = clock_.elapsed() / 1000.0 * momentAt(document_.scene(), 0).rate;
    const double into = std::fmod(startFrame_ - range.first + gone, length);
    document_.setFrame(range.first + std::floor(into < 0 ? into + length : into));
}

void Play::stepFrames(int frames) {
    stop();
    const FrameRange range = framesOf(document_.scene());
    const double length = range.last - range.first + 1;
    const double into = std::fmod(std::floor(document_.frame()) + frames - range.first, length);
    document_.setFrame(range.first + (into < 0 ? into + length : into));
}

void Play::toStart() {
    stop();
    document_.setFrame(framesOf(document_.scene()).first);
}
void Play::toEnd() {
    stop();
    document_.setFrame(framesOf(document_.scene()).last);
}
