#include "app/sound/sound_waves.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <QPainter>

#include "app/theme/theme.h"
#include "core/base/error.h"
#include "core/provide/sounds.h"

using namespace gswarm;

namespace {

/// Nobody sees more laps of a sound than pixels.
constexpr double mostLaps = 4000;

}  // namespace

SoundPeaks::Swing SoundWaves::Wave::between(double from, double to) const {
    if (!peaks) return {};
    const auto sampleAt = [&](double frame) { return static_cast<std::int64_t>(std::llround((frame - start) / rate * soundRate)); };
    std::int64_t low = sampleAt(from), high = std::max(low + 1, sampleAt(to));
    if (part.repeats) {
        if (high - low >= part.length) return peaks->between(part.first, part.first + part.length);
        const std::int64_t into = (low % part.length + part.length) % part.length;
        high = into + (high - low), low = into;
    }
    low = std::max<std::int64_t>(low, 0), high = std::min(high, part.length);
    return low < high ? peaks->between(part.first + low, part.first + high) : SoundPeaks::Swing{};
}

std::vector<double> SoundWaves::Wave::onsetsBetween(double from, double to) const {
    std::vector<double> found;
    const double lap = double(part.length) / soundRate * rate;
    const double first = part.repeats ? std::floor((from - start) / lap) : 0, last = part.repeats ? std::floor((to - start) / lap) : 0;
    if (last - first > mostLaps) return found;
    for (double k = first; k <= last; ++k)
        for (const double onset : onsets)
            if (onset + k * lap >= from && onset + k * lap <= to) found.push_back(onset + k * lap);
    return found;
}

SoundWaves::SoundWaves(Document& document, Store& store, QObject* parent) : QObject(parent), document_(document), store_(store) {
    connect(&document_, &Document::sceneChanged, this, &SoundWaves::ask);
    connect(&document_, &Document::fileChanged, this, &SoundWaves::ask);
    thread_ = std::thread([this] { work(); });
    ask();
}

SoundWaves::~SoundWaves() {
    {
        const std::lock_guard lock(mutex_);
        quit_ = true;
        if (progress_) progress_->cancel();
        wake_.notify_all();
    }
    thread_.join();
}

bool SoundWaves::any() const { return !document_.scene().all(ObjectType::sound).empty(); }

std::optional<double> SoundWaves::onsetNear(double frame, double reach) const {
    std::optional<double> nearest;
    for (const Wave& wave : waves_)
        for (const double onset : wave.onsetsBetween(frame - reach, frame + reach))
            if (!nearest || std::abs(onset - frame) < std::abs(*nearest - frame)) nearest = onset;
    return nearest;
}

/// Only where a sound, or what tells where it lies, is another than before.
void SoundWaves::ask() {
    const Scene& scene = document_.scene();
    std::vector<std::shared_ptr<const Object>> sounds;
    for (const ObjectId id : scene.all(ObjectType::sound)) sounds.push_back(scene.objects.at(id));
    const double rate = momentAt(scene, 0).rate;
    if (sounds == asked_ && rate == askedRate_ && document_.folder() == askedFolder_) return;
    asked_ = sounds, askedRate_ = rate, askedFolder_ = document_.folder();
    if (sounds.empty() && !waves_.empty()) {
        waves_.clear();
        emit changed();
    }
    const std::lock_guard lock(mutex_);
    next_ = Task{scene, document_.folder()};
    if (progress_) progress_->cancel();
    wake_.notify_all();
}

void SoundWaves::work() {
    std::unique_lock lock(mutex_);
    while (true) {
        wake_.wait(lock, [this] { return quit_ || next_; });
        if (quit_) return;
        const Task task = *std::exchange(next_, std::nullopt);
        progress_ = std::make_shared<Progress>();
        lock.unlock();
        try {
            listen(task);
        } catch (const Cancelled&) {
            // Something newer was asked for.
        }
        lock.lock();
    }
}

