#include "app/sound/sound_player.h"

#include <algorithm>
#include <QMetaObject>
#include <vector>

#include "app/document/document.h"
#include "app/sound/loudspeaker.h"
#include "core/base/error.h"
#include "core/provide/sound_mix.h"
#include "core/resolve/resolve.h"
#include "core/scene/object_kinds.h"

using namespace gswarm;

namespace {

constexpr std::int64_t ahead = soundRate / 3, atOnce = 2048, grainLength = soundRate / 10, grainFade = soundRate / 200;

}  // namespace

SoundPlayer::SoundPlayer(Document& document, Store& store, QObject* parent) : QObject(parent), document_(document), store_(store) {
    idle_.setSingleShot(true);
    idle_.setInterval(600);
    connect(&idle_, &QTimer::timeout, this, [this] {
        if (playing_) return;
        if (grainIsDue())
            idle_.start();  // a slow reader or loudspeaker still gets to it
        else
            stop();
    });
    // What is changed is heard changed.
    connect(&document_, &Document::sceneChanged, this, [this] {
        const std::lock_guard lock(mutex_);
        if (playing_ && next_) next_->scene = document_.scene(), next_->changes = ++changes_;
    });
    thread_ = std::thread([this] { work(); });
}

SoundPlayer::~SoundPlayer() {
    if (device_) device_->stop();
    {
        const std::lock_guard lock(mutex_);
        quit_ = true;
        wake_.notify_all(), ahead_.notify_all();
    }
    thread_.join();
}

void SoundPlayer::setDevice(std::unique_ptr<SoundDevice> device) {
    stop();
    device_ = std::move(device);
    refreshTrouble({});
}

bool SoundPlayer::somethingToHear() const {
    const Scene& scene = document_.scene();
    const auto all = scene.all(ObjectType::sound);
    return std::any_of(all.begin(), all.end(), [&](ObjectId id) { return switchOf(scene.at(id).part("laid"), "heard"); });
}

void SoundPlayer::setOn(bool on) {
    if (on == on_) return;
    on_ = on;
    if (!on) stop();
    emit changed();
}

bool SoundPlayer::begin(const std::optional<PlayWay>& way, double frame) {
    if (!on_ || !somethingToHear()) return false;
    if (!device_) device_ = std::make_unique<Loudspeaker>();
    {
        const std::lock_guard lock(mutex_);
        next_ = Task{document_.scene(), document_.folder(), way, frame, ++begun_, ++changes_};
        mixingGrain_ = !way;
        stopped_ = false;
        mixed_.clear();
        wake_.notify_all();
    }
    // One grain after the other, while the playhead is dragged, needs no other beginning.
    if (pulls_) return true;
    pulls_ = device_->start([this](float* stereo, std::int64_t count) { pull(stereo, count); });
    if (pulls_) return true;
    const std::lock_guard lock(mutex_);
    next_.reset();
    stopped_ = true;
    return false;
}

void SoundPlayer::start(const PlayWay& way) {
    stop();
    playing_ = begin(way, 0);
    refreshTrouble(on_ && device_ && somethingToHear() && !playing_ ? device_->trouble() : QString());
}

void SoundPlayer::stop() {
    {
        const std::lock_guard lock(mutex_);
        next_.reset();
        mixingGrain_ = false;
        stopped_ = true;
        mixed_.clear();
    }
    if (device_) device_->stop();
    playing_ = pulls_ = false;
}

std::optional<double> SoundPlayer::heardSeconds() const {
    if (!playing_) return std::nullopt;
    return device_->heardSeconds();
}

void SoundPlayer::grain(double frame) {
    if (playing_) return;
    if (begin(std::nullopt, frame)) idle_.start();
}

bool SoundPlayer::grainIsDue() const {
    const std::lock_guard lock(mutex_);
    return mixingGrain_ || !mixed_.empty();
}

