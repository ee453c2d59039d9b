// Where a gesture acts: the weave read downward, each zone unfolding in place.
#include "app/settings/settings.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>

#include "app/settings/section.h"
#include "app/settings/switch.h"
#include "app/theme/theme.h"

using namespace gswarm;

void Settings::addWeave(Section* section, const Object& gesture) {
    bool first = true;
    for (const ObjectId entry : gesture.list("weave")) {
        addWeaveRow(section, entry, first);
        first = false;
    }
    addZoneButtons(section, gesture.id);
}

void Settings::addWeaveRow(Section* section, ObjectId entry, bool first) {
    const Part& part = document_.scene().at(entry).part("entry");
    const ObjectId zoneId = referenceOf(part, "zone");
    const Object* zone = document_.scene().find(zoneId);
    auto* row = new QWidget(content_);
    row->setObjectName("weaveRow");
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    auto* name = new QToolButton(row);
    name->setText(zone ? said(zone->name) : "deleted");
    name->setIcon(theme::icon("zone", document_.handled() == zoneId ? theme::gold : theme::ivory));
    name->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    name->setCheckable(true);
    name->setChecked(unfolded_ == entry);
    name->setToolTip("Unfold the zone and show its handles");
    name->setFont(theme::text(13, QFont::Medium));
    auto* out = new QToolButton(row);
    out->setIcon(theme::icon("close", theme::quiet));
    out->setToolTip("Take it out of this gesture; the zone itself stays");
    auto* on = new Switch(row);
    on->setChecked(switchOf(part, "on"));
    line->addWidget(name);
    line->addStretch(1);
    line->addWidget(on);
    line->addWidget(out);
    section->body()->addWidget(row);
    connect(name, &QToolButton::clicked, this, [this, entry, zoneId](bool open) {
        unfolded_ = open ? entry : ObjectId{};
        document_.setHandled(document_.scene().find(zoneId) ? zoneId : ObjectId{});
        rebuild();
    });
    connect(out, &QToolButton::clicked, this, [this, entry] { document_.edit([&](const Scene& s) { return remove(s, entry); }); });
    connect(on, &Switch::clicked, this, [this, entry](bool now) { document_.setValue(addressOf(document_.scene(), entry, "on"), now); });
    addRows(section, entry, "entry", {"zone", "on"},
            first ? std::vector<std::string>{"amount"} : std::vector<std::string>{"operation", "amount"});
    if (unfolded_ != entry || !zone) return;
    addKindChoice(section, zoneId, "form", "Form");
    addRows(section, zoneId, "form");
    addRows(section, zoneId, "place", {"on"});
}

void Settings::addZoneButtons(Section* section, ObjectId gesture) {
    auto* row = new QWidget(content_);
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    auto* label = new QLabel(document_.scene().at(gesture).list("weave").empty() ? "Everywhere. Only in:" : "And:", row);
    label->setStyleSheet("color: #a3967f;");
    line->addWidget(label);
    for (const Kind* kind : kindsOf(Family::zone)) {
        auto* button = new QPushButton(said(kind->label), row);
        button->setObjectName("addZone-" + said(kind->id));
        button->setToolTip("A new zone: " + said(kind->summary).toLower());
        button->setStyleSheet("padding: 0 7px;");
        line->addWidget(button);
        connect(button, &QPushButton::clicked, this, [this, gesture, kind] {
            const ObjectId zone = document_.edit([&](const Scene& s) { return addZone(s, gesture, *kind); });
            if (!zone) return;
            unfolded_ = document_.scene().at(gesture).list("weave").back();
            document_.setHandled(zone);
            rebuild();
        });
    }
    auto* pick = new QToolButton(row);
    pick->setIcon(theme::icon("pick"));
    pick->setToolTip("A zone that is there already: click it in the list or the picture");
    pick->setAccessibleName("Pick a zone");
    line->addWidget(pick);
    connect(pick, &QToolButton::clicked, this, [this, gesture] {
        document_.startPick({ObjectType::zone}, [this, gesture](ObjectId zone) {
            document_.edit([&](const Scene& s) { return weaveZone(s, gesture, zone); });
        });
    });
    line->addStretch(1);
    section->body()->addWidget(row);
}
