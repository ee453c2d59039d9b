#include "app/picture/picture.h"

#include <cmath>
#include <glm/gtc/quaternion.hpp>
#include <QHBoxLayout>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QToolButton>

#include "app/document/document.h"
#include "app/document/evaluation.h"
#include "app/theme/theme.h"
#include "core/exchange/export.h"

using namespace gswarm;

namespace {

/// Ivory with an ink shadow all around, readable on any picture.
void paintText(QPainter& painter, QPointF at, const QString& text) {
    painter.setPen(theme::ink);
    for (const QPointF& aside : {QPointF(1, 1), QPointF(-1, 1), QPointF(1, -1), QPointF(-1, -1)}) painter.drawText(at + aside, text);
    painter.setPen(theme::ivory);
    painter.drawText(at, text);
}

}  // namespace

Picture::Picture(Document& document, Evaluation& evaluation, QWidget* parent)
    : QWidget(parent), document_(document), evaluation_(evaluation), thread_(this) {
    setObjectName("picture");
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(240, 160);
    auto* choices = new QWidget(this);
    choices->setObjectName("viewChoices");
    choices->setAttribute(Qt::WA_StyledBackground);
    choices->setStyleSheet("#viewChoices { background: #1e1a15; border-radius: 4px; }");
    auto* row = new QHBoxLayout(choices);
    row->setContentsMargins(2, 2, 2, 2);
    row->setSpacing(2);
    weights_ = viewChoice("weights", "Weights of the chosen gesture as colour", false);
    numbers_ = viewChoice("numbers", "Numbers of the instances", false);
    zones_ = viewChoice("zones", "Zones of the chosen gesture, drawn where they act", true);
    ground_ = viewChoice("ground", "Ground", true);
    frame_ = viewChoice("frame", "Output frame", false);
    for (auto* button : {weights_, numbers_, zones_, ground_, frame_}) row->addWidget(button);
    stop_ = new QPushButton("Stop", this);
    stop_->setObjectName("stopWork");
    stop_->setToolTip("Give up what is being made; the picture keeps what was there before");
    stop_->setFixedWidth(76);
    stop_->hide();
    connect(stop_, &QPushButton::clicked, &evaluation_, &Evaluation::cancel);
    connect(&evaluation_, &Evaluation::working, this, &Picture::showWork);
    settle_.setSingleShot(true);
    settle_.setInterval(140);
    connect(&settle_, &QTimer::timeout, this, [this] { requestDraw(Care::fine); });
    connect(&evaluation_, &Evaluation::ready, this, [this] { requestDraw(settle_.isActive() ? Care::coarse : Care::normal); });
    connect(&document_, &Document::sessionChanged, this, &Picture::updateWeights);
    connect(&document_, &Document::fileChanged, this, [this] { framedOnce_ = false; });
    connect(&thread_, &ViewThread::drawn, this, [this](const QImage& image, double took) {
        image_ = image;
        adapt(image.width(), took);
        update();
        emit shown();
    });
    connect(&thread_, &ViewThread::noGraphics, this, [this](const QString& sentence) {
        problem_ = sentence;
        update();
    });
}

QToolButton* Picture::viewChoice(const char* name, const QString& tip, bool on) {
    auto* button = new QToolButton(this);
    button->setObjectName(QString("view-%1").arg(name));
    button->setIcon(theme::icon(name));
    button->setCheckable(true);
    button->setChecked(on);
    button->setToolTip(tip);
    button->setAccessibleName(tip);
    button->setFixedSize(26, 26);
    connect(button, &QToolButton::toggled, this, [this] {
        updateWeights();
        requestDraw(Care::normal);
        update();
    });
    return button;
}

bool Picture::upToDate() const { return !evaluation_.busy() && !thread_.busy() && !settle_.isActive(); }
bool Picture::showsWeights() const { return weights_->isChecked(); }
void Picture::showWeights(bool on) { weights_->setChecked(on); }
void Picture::showNumbers(bool on) { numbers_->setChecked(on); }