void SoundWaves::listen(const Task& task) {
    const auto progress = [this] {
        const std::lock_guard lock(mutex_);
        return progress_;
    }();
    std::vector<Wave> waves;
    std::vector<AskedSound> sounds;
    std::map<std::uint64_t, std::shared_ptr<const SoundPeaks>> stay;
    for (const ObjectId id : task.scene.all(ObjectType::sound)) {
        progress->check();
        Wave wave;
        wave.id = id, wave.name = QString::fromStdString(task.scene.at(id).name);
        wave.rate = momentAt(task.scene, 0).rate;
        AskedSound asked;
        try {
            asked = askSound(task.scene, id, 0, task.folder, store_);
            wave.part = partOf(asked.laid, asked.sound);
            wave.start = double(asked.laid.start);
            if (const auto found = read_.find(asked.sound.key); found != read_.end()) stay.insert(*found), wave.peaks = found->second;
        } catch (const Error& error) {
            wave.trouble = QString::fromStdString(error.what());
        }
        waves.push_back(std::move(wave));
        sounds.push_back(std::move(asked));
    }
    read_ = std::move(stay);
    publish(waves);
    for (std::size_t k = 0; k < waves.size(); ++k) {
        Wave& wave = waves[k];
        if (!wave.trouble.isEmpty()) continue;
        try {
            SoundPeaks peaks = wave.peaks ? *wave.peaks : SoundPeaks(sounds[k].sound.facts);
            auto told = std::chrono::steady_clock::now();
            while (peaks.next() < peaks.pieces()) {
                progress->check();
                peaks.add(*sounds[k].sound.piece(peaks.next()));
                const auto now = std::chrono::steady_clock::now();
                if (now - told < std::chrono::milliseconds(150) && peaks.next() < peaks.pieces()) continue;
                told = now;
                wave.peaks = std::make_shared<const SoundPeaks>(peaks);
                wave.doing = peaks.next() < peaks.pieces() ? QString("reading %1 %").arg(100 * peaks.next() / peaks.pieces()) : "listening";
                read_[sounds[k].sound.key] = wave.peaks;
                publish(waves);
            }
            const auto heard = sounds[k].analysis(progress.get());
            wave.doing.clear();
            for (const Onset& onset : heard->onsets) wave.onsets.push_back(wave.start + onset.seconds * wave.rate);
        } catch (const Error& error) {
            wave.trouble = QString::fromStdString(error.what());
        }
        publish(waves);
        listenForNumbers(task.scene, wave.id);
    }
}

/// So that the window knows what its numbers hear; it never waits for that itself.
void SoundWaves::listenForNumbers(const Scene& scene, ObjectId sound) {
    if (!scene.listening) return;
    for (const Parameter& p : scene.at(sound).part("heard").kind->parameters)
        if (p.heard) scene.listening->heard(scene, sound, p.id, 0);
    QMetaObject::invokeMethod(
        this, [this] { document_.tellHeard(); }, Qt::QueuedConnection);
}

void SoundWaves::publish(std::vector<Wave> waves) {
    QMetaObject::invokeMethod(
        this,
        [this, waves = std::move(waves)] {
            waves_ = waves;
            emit changed();
        },
        Qt::QueuedConnection);
}

void SoundWaves::paint(QPainter& painter, const QRectF& box, double firstFrame, double lastFrame, double namesWidth) const {
    const double lane = box.height() / std::max<double>(1, double(waves_.size()));
    const double perFrame = box.width() / std::max(1.0, lastFrame - firstFrame);
    for (std::size_t k = 0; k < waves_.size(); ++k) {
        const Wave& wave = waves_[k];
        const QRectF own(box.left(), box.top() + lane * double(k), box.width(), lane);
        painter.setFont(theme::text(lane < 12 ? 9 : 11));
        painter.setPen(wave.trouble.isEmpty() ? theme::quiet : theme::coral);
        const QRectF name(10, own.top(), namesWidth - 16, own.height());
        const QString text = wave.doing.isEmpty() ? wave.name : wave.name + " · " + wave.doing;
        painter.drawText(name, Qt::AlignVCenter, painter.fontMetrics().elidedText(text, Qt::ElideMiddle, static_cast<int>(name.width())));
        // As tall as its loudest moment is loud.
        const auto whole = wave.peaks ? wave.peaks->between(wave.part.first, wave.part.first + wave.part.length) : SoundPeaks::Swing{};
        const double loudest = std::max({0.01, double(whole.most), -double(whole.least)});
        painter.setRenderHint(QPainter::Antialiasing, false);
        painter.setPen(theme::verdigris);
        for (double x = std::floor(own.left()); x < own.right(); ++x) {
            const double from = firstFrame + (x - own.left()) / perFrame;
            const auto swing = wave.between(from, from + 1 / perFrame);
            const double half = own.height() / 2 - 1, middle = own.center().y();
            painter.drawLine(QPointF(x, middle - half * double(swing.most) / loudest),
                             QPointF(x, middle - half * double(swing.least) / loudest));
        }
        painter.setPen(theme::ivory);
        const std::vector<double> onsets = wave.onsetsBetween(firstFrame, lastFrame);
        // So close that they would be a bar, they tell nothing.
        const bool dense = double(onsets.size()) > own.width() / 4;
        for (const double onset : dense ? std::vector<double>() : onsets) {
            const double x = own.left() + (onset - firstFrame) * perFrame;
            painter.drawLine(QPointF(x, own.bottom() - 4), QPointF(x, own.bottom() - 1));
        }
        painter.setRenderHint(QPainter::Antialiasing);
    }
}
