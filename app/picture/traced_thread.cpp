#include "app/picture/traced_thread.h"

#include <algorithm>
#include <chrono>
#include <cmath>

#include "core/base/error.h"
#include "core/picture/filter.h"

using namespace gswarm;

namespace {

constexpr double coarseSeconds = 0.04, passSeconds = 0.35;
constexpr float goodNoise = 0.003f;  ///< of white: what a screen hardly shows

double since(std::chrono::steady_clock::time_point start) {
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

QImage pictureOf(const Film& film, const Setting& setting, bool filters, const Progress& progress) {
    const Image image = finish(filters ? filtered(film, progress) : developed(film), setting);
    return QImage(image.pixels.data(), image.width, image.height, QImage::Format_RGBA8888).copy();
}

}  // namespace

TracedThread::TracedThread(QObject* parent) : QObject(parent) {
    thread_ = std::thread([this] { run(); });
}

TracedThread::~TracedThread() {
    {
        const std::lock_guard lock(mutex_);
        stop_ = true;
        if (progress_) progress_->cancel();
    }
    wake_.notify_one();
    thread_.join();
}

void TracedThread::request(TracedRequest request) {
    {
        const std::lock_guard lock(mutex_);
        next_ = std::move(request);
        if (progress_) progress_->cancel();
    }
    wake_.notify_one();
}

void TracedThread::pause() {
    const std::lock_guard lock(mutex_);
    next_.reset();
    if (progress_) progress_->cancel();
}

bool TracedThread::busy() const {
    const std::lock_guard lock(mutex_);
    return next_ || working_;
}

void TracedThread::run() {
    for (;;) {
        TracedRequest request;
        std::shared_ptr<Progress> progress;
        {
            std::unique_lock lock(mutex_);
            working_ = false;
            wake_.wait(lock, [this] { return stop_ || next_; });
            if (stop_) return;
            request = *std::exchange(next_, std::nullopt);
            progress_ = progress = std::make_shared<Progress>();
            working_ = true;
        }
        try {
            trace(request, *progress);
        } catch (const Cancelled&) {
            // Something newer is wanted, or nothing.
        } catch (const std::exception& error) {
            refinement_.reset();
            const QString sentence = QString::fromUtf8(error.what());
            QMetaObject::invokeMethod(this, [this, sentence] { emit trouble(sentence); });
        }
    }
}

void TracedThread::trace(const TracedRequest& request, Progress& progress) {
    Shot shot = request.shot(progress);
    const PixelRect whole{0, 0, request.pixels.width(), request.pixels.height()};
    const QRect& asked = request.part;
    const PixelRect part = asked.isEmpty() ? whole : PixelRect{asked.x(), asked.y(), asked.width(), asked.height()};
    const bool goesOn =
        refinement_ && whole == refinement_->film().whole() && part == refinement_->part() && exposeAlike(tracer_.shot(), shot);
    // Cancelled here, the tracer shows nothing: the film is no longer of what it shows.
    if (!goesOn) refinement_.reset();
    tracer_.show(std::move(shot), progress);
    if (!goesOn) {
        coarse(request, part, progress);
        refinement_.emplace(TraceSize{.width = whole.width, .height = whole.height}, part);
    }
    Refinement& picture = *refinement_;
    const auto noise = [&] { return noiseOf(picture.film(), part, tracer_.shot().setting().exposure); };
    TracedState state{request.pixels, asked, 0, request.samples};
    const double pixels = static_cast<double>(part.width) * part.height;
    std::int64_t rays = 0;
    double traced = 0, telling = 0;
    auto told = std::chrono::steady_clock::now();
    for (int had = picture.mean(); had < request.samples; had = picture.mean()) {
        const int step = std::clamp(static_cast<int>(passSeconds * samplesPerSecond_ / pixels), 1, 64);
        const auto start = std::chrono::steady_clock::now();
        rays += picture.refine(tracer_, std::min(request.samples, had + step), progress);
        const double took = std::max(since(start), 1e-4);
        traced += took;
        samplesPerSecond_ = pixels * (picture.mean() - had) / took;
        state.samples = picture.mean();
        state.raysPerSecond = static_cast<double>(rays) / traced;
        state.noise = noise();
        const double left = pixels * (request.samples - state.samples) / samplesPerSecond_;
        const double untilGood = state.samples * (std::pow(state.noise / goodNoise, 2) - 1) * pixels / samplesPerSecond_;
        state.secondsLeft = std::max(0.0, std::min(left, untilGood));
        if (state.noise <= goodNoise && state.samples >= 16) break;
        // Showing it may take a fifth of the time.
        if (since(told) < 4 * telling) continue;
        told = std::chrono::steady_clock::now();
        tell(request, picture.film(), state, progress);
        telling = since(told);
    }
    state.samples = picture.mean();
    if (state.noise == 0) state.noise = noise();
    state.secondsLeft = 0;
    state.done = true;
    tell(request, picture.film(), state, progress);
}

/// As large as it can be traced in a moment.
void TracedThread::coarse(const TracedRequest& request, const PixelRect& part, Progress& progress) {
    const double share = std::sqrt(coarseSeconds * samplesPerSecond_ / (static_cast<double>(part.width) * part.height));
    const int smaller = std::clamp(static_cast<int>(std::ceil(1 / share)), 1, 12);
    if (smaller == 1) return;
    const auto less = [&](int pixels) { return std::max(1, pixels / smaller); };
    Film small(less(request.pixels.width()), less(request.pixels.height()));
    const int left = std::min(part.x / smaller, small.width - 1), top = std::min(part.y / smaller, small.height - 1);
    const PixelRect there{left, top, std::min(less(part.width) + 1, small.width - left),
                          std::min(less(part.height) + 1, small.height - top)};
    const auto start = std::chrono::steady_clock::now();
    tracer_.expose(small, there, {.samples = 1}, progress);
    samplesPerSecond_ = static_cast<double>(there.width) * there.height / std::max(since(start), 1e-4);
    TracedState state{request.pixels, request.part, 1, request.samples};
    state.coarse = true;
    tell(request, small, state, progress);
}

void TracedThread::tell(const TracedRequest& request, const Film& film, const TracedState& state, Progress& progress) {
    const QImage picture = pictureOf(film, tracer_.shot().setting(), request.filtered, progress);
    progress.check();
    QMetaObject::invokeMethod(this, [this, picture, state] { emit refined(picture, state); });
}
