#include "app/settings/settings.h"

#include <algorithm>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>

#include "app/document/evaluation.h"
#include "app/settings/parameter_row.h"
#include "app/theme/retire.h"
#include "app/theme/theme.h"
#include "core/edit/rail_edits.h"

using namespace gswarm;

Settings::Settings(Document& document, Evaluation& evaluation, QWidget* parent)
    : QWidget(parent), document_(document), desk_(document, evaluation) {
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
    scroll_->setFocusPolicy(Qt::NoFocus);  // Tab brings into sight what it reaches
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(scroll_, 1);
    auto* content = new QWidget;
    column_ = new QVBoxLayout(content);
    column_->setContentsMargins(0, 0, 0, 8);
    column_->setSpacing(0);
    hint_ = new QLabel("Select a card, or a thing in the list or the view: its settings appear here.", content);
    hint_->setWordWrap(true);
    hint_->setStyleSheet("color: #a3967f; padding: 4px 12px;");
    column_->addWidget(hint_);
    column_->addStretch(1);
    scroll_->setWidget(content);
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        const Object* object = document_.scene().find(document_.chosen());
        if (object && document_.selection().size() < 2 && name_->text() != said(object->name))
            document_.edit([&](const Scene& s) { return rename(s, object->id, name_->text().toStdString()); });
    });
    // Everything in the panel is refreshed from here alone: what no longer fits is made anew before.
    for (const auto signal : {&Document::sceneChanged, &Document::chosenChanged, &Document::sessionChanged})
        connect(&document_, signal, this, &Settings::refresh);
    // Another frame has other values but the same rows: what they are is not asked again while it plays.
    connect(&document_, &Document::frameChanged, this, &Settings::refreshValues);
    connect(&document_, &Document::heard, this, &Settings::refreshValues);
    for (const auto signal : {&Session::pinsChanged, &Session::instancesChanged})
        connect(&document_.session(), signal, this, &Settings::refresh);
    connect(&desk_, &SettingsDesk::unfoldedChanged, this, &Settings::refresh);
    connect(&desk_, &SettingsDesk::trouble, this, &Settings::trouble);
    connect(&desk_, &SettingsDesk::helpAsked, this, &Settings::helpAsked);
    for (const auto signal : {&Evaluation::ready, &Evaluation::overlapsKnown})
        connect(&evaluation, signal, this, [this] {
            for (const auto& [asked, question] : questions_) question->tellFound();
        });
    refresh();
}

std::vector<Settings::Asked> Settings::asked() const {
    const Scene& scene = document_.scene();
    const Object* object = scene.find(document_.chosen());
    if (!object) return {};
    if (document_.selection().size() > 1) return askedOfSeveral();
    const ObjectId id = object->id;
    const auto owner = [&]() -> const Object& { return scene.at(scene.ownerOf(id)); };
    switch (id.type()) {
        case ObjectType::gesture:
            return {{whatChanges, {id, {}}}, {drivenBy, {id, {}}}, {whereItActs, {id, {}}}, {shapedHow, {id, {}}}, {whenItActs, {id, {}}}};
        case ObjectType::force:
            return {
                {partOf, {id, "force"}}, {whereItActs, {id, {}}}, {partOf, {id, "place"}}, {partOf, {id, "where"}}, {partOf, {id, "hang"}}};
        case ObjectType::swarm:
            return askedOfSwarm(*object);
        case ObjectType::formation:
            return askedOfFormation(owner());
        case ObjectType::stock:
            return askedOfStock(owner());
        case ObjectType::shape:
            return askedOfShape(id);
        case ObjectType::material:
            return {{materialItself, {id, {}}}};
        case ObjectType::media:
            return {{mediaItself, {id, {}}}};
        case ObjectType::sound:
            return {{soundItself, {id, {}}}, {partOf, {id, "heard"}}};
        default: {
            std::vector<Asked> parts;
            for (const auto& info : classOf(id.type()).slotInfos) parts.push_back({partOf, {id, info.id}});
            return parts;
        }
    }
}

/// And how the swarm at hand repeats it.
std::vector<Settings::Asked> Settings::askedOfShape(ObjectId shape) const {
    std::vector<Asked> all{{shapeItself, {shape, {}}}};
    const Scene& scene = document_.scene();
    if (const Object* swarm = scene.find(document_.swarm()))
        for (const ObjectId entry : swarm->list("stock"))
            if (referenceOf(scene.at(entry).part("entry"), "shape") == shape) {
                all.push_back({materialInUse, {entry, {}}});
                all.push_back({howRepeated, {entry, {}}});
            }
    all.push_back({shapeShown, {shape, {}}});
    if (choiceOf(scene.at(shape).part("display"), "as") != "hidden") all.push_back({materialInUse, {shape, {}}});
    return all;
}

/// What all have that are selected together: the parts of one kind in each, changed together.
std::vector<Settings::Asked> Settings::askedOfSeveral() const {
    const Scene& scene = document_.scene();
    const auto& selected = document_.selection();
    const Object& first = scene.at(document_.chosen());
    std::vector<Asked> parts;
    const auto& slots_ = classOf(first.id.type()).slotInfos;
    for (std::size_t s = 0; s < slots_.size(); ++s) {
        const bool common = std::all_of(selected.begin(), selected.end(), [&](ObjectId id) {
            return id.type() == first.id.type() && scene.at(id).parts[s].kind == first.parts[s].kind;
        });
        if (common) parts.push_back({partOf, {first.id, slots_[s].id}});
    }
    return parts;
}

