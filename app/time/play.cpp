#include "app/time/play.h"

#include <algorithm>
#include <cmath>

#include "app/document/document.h"
#include "app/document/evaluation.h"
#include "core/scene/frame_range.h"

using namespace gswarm;

Play::Play(Document& document, Evaluation& evaluation, QObject* parent) : QObject(parent), document_(document), evaluation_(evaluation) {
    timer_.setInterval(8);
    timer_.setTimerType(Qt::PreciseTimer);
    connect(&timer_, &QTimer::timeout, this, &Play::tick);
    connect(&evaluation_, &Evaluation::ready, this, &Play::shown);
}

void Play::setMode(Mode mode) {
    mode_ = mode;
    startFrame_ = document_.frame();
    clock_.restart();
    emit changed();
}

void Play::toggle() {
    if (playing()) return stop();
    const FrameRange range = framesOf(document_.scene());
    if (mode_ == Mode::once && document_.frame() >= range.last) document_.setFrame(range.first);
    startFrame_ = document_.frame();
    shown_.clear();
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
    const double gone = startFrame_ - range.first + clock_.elapsed() / 1000.0 * momentAt(document_.scene(), 0).rate;
    double into = std::fmod(gone, length);
    if (into < 0) into += length;
    if (mode_ == Mode::backAndForth && length > 1) {
        const double there = std::fmod(std::floor(gone), 2 * (length - 1));
        into = there < length ? there : 2 * (length - 1) - there;
    }
    if (mode_ == Mode::once && gone >= length) {
        document_.setFrame(range.last);
        return stop();
    }
    document_.setFrame(range.first + std::floor(into));
}

void Play::shown() {
    if (!playing()) return;
    const auto latest = evaluation_.latest();
    if (!latest || latest->frame == lastShown_) return;
    lastShown_ = latest->frame;
    shown_.push_back(clock_.elapsed());
    while (shown_.size() > 1 && shown_.back() - shown_.front() > 1500) shown_.pop_front();
}

double Play::shownRate() const {
    if (!playing() || shown_.size() < 3) return 0;
    return (double(shown_.size()) - 1) * 1000 / std::max<double>(1, double(shown_.back() - shown_.front()));
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
