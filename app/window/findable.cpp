// Everything the finder finds: commands, things, numbers, and every kind of everything.
#include "app/document/own_starts.h"
#include "app/export/export_kinds.h"
#include "app/rail/rail.h"
#include "app/scene/scene_panel.h"
#include "app/settings/settings.h"
#include "app/window/commands.h"
#include "app/window/main_window.h"
#include "app/window/shortcuts.h"
#include "core/arrange/fitted_formation.h"
#include "core/edit/gesture_starts.h"
#include "core/edit/material_edits.h"
#include "core/exchange/exporter_kind.h"
#include "core/kinds/registry.h"
#include "core/light/light_kind.h"
#include "core/resolve/resolve.h"
#include "core/symmetry/symmetry_kind.h"
#include "core/zone/zone_kind.h"

using namespace gswarm;

namespace {

/// What a number is now, with its unit: "2.4 m".
QString valueNow(const Scene& scene, const Address& address, double frame) {
    const auto* numbers = std::get_if<Numbers>(&valueOf(scene, address));
    if (!numbers) return {};
    QStringList all;
    for (const Track& track : *numbers) all << QString::number(valueAt(scene, track, frame), 'g', 6);
    return all.join(" ") + " " + said(parameterAt(scene, address).unit);
}

Finder::Item kindItem(const char* family, const Kind& kind, const std::function<void()>& act) {
    return {QString(family) + "/" + said(kind.id), said(kind.label), QString(family) + " · " + said(kind.summary), said(kind.words), act};
}

}  // namespace

/// The gesture a zone or a pattern is for: the selected one, or the last card of the rail.
ObjectId MainWindow::gestureAtHand() const {
    const Scene& scene = document_.scene();
    if (document_.chosen().type() == ObjectType::gesture) return document_.chosen();
    const Object* swarm = scene.find(document_.swarm());
    if (!swarm || swarm->list("rail").empty()) return {};
    const ObjectId gesture = referenceOf(scene.at(swarm->list("rail").back()).part("entry"), "gesture");
    return scene.find(gesture) ? gesture : ObjectId{};
}

/// Drives the selected gesture by a pattern; where none is selected a new one that moves by it.
void MainWindow::takePattern(const Kind& pattern) {
    const ObjectId chosen = document_.chosen();
    const bool drives = chosen.type() == ObjectType::gesture;
    const ObjectId made = document_.edit([&](const Scene& s) {
        if (drives) return setKind(s, chosen, "pattern", pattern);
        Object gesture = gestureStarts().front().make();
        gesture.name = pattern.label;
        Edit edit = addGesture(s, document_.swarm(), gesture);
        const ObjectId id = edit.made;
        edit.scene = setKind(edit.scene, id, "pattern", pattern).scene;
        edit.made = id;
        return edit;
    });
    document_.seal();
    if (!drives) document_.choose(made);
}

std::vector<Finder::Item> MainWindow::findable() {
    const Scene& scene = document_.scene();
    std::vector<Finder::Item> items;
    for (const Command& command : commands_)
        if (command.possible())
            items.push_back({"do/" + command.id, command.label, shortcuts_->of(command.id).toString(), command.words, command.act});
    for (const ObjectId id : scene.order)
        items.push_back({"thing/" + said(toText(id)), said(scene.at(id).name), said(classOf(id.type()).label), {}, [this, id] {
                             document_.choose(id);
                         }});
    for (const Address& address : settings_->addresses())
        items.push_back({"setting/" + said(parameterAt(scene, address).id),
                         said(parameterAt(scene, address).label),
                         "of " + said(scene.at(address.object).name) + "  " + valueNow(scene, address, document_.frame()),
                         {},
                         [this, address] { settings_->reach(address); }});
    for (const ExporterKind* kind : exporters())
        items.push_back(kindItem("export", *kind, [this, kind] {
            showWorkView("Export");
            exportKinds_->take(*kind);
        }));
    const ObjectId swarm = document_.swarm();
    if (swarm) {
        for (const GestureStart& start : gestureStarts())
            items.push_back({"gesture/" + said(start.id), said(start.label), "gesture · " + said(start.summary), said(start.words),
                             [this, &start] { rail_->addStart(start); }});
        for (const Kind* kind : kindsOf(Family::symmetry))
            items.push_back(kindItem("symmetry", *kind, [this, kind] { rail_->addSymmetryOf(static_cast<const SymmetryKind&>(*kind)); }));
        for (const Kind* kind : kindsOf(Family::pattern)) items.push_back(kindItem("pattern", *kind, [this, kind] { takePattern(*kind); }));
    }
    for (const Kind* kind : kindsOf(Family::shape)) items.push_back(kindItem("shape", *kind, [this, kind] { left_->addShape(*kind); }));
    for (const Kind* kind : kindsOf(Family::media)) items.push_back(kindItem("media", *kind, [this, kind] { left_->addMedia(*kind); }));
    for (const Kind* kind : kindsOf(Family::sound)) items.push_back(kindItem("sound", *kind, [this, kind] { left_->addSound(*kind); }));
    for (const Kind* kind : kindsOf(Family::force)) items.push_back(kindItem("force", *kind, [this, kind] { left_->addForce(*kind); }));
    for (const Kind* kind : kindsOf(Family::light)) items.push_back(kindItem("light", *kind, [this, kind] { left_->addLight(*kind); }));
    if (const ObjectId stock = swarm && !scene.at(swarm).list("stock").empty() ? scene.at(swarm).list("stock").front() : ObjectId{})
        for (const MaterialStart& start : materialStarts())
            items.push_back({"material/" + said(start.id), said(start.label), "material · " + said(start.summary), said(start.words),
                             [this, stock, &start] {
                                 document_.edit([&](const Scene& s) { return addMaterialFor(s, stock, start); });
                                 document_.seal();
                             }});
    if (const ObjectId gesture = gestureAtHand())
        for (const Kind* kind : kindsOf(Family::zone))
            if (!takesInstances(*kind))
                items.push_back(kindItem("zone", *kind, [this, gesture, kind] {
                    document_.choose(gesture);
                    settings_->makeZone(gesture, *kind);
                }));
    if (swarm) {
        const ObjectId formation = referenceOf(scene.at(swarm).part("place"), "formation");
        for (const Kind* kind : kindsOf(Family::formation))
            items.push_back(kindItem("formation", *kind, [this, formation, kind] {
                document_.edit([&](const Scene& s) {
                    return setFormationFitted(s, formation, *kind, document_.frame(), {{}, document_.folder()}, document_.store());
                });
                document_.seal();
            }));
    }
    for (const OwnStart& own : ownStarts())
        if (own.start)
            items.push_back({"own/" + said(own.start->name), said(own.start->name),
                             QString("own ") + startOfNames[static_cast<int>(own.start->of)], "start preset kept mine",
                             [this, path = own.path] { useStartFile(document_, path, gestureAtHand()); }});
    return items;
}