std::vector<Settings::Asked> Settings::askedOfSwarm(const Object& swarm) const {
    std::vector<Asked> all{{placeOfSwarm, {swarm.id, {}}}};
    for (const auto& some : {askedOfFormation(swarm), askedOfStock(swarm)}) all.insert(all.end(), some.begin(), some.end());
    all.push_back({namedValuesOfSwarm, {swarm.id, {}}});
    return all;
}

/// With what it fills, covers or runs along, to be changed on the spot.
std::vector<Settings::Asked> Settings::askedOfFormation(const Object& swarm) const {
    const ObjectId formation = referenceOf(swarm.part("place"), "formation");
    const Object* found = document_.scene().find(formation);
    if (!found) return {};
    std::vector<Asked> all{{formationOfSwarm, {swarm.id, {}}}};
    const Part& part = found->part("formation");
    for (const Parameter& parameter : part.kind->parameters) {
        if (parameter.type != ParameterType::reference || !applies(parameter, part)) continue;
        const ObjectId shape = referenceOf(part, parameter.id);
        if (shape.type() == ObjectType::shape && document_.scene().find(shape)) all.push_back({shapeInUse, {shape, {}}});
    }
    all.push_back({standingAndOrder, {formation, {}}});
    return all;
}

/// With one entry's settings at a time: the unfolded one, or the first.
std::vector<Settings::Asked> Settings::askedOfStock(const Object& swarm) const {
    std::vector<Asked> all{{stockOfSwarm, {swarm.id, {}}}};
    const auto& stock = swarm.list("stock");
    if (stock.empty()) return all;
    const auto unfolded = std::find(stock.begin(), stock.end(), desk_.unfolded());
    const ObjectId shown = unfolded == stock.end() ? stock.front() : *unfolded;
    const ObjectId shape = referenceOf(document_.scene().at(shown).part("entry"), "shape");
    const bool there = document_.scene().find(shape);
    if (shape.type() == ObjectType::light) {
        if (there) all.push_back({partOf, {shape, "light"}});
    } else if (shape.type() != ObjectType::swarm) {
        if (there) all.push_back({shapeInUse, {shape, {}}});
        all.push_back({materialInUse, {shown, {}}});
    }
    all.push_back({howRepeated, {shown, {}}});
    return all;
}

void Settings::refresh() {
    bool other = arrange(asked());
    for (const auto& [asked, question] : questions_) other = question->refresh() || other;
    if (other) orderTabs();
    showHead();
}

void Settings::refreshValues() {
    for (const auto& [asked, question] : questions_) question->refreshValues();
}

void Settings::showHead() {
    const Object* object = document_.scene().find(document_.chosen());
    const auto& selected = document_.selection();
    const bool several = selected.size() > 1;
    hint_->setVisible(!object || (several && questions_.empty()));
    hint_->setText(several ? "These have no settings in common; select things of one type to change them together."
                           : "Select a card, or a thing in the list or the view: its settings appear here.");
    name_->setVisible(object != nullptr);
    name_->setReadOnly(several);
    type_->setText(object && !several ? said(classOf(object->id.type()).label) : "");
    if (several)
        name_->setText(QString("%1 things").arg(selected.size()));
    else if (object && !name_->hasFocus())
        name_->setText(said(object->name));
}

bool Settings::arrange(const std::vector<Asked>& asked) {
    const bool same = std::equal(asked.begin(), asked.end(), questions_.begin(), questions_.end(),
                                 [](const Asked& wanted, const auto& there) { return wanted == there.first; });
    if (same) return false;
    auto before = std::exchange(questions_, {});
    for (const Asked& wanted : asked) {
        const auto found =
            std::find_if(before.begin(), before.end(), [&](const auto& there) { return there.second && there.first == wanted; });
        Question* question = found == before.end() ? wanted.make(desk_, wanted.subject) : std::exchange(found->second, nullptr);
        column_->removeWidget(question);
        column_->insertWidget(static_cast<int>(questions_.size()), question);
        question->raise();  // among its siblings too it follows the one above
        questions_.push_back({wanted, question});
    }
    for (const auto& [gone, question] : before) {
        if (!question) continue;
        column_->removeWidget(question);
        question->setParent(nullptr);
        retire(question);
    }
    return true;
}

void Settings::orderTabs() {
    QWidget* before = name_;
    for (const auto& [asked, question] : questions_)
        for (QWidget* control : question->findChildren<QWidget*>()) {
            if (!(control->focusPolicy() & Qt::TabFocus) || control->window() != window()) continue;
            setTabOrder(before, control);
            before = control;
        }
}

void Settings::setSectionOpen(const QString& title, bool open) {
    desk_.open[title] = open;
    for (const auto& [asked, question] : questions_)
        if (question->title() == title) question->setOpen(open);
}

void Settings::pickFormation() {
    const ObjectId swarm = document_.swarm();
    if (!swarm) return;
    document_.choose(referenceOf(document_.scene().at(swarm).part("place"), "formation"));
    if (auto* button = findChild<QPushButton*>("pickFormation")) button->click();
}

std::vector<Address> Settings::addresses() const {
    std::vector<Address> out;
    for (const auto& [asked, question] : questions_)
        for (const ParameterRow* row : question->rows()) out.push_back(row->address());
    return out;
}

std::vector<Section*> Settings::sections() const {
    std::vector<Section*> all;
    for (const auto& [asked, question] : questions_) all.push_back(question);
    return all;
}

void Settings::reach(const Address& address) {
    for (const auto& [asked, question] : questions_)
        for (ParameterRow* row : question->rows()) {
            if (!(row->address() == address)) continue;
            question->setOpen(true);
            scroll_->widget()->layout()->activate();
            scroll_->ensureWidgetVisible(row);
            for (auto* control : row->findChildren<QWidget*>())
                if (control->isVisible() && control->focusPolicy() & Qt::TabFocus) return control->setFocus();
        }
}
