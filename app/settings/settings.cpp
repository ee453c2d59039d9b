#include "app/settings/settings.h"

#include <algorithm>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QToolButton>

#include "app/settings/number_field.h"
#include "app/settings/parameter_row.h"
#include "app/settings/section.h"
#include "app/settings/switch.h"
#include "app/theme/theme.h"

using namespace gswarm;

namespace {

const std::vector<std::string> channels = {"position", "rotation", "scale", "colour"};

bool contains(const std::vector<std::string>& list, const std::string& item) {
    return std::find(list.begin(), list.end(), item) != list.end();
}
QString said(const std::string& text) { return QString::fromStdString(text); }

}  // namespace

Settings::Settings(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("settings");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(12, 8, 10, 4);
    name_ = new QLineEdit(this);
    name_->setObjectName("objectName");
    name_->setAccessibleName("Name");
    name_->setFont(theme::text(15, QFont::DemiBold));
    name_->setStyleSheet(
        "QLineEdit { background: transparent; border: 1px solid transparent; padding: 0 4px; } QLineEdit:focus { border-color: #d9a441; "
        "background: #15120e; }");
    type_ = new QLabel(this);
    type_->setStyleSheet("color: #a3967f;");
    head->addWidget(name_, 1);
    head->addWidget(type_);
    column->addLayout(head);
    scroll_ = new QScrollArea(this);
    scroll_->setWidgetResizable(true);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(scroll_, 1);
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        const Object* object = document_.scene().find(document_.chosen());
        if (object && name_->text() != said(object->name))
            document_.edit([&](const Scene& s) { return rename(s, object->id, name_->text().toStdString()); });
    });
    for (const auto signal : {&Document::sceneChanged, &Document::chosenChanged, &Document::frameChanged})
        connect(&document_, signal, this, &Settings::refresh);
    rebuild();
}

void Settings::setSectionOpen(const QString& title, bool open) {
    open_[title] = open;
    for (auto& [section, summary] : summaries_)
        if (section->title() == title) section->setOpen(open);
}

/// Changes whenever other rows are wanted than those shown.
std::string Settings::signature() const {
    const Object* object = document_.scene().find(document_.chosen());
    if (!object) return "none";
    std::string text = toText(object->id);
    const auto add = [&](const Object& o) {
        for (const Part& part : o.parts) {
            text += "|" + part.kind->id;
            for (const Parameter& p : part.kind->parameters) text += applies(p, part) ? '1' : '0';
            if (part.kind->family == Family::gesture)
                for (const auto& channel : channels) text += switchOf(part, channel) ? 'x' : '-';
        }
    };
    add(*object);
    // A stock entry shows all of the swarm's stock; shapes show their kind's rows.
    const Object* shown = object;
    if (object->id.type() == ObjectType::stock) shown = document_.scene().find(document_.scene().ownerOf(object->id));
    for (const ObjectId entry : shown->id.type() == ObjectType::swarm ? shown->list("stock") : std::vector<ObjectId>{})
        if (const Object* shape = document_.scene().find(referenceOf(document_.scene().at(entry).part("entry"), "shape"))) {
            text += toText(shape->id) + shape->name;
            add(*shape);
        }
    for (const auto& list : shown->lists)
        for (const ObjectId id : list) {
            text += toText(id);
            add(document_.scene().at(id));
            if (id.type() == ObjectType::weave)
                if (const Object* zone = document_.scene().find(referenceOf(document_.scene().at(id).part("entry"), "zone"))) {
                    text += toText(zone->id) + zone->name;
                    add(*zone);
                }
        }
    return text + toText(unfolded_);
}

void Settings::refresh() {
    if (signature() != signature_) return rebuild();
    const Object* object = document_.scene().find(document_.chosen());
    if (object && !name_->hasFocus()) name_->setText(said(object->name));
    for (ParameterRow* row : rows_) row->refresh();
    for (auto& [section, summary] : summaries_) section->setSummary(summary());
}

