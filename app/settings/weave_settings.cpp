// Where a gesture acts: the weave read downward, each zone unfolding in place, groups indented.
#include "app/settings/settings.h"

#include <algorithm>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>

#include "app/document/evaluation.h"
#include "app/fields/drop_target.h"
#include "app/fields/switch.h"
#include "app/settings/parameter_row.h"
#include "app/settings/section.h"
#include "app/theme/strip.h"
#include "app/theme/theme.h"
#include "core/arrange/fitted_edits.h"
#include "core/edit/rail_edits.h"
#include "core/kinds/registry.h"
#include "core/zone/zone_kind.h"

using namespace gswarm;

namespace {

constexpr int indent = 14;
constexpr int rowWidth = 268;  // of the settings at their usual width, beside a scroll bar
constexpr int operationWidth = 68, amountWidth = 50;

/// Those that are reached for most stand as buttons; the rest opens from a menu.
bool isCommon(const Kind* kind) { return static_cast<const ZoneKind*>(kind)->common; }

}  // namespace

void Settings::addWeave(Section* section, const Object& gesture) {
    addEntries(section, gesture.list("weave"), 0);
    addZoneButtons(section, gesture.id);
    new DropTarget(section, {ObjectType::zone},
                   [this, id = gesture.id](ObjectId zone) { document_.edit([&](const Scene& s) { return weaveZone(s, id, zone); }); });
}

void Settings::addEntries(Section* section, const std::vector<ObjectId>& entries, int depth) {
    for (const ObjectId entry : entries) addWeaveRow(section, entry, entry == entries.front(), depth);
}

void Settings::addWeaveRow(Section* section, ObjectId entry, bool first, int depth) {
    const Object& object = document_.scene().at(entry);
    const Part& part = object.part("entry");
    const ObjectId zoneId = referenceOf(part, "zone");
    const Object* zone = document_.scene().find(zoneId);
    const bool group = !object.list("group").empty();
    auto* row = new QWidget(content_);
    row->setObjectName("weaveRow");
    auto* column = new QVBoxLayout(row);
    column->setContentsMargins(depth * indent, 0, 0, 2);
    column->setSpacing(2);
    auto* line = new QHBoxLayout;
    line->setSpacing(3);
    column->addLayout(line);
    const auto addField = [&](const char* parameter, int width) {
        auto* field = new ParameterRow(document_, addressOf(document_.scene(), entry, parameter), row);
        field->setLabelWidth(0);
        field->setFixedWidth(width);
        line->addWidget(field);
        rows_.push_back(field);
    };
    if (!first) addField("operation", operationWidth);
    auto* name = new QToolButton(row);
    name->setObjectName("weaveName");
    const QString called = zone ? said(zone->name) : group ? QString("Group") : QString("deleted");
    name->setFont(theme::text(13, QFont::Medium));
    name->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    const int room = rowWidth - depth * indent - (first ? 0 : operationWidth) - amountWidth - 30 - 22 - 44;
    name->setText(QFontMetrics(name->font()).elidedText(called, Qt::ElideRight, room));
    name->setIcon(theme::icon(group ? "group" : "zone", zone && document_.handled() == zoneId ? theme::gold
                                                        : zone || group                       ? theme::ivory
                                                                                              : theme::coral));
    name->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    name->setCheckable(!group);
    name->setChecked(unfolded_ == entry);
    name->setToolTip(group  ? "Its entries are woven first"
                     : zone ? called + "\nClick unfolds the zone and shows its handles"
                            : "Its zone was deleted: the gesture waits");
    line->addWidget(name, 1);
    addField("amount", amountWidth);
    auto* on = new Switch(row);
    on->setObjectName("weaveOn");
    on->setChecked(switchOf(part, "on"));
    on->setAccessibleName("On");
    line->addWidget(on);
    auto* more = new QToolButton(row);
    more->setObjectName("weaveMore");
    more->setIcon(theme::icon(zone && document_.session().pinned(zoneId) ? "pin" : "more", theme::quiet));
    more->setToolTip("Pin in the view, group, move, take out");
    more->setAccessibleName("More");
    more->setFixedSize(22, 24);
    line->addWidget(more);
    auto* strip = new Strip(row);
    strip->setToolTip("The weight so far, over all instances in order");
    column->addWidget(strip);
    section->body()->addWidget(row);
    told_.push_back([this, strip, entry] { strip->show(weaveSamples(entry)); });
    told_.back()();
    connect(name, &QToolButton::clicked, this, [this, entry, zoneId](bool open) { unfold(open ? entry : ObjectId{}, zoneId); });
    connect(on, &Switch::clicked, this, [this, entry](bool now) { document_.setValue(addressOf(document_.scene(), entry, "on"), now); });
    connect(more, &QToolButton::clicked, this, [this, entry, more] { showWeaveMenu(entry, more->mapToGlobal(QPoint(0, more->height()))); });
    if (group) return addEntries(section, object.list("group"), depth + 1);
    if (unfolded_ != entry || !zone) return;
    addKindChoice(section, zoneId, "form", "Form");
    addRows(section, zoneId, "form");
    addRows(section, zoneId, "place", {"on"});
}

void Settings::unfold(ObjectId entry, ObjectId zone) {
    unfolded_ = entry;
    document_.setHandled(document_.scene().find(zone) ? zone : ObjectId{});
    rebuild();
}

