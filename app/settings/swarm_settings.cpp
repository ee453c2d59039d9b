// A swarm: its place, its formation with its versions, and its stock.
#include "app/settings/settings.h"

#include <algorithm>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QToolButton>

#include "app/document/evaluation.h"
#include "app/fields/drop_target.h"
#include "app/settings/formation_picker.h"
#include "app/settings/parameter_row.h"
#include "app/settings/section.h"
#include "app/theme/theme.h"
#include "core/edit/rail_edits.h"
#include "core/kinds/registry.h"
#include "core/scene/object_kinds.h"

using namespace gswarm;

namespace {

QToolButton* smallButton(const char* icon, const QString& name, const QString& tip, QWidget* parent) {
    auto* button = new QToolButton(parent);
    button->setObjectName(name);
    button->setIcon(theme::icon(icon, theme::quiet));
    button->setToolTip(tip);
    button->setAccessibleName(tip);
    return button;
}

QString formationName(const Scene& scene, const Object& swarm) {
    return said(scene.at(referenceOf(swarm.part("place"), "formation")).part("formation").kind->label);
}

}  // namespace

void Settings::showSwarm(const Object& swarm) {
    Section* place = addSection("Place of the swarm");
    addRows(place, swarm.id, "place", {"formation"});
    addRows(place, swarm.id, "hang");
    summaries_.push_back({place, [] { return QString(); }});
    showFormation(swarm);
    showStock(swarm);
    addNamedValues(swarm);
}

/// Columns of numbers that gestures change and patterns, formulas and exports read.
void Settings::addNamedValues(const Object& swarm) {
    Section* section = addSection("Named values");
    const auto& numbers = swarm.list("namedValues");
    if (!open_.contains("Named values")) section->setOpen(!numbers.empty());
    for (const ObjectId id : numbers) {
        auto* row = new QWidget(content_);
        auto* line = new QHBoxLayout(row);
        line->setContentsMargins(0, 0, 0, 0);
        line->setSpacing(4);
        auto* name = new QLineEdit(said(document_.scene().at(id).name), row);
        name->setObjectName("namedValueName");
        name->setAccessibleName("Name of the value");
        name->setToolTip("How formulas call it; renaming rewrites them");
        line->addWidget(name, 1);
        auto* value = new ParameterRow(document_, addressOf(document_.scene(), id, "standard"), row);
        value->setLabelWidth(0);
        value->setFixedWidth(84);
        rows_.push_back(value);
        line->addWidget(value);
        auto* away = smallButton("close", "removeNumber", "Take the value away; gestures that use it wait", row);
        line->addWidget(away);
        section->body()->addWidget(row);
        connect(name, &QLineEdit::editingFinished, this, [this, name, id] {
            const Object* number = document_.scene().find(id);
            if (number && name->text() != said(number->name))
                document_.edit([&](const Scene& s) { return rename(s, id, name->text().toStdString()); });
        });
        connect(away, &QToolButton::clicked, this, [this, id] { document_.edit([&](const Scene& s) { return remove(s, id); }); });
    }
    auto* add = new QPushButton("A named value", content_);
    add->setObjectName("addNumber");
    add->setIcon(theme::icon("plus"));
    add->setToolTip("A value of each instance: gestures change it, later ones, colours and exports read it");
    section->body()->addWidget(add);
    connect(add, &QPushButton::clicked, this,
            [this, id = swarm.id] { document_.edit([&](const Scene& s) { return addNamedValue(s, id, "amount"); }); });
    summaries_.push_back({section, [count = numbers.size()] { return count ? QString("%1").arg(count) : QString("none"); }});
}

