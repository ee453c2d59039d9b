#include "app/time/play.h"

#include <algorithm>
#include <cmath>

#include "app/document/document.h"
#include "app/document/evaluation.h"
#include "app/sound/sound_player.h"
#include "core/scene/frame_range.h"

using namespace gswarm;

Play::Play(Document& document, Evaluation& evaluation, SoundPlayer& sound, QObject* parent)
    : QObject(parent), document_(document), evaluation_(evaluation), sound_(sound) {
    timer_.setInterval(8);
    timer_.setTimerType(Qt::PreciseTimer);
    connect(&timer_, &QTimer::timeout, this, &Play::goOn);
    connect(&evaluation_, &Evaluation::ready, this, &Play::shown);
    connect(&sound_, &SoundPlayer::changed, this, [this] {
        if (playing() && sound_.on() != heard_) begin();
    });
}

PlayWay Play::way() const { return {framesOf(document_.scene()), mode_, startFrame_, momentAt(document_.scene(), 0).rate}; }

/// From the frame that is shown.
void Play::begin() {
    startFrame_ = document_.frame();
    clock_.restart();
    heard_ = sound_.on();
    begun_ = way();
    if (playing()) sound_.start(begun_);
}

double Play::seconds() const { return sound_.heardSeconds().value_or(clock_.elapsed() / 1000.0); }

void Play::setMode(Mode mode) {
    mode_ = mode;
    begin();
    emit changed();
}

void Play::toggle() {
    if (playing()) return stop();
    const FrameRange range = framesOf(document_.scene());
    if (mode_ == Mode::once && document_.frame() >= range.last) document_.setFrame(range.first);
    shown_.clear();
    timer_.start();
    begin();
    emit changed();
}

void Play::stop() {
    timer_.stop();
    sound_.stop();
    emit changed();
}

void Play::goOn() {
    const PlayWay now = way();
    // What is heard keeps to the range and rate that were there when it began.
    if (now.range != begun_.range || now.rate != begun_.rate) begin();
    document_.setFrame(now.frameAt(seconds()));
    if (now.over(seconds())) stop();
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
