// What can be done with the whole window: one list for shortcuts and the finder.
#include <numeric>
#include <QShortcut>
#include <QStackedWidget>
#include <QToolButton>

#include "app/picture/picture.h"
#include "app/rail/rail.h"
#include "app/settings/settings.h"
#include "app/time/curve_view.h"
#include "app/time/time_panel.h"
#include "app/window/main_window.h"
#include "app/window/preferences.h"
#include "core/edit/gesture_starts.h"
#include "core/edit/key_edits.h"
#include "core/edit/variations.h"
#include "core/explain/loop_check.h"
#include "core/flow/home_plan.h"
#include "core/kinds/registry.h"
#include "core/zone/zone_kind.h"

using namespace gswarm;

void MainWindow::buildCommands() {
    const auto always = [] { return true; };
    const auto hasSwarm = [this] { return static_cast<bool>(document_.swarm()); };
    const auto mode = [this](handles::Mode m) { return [this, m] { picture_->setHandleMode(m); }; };
    commands_ = {
        {"New swarm", "Ctrl+Shift+N", [this] { newSwarm(); }, always},
        {"Add a gesture", "Ctrl+G", [this] { rail_->openGallery(); }, hasSwarm},
        {"Choose a formation", "Ctrl+F", [this] { settings_->pickFormation(); }, hasSwarm},
        {"New project", "Ctrl+N", [this] { leaveProject([this] { document_.newProject(); }); }, always},
        {"Open a project…", "Ctrl+O", [this] { askOpen(); }, always},
        {"Save", "Ctrl+S", [this] { save(); }, always},
        {"Save as…", "Ctrl+Shift+S", [this] { saveAs(); }, always},
        {"Undo", "Ctrl+Z", [this] { document_.undo(); }, [this] { return document_.history().canUndo(); }},
        {"Redo", "Ctrl+Shift+Z", [this] { document_.redo(); }, [this] { return document_.history().canRedo(); }},
        {"Play or stop", "Space", [this] { play_->toggle(); }, always},
        {"One frame back", ",", [this] { play_->stepFrames(-1); }, always},
        {"One frame on", ".", [this] { play_->stepFrames(1); }, always},
        {"Key the position of what has handles, or its rotation", "Shift+K", [this] { keyHandles(); },
         [this] { return static_cast<bool>(document_.handled()); }},
        {"Record keys", "R", [this] { document_.setRecording(!document_.recording()); }, always},
        {"Curves of what is chosen", "Ctrl+Shift+K", [this] { time_->showCurves(!time_->curves()->isVisible()); }, hasSwarm},
        {"Check the loop", "", [this] { time_->findChild<QToolButton*>("loopRing")->click(); }, hasSwarm},
        {"Make the whole project loop", "", [this] { loopProject({}); }, hasSwarm},
        {"Make what is chosen loop", "", [this] { loopProject(document_.chosen()); },
         [this] { return static_cast<bool>(document_.chosen()); }},
        {"Add a mount, an empty object to hang others from", "", [this] { document_.choose(document_.edit(addMount)); }, always},
        {"To the first frame", "Home", [this] { play_->toStart(); }, always},
        {"To the last frame", "End", [this] { play_->toEnd(); }, always},
        {"Frame the choice", "F", [this] { picture_->frameChoice(); }, always},
        {"Look through the camera", "Ctrl+Shift+C", [this] { picture_->lookThroughCamera(); }, always},
        {"Put the camera where the view is", "", [this] { picture_->cameraFromView(); }, always},
        {"Handles: move", "1", mode(handles::Mode::move), always},
        {"Handles: rotate", "2", mode(handles::Mode::turn), always},
        {"Handles: scale", "3", mode(handles::Mode::size), always},
        {"Show weights", "W", [this] { picture_->showWeights(!picture_->showsWeights()); }, always},
        {"Show numbers", "N", [this] { picture_->findChild<QToolButton*>("view-numbers")->toggle(); }, always},
        {"Ledger: every value of every instance", "L", [this] { time_->showLedger(!time_->showsLedger()); }, hasSwarm},
        {"Tally of the chosen instance in the cards", "A", [this] { toggleTally(); }, hasSwarm},
        {"Choose all instances", "Ctrl+A", [this] { chooseAllInstances(); }, hasSwarm},
        {"Nine values of a setting side by side", "Ctrl+Shift+V", [this] { varyChosen(); }, hasSwarm},
        {"Ghosts of the frames before and after", "G", [this] { picture_->findChild<QToolButton*>("view-ghosts")->click(); }, hasSwarm},
        {"Keep this version to compare with; hold C to see it", "Shift+C", [this] { document_.session().keep(document_.scene()); },
         hasSwarm},
        {"Rehearsal: one of 8 instances", "", [this] { document_.session().setRehearsal(8); }, hasSwarm},
        {"Rehearsal: all instances", "", [this] { document_.session().setRehearsal(1); },
         [this] { return document_.session().rehearsal() > 1; }},
        {"Delete what is chosen", "Ctrl+Backspace", [this] { deleteChosen(); }, [this] { return static_cast<bool>(document_.chosen()); }},
        {"Preferences", "Ctrl+,", [this] { openPreferences(); }, always},
        {"Compose", "F1", [this] { showWorkView("Compose"); }, always},
        {"Export", "F3", [this] { showWorkView("Export"); }, always},
        {"Show or hide the scene list", "Ctrl+1", [this] { left_->setVisible(!left_->isVisible()); }, always},
        {"Show or hide the settings", "Ctrl+2", [this] { right_->setVisible(!right_->isVisible()); }, always},
        {"Show or hide time", "Ctrl+3", [this] { time_->setVisible(!time_->isVisible()); }, always},
    };
    for (const Command& command : commands_) {
        if (command.shortcut.isEmpty()) continue;
        auto* shortcut = new QShortcut(QKeySequence(command.shortcut), this);
        connect(shortcut, &QShortcut::activated, this, [command] {
            if (command.possible()) command.act();
        });
    }
    connect(new QShortcut(QKeySequence("Ctrl+K"), this), &QShortcut::activated, this, &MainWindow::openFinder);
}

