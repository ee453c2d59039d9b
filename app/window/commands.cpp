// What can be done with the whole window: one list for shortcuts, menus and the finder.
#include "app/window/commands.h"

#include <numeric>
#include <QStackedWidget>
#include <QToolButton>

#include "app/export/export_panel.h"
#include "app/look/material_tray.h"
#include "app/picture/picture.h"
#include "app/picture/traced_view.h"
#include "app/rail/rail.h"
#include "app/scene/scene_list.h"
#include "app/scene/scene_panel.h"
#include "app/settings/section.h"
#include "app/settings/settings.h"
#include "app/time/curve_view.h"
#include "app/time/time_panel.h"
#include "app/window/areas.h"
#include "app/window/main_window.h"
#include "app/window/preferences.h"
#include "app/window/shortcuts.h"
#include "core/arrange/camera_edit.h"
#include "core/edit/arrange_edits.h"
#include "core/edit/key_edits.h"
#include "core/edit/variations.h"
#include "core/explain/loop_check.h"
#include "core/flow/home_plan.h"

using namespace gswarm;

void MainWindow::buildCommands() {
    const auto always = [] { return true; };
    const auto hasSwarm = [this] { return static_cast<bool>(document_.swarm()); };
    const auto hasChosen = [this] { return static_cast<bool>(document_.chosen()); };
    const auto mode = [this](handles::Mode m) { return [this, m] { picture_->setHandleMode(m); }; };
    const auto view = [this](const char* name) { return [this, name] { picture_->findChild<QToolButton*>(name)->click(); }; };
    commands_ = {
        {"newProject", "New project", "Ctrl+N", "empty file start", [this] { leaveProject([this] { document_.newProject(); }); }, always},
        {"open", "Open a project…", "Ctrl+O", "file load", [this] { askOpen(); }, always},
        {"save", "Save", "Ctrl+S", "file store", [this] { save(); }, always},
        {"saveAs", "Save as…", "Ctrl+Shift+S", "file", [this] { saveAs(); }, always},
        {"saveCopy", "Save a copy with all its files…", "", "collect package archive backup", [this] { saveCopy(); }, always},
        {"import", "Import…", "Ctrl+I", "load mesh model obj svg csv points drawing font file", [this] { askImport(); }, always},
        {"export", "Export", "F7", "render output video image picture movie gltf csv", [this] { showWorkView("Export"); }, always},
        {"look", "Look", "F6", "render preview traced materials lights shading", [this] { showWorkView("Look"); }, always},
        {"keepPicture", "Keep the traced picture to compare with", "", "snapshot render before after",
         [this] { picture_->traced().keep(); }, [this] { return !picture_->traced().picture().isNull(); }},
        {"compose", "Compose", "F5", "edit work main view", [this] { showWorkView("Compose"); }, always},
        {"preferences", "Preferences", "Ctrl+,", "settings options memory", [this] { openPreferences(); }, always},
        {"shortcuts", "All shortcuts", "Ctrl+F1", "keys hotkeys keyboard", [this] { showShortcuts(); }, always},
        {"help", "Help", "F1", "guide manual documentation tutorial", [this] { showHelp(); }, always},
        {"walk", "The five-step walk", "", "tutorial tour intro first start learn", [this] { startWalk(); }, always},
        {"quit", "Quit", "Ctrl+Q", "exit leave end", [this] { close(); }, always},
        {"undo", "Undo", "Ctrl+Z", "back", [this] { document_.undo(); }, [this] { return document_.history().canUndo(); }},
        {"redo", "Redo", "Ctrl+Shift+Z", "again", [this] { document_.redo(); }, [this] { return document_.history().canRedo(); }},
        {"find", "Find or do anything", "Ctrl+K", "search command", [this] { openFinder(); }, always},
        {"search", "Find a thing", "Ctrl+F", "search", [this] { openFinder(); }, always},

        {"newSwarm", "New swarm", "Ctrl+Shift+N", "clone copy repeat instances array", [this] { newSwarm(); }, always},
        {"add", "Add to the scene…", "Shift+A", "create new shape mesh object", [this] { left_->openGallery(); }, always},
        {"addCamera", "Add a camera where the view is", "", "shot new view angle", [this] { addCameraHere(); }, always},
        {"addMount", "Add a mount, an empty object to hang others from", "", "null empty locator parent pivot dummy",
         [this] { document_.choose(document_.edit(addMount)); }, always},
        {"addGesture", "Add a gesture", "Ctrl+G", "effect modifier animate change", [this] { rail_->openGallery(); }, hasSwarm},
        {"formation", "Choose a formation", "Ctrl+Shift+F", "layout distribute arrange pattern", [this] { settings_->pickFormation(); },
         hasSwarm},
        {"rename", "Rename what is selected", "F2", "name label", [this] { left_->list().rename(); }, hasChosen},
        {"duplicate", "Duplicate what is selected", "Ctrl+D", "copy clone again", [this] { duplicateSelected(); }, hasChosen},
        {"delete", "Delete what is selected", "Delete", "remove erase", [this] { left_->list().deleteSelected(); }, hasChosen},
        {"group", "Group what is selected", "Ctrl+Shift+G", "folder collection layer organise", [this] { left_->groupSelected(); },
         hasChosen},
        {"selectAll", "Select all instances", "Ctrl+A", "selection everything", [this] { chooseAllInstances(); }, hasSwarm},
        {"foldSwarms", "Fold all swarms in the list", "", "collapse tree outline", [this] { left_->list().foldSwarms(true); }, hasSwarm},
        {"unfoldSwarms", "Unfold all swarms in the list", "", "expand tree outline", [this] { left_->list().foldSwarms(false); }, hasSwarm},
        {"projectSettings", "Settings of the project", "", "fps frame rate length duration range background exposure",
         [this] { document_.choose(document_.scene().project().id); }, always},

        {"play", "Play or stop", "Space", "animate preview start pause", [this] { play_->toggle(); }, always},
        {"back", "One frame back", ",", "step previous", [this] { play_->stepFrames(-1); }, always},
        {"on", "One frame on", ".", "step next", [this] { play_->stepFrames(1); }, always},
        {"first", "To the first frame", "Home", "start begin", [this] { play_->toStart(); }, always},
        {"last", "To the last frame", "End", "finish", [this] { play_->toEnd(); }, always},
        {"keyHandles", "Key the position of what has handles, or its rotation", "Shift+K", "keyframe animate", [this] { keyHandles(); },
         [this] { return static_cast<bool>(document_.handled()); }},
        {"record", "Record keys", "R", "keyframe automatic animate", [this] { document_.setRecording(!document_.recording()); }, always},
        {"curves", "Curves of what is selected", "Ctrl+Shift+K", "graph easing keyframe interpolation",
         [this] { time_->showCurves(!time_->curves()->isVisible()); }, hasSwarm},
        {"checkLoop", "Check the loop", "", "seamless cycle", [this] { time_->findChild<QToolButton*>("loopRing")->click(); }, hasSwarm},
        {"loopAll", "Make the whole project loop", "", "seamless cycle", [this] { loopProject({}); }, hasSwarm},
        {"loopSelected", "Make what is selected loop", "", "seamless cycle", [this] { loopProject(document_.chosen()); }, hasChosen},

        {"frame", "Frame what is selected", "F", "zoom fit focus view", [this] { picture_->frameChoice(); }, always},
        {"lookThrough", "Look through the camera", "Ctrl+Shift+C", "view camera", [this] { picture_->lookThroughCamera(); }, always},
        {"cameraFromView", "Put the camera where the view is", "", "camera from view align", [this] { picture_->cameraFromView(); },
         always},
        {"cutTo", "Cut to the selected camera from this frame on", "", "switch camera shot edit active",
         [this] {
             document_.edit([&](const Scene& s) { return gswarm::cutTo(s, document_.chosen(), document_.frame()); });
             document_.seal();
         },
         [this] { return document_.chosen().type() == ObjectType::camera; }},
        {"move", "Handles: move", "1", "translate gizmo position", mode(handles::Mode::move), always},
        {"rotate", "Handles: rotate", "2", "turn gizmo", mode(handles::Mode::turn), always},
        {"scale", "Handles: scale", "3", "size resize gizmo", mode(handles::Mode::size), always},
        {"weights", "Show weights", "W", "falloff influence mask heat", [this] { picture_->showWeights(!picture_->showsWeights()); },
         always},
        {"numbers", "Show numbers", "N", "index labels ids", view("view-numbers"), always},
        {"ghosts", "Ghosts of the frames before and after", "G", "onion skin motion trail", view("view-ghosts"), hasSwarm},
        {"keep", "Keep this version to compare with; hold C to see it", "Shift+C", "snapshot before after",
         [this] { document_.session().keep(document_.scene()); }, hasSwarm},
        {"vary", "Nine values of a setting side by side", "Ctrl+Shift+V", "variations seeds compare", [this] { varyChosen(); }, hasSwarm},
        {"ledger", "Ledger: every value of every instance", "L", "table spreadsheet attributes list",
         [this] { time_->showLedger(!time_->showsLedger()); }, hasSwarm},
        {"tally", "Tally of the selected instance in the cards", "A", "inspect probe debug values", [this] { toggleTally(); }, hasSwarm},
        {"rehearse", "Rehearsal: one of 8 instances", "", "proxy draft fast preview", [this] { document_.session().setRehearsal(8); },
         hasSwarm},
        {"rehearseAll", "Rehearsal: all instances", "", "proxy draft full", [this] { document_.session().setRehearsal(1); },
         [this] { return document_.session().rehearsal() > 1; }},
        {"light", "Light stand-ins of stock, or the real ones", "", "proxy draft low heavy simplify",
         [this] { document_.session().setLight(!document_.session().light()); }, hasSwarm},
        {"nextArea", "To the next panel or section", "Ctrl+Tab", "focus keyboard panel", [this] { areas::step(areaList(), 1); }, always},
        {"previousArea", "To the panel or section before", "Ctrl+Shift+Tab", "focus keyboard panel",
         [this] { areas::step(areaList(), -1); }, always},
        {"fullScreen", "Full screen", "F11", "maximise window", [this] { setWindowState(windowState() ^ Qt::WindowFullScreen); }, always},
        {"showList", "Show or hide the scene list", "Ctrl+1", "panel tree hierarchy",
         [this] { leftSide_->setVisible(!leftSide_->isVisible()); }, always},
        {"showSettings", "Show or hide the settings", "Ctrl+2", "panel properties", [this] { right_->setVisible(!right_->isVisible()); },
         always},
        {"showTime", "Show or hide time", "Ctrl+3", "panel timeline", [this] { time_->setVisible(!time_->isVisible()); }, always},
    };
    shortcuts_ = new Shortcuts(commands_, this);
}