/// What the last evaluation says of the swarm: how many there are, what stands in the way, what overlaps.
void Settings::addTold(Section* section, ObjectId swarm) {
    auto* line = new QLabel(content_);
    line->setObjectName("told");
    line->setWordWrap(true);
    section->body()->addWidget(line);
    const auto tell = [this, line, swarm] {
        const auto latest = evaluation_.latest();
        const auto result = evaluation_.resultOf(swarm);
        if (latest && latest->problems.contains(swarm)) {
            line->setStyleSheet("color: #f08a72;");
            return line->setText(latest->problems.at(swarm));
        }
        line->setStyleSheet("color: #a3967f;");
        if (!result) return line->setText("…");
        QString text = theme::counted(result->count, "instance");
        if (const int overlaps = evaluation_.overlapsOf(swarm); overlaps >= 0)
            text += overlaps == 0 ? ", none overlap" : ", " + theme::grouped(overlaps) + " overlap";
        for (const auto& note : result->notes) text += "\n" + said(note);
        line->setText(text);
    };
    told_.push_back(tell);
    tell();
}

/// What a formation fills, covers or runs along, to be changed on the spot.
std::vector<ObjectId> Settings::shapesOfFormation(ObjectId formation) const {
    const Part& part = document_.scene().at(formation).part("formation");
    std::vector<ObjectId> shapes;
    for (const Parameter& parameter : part.kind->parameters) {
        if (parameter.type != ParameterType::reference || !applies(parameter, part)) continue;
        const ObjectId id = referenceOf(part, parameter.id);
        if (id.type() == ObjectType::shape && document_.scene().find(id)) shapes.push_back(id);
    }
    return shapes;
}

void Settings::showFormation(const Object& swarm) {
    const ObjectId formation = referenceOf(swarm.part("place"), "formation");
    const auto label = [this, id = swarm.id] {
        const Object* now = document_.scene().find(id);
        return now ? formationName(document_.scene(), *now) : QString();
    };
    Section* section = addSection("Formation");
    addVersions(section, swarm);
    auto* choose = new QPushButton(formationName(document_.scene(), swarm), content_);
    choose->setObjectName("pickFormation");
    choose->setIcon(theme::icon("formation"));
    choose->setToolTip("Choose another formation from pictures (Ctrl+F); what both share stays");
    section->body()->addWidget(choose);
    connect(choose, &QPushButton::clicked, this, [this, formation, choose] { openPicker(formation, choose); });
    addRows(section, formation, "formation");
    addTold(section, swarm.id);
    summaries_.push_back({section, label});
    for (const ObjectId shape : shapesOfFormation(formation)) showMaker(document_.scene().at(shape));
    Section* standing = addSection("Standing and order");
    addRows(standing, formation, "standing");
    addRows(standing, formation, "order");
    if (!open_.contains("Standing and order")) standing->setOpen(false);
    const auto plain = [this, formation] {
        const Object* f = document_.scene().find(formation);
        if (!f) return QString();
        const bool untouched =
            f->part("standing").values == standardPart(standingKind).values && f->part("order").values == standardPart(orderKind).values;
        return QString(untouched ? "as formed" : "changed");
    };
    summaries_.push_back({standing, plain});
}

void Settings::pickFormation() {
    const ObjectId swarm = document_.swarm();
    if (!swarm) return;
    document_.choose(referenceOf(document_.scene().at(swarm).part("place"), "formation"));
    openPicker(document_.chosen(), findChild<QPushButton*>("pickFormation"));
}

void Settings::openPicker(ObjectId formation, QWidget* under) {
    if (!picker_) {
        picker_ = new FormationPicker(document_, evaluation_, this);
        connect(picker_, &FormationPicker::taken, this, [this](ObjectId of, const Kind* kind) {
            document_.edit([&](const Scene& s) { return setFormation(s, of, *kind); });
            document_.seal();
        });
    }
    picker_->open(formation, under);
}