/// Commands, the things of the scene, gestures, zones and formations to add, and the numbers that are shown.
std::vector<Finder::Item> MainWindow::findable() {
    const auto said = [](const std::string& text) { return QString::fromStdString(text); };
    const Scene& scene = document_.scene();
    std::vector<Finder::Item> items;
    for (const Command& command : commands_)
        if (command.possible()) items.push_back({command.label, command.shortcut, command.act});
    for (const ObjectId id : scene.order)
        items.push_back({said(scene.at(id).name), said(classOf(id.type()).label), [this, id] { document_.choose(id); }});
    const ObjectId swarm = document_.swarm();
    if (!swarm) return items;
    for (const Address& address : settings_->addresses())
        items.push_back({said(parameterAt(scene, address).label), "of " + said(scene.at(address.object).name),
                         [this, address] { settings_->reach(address); }});
    for (const GestureStart& start : gestureStarts())
        items.push_back({"Gesture: " + said(start.label), said(start.summary), [this, &start] { rail_->addStart(start); }});
    const ObjectId chosen = document_.chosen();
    if (chosen && chosen.type() == ObjectType::gesture)
        for (const Kind* kind : kindsOf(Family::zone))
            if (!takesInstances(*kind))
                items.push_back(
                    {"Zone: " + said(kind->label), said(kind->summary), [this, chosen, kind] { settings_->makeZone(chosen, *kind); }});
    const ObjectId formation = referenceOf(scene.at(swarm).part("place"), "formation");
    for (const Kind* kind : kindsOf(Family::formation))
        items.push_back({"Formation: " + said(kind->label), said(kind->summary), [this, formation, kind] {
                             document_.edit([&](const Scene& s) { return setFormation(s, formation, *kind); });
                             document_.seal();
                         }});
    return items;
}

/// Its place while handles move, its turn while they turn; its sizes are keyed in the settings.
void MainWindow::keyHandles() {
    const char* parameter = picture_->handleMode() == handles::Mode::turn ? "rotation" : "position";
    const ObjectId object = document_.handled();
    if (!document_.scene().find(object) || object.type() == ObjectType::shape) return;
    document_.edit([&](const Scene& scene) { return toggleKey(scene, addressOf(scene, object, parameter), document_.frame()); });
    document_.seal();
}

void MainWindow::loopProject(ObjectId object) {
    document_.edit([&](const Scene& scene) { return makeLoop(scene, object); });
    document_.seal();
}

void MainWindow::deleteChosen() {
    document_.edit([this](const Scene& s) { return remove(s, document_.chosen()); });
}

/// Shows the values of the first chosen instance in the cards, or leaves them.
void MainWindow::toggleTally() {
    Session& session = document_.session();
    const auto& chosen = session.instances();
    if (session.tallied()) return session.tally(std::nullopt);
    if (chosen.ids.empty() || chosen.swarm != document_.swarm())
        return tell("Click an instance in the view first: the tally tells how it got where it is.");
    session.tally(chosen.ids.front());
}

void MainWindow::chooseAllInstances() {
    const auto result = evaluation_->resultOf(document_.swarm());
    if (!result) return;
    std::vector<std::uint32_t> rows(static_cast<std::size_t>(result->count));
    std::iota(rows.begin(), rows.end(), 0u);
    document_.session().chooseInstances(document_.swarm(), idsOfRows(result->home, rows));
}

/// Of the gesture that is chosen, or of the first card.
void MainWindow::varyChosen() {
    ObjectId gesture = document_.chosen();
    if (gesture.type() != ObjectType::gesture) {
        const Object* swarm = document_.scene().find(document_.swarm());
        const auto rail = swarm ? swarm->list("rail") : std::vector<ObjectId>{};
        if (rail.empty()) return tell("There is no gesture yet whose settings could be varied; add one first.");
        gesture = referenceOf(document_.scene().at(rail.front()).part("entry"), "gesture");
    }
    if (document_.scene().find(gesture)) document_.vary(variedNumber(document_.scene(), gesture));
}

void MainWindow::openPreferences() {
    if (!preferences_) {
        preferences_ = new Preferences(*evaluation_, this);
        connect(preferences_, &Preferences::panelsAsked, this, &MainWindow::resetPanels);
    }
    preferences_->open(mapToGlobal(QPoint(width() - Preferences::wide - 8, 36)));
}