void Settings::rebuild() {
    signature_ = signature();
    const int scrolled = scroll_->verticalScrollBar()->value();
    const auto [focusedRow, focusedField] = focusedPlace();
    rows_.clear();
    summaries_.clear();
    // What is being clicked may live in the old content: it goes once the event is over.
    if (QWidget* old = scroll_->takeWidget()) {
        old->hide();
        old->deleteLater();
    }
    content_ = new QWidget;
    column_ = new QVBoxLayout(content_);
    column_->setContentsMargins(0, 0, 0, 8);
    column_->setSpacing(0);
    const Object* object = document_.scene().find(document_.chosen());
    name_->setVisible(object != nullptr);
    type_->setText(object ? said(classOf(object->id.type()).label) : "");
    if (!object) {
        auto* hint = new QLabel("Choose a card, or a thing in the list or the picture: its settings appear here.", content_);
        hint->setWordWrap(true);
        hint->setStyleSheet("color: #a3967f; padding: 4px 12px;");
        column_->addWidget(hint);
    } else {
        name_->setText(said(object->name));
        if (object->id.type() == ObjectType::gesture)
            showGesture(*object);
        else if (object->id.type() == ObjectType::swarm)
            showSwarm(*object);
        else if (object->id.type() == ObjectType::stock)
            showStock(document_.scene().at(document_.scene().ownerOf(object->id)));
        else if (object->id.type() == ObjectType::formation)
            showFormation(object->id);
        else
            showPlain(*object);
    }
    column_->addStretch(1);
    scroll_->setWidget(content_);
    scroll_->verticalScrollBar()->setValue(scrolled);
    for (auto& [section, summary] : summaries_) section->setSummary(summary());
    if (focusedField >= 0) focusPlace(focusedRow, focusedField);
}

/// The row that has the keyboard and which of its fields; −1 if the keyboard is elsewhere.
std::pair<QString, int> Settings::focusedPlace() const {
    QWidget* focused = content_ ? window()->focusWidget() : nullptr;
    if (!focused || !content_->isAncestorOf(focused)) return {{}, -1};
    for (const ParameterRow* row : rows_)
        if (row->isAncestorOf(focused)) {
            const auto fields = row->findChildren<NumberField*>();
            for (int i = 0; i < fields.size(); ++i)
                if (fields[i] == focused || fields[i]->isAncestorOf(focused)) return {row->objectName(), i};
            return {row->objectName(), 0};
        }
    return {{}, 0};
}

/// Rows made anew must not take the keyboard away from where the hand was.
void Settings::focusPlace(const QString& row, int field) {
    for (const ParameterRow* made : rows_) {
        if (made->objectName() != row) continue;
        const auto fields = made->findChildren<NumberField*>();
        QWidget* target = field < fields.size() ? static_cast<QWidget*>(fields[field]) : made->findChild<QComboBox*>();
        if (target) return target->setFocus();
    }
    scroll_->setFocus();
}

Section* Settings::addSection(const QString& title) {
    auto* section = new Section(title, content_);
    const auto found = open_.find(title);
    section->setOpen(found == open_.end() || found->second);
    connect(section, &Section::toggled, this, [this, title](bool open) { open_[title] = open; });
    column_->addWidget(section);
    auto* line = new QFrame(content_);
    line->setFixedHeight(1);
    line->setStyleSheet("background: #29241d;");
    column_->addWidget(line);
    return section;
}

void Settings::addRows(Section* section, ObjectId object, const std::string& slot, const std::vector<std::string>& leftOut,
                       const std::vector<std::string>& just) {
    const Object& o = document_.scene().at(object);
    const auto& infos = classOf(object.type()).slotInfos;
    for (std::size_t s = 0; s < infos.size(); ++s) {
        if (infos[s].id != slot) continue;
        for (std::size_t i = 0; i < o.parts[s].kind->parameters.size(); ++i) {
            const Parameter& p = o.parts[s].kind->parameters[i];
            if (!applies(p, o.parts[s]) || contains(leftOut, p.id) || (!just.empty() && !contains(just, p.id))) continue;
            auto* row = new ParameterRow(document_, {object, static_cast<int>(s), static_cast<int>(i), -1}, content_);
            connect(row, &ParameterRow::trouble, this, &Settings::trouble);
            section->body()->addWidget(row);
            rows_.push_back(row);
        }
    }
}