/// Versions of the formation, one of them on; the gestures stay.
void Settings::addVersions(Section* section, const Object& swarm) {
    const auto& versions = swarm.list("formations");
    const ObjectId on = referenceOf(swarm.part("place"), "formation");
    auto* row = new QWidget(content_);
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    auto* label = new QLabel("Version", row);
    label->setFixedWidth(92);
    label->setStyleSheet("color: #a3967f;");
    line->addWidget(label);
    for (std::size_t v = 0; v < versions.size(); ++v) {
        const Object& version = document_.scene().at(versions[v]);
        auto* button = new QPushButton(QString::number(v + 1), row);
        button->setObjectName(QString("version-%1").arg(v + 1));
        button->setCheckable(true);
        button->setChecked(versions[v] == on);
        button->setFixedWidth(30);
        button->setToolTip(said(version.name + ": " + version.part("formation").kind->label) +
                           (versions[v] == on ? ", on" : ": switch to it; the gestures stay"));
        line->addWidget(button);
        connect(button, &QPushButton::clicked, this, [this, id = swarm.id, version = versions[v]] {
            document_.setValue(addressOf(document_.scene(), id, "formation"), version);
            document_.seal();
            if (document_.chosen().type() == ObjectType::formation) document_.choose(version);
        });
    }
    auto* more = smallButton("plus", "addVersion", "Another version: a copy of this one to change, lighter or heavier", row);
    line->addWidget(more);
    connect(more, &QToolButton::clicked, this, [this, id = swarm.id] {
        const ObjectId made = document_.edit([&](const Scene& s) { return addFormationVersion(s, id); });
        if (made && document_.chosen().type() == ObjectType::formation) document_.choose(made);
    });
    if (versions.size() > 1) {
        auto* away = smallButton("close", "removeVersion", "Delete this version", row);
        line->addWidget(away);
        connect(away, &QToolButton::clicked, this, [this, on, id = swarm.id] {
            const bool chosen = document_.chosen() == on;
            document_.edit([&](const Scene& s) { return remove(s, on); });
            if (chosen) document_.choose(referenceOf(document_.scene().at(id).part("place"), "formation"));
        });
    }
    line->addStretch(1);
    section->body()->addWidget(row);
}

void Settings::showStock(const Object& swarm) {
    Section* choice = addSection("Stock");
    for (const ObjectId entry : swarm.list("stock")) addStockRow(choice, swarm, entry);
    auto* more = new QPushButton("Repeat another shape too", content_);
    more->setObjectName("addStock");
    more->setToolTip("A new box; choose its kind below");
    connect(more, &QPushButton::clicked, this, [this, id = swarm.id] {
        const ObjectId made = document_.edit([&](const Scene& s) {
            const Edit shape = addShape(s, *kindsOf(Family::shape).front());
            return addStock(shape.scene, id, shape.made);
        });
        if (made) unfolded_ = made;
        rebuild();
    });
    auto* pick = smallButton("pick", "pickStock", "A shape that is there already: click it in the list, or drag it here", content_);
    connect(pick, &QToolButton::clicked, this, [this, id = swarm.id] {
        document_.startPick({ObjectType::shape},
                            [this, id](ObjectId shape) { document_.edit([&](const Scene& s) { return addStock(s, id, shape); }); });
    });
    new DropTarget(choice, {ObjectType::shape},
                   [this, id = swarm.id](ObjectId shape) { document_.edit([&](const Scene& s) { return addStock(s, id, shape); }); });
    auto* room = new QHBoxLayout;
    room->addWidget(more, 1);
    room->addWidget(pick);
    choice->body()->addLayout(room);
    if (swarm.list("stock").size() > 1) {
        addRows(choice, swarm.id, "stockRule", {"fit", "gap"});
        if (choiceOf(swarm.part("stockRule"), "by") == "pattern") {
            addKindChoice(choice, swarm.id, "stockPattern", "Pattern");
            addRows(choice, swarm.id, "stockPattern");
        }
    }
    addRows(choice, swarm.id, "stockRule", {}, {"fit", "gap"});
    if (document_.chosen().type() == ObjectType::stock) addTold(choice, swarm.id);  // the formation says it for the whole swarm
    summaries_.push_back({choice, [this, id = swarm.id] {
                              const Object* now = document_.scene().find(id);
                              return now ? QString("%1 shapes").arg(now->list("stock").size()) : QString();
                          }});
    // One entry's settings at a time: the chosen one, or the first.
    const auto& stock = swarm.list("stock");
    ObjectId shown = stock.empty() ? ObjectId{} : stock.front();
    for (const ObjectId entry : stock)
        if (entry == unfolded_) shown = entry;
    if (!shown) return;
    const Object* shape = document_.scene().find(referenceOf(document_.scene().at(shown).part("entry"), "shape"));
    if (shape) showMaker(*shape);
    Section* section = addSection("How it is repeated");
    addRows(section, shown, "entry", {"odds"});
    summaries_.push_back({section, [] { return QString(); }});
}

