#include "app/export/export_scope.h"

#include <algorithm>
#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QSignalBlocker>

#include "app/document/document.h"
#include "app/export/export_settings.h"
#include "app/fields/number_field.h"

using namespace gswarm;

namespace {

const QString theSelected = "selected";

ObjectId idIn(const QComboBox* box) { return parseObjectId(box->currentData().toString().toStdString()); }

/// Other choices, of which the one that was chosen stays chosen where it is still there.
void refill(QComboBox* box, const std::vector<std::pair<QString, QString>>& choices) {
    const QSignalBlocker quiet(box);
    const QVariant before = box->currentData();
    box->clear();
    for (const auto& [text, data] : choices) box->addItem(text, data);
    box->setCurrentIndex(std::max(0, box->findData(before)));
}

}  // namespace

ExportScope::ExportScope(Document& document, QFormLayout* form, QWidget* parent) : QObject(parent), document_(document), form_(form) {
    shown_ = choice("exportShown", "Shown");
    swarm_ = choice("exportSwarm", "Swarm");
    camera_ = choice("exportCamera", "Camera");
    frames_ = new QWidget(parent);
    auto* frames = new QHBoxLayout(frames_);
    frames->setContentsMargins(0, 0, 0, 0);
    first_ = number("first", "First frame", {-1e5, 1e5}, {0, 250}, frames_);
    last_ = number("last", "Last frame", {-1e5, 1e5}, {0, 250}, frames_);
    frames->addWidget(first_, 1);
    frames->addWidget(new QLabel("to", frames_));
    frames->addWidget(last_, 1);
    form_->addRow("Frames", frames_);
    every_ = number("every", "Of the frames each so many-th", {1, 1e5}, {1, 10}, parent);
    form_->addRow("Every nth", every_);
    setEvery(1);
    connect(&document_, &Document::sceneChanged, this, [this] {
        if (form_->parentWidget()->isVisible()) refresh();
    });
    connect(&document_, &Document::sceneChanged, this, &ExportScope::showFrames);
    connect(&document_, &Document::chosenChanged, this, [this] {
        if (form_->parentWidget()->isVisible()) refresh();
    });
    refresh();
    showFrames();
}

QComboBox* ExportScope::choice(const char* name, const QString& label) {
    auto* box = new QComboBox(form_->parentWidget());
    box->setObjectName(name);
    box->setAccessibleName(label);
    box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    box->setMaxVisibleItems(20);
    connect(box, &QComboBox::currentIndexChanged, this, &ExportScope::changed);
    form_->addRow(label, box);
    return box;
}

NumberField* ExportScope::number(const char* id, const char* label, Range hard, Range suggested, QWidget* parent) {
    Parameter p;
    p.id = id;
    p.label = p.summary = label;
    p.type = ParameterType::whole;
    p.suggested = suggested;
    p.hard = hard;
    NumberField* field = exportNumber(document_, p, parent);
    connect(field, &NumberField::edited, this, &ExportScope::changed);
    connect(field, &NumberField::trouble, this, &ExportScope::trouble);
    return field;
}

void ExportScope::showFor(const std::vector<const ExporterKind*>& kinds) {
    const auto any = [&](const auto& is) { return std::any_of(kinds.begin(), kinds.end(), is); };
    form_->setRowVisible(shown_, any([](const ExporterKind* kind) { return !kind->ofSwarm; }));
    form_->setRowVisible(swarm_, any([](const ExporterKind* kind) { return kind->ofSwarm; }));
    form_->setRowVisible(
        camera_, any([](const ExporterKind* kind) { return kind->group == ExportGroup::pictures || kind->group == ExportGroup::video; }));
    const bool moves = any([](const ExporterKind* kind) { return kind->moves; });
    form_->setRowVisible(frames_, moves);
    form_->setRowVisible(every_, moves);
}

std::vector<ObjectId> ExportScope::selected() const {
    const Scene& scene = document_.scene();
    std::vector<ObjectId> swarms;
    for (const ObjectId swarm : scene.all(ObjectType::swarm)) {
        const ObjectId group = scene.at(swarm).group;
        const bool isOne = std::any_of(document_.selection().begin(), document_.selection().end(), [&](ObjectId id) {
            ObjectId of = id;
            while (of && of != swarm) of = scene.ownerOf(of);
            return of == swarm || (group && id == group);
        });
        if (isOne) swarms.push_back(swarm);
    }
    if (swarms.empty() && document_.swarm()) swarms.push_back(document_.swarm());
    return swarms;
}

void ExportScope::refresh() {
    const Scene& scene = document_.scene();
    const auto nameOf = [&](ObjectId id) { return QString::fromStdString(scene.at(id).name); };
    QStringList names;
    for (const ObjectId swarm : selected()) names << nameOf(swarm);
    std::vector<std::pair<QString, QString>> swarms, cameras;
    for (const ObjectId swarm : scene.all(ObjectType::swarm)) swarms.push_back({nameOf(swarm), QString::fromStdString(toText(swarm))});
    for (const ObjectId camera : scene.all(ObjectType::camera)) cameras.push_back({nameOf(camera), QString::fromStdString(toText(camera))});
    cameras.insert(cameras.begin(), {"The one that is on", ""});
    refill(camera_, cameras);
    const QString current = document_.swarm() ? nameOf(document_.swarm()) : QString("none");
    swarms.insert(swarms.begin(), {"The selected one: " + current, theSelected});
    refill(swarm_, swarms);
    swarms.front() = {"What is selected: " + names.join(", "), theSelected};
    swarms.insert(swarms.begin(), {"Every swarm", ""});
    refill(shown_, swarms);
    emit changed();
}

/// The whole project, as long as nothing else was typed.
void ExportScope::showFrames() {
    const FrameRange now = framesOf(document_.scene());
    if (!project_ || first_->value() == project_->first) first_->show(now.first, NumberField::Mark::none);
    if (!project_ || last_->value() == project_->last) last_->show(now.last, NumberField::Mark::none);
    project_ = now;
    emit changed();
}

FrameRange ExportScope::range() const {
    return {static_cast<int>(first_->value()), static_cast<int>(last_->value()), std::max(1, static_cast<int>(every_->value()))};
}

void ExportScope::setEvery(int every) { every_->show(every, NumberField::Mark::none); }

void ExportScope::tell(ExportJob& job) const {
    const bool selectedOnly = shown_->currentData().toString() == theSelected;
    job.only = selectedOnly ? selected() : idIn(shown_) ? std::vector{idIn(shown_)} : std::vector<ObjectId>{};
    job.swarm = idIn(swarm_) ? idIn(swarm_) : document_.swarm();
    // One that is written of a swarm's numbers alone asks for no others to be hidden.
    if (job.kind().ofSwarm) job.only.clear();
    const bool seen = job.kind().group == ExportGroup::pictures || job.kind().group == ExportGroup::video;
    job.camera = seen ? idIn(camera_) : ObjectId{};
    job.range = range();
}
