#include "app/picture/picture.h"

#include <algorithm>
#include <cmath>
#include <QLayout>
#include <QPainter>
#include <QPushButton>
#include <QToolButton>

#include "app/document/document.h"
#include "app/document/evaluation.h"
#include "app/document/shown_zones.h"
#include "app/picture/banner.h"
#include "app/picture/hit.h"
#include "app/picture/overlay.h"
#include "app/picture/traced_view.h"
#include "app/picture/variation_bar.h"
#include "app/picture/view_choices.h"
#include "app/theme/spoken.h"
#include "app/theme/theme.h"
#include "core/arrange/camera_edit.h"
#include "core/flow/extent.h"
#include "core/flow/home_plan.h"
#include "core/picture/view.h"
#include "core/provide/placing.h"
#include "core/resolve/references.h"

using namespace gswarm;

namespace {

std::array<glm::vec3, 8> cornersOf(const Bounds& bounds) {
    std::array<glm::vec3, 8> corners;
    for (int k = 0; k < 8; ++k)
        corners[static_cast<std::size_t>(k)] = {k & 1 ? bounds.low.x : bounds.high.x, k & 2 ? bounds.low.y : bounds.high.y,
                                                k & 4 ? bounds.low.z : bounds.high.z};
    return corners;
}

void growAll(Bounds& bounds, const Bounds& box, const WorldPose& pose) {
    if (box.empty()) return;
    for (const glm::vec3& corner : cornersOf(box)) bounds.add(pose.toWorld(corner));
}

}  // namespace

Picture::Picture(Document& document, Evaluation& evaluation, QWidget* parent)
    : QWidget(parent), document_(document), evaluation_(evaluation), thread_(this) {
    setObjectName("picture");
    setAccessibleName("View");
    spoken::tell(this, spoken::Role::view);
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(240, 160);
    choices_ = new ViewChoices(document_, this);
    connect(choices_, &ViewChoices::changed, this, [this] {
        updateWeights();
        requestDraw(Care::normal);
    });
    connect(choices_, &ViewChoices::lookThroughAsked, this, &Picture::lookThroughCamera);
    connect(choices_, &ViewChoices::cameraFromViewAsked, this, &Picture::cameraFromView);
    setAcceptDrops(true);
    traced_ = new TracedView(document_, evaluation_, this);
    connect(traced_, &TracedView::changed, this, qOverload<>(&Picture::update));
    connect(traced_, &TracedView::renewAsked, this, [this] { requestDraw(Care::normal); });
    variationBar_ = new VariationBar(document_, this);
    banner_ = new Banner(document_, evaluation_, this);
    connect(banner_, &Banner::resized, this, &Picture::placeBars);
    connect(variationBar_, &VariationBar::resized, this, &Picture::placeBars);
    connect(&document_.session(), &Session::viewChanged, this, [this] {
        placeBars();
        update();
    });
    for (const auto signal : {&Session::instancesChanged, &Session::pinsChanged})
        connect(&document_.session(), signal, this, qOverload<>(&Picture::update));
    connect(&document_.session(), &Session::instancesChanged, this, [this] { rowsKnown_ = false; });
    stop_ = new QPushButton("Stop", this);
    stop_->setObjectName("stopWork");
    stop_->setToolTip("Give up what is being made; the view keeps what was there before");
    stop_->setFixedWidth(76);
    stop_->hide();
    connect(stop_, &QPushButton::clicked, &evaluation_, &Evaluation::cancel);
    connect(&evaluation_, &Evaluation::working, this, &Picture::showWork);
    settle_.setSingleShot(true);
    settle_.setInterval(140);
    connect(&settle_, &QTimer::timeout, this, [this] {
        if (!whole_) requestDraw(Care::fine);
    });
    connect(&evaluation_, &Evaluation::ready, this, [this] {
        requestDraw(settle_.isActive() ? Care::coarse : Care::normal);
        frameArrivals();
    });
    connect(&document_, &Document::sessionChanged, this, &Picture::updateWeights);
    connect(&document_, &Document::projectChanged, this, [this] {
        framedOnce_ = false;
        known_.reset();
    });
    connect(&thread_, &ViewThread::drawn, this, [this](const QImage& image, const live::Steps& steps, double took) {
        image_ = image;
        // Shadows take about as long as all else; how quick it is without them is what counts.
        adapt(image.width(), steps.shadows && !moving_.shadows ? took / 2 : took);
        update();
        emit shown();
    });
    connect(&thread_, &ViewThread::measured, this, [this](const live::Steps& moving) { moving_ = moving; });
    connect(&thread_, &ViewThread::noGraphics, this, [this](const QString& sentence) {
        problem_ = sentence;
        update();
    });
}