/// The settings of a shape beside those of what uses it.
void Settings::showMaker(const Object& shape) {
    Section* section = addSection("Shape: " + said(shape.name));
    addKindChoice(section, shape.id, "maker", "Kind");
    addRows(section, shape.id, "maker");
    summaries_.push_back({section, [] { return QString(); }});
}

void Settings::addStockRow(Section* section, const Object& swarm, ObjectId entry) {
    const auto& stock = swarm.list("stock");
    const auto at = static_cast<int>(std::find(stock.begin(), stock.end(), entry) - stock.begin());
    const Object* shape = document_.scene().find(referenceOf(document_.scene().at(entry).part("entry"), "shape"));
    auto* row = new QWidget(content_);
    row->setObjectName(QString("stockRow-%1").arg(at + 1));
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(2);
    const bool unfolded = unfolded_ == entry || (at == 0 && std::find(stock.begin(), stock.end(), unfolded_) == stock.end());
    auto* name = new QToolButton(row);
    name->setText(shape ? said(shape->name) : "its shape was deleted");
    name->setIcon(theme::icon("shape", unfolded ? theme::gold : theme::ivory));
    name->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    name->setToolTip("Show its settings below");
    name->setFont(theme::text(13, QFont::Medium));
    line->addWidget(name);
    line->addStretch(1);
    connect(name, &QToolButton::clicked, this, [this, entry] {
        unfolded_ = entry;
        rebuild();
    });
    if (stock.size() > 1) {
        if (choiceOf(swarm.part("stockRule"), "by") != "turn") {
            Address odds = addressOf(document_.scene(), entry, "odds");
            auto* field = new ParameterRow(document_, odds, row);
            field->setFixedWidth(150);
            connect(field, &ParameterRow::trouble, this, &Settings::trouble);
            rows_.push_back(field);
            line->addWidget(field);
        }
        auto* up = smallButton("up", QString("stockUp-%1").arg(at + 1), "Earlier", row);
        auto* down = smallButton("down", QString("stockDown-%1").arg(at + 1), "Later", row);
        up->setEnabled(at > 0);
        down->setEnabled(at + 1 < static_cast<int>(stock.size()));
        line->addWidget(up);
        line->addWidget(down);
        connect(up, &QToolButton::clicked, this,
                [this, entry, at] { document_.edit([&](const Scene& s) { return moveInList(s, entry, at - 1); }); });
        connect(down, &QToolButton::clicked, this,
                [this, entry, at] { document_.edit([&](const Scene& s) { return moveInList(s, entry, at + 1); }); });
        auto* away = smallButton("close", QString("stockRemove-%1").arg(at + 1), "Take it out of the stock; the shape itself stays", row);
        line->addWidget(away);
        connect(away, &QToolButton::clicked, this, [this, entry] { document_.edit([&](const Scene& s) { return remove(s, entry); }); });
    }
    section->body()->addWidget(row);
}

void Settings::showShape(const Object& shape) {
    Section* section = addSection(said(shape.part("maker").kind->label));
    addKindChoice(section, shape.id, "maker", "Kind");
    addRows(section, shape.id, "maker");
    auto* apart = new QPushButton("Break it up", content_);
    apart->setObjectName("breakUp");
    apart->setIcon(theme::icon("break"));
    apart->setToolTip("A new swarm of its pieces, each at its own home");
    section->body()->addWidget(apart);
    connect(apart, &QPushButton::clicked, this, [this, id = shape.id] {
        const ObjectId made = document_.edit([&](const Scene& s) { return breakUp(s, id); });
        if (made) document_.choose(made);
    });
    if (document_.swarm()) addTold(section, document_.swarm());
    summaries_.push_back({section, [text = said(shape.part("maker").kind->summary)] { return text; }});
    Section* shown = addSection("Shown");
    addRows(shown, shape.id, "display");
    summaries_.push_back({shown, [this, id = shape.id] {
                              const Object* now = document_.scene().find(id);
                              return now ? said(choiceOf(now->part("display"), "as")) : QString();
                          }});
}
