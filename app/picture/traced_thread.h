#pragma once
#include <condition_variable>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <QImage>
#include <QObject>
#include <QRect>
#include <thread>

#include "core/base/progress.h"
#include "core/picture/refinement.h"

/// What is to be traced.
struct TracedRequest {
    /// Makes it, on the thread that traces.
    std::function<gswarm::Shot(gswarm::Progress&)> shot;
    QSize pixels;
    QRect part;  ///< of them; all for an empty one
    int samples = 512;
    bool filtered = true;
};

/// How far a traced picture is.
struct TracedState {
    QSize pixels;
    QRect part;
    int samples = 0, of = 0;
    double raysPerSecond = 0, noise = 0, secondsLeft = 0;
    bool coarse = false;  ///< the first look, at a lower resolution
    bool done = false;
};

/// Traces on a thread of its own and shows what it has again and again: a coarse picture at once, then the whole one with more
/// and more samples. The newest request wins. What differs from the last in nothing that light sees goes on where that was, so
/// that only what comes after is done again.
class TracedThread : public QObject {
    Q_OBJECT

  public:
    explicit TracedThread(QObject* parent);
    ~TracedThread() override;

    void request(TracedRequest request);
    /// Stops within a few milliseconds, until the next request: an edit needs the cores.
    void pause();
    bool busy() const;

  signals:
    void refined(const QImage& picture, const TracedState& state);
    void trouble(const QString& sentence);

  private:
    void run();
    void trace(const TracedRequest& request, gswarm::Progress& progress);
    void coarse(const TracedRequest& request, const gswarm::PixelRect& part, gswarm::Progress& progress);
    void tell(const TracedRequest& request, const gswarm::Film& film, const TracedState& state, gswarm::Progress& progress);

    mutable std::mutex mutex_;
    std::condition_variable wake_;
    std::optional<TracedRequest> next_;
    std::shared_ptr<gswarm::Progress> progress_;  ///< of what is under way
    bool working_ = false, stop_ = false;
    // Of the thread alone.
    gswarm::Tracer tracer_;
    std::optional<gswarm::Refinement> refinement_;  ///< of what the tracer shows
    double samplesPerSecond_ = 500000;              ///< as measured last
    std::thread thread_;
};