void Picture::updateWeights() {
    ObjectId entry;
    const ObjectId swarm = document_.swarm();
    if (weights_->isChecked() && swarm)
        for (const ObjectId id : document_.scene().at(swarm).list("rail"))
            if (referenceOf(document_.scene().at(id).part("entry"), "gesture") == document_.chosen()) entry = id;
    evaluation_.showWeightsOf(entry);
    update();
}

void Picture::setView(const ViewCamera& view) {
    view_ = view;
    framedOnce_ = true;
    requestDraw(Care::normal);
}

void Picture::lookThroughCamera() { setView(ViewCamera::from(settingAt(document_.scene(), document_.frame()).camera)); }

void Picture::cameraFromView() {
    const auto cameras = document_.scene().all(ObjectType::camera);
    if (cameras.empty()) return;
    const Camera now = view_.camera();
    document_.edit([&](const Scene& scene) {
        Edit edit{scene, {}, {}, {}};
        const auto round = [](float v) { return std::round(v * 1000.0) / 1000.0; };
        for (int c = 0; c < 3; ++c) {
            edit = setNumber(edit.scene, addressOf(edit.scene, cameras.front(), "position", c), round(now.position[c]), document_.frame());
            edit = setNumber(edit.scene, addressOf(edit.scene, cameras.front(), "target", c), round(now.target[c]), document_.frame());
        }
        edit.label = "Camera from view";
        edit.mergeKey.clear();
        return edit;
    });
}

void Picture::frameChoice() {
    Bounds bounds;
    const auto grow = [&](const glm::vec3& p) {
        bounds.low = glm::min(bounds.low, p);
        bounds.high = glm::max(bounds.high, p);
    };
    if (const ObjectId zone = document_.handled(); zone.type() == ObjectType::zone && document_.chosen() == zone) {
        for (const auto& line : handles::contours(document_.scene(), zone, document_.frame(), false))
            for (const auto& p : line) grow(p);
    } else if (evaluation_.latest()) {
        for (const auto& r : evaluation_.latest()->swarms) {
            if (!r->shown) continue;
            for (const Backdrop& backdrop : r->backdrops)
                for (const glm::vec3& p : {backdrop.meshes->bounds.low, backdrop.meshes->bounds.high}) grow(backdrop.pose.toWorld(p));
            if (r->bounds.empty()) continue;
            for (int corner = 0; corner < 8; ++corner) {
                const glm::vec3 p(corner & 1 ? r->bounds.low.x : r->bounds.high.x, corner & 2 ? r->bounds.low.y : r->bounds.high.y,
                                  corner & 4 ? r->bounds.low.z : r->bounds.high.z);
                grow(r->position + r->rotation * (r->scale * p));
            }
        }
    }
    view_.show(bounds, static_cast<float>(width()) / static_cast<float>(height()));
    requestDraw(Care::normal);
}

void Picture::requestDraw(Care care) {
    const auto evaluated = evaluation_.latest();
    if (!framedOnce_ && evaluated && !evaluated->swarms.empty()) {
        framedOnce_ = true;
        if (document_.path().empty())
            frameChoice();
        else
            view_ = ViewCamera::from(settingAt(document_.scene(), document_.frame()).camera);
    }
    const double ratio = devicePixelRatioF();
    ViewRequest request;
    request.evaluated = evaluated;
    request.setting = settingAt(document_.scene(), document_.frame());
    request.camera = view_;
    // While much happens the picture is as coarse as it must be to come in time; at rest it has four samples a pixel.
    request.moving = care == Care::coarse && coarseShare_ < 1;
    request.fine = care == Care::fine;
    const double share = care == Care::coarse ? coarseShare_ : care == Care::fine && drawMilliseconds_ < 150 ? 2 : 1;
    request.pixels = QSize(std::max(16, int(width() * ratio * share)), std::max(16, int(height() * ratio * share)));
    request.weights = weights_->isChecked() && evaluated && evaluated->weightsOf;
    request.ground = ground_->isChecked();
    thread_.request(request);
    if (care == Care::fine)
        settle_.stop();
    else
        settle_.start();
    update();
}