void Settings::addKindChoice(Section* section, ObjectId object, const std::string& slot, const QString& label) {
    const Part& part = document_.scene().at(object).part(slot);
    auto* row = new QWidget(content_);
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    auto* name = new QLabel(label, row);
    name->setFixedWidth(92);
    name->setStyleSheet("color: #a3967f;");
    auto* box = new QComboBox(row);
    box->setObjectName("kind-" + said(slot));
    box->setAccessibleName(label);
    box->setToolTip(said(part.kind->summary));
    for (const Kind* kind : kindsOf(part.kind->family)) {
        box->addItem(said(kind->label), said(kind->id));
        box->setItemData(box->count() - 1, said(kind->summary), Qt::ToolTipRole);
    }
    box->setCurrentIndex(box->findData(said(part.kind->id)));
    line->addWidget(name);
    line->addWidget(box, 1);
    section->body()->addWidget(row);
    connect(box, &QComboBox::activated, this, [this, box, object, slot, family = part.kind->family] {
        const Kind* kind = findKind(family, box->currentData().toString().toStdString());
        document_.edit([&](const Scene& s) { return setKind(s, object, slot, *kind); });
    });
}

void Settings::showPlain(const Object& object) {
    for (const auto& info : classOf(object.id.type()).slotInfos) {
        const Kind& kind = *object.part(info.id).kind;
        Section* section = addSection(info.only ? said(info.only->label) : said(kind.label));
        if (!info.only && kindsOf(info.family).size() > 1) addKindChoice(section, object.id, info.id, "Kind");
        addRows(section, object.id, info.id);
        summaries_.push_back({section, [text = said(kind.summary)] { return text; }});
    }
}

void Settings::showSwarm(const Object& swarm) {
    Section* place = addSection("Place of the swarm");
    addRows(place, swarm.id, "place", {"formation"});
    summaries_.push_back({place, [] { return QString(); }});
    showFormation(referenceOf(swarm.part("place"), "formation"));
    showStock(swarm);
}

void Settings::showFormation(ObjectId formation) {
    Section* section = addSection("Formation");
    addKindChoice(section, formation, "formation", "Kind");
    addRows(section, formation, "formation");
    summaries_.push_back({section, [this, formation] {
                              return document_.scene().find(formation) ? said(document_.scene().at(formation).part("formation").kind->label)
                                                                       : QString();
                          }});
}

void Settings::showStock(const Object& swarm) {
    for (const ObjectId entry : swarm.list("stock")) {
        const Object* shape = document_.scene().find(referenceOf(document_.scene().at(entry).part("entry"), "shape"));
        Section* stock = addSection(shape ? "Stock: " + said(shape->name) : "Stock");
        addRows(stock, entry, "entry");
        if (shape) {
            addKindChoice(stock, shape->id, "maker", "Shape");
            addRows(stock, shape->id, "maker");
        }
        summaries_.push_back({stock, [] { return QString(); }});
    }
    auto* more = new QPushButton("Repeat another shape too", content_);
    more->setToolTip("Shapes take turns, one after the other");
    connect(more, &QPushButton::clicked, this, [this, id = swarm.id] {
        document_.edit([&](const Scene& s) {
            const Edit shape = addShape(s, *kindsOf(Family::shape).front());
            return addStock(shape.scene, id, shape.made);
        });
    });
    auto* room = new QHBoxLayout;
    room->setContentsMargins(12, 4, 10, 8);
    room->addWidget(more);
    column_->addLayout(room);
}

// ---- the five questions

QString Settings::changeSummary(const Object& gesture) const {
    QStringList on;
    for (const auto& channel : channels)
        if (switchOf(gesture.part("change"), channel)) on << said(channel);
    return on.isEmpty() ? "nothing yet" : on.join(", ");
}

QString Settings::whereSummary(const Object& gesture) const {
    QStringList parts;
    for (const ObjectId id : gesture.list("weave")) {
        const Part& entry = document_.scene().at(id).part("entry");
        const Object* zone = document_.scene().find(referenceOf(entry, "zone"));
        const QString name = zone ? said(zone->name) : "a deleted zone";
        parts << (parts.isEmpty() ? name : said(choiceOf(entry, "operation")) + " " + name);
    }
    return parts.isEmpty() ? "everywhere" : parts.join(", ");
}

QString Settings::whenSummary(const Object& gesture) const {
    const Part& when = gesture.part("when");
    const bool keyed = std::get<Numbers>(gesture.part("change")["strength"])[0].keyed();
    const QString strength = keyed ? "keyed" : QString("%1 %").arg(numberAt(gesture.part("change"), "strength", document_.frame()));
    return choiceOf(when, "by") == "none" ? strength + ", all at once" : strength + ", staggered";
}