/// The weave as it is after one of its entries.
std::vector<float> Settings::weaveSamples(ObjectId entry) const {
    if (!document_.scene().find(entry)) return {};
    const auto census = censusOf(gestureOfEntry(document_.scene(), entry));
    if (!census) return {};
    for (const auto& [of, weights] : census->samples.weave)
        if (of == entry) return weights;
    return {};
}

void Settings::showWeaveMenu(ObjectId entry, const QPoint& at) {
    const Scene& scene = document_.scene();
    if (!scene.find(entry)) return;
    const ObjectId zone = referenceOf(scene.at(entry).part("entry"), "zone");
    const bool group = !scene.at(entry).list("group").empty();
    const ObjectId owner = scene.ownerOf(entry);
    const auto& list = scene.at(owner).list(owner.type() == ObjectType::gesture ? "weave" : "group");
    const auto place = static_cast<int>(std::find(list.begin(), list.end(), entry) - list.begin());
    const bool groupAbove = place > 0 && !scene.at(list[static_cast<std::size_t>(place) - 1]).list("group").empty();
    QMenu menu(this);
    menu.setObjectName("weaveMenu");
    const auto add = [&](const QString& text, bool possible, const std::function<void()>& act) {
        QAction* action = menu.addAction(text);
        action->setEnabled(possible);
        connect(action, &QAction::triggered, this, act);
    };
    const auto edit = [this](const Document::MakeEdit& make) { return [this, make] { document_.edit(make); }; };
    if (scene.find(zone)) {
        const bool pinned = document_.session().pinned(zone);
        add(pinned ? "Unpin from the view" : "Pin in the view", true, [this, zone, pinned] { document_.session().pin(zone, !pinned); });
        add("Settings of the zone", true, [this, zone] { document_.choose(zone); });
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

void Settings::makeZone(ObjectId gesture, const Kind& kind) {
    const auto seen = evaluation_.resultOf(document_.swarm());
    const ObjectId zone = document_.edit([&](const Scene& s) { return addZoneFitted(s, gesture, kind, seen.get()); });
    if (zone) unfold(document_.scene().at(gesture).list("weave").back(), zone);
}

void Settings::showZoneMenu(ObjectId gesture, const QPoint& at) {
    QMenu menu(this);
    menu.setObjectName("moreZones");
    menu.setToolTipsVisible(true);
    const auto& instances = document_.session().instances();
    const bool chosen = instances.swarm == document_.swarm() && !instances.ids.empty();
    QAction* these = menu.addAction(chosen ? "The " + theme::counted(static_cast<qint64>(instances.ids.size()), "chosen instance")
                                           : QString("Chosen instances: choose some first"));
    these->setEnabled(chosen);
    connect(these, &QAction::triggered, this, [this, gesture] {
        const ObjectId zone =
            document_.edit([&](const Scene& s) { return addChosenZone(s, gesture, document_.session().instances().ids); });
        if (zone) unfold(document_.scene().at(gesture).list("weave").back(), zone);
    });
    menu.addSeparator();
    for (const Kind* kind : kindsOf(Family::zone)) {
        if (isCommon(kind) || takesInstances(*kind)) continue;
        QAction* action = menu.addAction(said(kind->label));
        action->setToolTip(said(kind->summary));
        connect(action, &QAction::triggered, this, [this, gesture, kind] { makeZone(gesture, *kind); });
    }
    menu.exec(at);
}

void Settings::addZoneButtons(Section* section, ObjectId gesture) {
    auto* row = new QWidget(content_);
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    auto* label = new QLabel(document_.scene().at(gesture).list("weave").empty() ? "Only in:" : "And:", row);
    label->setStyleSheet("color: #a3967f;");
    line->addWidget(label);
    for (const Kind* kind : kindsOf(Family::zone)) {
        if (!isCommon(kind)) continue;
        auto* button = new QPushButton(said(kind->label), row);
        button->setObjectName("addZone-" + said(kind->id));
        button->setToolTip("A new zone: " + said(kind->summary).toLower());
        button->setStyleSheet("padding: 0 7px;");
        line->addWidget(button);
        connect(button, &QPushButton::clicked, this, [this, gesture, kind] { makeZone(gesture, *kind); });
    }
    auto* more = new QPushButton("More", row);
    more->setObjectName("addZone-more");
    more->setToolTip("Tubes, cones, rings, near curves and meshes, noise, formulas, chosen instances …");
    more->setStyleSheet("padding: 0 7px;");
    line->addWidget(more);
    connect(more, &QPushButton::clicked, this,
            [this, gesture, more] { showZoneMenu(gesture, more->mapToGlobal(QPoint(0, more->height()))); });
    auto* pick = new QToolButton(row);
    pick->setIcon(theme::icon("pick"));
    pick->setToolTip("A zone that is there already: click it in the list or the view, or drag it here from the list");
    pick->setAccessibleName("Choose a zone");
    line->addWidget(pick);
    connect(pick, &QToolButton::clicked, this, [this, gesture] {
        document_.startPick({ObjectType::zone}, [this, gesture](ObjectId zone) {
            document_.edit([&](const Scene& s) { return weaveZone(s, gesture, zone); });
        });
    });
    line->addStretch(1);
    section->body()->addWidget(row);
}
