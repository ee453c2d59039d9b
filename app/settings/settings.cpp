#include "app/settings/settings.h"

#include <algorithm>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QScrollArea>
#include <QScrollBar>

#include "app/document/evaluation.h"
#include "app/fields/number_field.h"
#include "app/settings/parameter_row.h"
#include "app/settings/section.h"
#include "app/theme/retire.h"
#include "app/theme/theme.h"
#include "core/edit/key_edits.h"
#include "core/edit/rail_edits.h"
#include "core/explain/loop_check.h"
#include "core/kinds/registry.h"

using namespace gswarm;

namespace {

bool contains(const std::vector<std::string>& list, const std::string& item) {
    return std::find(list.begin(), list.end(), item) != list.end();
}

}  // namespace

Settings::Settings(Document& document, Evaluation& evaluation, QWidget* parent)
    : QWidget(parent), document_(document), evaluation_(evaluation) {
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
    // Everything in the panel is refreshed from here alone: what no longer fits is made anew before.
    for (const auto signal : {&Document::sceneChanged, &Document::chosenChanged, &Document::sessionChanged})
        connect(&document_, signal, this, &Settings::refresh);
    // Another frame has other values but the same rows: what they are is not asked again while it plays.
    connect(&document_, &Document::frameChanged, this, &Settings::refreshValues);
    for (const auto signal : {&Session::pinsChanged, &Session::instancesChanged})
        connect(&document_.session(), signal, this, &Settings::refresh);
    for (const auto signal : {&Evaluation::ready, &Evaluation::overlapsKnown})
        connect(&evaluation_, signal, this, [this] {
            for (const auto& tell : told_) tell();
        });
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
            for (std::size_t i = 0; i < part.values.size() && part.kind->family == Family::gesture; ++i)
                if (const auto* on = std::get_if<bool>(&part.values[i])) text += *on ? 'x' : '-';
        }
    };
    add(*object);
    // A stock entry shows all of the swarm's stock, a formation the swarm's versions; shapes show their kind's rows.
    const Object* shown = object;
    if (object->id.type() == ObjectType::stock || object->id.type() == ObjectType::formation)
        shown = document_.scene().find(document_.scene().ownerOf(object->id));
    if (shown->id.type() == ObjectType::swarm) {
        add(*shown);
        text += choiceOf(shown->part("stockRule"), "by") + toText(referenceOf(shown->part("place"), "formation"));
    }
    const auto addShape = [&](ObjectId id) {
        const Object* shape = document_.scene().find(id);
        if (!shape) return;
        text += toText(shape->id) + shape->name;
        add(*shape);
    };
    if (shown->id.type() == ObjectType::swarm) {
        for (const ObjectId entry : shown->list("stock")) addShape(referenceOf(document_.scene().at(entry).part("entry"), "shape"));
        for (const ObjectId shape : shapesOfFormation(referenceOf(shown->part("place"), "formation"))) addShape(shape);
    }
    const std::function<void(const Object&)> addOwned = [&](const Object& owner) {
        for (const auto& list : owner.lists)
            for (const ObjectId id : list) {
                const Object& owned = document_.scene().at(id);
                text += toText(id) + "(";
                add(owned);
                addOwned(owned);
                text += ")";
                if (id.type() != ObjectType::weave) continue;
                const Object* zone = document_.scene().find(referenceOf(owned.part("entry"), "zone"));
                if (!zone) continue;
                text += toText(zone->id) + zone->name + (document_.session().pinned(zone->id) ? "!" : "");
                add(*zone);
            }
    };
    addOwned(*shown);
    if (object->id.type() == ObjectType::gesture)
        text += std::to_string(usersOf(document_.scene(), object->id)) + shapedSlot_ +
                (keyedNumbers(document_.scene(), object->id).empty() ? "" : "keyed") +
                std::to_string(loopMends(document_.scene(), object->id).size());
    return text + toText(unfolded_);
}

void Settings::refresh() {
    if (signature() != signature_) return rebuild();
    refreshValues();
}

void Settings::refreshValues() {
    const Object* object = document_.scene().find(document_.chosen());
    if (object && !name_->hasFocus()) name_->setText(said(object->name));
    for (ParameterRow* row : rows_) row->refresh();
    for (const auto& tell : told_) tell();
    for (auto& [section, summary] : summaries_) section->setSummary(summary());
}

void Settings::rebuild() {
    signature_ = signature();
    const int scrolled = scroll_->verticalScrollBar()->value();
    const auto [focusedRow, focusedField] = focusedPlace();
    rows_.clear();
    summaries_.clear();
    told_.clear();
    // What is being clicked may live in the old content: it goes once the event is over.
    if (QWidget* old = scroll_->takeWidget()) retire(old);
    content_ = new QWidget;
    column_ = new QVBoxLayout(content_);
    column_->setContentsMargins(0, 0, 0, 8);
    column_->setSpacing(0);
    const Object* object = document_.scene().find(document_.chosen());
    name_->setVisible(object != nullptr);
    type_->setText(object ? said(classOf(object->id.type()).label) : "");
    if (!object) {
        auto* hint = new QLabel("Select a card, or a thing in the list or the view: its settings appear here.", content_);
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
            showFormation(document_.scene().at(document_.scene().ownerOf(object->id)));
        else if (object->id.type() == ObjectType::shape)
            showShape(*object);
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

std::vector<Address> Settings::addresses() const {
    std::vector<Address> out;
    for (const ParameterRow* row : rows_) out.push_back(row->address());
    return out;
}

void Settings::reach(const Address& address) {
    for (ParameterRow* row : rows_) {
        if (!(row->address() == address)) continue;
        for (QWidget* up = row; up && up != content_; up = up->parentWidget())
            if (auto* section = qobject_cast<Section*>(up)) section->setOpen(true);
        content_->layout()->activate();
        scroll_->ensureWidgetVisible(row);
        for (auto* control : row->findChildren<QWidget*>())
            if (control->isVisible() && control->focusPolicy() & Qt::TabFocus) return control->setFocus();
    }
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
            if (p.type == ParameterType::curve || !applies(p, o.parts[s]) || contains(leftOut, p.id) ||
                (!just.empty() && !contains(just, p.id)))
                continue;
            auto* row = new ParameterRow(document_, {object, static_cast<int>(s), static_cast<int>(i), -1}, content_);
            connect(row, &ParameterRow::trouble, this, &Settings::trouble);
            connect(row, &ParameterRow::variationsAsked, &document_, &Document::vary);
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
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);  // long choices never widen the panel
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
