#include "app/picture/view_thread.h"

#include <chrono>
#include <QSurfaceFormat>
#include <QThread>

#include "app/document/application.h"
#include "core/base/error.h"
#include "live/measure.h"

namespace {

const char* const noContext =
    "The view can't be drawn: this machine offers no OpenGL 3.3, not even in software (install Mesa's libgl1-mesa-dri). "
    "Everything else works, and exports are traced without it.";

}  // namespace

ViewThread::ViewThread(QObject* parent) : QObject(parent) {
    QSurfaceFormat format;
    format.setVersion(3, 3);
    format.setProfile(QSurfaceFormat::CoreProfile);
    surface_.setFormat(format);
    surface_.create();
    context_ = std::make_unique<QOpenGLContext>();
    context_->setFormat(format);
    const bool made = context_->create() && (context_->format().majorVersion() > 3 || context_->format().minorVersion() >= 3);
    if (!made || qEnvironmentVariableIsSet("GILDED_SWARM_NO_GL")) {
        context_.reset();
        QMetaObject::invokeMethod(
            this, [this] { emit noGraphics(QString::fromUtf8(noContext)); }, Qt::QueuedConnection);
        return;
    }
    context_->moveToThread(nullptr);
    thread_ = std::thread([this] { run(); });
}

ViewThread::~ViewThread() {
    if (!thread_.joinable()) return;
    {
        const std::lock_guard lock(mutex_);
        stop_ = true;
    }
    cancelled_ = true;
    wake_.notify_one();
    thread_.join();
}

bool ViewThread::busy() const {
    const std::lock_guard lock(mutex_);
    return next_ || drawing_;
}

void ViewThread::request(const ViewRequest& request) {
    if (!thread_.joinable()) return;
    {
        const std::lock_guard lock(mutex_);
        next_ = std::make_unique<ViewRequest>(request);
        if (drawingFine_) cancelled_ = true;
    }
    wake_.notify_one();
}

void ViewThread::run() {
    context_->moveToThread(QThread::currentThread());
    context_->makeCurrent(&surface_);
    std::unique_ptr<gswarm::live::Renderer> renderer;
    try {
        renderer = std::make_unique<gswarm::live::Renderer>();
        // Once for the program: it is the same machine for every window.
        static const gswarm::live::Steps moving = gswarm::live::stepsWhileMoving(*renderer);
        QMetaObject::invokeMethod(
            this, [this] { emit measured(moving); }, Qt::QueuedConnection);
    } catch (const gswarm::Error& error) {
        const QString sentence = error.what();
        QMetaObject::invokeMethod(
            this, [this, sentence] { emit noGraphics(sentence); }, Qt::QueuedConnection);
    }
    for (;;) {
        std::unique_ptr<ViewRequest> request;
        {
            std::unique_lock lock(mutex_);
            drawing_ = drawingFine_ = false;
            wake_.wait(lock, [this] { return stop_ || next_; });
            if (stop_) break;
            request = std::move(next_);
            drawing_ = true;
            drawingFine_ = request->fine;
            cancelled_ = false;
        }
        if (!renderer) continue;
        const auto start = std::chrono::steady_clock::now();
        QImage image;
        guarded("the picture", [&] { image = ::drawn(*renderer, *request, cancelled_); });
        const double took = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
        if (!image.isNull())
            QMetaObject::invokeMethod(
                this, [this, image, steps = request->steps, took] { emit drawn(image, steps, took); }, Qt::QueuedConnection);
    }
    renderer.reset();
    context_->doneCurrent();
    context_->moveToThread(thread());
}
