#include "app/picture/traced_view.h"

#include <algorithm>
#include <QPainter>
#include <QWidget>

#include "app/document/document.h"
#include "app/document/evaluation.h"
#include "app/theme/theme.h"
#include "core/exchange/exporter_kind.h"

using namespace gswarm;

namespace {

constexpr int grip = 5, restMilliseconds = 220;

}  // namespace

TracedView::TracedView(Document& document, Evaluation& evaluation, QWidget* view)
    : QObject(view), document_(document), evaluation_(evaluation), view_(view), thread_(this) {
    rest_.setSingleShot(true);
    rest_.setInterval(restMilliseconds);
    connect(&rest_, &QTimer::timeout, this, &TracedView::renewAsked);
    connect(&thread_, &TracedThread::refined, this, &TracedView::take);
    connect(&thread_, &TracedThread::trouble, this, &TracedView::trouble);
    // An edit has the cores at once; what was evaluated starts it anew.
    connect(&document_, &Document::sceneChanged, this, &TracedView::pause);
    connect(&document_, &Document::frameChanged, this, [this] {
        if (!shown_) return;
        pause();
        stale_ = true;
        rest_.start();
        emit changed();
    });
}

void TracedView::setShown(bool shown) {
    if (shown == shown_) return;
    shown_ = shown;
    stale_ = true;
    framing_ = false;
    if (shown)
        emit renewAsked();
    else
        pause();
    emit changed();
}

void TracedView::pause() { thread_.pause(); }

bool TracedView::showsLive() const { return !shown_ || stale_ || hasRegion() || (divider_ < 1 && !(comparing_ && hasKept())); }

void TracedView::renew(const ViewCamera& camera, ObjectId held) {
    const auto evaluated = evaluation_.latest();
    if (!shown_ || !evaluated || rest_.isActive()) return;
    // What is shown may be a scene before the camera came: a kept one, or one while the next is worked out.
    if (!evaluated->scene.find(held)) held = {};
    Setting setting = settingThrough(evaluated->scene, held, evaluated->frame, document_.store());
    const bool blurs = held && setting.camera.blurs;
    if (!held) {
        // A view of its own has no focus and no shutter.
        setting.camera = camera.camera();
        setting.camera.focus = Focus::everything;
        setting.camera.blurs = false;
    }
    TracedRequest request;
    if (blurs) {
        if (!evaluator_) evaluator_ = std::make_shared<Evaluator>();
        request.shot = [evaluator = evaluator_, evaluated, held](Progress& progress) {
            ExportFrames frames{*evaluator, evaluated->scene, evaluated->options, evaluated->frame};
            frames.camera = held;
            return frames.shot(evaluated->frame, progress);
        };
    } else {
        request.shot = [evaluated, setting, store = &document_.store()](Progress&) mutable {
            addPictures(setting, evaluated->options.projectFolder, *store);
            return Shot{{drawListOf(evaluated->swarms)}, {setting}};
        };
    }
    request.pixels = view_->size() * view_->devicePixelRatioF();
    request.part = regionPixels(request.pixels);
    request.samples = samples_;
    request.filtered = filters_;
    if (!request.pixels.isEmpty()) thread_.request(std::move(request));
}

void TracedView::take(const QImage& picture, const TracedState& state) {
    if (!shown_ || rest_.isActive()) return;
    picture_ = picture;
    state_ = state;
    if (std::exchange(stale_, false)) emit renewAsked();
    emit changed();
}

QRect TracedView::regionPixels(QSize pixels) const {
    if (region_.isEmpty()) return {};
    const QRectF scaled(region_.x() * pixels.width(), region_.y() * pixels.height(), region_.width() * pixels.width(),
                        region_.height() * pixels.height());
    return scaled.toAlignedRect().intersected(QRect(QPoint(0, 0), pixels));
}

double TracedView::dividerX() const { return divider_ * view_->width(); }

void TracedView::setDivider(double share) {
    divider_ = std::clamp(share, 0.0, 1.0);
    emit renewAsked();
    emit changed();
}

void TracedView::setFilters(bool on) {
    filters_ = on;
    emit renewAsked();
    emit changed();
}

void TracedView::setSamples(int samples) {
    samples_ = std::clamp(samples, 1, 4096);
    emit renewAsked();
    emit changed();
}

void TracedView::frameRegion() {
    framing_ = true;
    emit changed();
}

void TracedView::clearRegion() {
    framing_ = false;
    region_ = {};
    stale_ = true;
    emit renewAsked();
    emit changed();
}

void TracedView::keep() {
    kept_ = picture_;
    emit changed();
}

void TracedView::compareWithKept(bool on) {
    comparing_ = on && hasKept();
    if (comparing_ && divider_ >= 1) divider_ = 0.5;
    emit renewAsked();
    emit changed();
}

// ---- painting

void TracedView::paint(QPainter& painter) const {
    const QRectF all = view_->rect();
    if (!shown_ || stale_ || picture_.isNull()) return;
    const double x = dividerX();
    painter.save();
    QRectF traced(0, 0, x, all.height());
    if (hasRegion())
        traced = traced.intersected(
            QRectF(region_.x() * all.width(), region_.y() * all.height(), region_.width() * all.width(), region_.height() * all.height()));
    painter.setClipRect(traced);
    painter.fillRect(all, theme::ink);  // behind what is transparent
    painter.drawImage(all, picture_);
    if (comparing_ && hasKept()) {
        painter.setClipRect(QRectF(x, 0, all.width() - x, all.height()));
        painter.drawImage(all, kept_);
    }
    painter.restore();
    painter.setBrush(Qt::NoBrush);
    if (hasRegion() || regionStart_) {
        painter.setPen(QPen(theme::ivory, 1, Qt::DashLine));
        painter.drawRect(
            QRectF(region_.x() * all.width(), region_.y() * all.height(), region_.width() * all.width(), region_.height() * all.height()));
    }
    if (divider_ <= 0 && !dragging_) return;
    painter.setPen(QPen(theme::ink, 3));
    painter.drawLine(QPointF(x, 0), QPointF(x, all.height()));
    painter.setPen(QPen(theme::ivory, 1));
    painter.drawLine(QPointF(x, 0), QPointF(x, all.height()));
    painter.setBrush(theme::ivory);
    painter.setPen(QPen(theme::ink, 1));
    painter.drawRoundedRect(QRectF(x - 4, all.height() / 2 - 16, 8, 32), 4, 4);
}

// ---- the mouse

bool TracedView::onDivider(QPointF at) const { return shown_ && std::abs(at.x() - dividerX()) <= grip; }

bool TracedView::press(QPointF at) {
    if (!shown_) return false;
    if (framing_) {
        regionStart_ = at;
        region_ = {};
        return true;
    }
    dragging_ = onDivider(at);
    return dragging_;
}

bool TracedView::move(QPointF at) {
    if (regionStart_) {
        const QRectF box = QRectF(*regionStart_, at).normalized().intersected(view_->rect());
        region_ = QRectF(box.x() / view_->width(), box.y() / view_->height(), box.width() / view_->width(), box.height() / view_->height());
        emit changed();
        return true;
    }
    if (!dragging_) return false;
    setDivider(at.x() / view_->width());
    return true;
}

bool TracedView::release() {
    if (regionStart_) {
        regionStart_.reset();
        framing_ = false;
        // A click is no part.
        if (region_.width() * view_->width() < 8 || region_.height() * view_->height() < 8) region_ = {};
        stale_ = true;
        emit renewAsked();
        emit changed();
        return true;
    }
    return std::exchange(dragging_, false);
}