void Settings::showGesture(const Object& gesture) {
    const ObjectId id = gesture.id;
    const auto object = [this, id]() -> const Object& { return document_.scene().at(id); };
    Section* change = addSection("What changes");
    addChannels(change, gesture);
    addRows(change, id, "change", {"strength", "place", "position", "rotation", "scale", "colour"});
    summaries_.push_back({change, [this, object] { return changeSummary(object()); }});

    Section* driven = addSection("Driven by");
    addKindChoice(driven, id, "pattern", "Pattern");
    addRows(driven, id, "pattern");
    summaries_.push_back({driven, [object] { return said(object().part("pattern").kind->label); }});

    Section* where = addSection("Where");
    addWeave(where, gesture);
    addRows(where, id, "change", {}, {"place"});
    summaries_.push_back({where, [this, object] { return whereSummary(object()); }});

    Section* shaped = addSection("Shaped how");
    for (const auto& [slot, title] : {std::pair{"where", "Where it acts"}, {"shaped", "What drives it"}}) {
        auto* label = new QLabel(title, content_);
        label->setFont(theme::text(12, QFont::Medium));
        shaped->body()->addWidget(label);
        addRows(shaped, id, slot);
    }
    if (!open_.contains("Shaped how")) shaped->setOpen(false);
    summaries_.push_back({shaped, [object] {
                              const bool plain = object().part("where").values == standardPart(*object().part("where").kind).values &&
                                                 object().part("shaped").values == standardPart(*object().part("shaped").kind).values;
                              return QString(plain ? "as it is" : "bent");
                          }});

    Section* when = addSection("When");
    addRows(when, id, "change", {}, {"strength"});
    addRows(when, id, "when");
    addTiming(when, gesture);
    summaries_.push_back({when, [this, object] { return whenSummary(object()); }});
}

void Settings::addChannels(Section* section, const Object& gesture) {
    auto* row = new QWidget(content_);
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 2);
    line->setSpacing(3);
    for (const auto& channel : channels) {
        const Part& part = gesture.part("change");
        const Parameter& p = part.kind->parameters[static_cast<std::size_t>(part.kind->indexOf(channel))];
        auto* button = new QPushButton(said(p.id == "colour"     ? "Colour"
                                            : p.id == "position" ? "Position"
                                            : p.id == "rotation" ? "Rotation"
                                                                 : "Scale"),
                                       row);
        button->setObjectName("channel-" + said(channel));
        button->setIcon(theme::icon(said(channel)));
        button->setIconSize({13, 13});
        button->setStyleSheet("padding: 0 2px;");
        button->setCheckable(true);
        button->setChecked(switchOf(part, channel));
        button->setToolTip(said(p.summary));
        line->addWidget(button, 1);
        connect(button, &QPushButton::clicked, this, [this, id = gesture.id, channel](bool on) {
            document_.setValue(addressOf(document_.scene(), id, channel), on);
            document_.seal();
        });
    }
    section->body()->addWidget(row);
}

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
    name->setIcon(theme::icon("zone", document_.handleZone() == zoneId ? theme::gold : theme::ivory));
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
        document_.setHandleZone(document_.scene().find(zoneId) ? zoneId : ObjectId{});
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
            document_.setHandleZone(zone);
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

void Settings::addTiming(Section* section, const Object& gesture) {
    auto* label = new QLabel(content_);
    label->setWordWrap(true);
    label->setStyleSheet("color: #a3967f;");
    section->body()->addWidget(label);
    const Track& strength = std::get<Numbers>(gesture.part("change")["strength"])[0];
    const Moment moment = momentAt(document_.scene(), 0);
    const double over = choiceOf(gesture.part("when"), "by") == "none" ? 0 : numberAt(gesture.part("when"), "over", 0);
    if (!strength.keyed()) {
        label->setText("The strength is the same at every frame. Press K in it to key it.");
        return;
    }
    const double first = strength.keys->front().frame, last = strength.keys->back().frame;
    const auto seconds = [&](double frames) { return QString::number(frames / moment.rate, 'f', 2) + " s"; };
    label->setText(QString("Each takes %1 · last starts at %2 · all done at %3")
                       .arg(seconds(last - first), seconds(first + std::max(over, 0.0)), seconds(last + std::max(over, 0.0))));
}
