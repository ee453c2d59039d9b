#include "app/scene/scene_panel.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/document/own_starts.h"
#include "app/scene/add_gallery.h"
#include "app/scene/scene_list.h"
#include "app/theme/ask_menu.h"
#include "app/theme/theme.h"
#include "core/edit/arrange_edits.h"
#include "core/kinds/registry.h"
#include "core/light/light_kind.h"

using namespace gswarm;

ScenePanel::ScenePanel(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 6, 0, 0);
    column->setSpacing(4);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(8, 0, 6, 0);
    head->setSpacing(4);
    filter_ = new QLineEdit(this);
    filter_->setObjectName("sceneFilter");
    filter_->setAccessibleName("Filter of the scene list");
    filter_->setPlaceholderText("Filter");
    filter_->setClearButtonEnabled(true);
    add_ = new QToolButton(this);
    add_->setObjectName("addThing");
    add_->setIcon(theme::icon("plus"));
    add_->setToolTip("Add a swarm, a shape, a light, a camera, a picture, a sound, a force, a mount or a group (Shift+A)");
    add_->setAccessibleName("Add to the scene");
    add_->setFixedSize(26, 26);
    head->addWidget(filter_, 1);
    head->addWidget(add_);
    column->addLayout(head);
    list_ = new SceneList(document, this);
    column->addWidget(list_, 1);
    connect(filter_, &QLineEdit::textChanged, list_, &SceneList::setFilter);
    connect(add_, &QToolButton::clicked, this, &ScenePanel::openGallery);
}

void ScenePanel::addShape(const Kind& kind) {
    document_.choose(document_.edit([&](const Scene& s) { return gswarm::addShape(s, kind); }));
    document_.seal();
}

void ScenePanel::addLight(const Kind& kind) {
    document_.choose(document_.edit([&](const Scene& s) { return gswarm::addLight(s, kind); }));
    document_.seal();
}

void ScenePanel::addMedia(const Kind& kind) {
    document_.choose(document_.edit([&](const Scene& s) { return gswarm::addMedia(s, kind); }));
    document_.seal();
}

void ScenePanel::addSound(const Kind& kind) {
    document_.choose(document_.edit([&](const Scene& s) { return gswarm::addSound(s, kind); }));
    document_.seal();
}

void ScenePanel::addForce(const Kind& kind) {
    document_.choose(document_.edit([&](const Scene& s) { return gswarm::addForce(s, kind); }));
    document_.seal();
}

const Kind* ScenePanel::askKind(Family family) {
    QMenu menu(window());
    for (const Kind* kind : kindsOf(family)) {
        const QString icon = family == Family::light ? QString::fromStdString("light-" + kind->id) : QString::fromStdString(toText(family));
        QAction* action = menu.addAction(theme::icon(icon), QString::fromStdString(kind->label));
        action->setToolTip(QString::fromStdString(kind->summary));
        action->setData(QVariant::fromValue(static_cast<const void*>(kind)));
    }
    const QAction* taken = askMenu(menu, add_->mapToGlobal(QPoint(0, add_->height() + 2)), this);
    return taken ? static_cast<const Kind*>(taken->data().value<const void*>()) : nullptr;
}

void ScenePanel::openLights() {
    if (const Kind* kind = askKind(Family::light)) addLight(*kind);
}

void ScenePanel::openMedia() {
    if (const Kind* kind = askKind(Family::media)) addMedia(*kind);
}

void ScenePanel::openSounds() {
    if (const Kind* kind = askKind(Family::sound)) addSound(*kind);
}

void ScenePanel::openForces() {
    if (const Kind* kind = askKind(Family::force)) addForce(*kind);
}

void ScenePanel::groupSelected() {
    const ObjectId made = document_.edit([this](const Scene& s) { return groupThings(s, document_.selection()); });
    document_.seal();
    if (!made) return;
    document_.choose(made);
    list_->rename();
}

void ScenePanel::openGallery() {
    if (!gallery_) {
        const auto adding = [this](const Document::MakeEdit& make) {
            return [this, make] {
                document_.choose(document_.edit(make));
                document_.seal();
            };
        };
        gallery_ = new AddGallery(
            {{"swarm", "Swarm", "Boxes on a grid, ready to change", "swarm", adding(addSwarm)},
             {"camera", "Camera", "Another camera, where the view is; off until you cut to it", "camera", [this] { emit cameraAsked(); }},
             {"light", "Light", "A sun, a sky, surroundings from a picture, or a lamp", "light", [this] { openLights(); }},
             {"media", "Picture", "A picture, numbered pictures, a clip or a simulated camera, for gestures and zones", "media",
              [this] { openMedia(); }},
             {"sound", "Sound", "Music or noises out of a file, or a simulated microphone, to be heard and followed", "sound",
              [this] { openSounds(); }},
             {"force", "Force", "Wind, turbulence, attraction, a vortex or drag, for all that moves as bodies", "force",
              [this] { openForces(); }},
             {"mount", "Mount", "An empty object to hang others from", "mount", adding(addMount)},
             {"group", "Group", "Keeps things together in this list; what is selected goes into it", "group", [this] { groupSelected(); }}},
            this);
        connect(gallery_, &AddGallery::shapeTaken, this, [this](const Kind* kind) { addShape(*kind); });
        connect(gallery_, &AddGallery::ownTaken, this, [this](const std::filesystem::path& path) { useStartFile(document_, path, {}); });
    }
    gallery_->open(add_->mapToGlobal(QPoint(0, add_->height() + 2)));
}
