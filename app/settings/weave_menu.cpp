#include "app/settings/weave_menu.h"

#include <algorithm>
#include <QMenu>
#include <QWidgetAction>

#include "app/document/own_starts.h"
#include "app/scene/own_starts_row.h"
#include "app/theme/theme.h"
#include "core/edit/rail_edits.h"
#include "core/kinds/registry.h"
#include "core/zone/zone_kind.h"

using namespace gswarm;

void showWeaveMenu(Document& document, ObjectId entry, const QPoint& at, QWidget* parent) {
    const Scene& scene = document.scene();
    if (!scene.find(entry)) return;
    const ObjectId zone = referenceOf(scene.at(entry).part("entry"), "zone");
    const bool group = !scene.at(entry).list("group").empty();
    const ObjectId owner = scene.ownerOf(entry);
    const auto& list = scene.at(owner).list(owner.type() == ObjectType::weave ? "group" : "weave");
    const auto place = static_cast<int>(std::find(list.begin(), list.end(), entry) - list.begin());
    const bool groupAbove = place > 0 && !scene.at(list[static_cast<std::size_t>(place) - 1]).list("group").empty();
    QMenu menu(parent);
    menu.setObjectName("weaveMenu");
    const auto add = [&](const QString& text, bool possible, const std::function<void()>& act) {
        QAction* action = menu.addAction(text);
        action->setEnabled(possible);
        QObject::connect(action, &QAction::triggered, &document, act);
    };
    const auto edit = [&document](const Document::MakeEdit& make) { return [&document, make] { document.edit(make); }; };
    if (scene.find(zone)) {
        const bool pinned = document.session().pinned(zone);
        add(pinned ? "Unpin from the view" : "Pin in the view", true, [&document, zone, pinned] { document.session().pin(zone, !pinned); });
        add("Settings of the zone", true, [&document, zone] { document.choose(zone); });
        menu.addSeparator();
    }
    add("Move up", place > 0, edit([entry, place](const Scene& s) { return moveInList(s, entry, place - 1); }));
    add("Move down", place + 1 < static_cast<int>(list.size()),
        edit([entry, place](const Scene& s) { return moveInList(s, entry, place + 1); }));
    if (!group) add("Make it a group", true, edit([entry](const Scene& s) { return groupEntry(s, entry); }));
    add("Into the group above", groupAbove, edit([entry](const Scene& s) { return moveIntoGroup(s, entry); }));
    if (group) add("Take the group apart", true, edit([entry](const Scene& s) { return ungroup(s, entry); }));
    menu.addSeparator();
    add(group ? "Take it out" : "Take it out; the zone itself stays", true, edit([entry](const Scene& s) { return remove(s, entry); }));
    menu.exec(at);
}

void showZoneMenu(SettingsDesk& desk, ObjectId gesture, const QPoint& at, QWidget* parent) {
    Document& document = desk.document;
    QMenu menu(parent);
    menu.setObjectName("moreZones");
    menu.setToolTipsVisible(true);
    const auto& instances = document.session().instances();
    const bool chosen = instances.swarm == document.swarm() && !instances.ids.empty();
    QAction* these = menu.addAction(chosen ? "The " + theme::counted(static_cast<qint64>(instances.ids.size()), "chosen instance")
                                           : QString("Chosen instances: choose some first"));
    these->setEnabled(chosen);
    QObject::connect(these, &QAction::triggered, &desk, [&desk, &document, gesture] {
        const ObjectId zone = document.edit([&](const Scene& s) { return addChosenZone(s, gesture, document.session().instances().ids); });
        if (zone) desk.unfold(document.scene().at(gesture).list("weave").back(), zone);
    });
    menu.addSeparator();
    for (const Kind* kind : kindsOf(Family::zone)) {
        if (static_cast<const ZoneKind*>(kind)->common || takesInstances(*kind)) continue;
        QAction* action = menu.addAction(said(kind->label));
        action->setToolTip(said(kind->summary));
        QObject::connect(action, &QAction::triggered, &desk, [&desk, gesture, kind] { desk.makeZone(gesture, *kind); });
    }
    auto* own = new OwnStartsRow({StartOf::zone}, 3, &menu);
    own->setContentsMargins(8, 0, 8, 4);
    own->refresh();
    if (own->isVisibleTo(&menu)) {
        auto* action = new QWidgetAction(&menu);
        action->setDefaultWidget(own);
        menu.addAction(action);
        QObject::connect(own, &OwnStartsRow::taken, &menu, [&menu, &document, gesture](const std::filesystem::path& path) {
            menu.close();
            useStartFile(document, path, gesture);
        });
    }
    menu.exec(at);
}
