// The menu at the project's name, the menus of things, files that are dropped, and help.
#include <algorithm>
#include <QDragEnterEvent>
#include <QFileInfo>
#include <QMenu>
#include <QMimeData>
#include <QPushButton>
#include <QSplitter>
#include <QToolButton>

#include "app/document/importing.h"
#include "app/document/own_starts.h"
#include "app/help/help_panel.h"
#include "app/help/walk.h"
#include "app/picture/picture.h"
#include "app/rail/rail.h"
#include "app/scene/scene_list.h"
#include "app/scene/scene_panel.h"
#include "app/scene/thing_menu.h"
#include "app/settings/settings.h"
#include "app/theme/file_dialog.h"
#include "app/window/main_window.h"
#include "app/window/recent.h"
#include "app/window/shortcut_list.h"
#include "app/window/shortcuts.h"
#include "core/file/start_file.h"

using namespace gswarm;

namespace {

constexpr int helpWidth = 340;

}  // namespace

void MainWindow::showProjectMenu() {
    QMenu menu(this);
    menu.setObjectName("projectMenu");
    const auto add = [&](const char* id) {
        const Command& one = command(id);
        QAction* action = menu.addAction(one.label, [one] { one.act(); });
        action->setShortcut(shortcuts_->of(one.id));
        action->setEnabled(one.possible());
    };
    add("newProject"), add("open");
    QMenu* again = menu.addMenu("Open again");
    for (const QString& path : recent::projects())
        again->addAction(QFileInfo(path).fileName(), [this, path] { leaveProject([this, path] { openFile(path); }); })->setToolTip(path);
    again->setToolTipsVisible(true);
    again->setEnabled(!again->isEmpty());
    menu.addSeparator();
    add("save"), add("saveAs"), add("saveCopy");
    menu.addSeparator();
    add("import"), add("export");
    menu.addSeparator();
    add("preferences"), add("shortcuts"), add("help"), add("walk");
    menu.addSeparator();
    add("quit");
    menu.exec(title_->mapToGlobal(QPoint(0, title_->height() + 2)));
}

void MainWindow::showThings(const QPoint& global) {
    showThingMenu(document_,
                  {[this] { left_->list().rename(); }, [this] { left_->list().deleteSelected(); }, [this] { picture_->frameChoice(); },
                   [this] { left_->openGallery(); }, [this] { keepSelected(); }, [this] { left_->groupSelected(); }},
                  global, this);
}

/// In one's own folder, or as a file to give away.
void MainWindow::keepSelected() {
    const ObjectId thing = document_.chosen();
    const auto keep = [this, thing](StartOf of, bool elsewhere) {
        return [this, thing, of, elsewhere] {
            if (!elsewhere) return static_cast<void>(keepOwnStart(document_, of, thing));
            const Object* object = document_.scene().find(thing);
            if (!object) return;
            QString path = file_dialog::save(this, "Keep as a file", QString::fromStdString(object->name) + startEnding,
                                             QString("Kept starts (*%1)").arg(startEnding));
            if (path.isEmpty()) return;
            if (!path.endsWith(startEnding)) path += startEnding;
            keepStartAs(document_, of, thing, path.toStdString());
        };
    };
    QMenu menu(this);
    menu.setObjectName("keepMenu");
    const auto offer = [&](const QString& what, StartOf of) {
        menu.addAction("Keep " + what + " in my galleries", keep(of, false));
        menu.addAction("Keep " + what + " as a file…", keep(of, true));
    };
    if (thing.type() == ObjectType::swarm) offer("the whole swarm", StartOf::swarm), offer("its rail", StartOf::rail);
    if (thing.type() == ObjectType::gesture) offer("the gesture", StartOf::gesture);
    if (thing.type() == ObjectType::zone) offer("the zone", StartOf::zone);
    if (thing.type() == ObjectType::formation) offer("the formation", StartOf::formation);
    if (thing.type() == ObjectType::material) offer("the material", StartOf::material);
    menu.exec(QCursor::pos());
}

// ---- files that are dropped

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    for (const QUrl& url : event->mimeData()->urls()) {
        const QString path = url.toLocalFile();
        if (path.endsWith(".gswarm") || path.endsWith(startEnding) || importing::canImport(path)) return event->acceptProposedAction();
    }
}