/// In the order they are read in.
QList<QWidget*> MainWindow::areaList() const {
    QList<QWidget*> all{rail_, tray_, &left_->list(), picture_};
    for (Section* section : settings_->sections()) all << section;
    return all << exportPanel_ << time_;
}

const Command& MainWindow::command(const QString& id) const {
    return *std::find_if(commands_.begin(), commands_.end(), [&](const Command& command) { return command.id == id; });
}

void MainWindow::addCameraHere() {
    document_.choose(document_.edit([&](const Scene& s) { return gswarm::addCamera(s, picture_->view().camera()); }));
    document_.seal();
}

/// Its place while handles move, its turn while they turn; its sizes are keyed in the settings.
void MainWindow::keyHandles() {
    const ObjectId object = document_.handled();
    const char* place = object.type() == ObjectType::gesture ? "centre" : "position";
    const char* parameter = picture_->handleMode() == handles::Mode::turn ? "rotation" : place;
    if (!document_.scene().find(object) || object.type() == ObjectType::shape) return;
    document_.edit([&](const Scene& scene) { return toggleKey(scene, addressOf(scene, object, parameter), document_.frame()); });
    document_.seal();
}

void MainWindow::loopProject(ObjectId object) {
    document_.edit([&](const Scene& scene) { return makeLoop(scene, object); });
    document_.seal();
}

void MainWindow::duplicateSelected() {
    const ObjectId made = document_.edit([this](const Scene& s) { return duplicateThings(s, document_.selection()); });
    document_.seal();
    document_.choose(made);
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