void Picture::setHandleMode(handles::Mode mode) {
    mode_ = mode;
    update();
}

float Picture::reach(ObjectId zone) const {
    return view_.metresPerPixel(handles::poseOf(document_.scene(), zone, document_.frame()).position, size()) * 70;
}

std::vector<handles::Handle> Picture::handles() const {
    const ObjectId object = document_.handled();
    if (!handles::hasHandles(document_.scene(), object)) return {};
    return handles::handlesOf(document_.scene(), object, document_.frame(), mode_, reach(object));
}

std::optional<QPointF> Picture::handlePlace(const QString& name) const {
    for (const auto& handle : handles())
        if (handle.name == name) return view_.project(handle.place, size());
    return std::nullopt;
}

std::vector<ObjectId> Picture::zonesToShow() const {
    std::vector<ObjectId> zones;
    const Scene& scene = document_.scene();
    const Object* chosen = scene.find(document_.chosen());
    if (chosen && chosen->id.type() == ObjectType::gesture)
        for (const ObjectId entry : chosen->list("weave")) zones.push_back(referenceOf(scene.at(entry).part("entry"), "zone"));
    if (document_.handled().type() == ObjectType::zone) zones.push_back(document_.handled());
    if (document_.picking())
        for (const ObjectId zone : scene.all(ObjectType::zone)) zones.push_back(zone);
    std::erase_if(zones, [&](ObjectId z) { return !scene.find(z); });
    return zones;
}

/// Finds the size at which a coarse picture takes about 50 ms.
void Picture::adapt(int pixelsWide, double milliseconds) {
    const double full = width() * devicePixelRatioF();
    if (pixelsWide > full) return;  // a fine picture says nothing about coarse ones
    drawMilliseconds_ = milliseconds * full * full / (double(pixelsWide) * pixelsWide);
    if (milliseconds > 60) coarseShare_ = std::max(0.4, coarseShare_ * 0.85);
    if (milliseconds < 35) coarseShare_ = std::min(1.0, coarseShare_ * 1.05);
}

// ---- painting

void Picture::paintLine(QPainter& painter, const std::vector<glm::vec3>& places, const QPen& pen) {
    QPolygonF line;
    for (const auto& place : places)
        if (const auto at = view_.project(place, size())) line << *at;
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::ink, pen.widthF() + 2));
    painter.drawPolyline(line);
    painter.setPen(pen);
    painter.drawPolyline(line);
}

void Picture::paintZone(QPainter& painter, ObjectId zone, bool chosen) {
    const QColor colour = chosen ? theme::ivory : theme::verdigris;
    for (const auto& line : handles::contours(document_.scene(), zone, document_.frame(), false)) paintLine(painter, line, QPen(colour, 1));
    for (const auto& line : handles::contours(document_.scene(), zone, document_.frame(), true))
        paintLine(painter, line, QPen(colour, 1, Qt::DotLine));
    const FrameRange range = framesOf(document_.scene());
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::ivory);
    for (const auto& place : handles::path(document_.scene(), zone, range.first, range.last))
        if (const auto at = view_.project(place, size())) painter.drawEllipse(*at, 1.2, 1.2);
}

void Picture::paintHandles(QPainter& painter) {
    const ObjectId object = document_.handled();
    if (!handles::hasHandles(document_.scene(), object)) return;
    const glm::vec3 middle = handles::poseOf(document_.scene(), object, document_.frame()).position;
    painter.setFont(theme::numbers(11));
    for (const auto& handle : handles()) {
        const auto at = view_.project(handle.place, size());
        if (!at) continue;
        if (handle.parameter != "points" && (mode_ != handles::Mode::size || handle.name == "thickness" || handle.name == "scale"))
            paintLine(painter, {middle, handle.place}, QPen(theme::ivory, 1));
        const bool held = drag_ && drag_->handle.name == handle.name;
        painter.setPen(QPen(theme::ink, 1.5));
        painter.setBrush(held ? theme::gold : theme::ivory);
        if (mode_ == handles::Mode::size)
            painter.drawRect(QRectF(at->x() - 4.5, at->y() - 4.5, 9, 9));
        else
            painter.drawEllipse(*at, 5, 5);
        const QString said = handle.name == "free"       ? QString()
                             : handle.name == "softEdge" ? QString("soft edge")
                             : handle.name.size() == 1   ? handle.name.toUpper()
                                                         : handle.name;
        paintText(painter, *at + QPointF(9, 4), said);
    }
}