void SoundPlayer::pull(float* stereo, std::int64_t count) {
    const std::lock_guard lock(mutex_);
    const auto there = static_cast<std::ptrdiff_t>(std::min<std::size_t>(mixed_.size(), static_cast<std::size_t>(2 * count)));
    std::copy_n(mixed_.begin(), there, stereo);
    std::fill(stereo + there, stereo + 2 * count, 0.0f);
    mixed_.erase(mixed_.begin(), mixed_.begin() + there);
    wake_.notify_all();
}

void SoundPlayer::waitUntilAhead() {
    std::unique_lock lock(mutex_);
    ahead_.wait(lock, [this] { return quit_ || stopped_ || mixed_.size() >= static_cast<std::size_t>(2 * ahead); });
}

void SoundPlayer::refreshTrouble(const QString& sentence) {
    if (sentence == trouble_) return;
    trouble_ = sentence;
    emit changed();
}

/// Mixes what is heard next while there is less than a third of a second of it.
void SoundPlayer::work() {
    std::unique_lock lock(mutex_);
    while (true) {
        wake_.wait(lock, [this] { return quit_ || next_; });
        if (quit_) return;
        Task task = *next_;
        if (!task.way) next_.reset();
        lock.unlock();
        SoundMix mix(task.scene, task.folder, store_);
        std::vector<float> stereo;
        if (!task.way) {
            // It comes and goes within two hundredths, so that it does not click.
            stereo.resize(2 * grainLength);
            mix.mix(task.frame, grainLength, stereo.data());
            for (std::int64_t i = 0; i < grainLength; ++i) {
                const auto fade = static_cast<float>(std::min({i + 1, grainLength - i, grainFade})) / static_cast<float>(grainFade);
                for (int side = 0; side < 2; ++side) stereo[static_cast<std::size_t>(2 * i + side)] *= fade;
            }
            lock.lock();
            if (!next_ && !stopped_) {
                mixed_.assign(stereo.begin(), stereo.end());
                mixingGrain_ = false;
            }
            continue;
        }
        std::int64_t done = 0;  // samples since playing began
        std::size_t told = 0;
        lock.lock();
        while (!quit_ && next_ && next_->way) {
            if (next_->number != task.number) break;
            if (next_->changes != task.changes) {
                task = *next_;
                lock.unlock();
                mix = SoundMix(task.scene, task.folder, store_);
                told = 0;
                lock.lock();
                continue;
            }
            if (mixed_.size() >= static_cast<std::size_t>(2 * ahead)) {
                ahead_.notify_all();
                wake_.wait(lock);
                continue;
            }
            lock.unlock();
            const PlayWay::Stretch stretch = task.way->stretchAt(double(done) / soundRate);
            const std::int64_t left = std::max<std::int64_t>(1, std::llround(stretch.seconds * soundRate)), count = std::min(atOnce, left);
            stereo.assign(static_cast<std::size_t>(2 * count), 0.0f);
            if (!stretch.silent && !stretch.backward) mix.mix(stretch.frame, count, stereo.data());
            if (!stretch.silent && stretch.backward) {
                mix.mix(stretch.frame - double(count) / soundRate * task.way->rate, count, stereo.data());
                for (std::int64_t i = 0; i < count / 2; ++i)
                    std::swap_ranges(&stereo[static_cast<std::size_t>(2 * i)], &stereo[static_cast<std::size_t>(2 * i)] + 2,
                                     &stereo[static_cast<std::size_t>(2 * (count - 1 - i))]);
            }
            if (mix.troubles().size() > told) {
                told = mix.troubles().size();
                QMetaObject::invokeMethod(
                    this, [this, sentence = QString::fromStdString(mix.troubles().back())] { refreshTrouble(sentence); },
                    Qt::QueuedConnection);
            }
            lock.lock();
            // Not where it was stopped, or begun anew, meanwhile.
            if (!next_ || next_->number != task.number) break;
            mixed_.insert(mixed_.end(), stereo.begin(), stereo.end());
            done += count;
        }
    }
}
