#pragma once
#include <atomic>
#include <condition_variable>
#include <memory>
#include <mutex>
#include <QImage>
#include <QObject>
#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <thread>

#include "app/picture/view_request.h"

/// Owns the only OpenGL context and draws on a thread of its own, so that drawing time never becomes input lag.
/// One request slot: the newest wins, and cancels a fine picture under way.
class ViewThread : public QObject {
    Q_OBJECT

  public:
    explicit ViewThread(QObject* parent);
    ~ViewThread() override;

    void request(const ViewRequest& request);
    bool busy() const;

  signals:
    void drawn(const QImage& image, const gswarm::live::Steps& steps, double milliseconds);
    /// What this machine can draw while something moves; once, at the start.
    void measured(const gswarm::live::Steps& moving);
    /// There is no usable OpenGL: one sentence for the picture's place.
    void noGraphics(const QString& sentence);

  private:
    void run();

    QOffscreenSurface surface_;
    std::unique_ptr<QOpenGLContext> context_;
    mutable std::mutex mutex_;
    std::condition_variable wake_;
    std::unique_ptr<ViewRequest> next_;
    std::atomic<bool> cancelled_{false};
    bool drawing_ = false, drawingFine_ = false, stop_ = false;
    std::thread thread_;
};
