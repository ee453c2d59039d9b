#include "app/scene/thing_menu.h"

#include <algorithm>
#include <QMenu>

#include "app/scene/shown_as.h"
#include "core/arrange/camera_edit.h"
#include "core/arrange/hang.h"
#include "core/edit/arrange_edits.h"
#include "core/edit/rail_edits.h"
#include "core/kinds/registry.h"
#include "core/light/light_kind.h"

using namespace gswarm;

namespace {

struct Making {
    Document& document;
    QMenu& menu;
    const std::vector<ObjectId> things;

    const Scene& scene() const { return document.scene(); }
    QString name(ObjectId id) const { return QString::fromStdString(scene().at(id).name); }

    QAction* add(const QString& label, const Document::MakeEdit& make, QMenu* to = nullptr) {
        return (to ? to : &menu)->addAction(label, [this, make] {
            const ObjectId made = document.edit(make);
            document.seal();
            if (made) document.choose(made);
        });
    }

    /// What it can hang from, and to let it go.
    void addHanging() {
        if (!std::all_of(things.begin(), things.end(), [&](ObjectId id) { return scene().at(id).holds("hang"); })) return;
        QMenu* from = menu.addMenu("Hang from");
        const auto hangs = [this](ObjectId to) {
            return [things = things, to, frame = document.frame(), &store = document.store()](const Scene& s) {
                return forEach(s, things, [&](const Scene& now, ObjectId id) { return hang(now, id, to, frame, store); });
            };
        };
        for (const ObjectType type : {ObjectType::mount, ObjectType::swarm, ObjectType::zone, ObjectType::camera})
            for (const ObjectId other : scene().all(type))
                if (std::find(things.begin(), things.end(), other) == things.end()) add(name(other), hangs(other), from);
        from->setEnabled(!from->isEmpty());
        add("Stand on its own", hangs({}));
    }

    void addGroups() {
        QMenu* into = menu.addMenu("Into the group");
        for (const ObjectId group : scene().all(ObjectType::group))
            if (std::find(things.begin(), things.end(), group) == things.end())
                add(
                    name(group), [things = things, group](const Scene& s) { return moveToGroup(s, things, group); }, into);
        into->setEnabled(!into->isEmpty());
        if (std::any_of(things.begin(), things.end(), [&](ObjectId id) { return static_cast<bool>(scene().at(id).group); }))
            add("Out of the group", [things = things](const Scene& s) { return moveToGroup(s, things, {}); });
    }

    void addOfOne(ObjectId id) {
        const ObjectId swarm = document.swarm();
        const bool lamp = id.type() == ObjectType::light && static_cast<const LightKind&>(*scene().at(id).part("light").kind).lamp;
        if (lamp) {
            add("Repeat it by a swarm of its own", [id](const Scene& s) { return addSwarmOf(s, id); });
            if (swarm) add(name(swarm) + " repeats it too", [id, swarm](const Scene& s) { return addStock(s, swarm, id); });
        }
        if (id.type() == ObjectType::swarm) add("Repeat it by a swarm of its own", [id](const Scene& s) { return addSwarmOf(s, id); });
        if (id.type() == ObjectType::shape) {
            if (swarm) add(name(swarm) + " repeats it too", [id, swarm](const Scene& s) { return addStock(s, swarm, id); });
            add("Break it up into pieces", [id](const Scene& s) { return breakUp(s, id); });
        }
        if (id.type() == ObjectType::zone) {
            QMenu* acts = menu.addMenu("Let a gesture or force act here");
            for (const ObjectType type : {ObjectType::gesture, ObjectType::force})
                for (const ObjectId what : scene().all(type))
                    add(
                        name(what), [id, what](const Scene& s) { return weaveZone(s, what, id); }, acts);
            acts->setEnabled(!acts->isEmpty());
            const bool pinned = document.session().pinned(id);
            menu.addAction(pinned ? "Draw it only while it is selected" : "Always draw it",
                           [this, id, pinned] { document.session().pin(id, !pinned); });
        }
        if (id.type() == ObjectType::camera)
            add("Cut to it from this frame on", [id, frame = document.frame()](const Scene& s) { return cutTo(s, id, frame); });
        if (id.type() == ObjectType::formation && scene().ownerOf(id))
            add("Switch to this version", [id](const Scene& s) { return setValue(s, addressOf(s, s.ownerOf(id), "formation"), id); });
    }
};

bool canKeep(ObjectId id) {
    return id.type() == ObjectType::swarm || id.type() == ObjectType::gesture || id.type() == ObjectType::zone ||
           id.type() == ObjectType::formation || id.type() == ObjectType::material;
}

}  // namespace

void showThingMenu(Document& document, const ThingMenuHooks& hooks, const QPoint& global, QWidget* window) {
    QMenu menu(window);
    menu.setObjectName("thingMenu");
    Making making{document, menu, document.selection()};
    const auto& things = making.things;
    const bool any = !things.empty(), project = any && things.front().type() == ObjectType::project;
    if (any && !project) {
        if (things.size() == 1) menu.addAction("Rename", QKeySequence(Qt::Key_F2), window, hooks.rename);
        making.add("Duplicate", [things](const Scene& s) { return duplicateThings(s, things); })->setShortcut(QKeySequence("Ctrl+D"));
        menu.addAction("Delete", QKeySequence(Qt::Key_Delete), window, hooks.remove);
        menu.addSeparator();
        menu.addAction("Frame in the view", hooks.frame);
        if (!shownAs(document.scene(), things.front()).isEmpty())
            making.add("Show or hide", [things, frame = document.frame()](const Scene& s) {
                return forEach(s, things, [&](const Scene& now, ObjectId id) {
                    return shownAs(now, id).isEmpty() ? Edit{now, {}, {}, {}} : withNextShown(now, id, frame);
                });
            });
        if (things.size() == 1) making.addOfOne(things.front());
        making.addHanging();
        menu.addSeparator();
        menu.addAction("Group", QKeySequence("Ctrl+Shift+G"), window, hooks.group);
        making.addGroups();
        if (things.size() == 1 && canKeep(things.front())) {
            menu.addSeparator();
            menu.addAction("Keep as a start of my own…", hooks.keepStart);
        }
        menu.addSeparator();
    }
    menu.addAction("Add…", hooks.add);
    for (QAction* action : menu.actions()) action->setShortcutVisibleInContextMenu(true);
    menu.exec(global);
}