void Picture::paintNumbers(QPainter& painter) {
    const auto result = evaluation_.resultOf(document_.swarm());
    if (!numbers_->isChecked() || !result) return;
    painter.setFont(theme::numbers(10));
    const int stride = std::max(1, result->count / 600);
    for (int n = 0; n < result->count; n += stride) {
        if (result->columns->variant[static_cast<std::size_t>(n)] == notShown) continue;
        const float* m = &result->columns->matrix[12 * static_cast<std::size_t>(n)];
        const auto at = view_.project(result->position + result->rotation * (result->scale * glm::vec3(m[3], m[7], m[11])), size());
        if (!at || !rect().contains(at->toPoint())) continue;
        const QString text = QString::number(n);
        paintText(painter, *at, text);
    }
}

void Picture::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme::ink);
    if (!problem_.isEmpty()) {
        painter.setPen(theme::coral);
        painter.drawText(rect().adjusted(40, 40, -40, -40), Qt::AlignCenter | Qt::TextWordWrap, problem_);
        return;
    }
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    if (!image_.isNull()) painter.drawImage(rect(), image_);
    if (frame_->isChecked()) {
        const double h = std::min<double>(height(), width() * 9.0 / 16), w = h * 16 / 9;
        painter.setPen(QPen(theme::ivory, 1, Qt::DashLine));
        painter.drawRect(QRectF((width() - w) / 2 + 0.5, (height() - h) / 2 + 0.5, w - 1, h - 1));
    }
    if (zones_->isChecked()) {
        for (const ObjectId zone : zonesToShow()) paintZone(painter, zone, zone == document_.handled());
        paintHandles(painter);
    }
    paintNumbers(painter);
    paintWork(painter);
    if (document_.picking()) {
        painter.setFont(theme::text(13, QFont::DemiBold));
        painter.setPen(theme::gold);
        painter.drawText(rect().adjusted(0, 12, 0, 0), Qt::AlignHCenter | Qt::AlignTop,
                         "Click the thing you want, here or in the list. Esc leaves.");
    }
}

void Picture::resizeEvent(QResizeEvent*) {
    auto* choices = findChild<QWidget*>("viewChoices");
    choices->adjustSize();
    choices->move(6, height() - choices->height() - 6);
    requestDraw(Care::normal);
}

// ---- mouse

ObjectId Picture::objectAt(QPointF pixel) const {
    const Scene& scene = document_.scene();
    if (document_.picking())
        for (const ObjectId zone : zonesToShow())
            for (const auto& line : handles::contours(scene, zone, document_.frame(), false))
                for (const auto& place : line)
                    if (const auto at = view_.project(place, size()); at && QLineF(*at, pixel).length() < 8 && document_.pickable(zone))
                        return zone;
    ObjectId best;
    double nearest = 1e30;
    if (!evaluation_.latest()) return best;
    if (const ObjectId shape = backdropAt(pixel); shape && document_.pickable(shape)) return shape;
    for (const auto& r : evaluation_.latest()->swarms) {
        for (std::size_t i = 0; i < static_cast<std::size_t>(r->count) && r->shown; ++i) {
            if (r->columns->variant[i] == notShown) continue;
            const float* m = &r->columns->matrix[12 * i];
            const glm::vec3 place = r->position + r->rotation * (r->scale * glm::vec3(m[3], m[7], m[11]));
            const auto at = view_.project(place, size());
            if (!at) continue;
            const auto& bounds = r->variants[r->columns->variant[i]].meshes->bounds;
            const double radius = std::max(6.0f, glm::length(bounds.size()) * 0.5f * r->scale / view_.metresPerPixel(place, size()));
            const double distance = glm::length(place - view_.camera().position);
            if (QLineF(*at, pixel).length() > radius || distance > nearest) continue;
            nearest = distance;
            best = document_.pickable(r->variants[r->columns->variant[i]].shape) ? r->variants[r->columns->variant[i]].shape : r->swarm;
        }
    }
    return best;
}