bool Picture::upToDate() const { return !evaluation_.busy() && !thread_.busy() && !settle_.isActive(); }
bool Picture::showsWeights() const { return choices_->weights().isChecked(); }
void Picture::showWeights(bool on) { choices_->weights().setChecked(on); }
void Picture::showNumbers(bool on) { choices_->numbers().setChecked(on); }
handles::Mode Picture::handleMode() const { return choices_->handleMode(); }
void Picture::setHandleMode(handles::Mode mode) { choices_->setHandleMode(mode); }

void Picture::updateWeights() {
    ObjectId entry;
    const ObjectId swarm = document_.swarm();
    if (showsWeights() && swarm)
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

ObjectId Picture::camera() const {
    const ObjectId chosen = document_.chosen();
    return chosen.type() == ObjectType::camera ? chosen : cameraOn(document_.scene(), document_.frame());
}

void Picture::lookThroughCamera() {
    if (const ObjectId id = camera()) setView(ViewCamera::from(cameraAt(document_.scene(), id, document_.frame(), document_.store())));
}

void Picture::cameraFromView() {
    document_.seal();
    const ObjectId id = camera();
    document_.edit([&](const Scene& scene) {
        return id ? putCamera(scene, id, view_.camera(), document_.frame(), document_.store()) : addCamera(scene, view_.camera());
    });
    document_.seal();
}

void Picture::viewMoved() {
    if (!choices_->holdsCamera()) return;
    if (const ObjectId id = camera())
        document_.edit([&](const Scene& scene) { return putCamera(scene, id, view_.camera(), document_.frame(), document_.store()); });
}

void Picture::frameChoice() {
    Bounds bounds;
    const ObjectId chosen = document_.chosen();
    if (chosen.type() == ObjectType::zone && document_.handled() == chosen) {
        for (const auto& line : contours(chosen, false))
            for (const auto& p : line) bounds.add(p);
    } else if (evaluation_.latest()) {
        const auto one = chosen.type() == ObjectType::swarm ? evaluation_.resultOf(chosen) : nullptr;
        for (const auto& r : evaluation_.latest()->swarms) {
            if (one && one->shown && r != one) continue;
            for (const Backdrop& backdrop : r->backdrops)
                if (r->shown || backdrop.alone) growAll(bounds, backdrop.meshes->bounds, backdrop.pose);
            if (r->shown) growAll(bounds, extentOf(*r), r->pose);
        }
    }
    view_.show(bounds, static_cast<float>(width()) / static_cast<float>(height()));
    viewMoved();
    requestDraw(Care::normal);
}

void Picture::frameArrivals() {
    if (document_.session().comparing()) return;  // what is kept neither comes nor goes
    const Scene& scene = evaluation_.latest()->scene;
    // What was there before another project was opened may come in late.
    if (scene.project().id != document_.scene().project().id) return;
    Standing now;
    for (const ObjectId swarm : scene.all(ObjectType::swarm))
        if (const Object* formation = scene.find(referenceOf(scene.at(swarm).part("place"), "formation")))
            now[swarm] = {formation->part("formation").kind, scene.at(swarm).list("symmetries")};
    const auto before = std::exchange(known_, now);
    if (!before) return;
    Bounds bounds;
    for (const auto& [swarm, stands] : now) {
        const auto found = before->find(swarm);
        const auto result = evaluation_.resultOf(swarm);
        if (result && result->shown && (found == before->end() || found->second != stands))
            growAll(bounds, extentOf(*result), result->pose);
    }
    if (bounds.empty()) return;
    const QRectF seen = rect();
    const auto corners = cornersOf(bounds);
    const auto inside = std::count_if(corners.begin(), corners.end(), [&](const glm::vec3& corner) {
        const auto at = view_.project(corner, size());
        return at && seen.contains(*at);
    });
    if (inside * 2 >= static_cast<std::ptrdiff_t>(corners.size())) return;
    view_.show(bounds, static_cast<float>(width()) / static_cast<float>(height()));
    requestDraw(Care::normal);
}

void Picture::requestDraw(Care care) {
    const auto evaluated = evaluation_.latest();
    // What another project, which was there before, evaluated late is not looked at.
    const bool own = evaluated && evaluated->scene.project().id == document_.scene().project().id;
    if (!framedOnce_ && own && !evaluated->swarms.empty()) {
        framedOnce_ = true;
        if (document_.path().empty())
            frameChoice();
        else
            view_ = ViewCamera::from(settingAt(document_.scene(), document_.frame(), document_.store()).camera);
    }
    if (const ObjectId id = camera(); choices_->holdsCamera() && id)
        view_ = ViewCamera::from(cameraAt(document_.scene(), id, document_.frame(), document_.store()));
    const double ratio = devicePixelRatioF();
    ViewRequest request;
    request.evaluated = evaluated;
    request.setting = settingAt(document_.scene(), document_.frame(), document_.store());
    request.camera = view_;
    // While much happens the picture is as coarse as it must be to come in time; at rest it has all.
    request.steps = stepsFor(care);
    request.folder = document_.folder();
    request.store = &document_.store();
    request.fine = care == Care::fine;
    // Nothing is drawn again at rest that was drawn as well already.
    whole_ = care == Care::normal && !hasTimeForSamples() && request.steps == stepsFor(Care::fine);
    const double share = care == Care::coarse ? coarseShare_ : care == Care::fine && hasTimeForSamples() ? 2 : 1;
    request.pixels = QSize(std::max(16, int(width() * ratio * share)), std::max(16, int(height() * ratio * share)));
    request.weights = showsWeights() && evaluated && evaluated->weightsOf;
    request.ground = choices_->ground();
    if (!tracedSeen() || traced_->showsLive()) thread_.request(request);
    renewTraced();
    if (care == Care::fine)
        settle_.stop();
    else
        settle_.start();
    update();
}

/// At rest everything; between that and moving what comes without being waited for.
live::Steps Picture::stepsFor(Care care) const {
    if (care == Care::coarse) return {moving_.fineMeshes || coarseShare_ >= 1, moving_.shadows, moving_.occlusion, moving_.smoothEdges};
    const bool all = drawMilliseconds_ < (care == Care::fine ? restMilliseconds : soonMilliseconds);
    // Of what a software renderer takes long for only shadows are drawn, and where even they would take too long, none.
    return {true, all || moving_.shadows, moving_.shadows && (all || moving_.occlusion), care != Care::fine || !hasTimeForSamples()};
}

QString Picture::leftOutWhileMoving() const {
    if (moving_.shadows) return {};
    return "While something moves, shadows, darker creases and smooth edges are left out; if it still takes too long, fine meshes and "
           "pixels are too.";
}

/// What is drawn for understanding, nine values or weights, is drawn live.
bool Picture::tracedSeen() const { return traced_->shown() && !varying() && !showsWeights(); }

/// Through the scene's own camera where the view is that camera's, with its focus and shutter.
void Picture::renewTraced() {
    if (!traced_->shown()) return;
    const ObjectId id = camera();
    const bool held = id && ViewCamera::from(cameraAt(document_.scene(), id, document_.frame(), document_.store())) == view_;
    traced_->renew(view_, held ? id : ObjectId{});
}

float Picture::reach(ObjectId zone) const {
    return view_.metresPerPixel(handles::poseOf(document_.scene(), zone, document_.frame(), document_.store()).position, size()) * 70;
}

std::vector<handles::Handle> Picture::handles() const {
    const ObjectId object = document_.handled();
    if (!handles::hasHandles(document_.scene(), object)) return {};
    return handles::handlesOf(document_.scene(), object, document_.frame(), handleMode(), reach(object), document_.store());
}

std::optional<QPointF> Picture::handlePlace(const QString& name) const {
    for (const auto& handle : handles())
        if (handle.name == name) return view_.project(handle.place, size());
    return std::nullopt;
}

/// A zone's lines as its form draws them, or as they were found by weighing places around the swarm.
ZoneLines Picture::contours(ObjectId zone, bool core) const {
    const Object* object = document_.scene().find(zone);
    if (!object) return {};
    if (!hasContours(*object)) return handles::contours(document_.scene(), zone, document_.frame(), core, document_.store());
    if (const auto evaluated = evaluation_.latest())
        for (const ZoneContours& found : evaluated->contours)
            if (found.zone == zone) return core ? found.wholly : found.begins;
    return {};
}

/// The shapes that the chosen gesture and its zones measure to, and the chosen shape itself.
std::vector<ObjectId> Picture::curvesToShow() const {
    const Scene& scene = document_.scene();
    std::vector<ObjectId> users = shownZones(document_), shapes{document_.chosen()};
    if (document_.chosen().type() == ObjectType::gesture) users.push_back(document_.chosen());
    for (const ObjectId user : users)
        for (const ObjectId used : usedBy(scene, user))
            if (used.type() == ObjectType::shape) shapes.push_back(used);
    return shapes;
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

bool Picture::varying() const { return evaluation_.latest() && !evaluation_.latest()->variations.empty(); }

/// Where the chosen instances stand in the result; looked up again only when either changed.
/// Of very many chosen instances every so many-th is marked, so that painting never takes long.
const std::vector<std::uint32_t>& Picture::markedRows(const Result& result) {
    constexpr std::size_t most = 4000;
    if (rowsKnown_ && result.home.hash != 0 && rowsHash_ == result.home.hash && rowsCount_ == result.count) return rows_;
    const auto& chosen = document_.session().instances().ids;
    const std::size_t step = (chosen.size() + most - 1) / most;
    std::vector<std::uint64_t> marked;
    for (std::size_t k = 0; k < chosen.size(); k += step) marked.push_back(chosen[k]);
    rows_ = rowsOfIds(result.home, marked);
    rowsKnown_ = true;
    rowsHash_ = result.home.hash;
    rowsCount_ = result.count;
    return rows_;
}

void Picture::setFramed(bool on) {
    framed_ = on;
    update();
}

void Picture::paintOverlays(QPainter& painter) {
    const auto evaluated = evaluation_.latest();
    const overlay::Over over{painter, document_, view_, QSizeF(size())};
    if (varying()) return overlay::paintVariations(over, *evaluated, tileUnder_);
    if (framed_) overlay::paintOutside(over);
    if (choices_->frame() || choices_->safeAreas()) overlay::paintFrame(over, choices_->safeAreas());
    if (evaluated && choices_->zones()) overlay::paintCurves(over, *evaluated, curvesToShow());
    const auto& instances = document_.session().instances();
    if (const auto result = evaluation_.resultOf(instances.swarm); result && !instances.ids.empty()) {
        overlay::paintChosen(over, *result, markedRows(*result));
        if (choices_->zones() && instances.swarm == document_.swarm())
            overlay::paintColliders(over, evaluated->colliders, *result, markedRows(*result));
    }
    if (showsHandles()) {
        for (const ObjectId zone : shownZones(document_))
            overlay::paintZone(over, zone, contours(zone, false), contours(zone, true), zone == document_.handled());
        if (evaluated) overlay::paintForces(over, *evaluated);
        overlay::paintWarp(over);
        overlay::paintCameras(over);
        overlay::paintLamps(over, evaluation_.resultOf(document_.swarm()));
        overlay::paintHandles(over, handles(), handleMode(), drag_ ? drag_->handle.name : QString());
    }
    if (const auto result = evaluation_.resultOf(document_.swarm()); result && choices_->numbers().isChecked())
        overlay::paintNumbers(over, *result);
    if (!band_.isNull()) {
        painter.setPen(QPen(theme::ivory, 1, Qt::DashLine));
        painter.setBrush(QColor(236, 227, 210, 30));
        painter.drawRect(band_);
    }
}

/// Over the traced picture only of what makes it: lights and cameras.
bool Picture::showsHandles() const {
    const ObjectType chosen = document_.chosen().type();
    return choices_->zones() && (!traced_->shown() || chosen == ObjectType::light || chosen == ObjectType::camera);
}

void Picture::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme::ink);
    if (!problem_.isEmpty() && !tracedSeen()) {
        painter.setPen(theme::coral);
        painter.drawText(rect().adjusted(40, 40, -40, -40), Qt::AlignCenter | Qt::TextWordWrap, problem_);
        return;
    }
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    if (!image_.isNull()) painter.drawImage(rect(), image_);
    if (tracedSeen()) traced_->paint(painter);
    paintOverlays(painter);
    if (!work_.isEmpty()) overlay::paintWork(painter, QRectF(width() / 2.0 - 190, height() - 62, 380, 44), work_, workDone_);
    if (document_.picking()) {
        painter.setFont(theme::text(13, QFont::DemiBold));
        painter.setPen(theme::gold);
        painter.drawText(rect().adjusted(0, 12, 0, 0), Qt::AlignHCenter | Qt::AlignTop,
                         "Click the thing you want, here or in the list. Esc leaves.");
    }
}

void Picture::showWork(const QString& what, double fraction) {
    if (what == work_ && fraction == workDone_) return;
    work_ = what;
    workDone_ = fraction;
    stop_->setVisible(!what.isEmpty());
    stop_->move(width() / 2 + 104, height() - 53);
    update();
}

void Picture::placeBars() {
    choices_->setVisible(!document_.session().variations());
    choices_->adjustSize();
    choices_->move(6, height() - choices_->height() - 6);
    for (QWidget* bar : {static_cast<QWidget*>(variationBar_), static_cast<QWidget*>(banner_)}) {
        bar->layout()->activate();
        bar->adjustSize();
        bar->move((width() - bar->width()) / 2, 8);
    }
}

void Picture::resizeEvent(QResizeEvent*) {
    placeBars();
    requestDraw(Care::normal);
}