void MainWindow::dropEvent(QDropEvent* event) {
    QStringList paths;
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile()) paths << url.toLocalFile();
    event->acceptProposedAction();
    takeFiles(paths);
}

void MainWindow::takeFiles(const QStringList& paths) {
    QStringList others;
    for (const QString& path : paths) {
        if (path.endsWith(".gswarm")) return leaveProject([this, path] { openFile(path); });
        if (path.endsWith(startEnding))
            useStartFile(document_, path.toStdString(), gestureAtHand());
        else
            others << path;
    }
    if (!others.isEmpty()) importing::add(document_, others);
}

// ---- help

void MainWindow::showHelp() {
    if (help_->isVisible()) return help_->hide();
    help_->setMade("shortcuts", "All shortcuts", [this] {
        QString text = "# All shortcuts\n\n";
        for (const Command& one : commands_)
            if (const QString keys = shortcuts_->of(one.id).toString(QKeySequence::NativeText); !keys.isEmpty())
                text += "- **" + keys + "** — " + one.label + "\n";
        return text;
    }());
    help_->setMade("kinds", "All kinds", kindsAsText());
    help_->show();
    QList<int> sizes = middle_->sizes();
    if (sizes[2] < helpWidth) {
        sizes[1] = std::max(sizes[1] - (helpWidth - sizes[2]), 200);
        sizes[2] = helpWidth;
        middle_->setSizes(sizes);
    }
    help_->open(document_.chosen() ? guide::placeOf(document_.scene(), document_.chosen()) : guide::Place{"first-swarm", {}});
}

void MainWindow::helpFor(const QString& section) {
    if (!help_->isVisible()) showHelp();
    // Sections without a place of their own are told with the thing they belong to.
    const guide::Place place = guide::placeOf(section);
    help_->open(place.page.isEmpty() ? guide::placeOf(document_.scene(), document_.chosen()) : place);
}

void MainWindow::showShortcuts() {
    if (!shortcutList_) shortcutList_ = new ShortcutList(*shortcuts_, this);
    shortcutList_->open(mapToGlobal(QPoint((width() - 520) / 2, 60)));
}

/// From an empty stage to a swarm that moves.
void MainWindow::startWalk() {
    const auto start = [this] {
        if (!document_.scene().all(ObjectType::swarm).empty()) document_.newProject();
        const auto named = [this](const char* name) {
            return [this, name]() -> QWidget* {
                for (auto* found : findChildren<QWidget*>(name))
                    if (found->isVisible()) return found;
                return nullptr;
            };
        };
        const auto count = [this](ObjectType type) { return document_.scene().all(type).size(); };
        std::vector<Walk::Step> steps = {
            {"A swarm", "A swarm repeats shapes. Press “New swarm”: boxes on a grid appear.", named("newSwarm"),
             [count] { return count(ObjectType::swarm) > 0; }},
            {"Where they stand",
             "The formation says where each stands. Click the card “Formation”, then choose another from the pictures in "
             "the settings, or change its numbers.",
             named("pickFormation"),
             [this] {
                 const ObjectId swarm = document_.swarm();
                 if (!swarm) return false;
                 const Scene fresh = addSwarm(document_.scene()).scene;
                 const auto part = [](const Scene& s, ObjectId id) {
                     return s.at(referenceOf(s.at(id).part("place"), "formation")).part("formation");
                 };
                 return !(part(fresh, fresh.all(ObjectType::swarm).back()) == part(document_.scene(), swarm));
             }},
            {"What happens to them", "Gestures change the instances, from left to right. Press the (+) in the rail and take “Wave”.",
             named("addGesture"), [count] { return count(ObjectType::gesture) > 0; }},
            {"Where it acts", "Under “Where” a zone says where the gesture acts: add a ball. Drag its handles in the view.",
             named("addZone-ball"), [count] { return count(ObjectType::zone) > 0; }},
            {"Play", "Press Space, or the button: everything moves, and loops.", named("play"), [this] { return play_->playing(); }},
        };
        delete walk_;
        walk_ = new Walk(std::move(steps), this);
        walk_->start();
    };
    if (document_.scene().all(ObjectType::swarm).empty()) return start();
    leaveProject(start);
}