/// A shape that is seen for itself, by its corners on screen.
ObjectId Picture::backdropAt(QPointF pixel) const {
    for (const auto& r : evaluation_.latest()->swarms)
        for (const Backdrop& backdrop : r->backdrops) {
            QPolygonF corners;
            const Bounds& b = backdrop.meshes->bounds;
            for (int corner = 0; corner < 8; ++corner) {
                const glm::vec3 p(corner & 1 ? b.low.x : b.high.x, corner & 2 ? b.low.y : b.high.y, corner & 4 ? b.low.z : b.high.z);
                if (const auto at = view_.project(backdrop.pose.toWorld(p), size())) corners << *at;
            }
            if (corners.boundingRect().contains(pixel)) return backdrop.shape;
        }
    return {};
}

/// Long work: what is made, how far it is, and that Esc stops it.
void Picture::paintWork(QPainter& painter) {
    if (work_.isEmpty()) return;
    const QRectF box(width() / 2.0 - 190, height() - 62, 380, 44);
    painter.setPen(QPen(theme::line, 1));
    painter.setBrush(theme::panel);
    painter.drawRoundedRect(box, 4, 4);
    painter.setFont(theme::text(13));
    painter.setPen(theme::ivory);
    painter.drawText(box.adjusted(12, 6, -96, -18), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(work_, Qt::ElideRight, static_cast<int>(box.width()) - 112));
    painter.fillRect(QRectF(box.left() + 12, box.bottom() - 12, box.width() - 112, 4), theme::line);
    painter.fillRect(QRectF(box.left() + 12, box.bottom() - 12, (box.width() - 112) * workDone_, 4), theme::gold);
}

void Picture::showWork(const QString& what, double fraction) {
    if (what == work_ && fraction == workDone_) return;
    work_ = what;
    workDone_ = fraction;
    stop_->setVisible(!what.isEmpty());
    stop_->move(width() / 2 + 104, height() - 53);
    update();
}

void Picture::mousePressEvent(QMouseEvent* event) {
    last_ = event->position();
    if (event->button() != Qt::LeftButton) return;
    if (!document_.picking() && zones_->isChecked())
        for (const auto& handle : handles()) {
            const auto at = view_.project(handle.place, size());
            if (!at || QLineF(*at, last_).length() > 9) continue;
            drag_ = handles::begin(document_.scene(), document_.handled(), handle, last_, document_.frame());
            document_.seal();
            update();
            return;
        }
    if (const ObjectId object = objectAt(last_)) document_.click(object);
}

void Picture::mouseMoveEvent(QMouseEvent* event) {
    const QPointF now = event->position(), gone = now - last_;
    if (drag_ && event->buttons() & Qt::LeftButton) {
        document_.edit([&](const Scene& scene) { return handles::edited(scene, *drag_, now, document_.frame(), view_, size(), mode_); });
        return;
    }
    if (event->buttons() & (Qt::RightButton | Qt::MiddleButton)) {
        if (event->buttons() & Qt::MiddleButton || event->modifiers() & Qt::ShiftModifier)
            view_.move(gone, size());
        else
            view_.turn(gone);
        requestDraw(Care::coarse);
    }
    last_ = now;
}

void Picture::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || !drag_) return;
    drag_.reset();
    document_.seal();
    update();
}

void Picture::wheelEvent(QWheelEvent* event) {
    const QPointF at = event->position();
    const QPointF toward(at.x() / width() * 2 - 1, 1 - at.y() / height() * 2);
    view_.zoom(std::pow(0.999f, static_cast<float>(event->angleDelta().y())), toward,
               static_cast<float>(width()) / static_cast<float>(height()));
    requestDraw(Care::coarse);
}
