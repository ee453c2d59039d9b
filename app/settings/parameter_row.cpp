#include "app/settings/parameter_row.h"

#include <algorithm>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QMouseEvent>
#include <QPushButton>
#include <QToolButton>

#include "app/fields/colour_field.h"
#include "app/fields/drop_target.h"
#include "app/fields/formula_editor.h"
#include "app/fields/moved_by.h"
#include "app/fields/number_field.h"
#include "app/fields/points_field.h"
#include "app/fields/ramp_field.h"
#include "app/fields/switch.h"
#include "app/theme/ask_menu.h"
#include "app/theme/theme.h"
#include "core/arrange/hang.h"
#include "core/base/error.h"
#include "core/edit/key_edits.h"
#include "core/edit/rail_edits.h"
#include "core/formula/bind.h"
#include "core/formula/number_formula.h"
#include "core/formula/parse.h"
#include "core/provide/placing.h"
#include "core/resolve/resolve.h"
#include "core/scene/chosen_ids.h"
#include "core/time/track.h"

using namespace gswarm;

namespace {

/// What stands in the scene list can be clicked; stock entries, formations, named values, materials, media and sounds are chosen from a
/// list.
bool isClicked(const Parameter& p) {
    return std::none_of(p.references.begin(), p.references.end(), [](ObjectType type) {
        return type == ObjectType::stock || type == ObjectType::formation || type == ObjectType::namedValue ||
               type == ObjectType::material || type == ObjectType::media || type == ObjectType::sound;
    });
}

/// Whether some of its choices would be cut off beside a label.
bool isLongChoice(const Parameter& p, const QFontMetrics& metrics) {
    return std::any_of(p.choices.begin(), p.choices.end(), [&](const Choice& choice) {
        return metrics.horizontalAdvance(QString::fromStdString(choice.label)) > ParameterRow::roomBesideLabel;
    });
}

}  // namespace

ParameterRow::ParameterRow(Document& document, const Address& address, QWidget* parent)
    : QWidget(parent), document_(document), address_(address) {
    const Parameter& p = parameter();
    setObjectName(QString::fromStdString(classOf(address.object.type()).slotInfos[static_cast<std::size_t>(address.slot)].prefix + p.id));
    // Points and long choices need the whole width: their label stands above.
    const bool above = p.type == ParameterType::points || p.type == ParameterType::formula || isLongChoice(p, fontMetrics());
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* row = new QBoxLayout(above ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
    column->addLayout(row);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(above ? 0 : 4);
    // Fields side by side leave no room for units: the label says it for all.
    const bool unitInLabel = p.components > 1 && !p.unit.empty();
    label_ = new QLabel(QString::fromStdString(unitInLabel ? p.label + ", " + p.unit : p.label), this);
    label_->setFixedWidth(labelWidth);
    label_->setWordWrap(true);
    label_->setStyleSheet("color: #a3967f;");
    label_->setToolTip(QString::fromStdString(p.summary) + "\nDouble-click resets it.");
    row->addWidget(label_, 0, Qt::AlignTop);
    label_->setMinimumHeight(above ? 18 : 26);
    fields_ = new QWidget(this);
    auto* fields = new QHBoxLayout(fields_);
    fields->setContentsMargins(0, 0, 0, 0);
    fields->setSpacing(4);
    row->addWidget(fields_, 1);
    switch (p.type) {
        case ParameterType::colour:
            addColour();
            break;
        case ParameterType::choice:
            addChoice();
            break;
        case ParameterType::toggle:
            addToggle();
            break;
        case ParameterType::text:
            if (p.families)
                addFamily();
            else
                p.lines ? addLines() : addText(false);
            break;
        case ParameterType::file:
            addText(true);
            break;
        case ParameterType::reference:
            isClicked(p) ? addReference() : addReferenceChoice();
            break;
        case ParameterType::formula:
            addFormula();
            break;
        case ParameterType::instances:
            addInstances();
            break;
        case ParameterType::curve:
            break;  // drawn with what comes in, by whoever knows that
        case ParameterType::points:
            addPoints();
            break;
        case ParameterType::ramp:
            addRamp();
            break;
        default:
            addNumbers();
            break;
    }
    refresh();
}

void ParameterRow::refresh() {
    for (const auto& refresher : refreshers_) refresher();
}

void ParameterRow::setLabelWidth(int width) {
    label_->setVisible(width > 0);
    if (width > 0) label_->setFixedWidth(width);
}

void ParameterRow::mouseDoubleClickEvent(QMouseEvent* event) {
    if (label_->isVisible() && label_->geometry().contains(event->position().toPoint())) document_.setValue(address_, parameter().standard);
}

void ParameterRow::addFormula() {
    auto* field = new FormulaEditor([this] { return FormulaEditor::offersFor(document_.scene()); }, fields_);
    field->setToolTip(QString::fromStdString(parameter().summary));
    fields_->layout()->addWidget(field);
    refreshers_.push_back(
        [this, field] { field->show(QString::fromStdString(std::get<Formula>(valueOf(document_.scene(), address_)).text)); });
    connect(field, &FormulaEditor::typed, this, [this, field](const QString& text) {
        const QByteArray bytes = text.toUtf8();
        try {
            const Formula formula = boundFormula(document_.scene(), {bytes.data(), static_cast<std::size_t>(bytes.size())});
            field->clearError();
            document_.setValue(address_, formula);
        } catch (const FormulaError& error) {
            // Until it can be understood, the last one that could goes on.
            field->showError(error.what(), static_cast<int>(error.place));
        }
    });
    connect(field, &FormulaEditor::finished, this, [this] { document_.seal(); });
}

/// Instances that were chosen one by one: how many, and the choice of now in their place.
void ParameterRow::addInstances() {
    auto* take = new QPushButton("Take the choice", fields_);
    take->setObjectName("takeChoice");
    take->setToolTip("The instances that are selected now, in the view or in the ledger, take the place of these");
    auto* see = new QPushButton(fields_);
    see->setObjectName("seeChosen");
    see->setToolTip("Choose these instances, to see them");
    fields_->layout()->addWidget(see);
    fields_->layout()->addWidget(take);
    const auto ids = [this] { return chosenIds(std::get<std::string>(valueOf(document_.scene(), address_))); };
    refreshers_.push_back([this, see, take, ids] {
        see->setText(QString("%1 chosen").arg(ids().size()));
        take->setEnabled(!document_.session().instances().ids.empty());
    });
    connect(take, &QPushButton::clicked, this, [this] { document_.setValue(address_, chosenText(document_.session().instances().ids)); });
    connect(see, &QPushButton::clicked, this, [this, ids] { document_.session().chooseInstances(document_.swarm(), ids()); });
}

/// Named values, stock entries and formations: those of the swarm; formations of other swarms after them.
void ParameterRow::addReferenceChoice() {
    auto* box = new QComboBox(fields_);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);  // long choices never widen the panel
    box->setAccessibleName(QString::fromStdString(parameter().label));
    box->setToolTip(QString::fromStdString(parameter().summary));
    fields_->layout()->addWidget(box);
    const ObjectType type = parameter().references.front();
    refreshers_.push_back([this, box, type] {
        const QSignalBlocker quiet(box);
        box->clear();
        const Scene& scene = document_.scene();
        const ObjectId now = std::get<ObjectId>(valueOf(scene, address_));
        if (!scene.find(now) && (now || !doesWithout())) box->addItem(now ? "deleted: choose another" : "choose one", QString());
        if (doesWithout()) box->addItem("none", "none");
        const auto offer = [&](ObjectId swarm) {
            for (const auto& list : scene.at(swarm).lists)
                for (const ObjectId id : list) {
                    if (id.type() != type) continue;
                    const QString name = QString::fromStdString(scene.at(id).name);
                    const QString label = swarm == document_.swarm() ? name : QString::fromStdString(scene.at(swarm).name) + " · " + name;
                    box->addItem(label, QString::fromStdString(toText(id)));
                }
        };
        if (document_.swarm()) offer(document_.swarm());
        // A material may go by what the vertices of another swarm's mesh carry.
        if (type == ObjectType::formation || (type == ObjectType::namedValue && address_.object.type() == ObjectType::material))
            for (const ObjectId swarm : scene.all(ObjectType::swarm))
                if (swarm != document_.swarm()) offer(swarm);
        if (type == ObjectType::material || type == ObjectType::media || type == ObjectType::sound)
            for (const ObjectId id : scene.all(type))
                if (id != address_.object) box->addItem(QString::fromStdString(scene.at(id).name), QString::fromStdString(toText(id)));
        if (type == ObjectType::namedValue) box->addItem("A new named value", "new");
        box->setCurrentIndex(std::max(0, box->findData(now ? QString::fromStdString(toText(now)) : "none")));
    });
    connect(box, &QComboBox::activated, this, [this, box] {
        const QString data = box->currentData().toString();
        if (data.isEmpty()) return;
        if (data == "none")
            document_.setValue(address_, ObjectId{});
        else if (data != "new")
            document_.setValue(address_, parseObjectId(data.toStdString()));
        else
            document_.edit([&](const Scene& s) {
                const std::string& wish = parameter().begins;
                Edit edit = addNamedValue(s, document_.swarm(), wish.empty() ? "amount" : wish);
                edit.scene = gswarm::setValue(edit.scene, address_, edit.made).scene;
                return edit;
            });
        document_.seal();
    });
}

/// In a menu of its own, for what has no other.
void ParameterRow::offerKey(QWidget* field) {
    field->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(field, &QWidget::customContextMenuRequested, this, [this, field](const QPoint& at) {
        QMenu menu(window());
        menu.setObjectName("keyMenu");
        const QAction* key = menu.addAction("Key here, or take the key away (K)");
        if (const QAction* done = askMenu(menu, field->mapToGlobal(at), this); done && done == key)
            document_.edit([&](const Scene& s) { return toggleKey(s, address_, document_.frame()); });
    });
}

/// Sets what has changed; a channel that stays keeps all its digits, and its keys.
void ParameterRow::setColour(const std::array<double, 4>& colour) {
    document_.editTogether(address_, [&](const Scene& scene, const Address& of) {
        const auto& numbers = std::get<Numbers>(valueOf(scene, of));
        Edit edit{scene, {}, {}, {}};
        for (int c = 0; c < 4; ++c) {
            const double now = valueAt(scene, numbers[static_cast<std::size_t>(c)], document_.frame());
            const double wanted = std::round(colour[static_cast<std::size_t>(c)] * 1e4) / 1e4;
            if (std::abs(wanted - now) < 1e-4) continue;
            Address one = of;
            one.component = c;
            edit = gswarm::setNumber(edit.scene, one, wanted, document_.frame());
        }
        edit.label = scene.at(of.object).name + ": " + parameter().label + " → " + textOf(colour).toStdString();
        edit.mergeKey = toText(scene, of);
        return edit;
    });
}

void ParameterRow::addColour() {
    auto* field = new ColourField(!parameter().opaque, fields_);
    fields_->layout()->addWidget(field);
    refreshers_.push_back([this, field] {
        const auto& numbers = std::get<Numbers>(valueOf(document_.scene(), address_));
        ColourField::Numbers colour;
        for (std::size_t c = 0; c < colour.size(); ++c) colour[c] = valueAt(document_.scene(), numbers[c], document_.frame());
        field->show(colour);
    });
    connect(field, &ColourField::edited, this, &ParameterRow::setColour);
    offerKey(field);
    connect(field, &ColourField::finished, this, [this] { document_.seal(); });
    connect(field, &ColourField::trouble, this, &ParameterRow::trouble);
}

void ParameterRow::addRamp() {
    auto* field = new RampField(fields_);
    fields_->layout()->addWidget(field);
    refreshers_.push_back([this, field] { field->show(std::get<Ramp>(valueOf(document_.scene(), address_))); });
    connect(field, &RampField::edited, this, [this](const Ramp& ramp) { document_.setValue(address_, ramp); });
    connect(field, &RampField::finished, this, [this] { document_.seal(); });
    connect(field, &RampField::trouble, this, &ParameterRow::trouble);
}

void ParameterRow::addChoice() {
    const auto& choices = parameter().choices;
    auto* box = new QComboBox(fields_);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);  // long choices never widen the panel
    box->setAccessibleName(QString::fromStdString(parameter().label));
    box->setToolTip(QString::fromStdString(parameter().summary));
    for (const auto& choice : choices) box->addItem(QString::fromStdString(choice.label), QString::fromStdString(choice.id));
    fields_->layout()->addWidget(box);
    refreshers_.push_back([this, box] {
        const bool several = document_.differs(address_);
        box->setPlaceholderText(several ? "several" : "");
        box->setCurrentIndex(several ? -1
                                     : box->findData(QString::fromStdString(std::get<std::string>(valueOf(document_.scene(), address_)))));
    });
    connect(box, &QComboBox::activated, this, [this, box] {
        const std::string choice = box->currentData().toString().toStdString();
        const bool letGo = parameter().id == "by" && choice == "none" &&
                           document_.scene().at(address_.object).parts[static_cast<std::size_t>(address_.slot)].kind == &hangKind;
        if (letGo)
            document_.edit([&](const Scene& scene) { return hang(scene, address_.object, {}, document_.frame(), document_.store()); });
        else
            document_.setValue(address_, choice);
        document_.seal();
    });
}

void ParameterRow::addToggle() {
    auto* box = new Switch(fields_);
    box->setAccessibleName(QString::fromStdString(parameter().label));
    box->setToolTip(QString::fromStdString(parameter().summary));
    fields_->layout()->addWidget(box);
    static_cast<QHBoxLayout*>(fields_->layout())->addStretch(1);
    refreshers_.push_back([this, box] {
        const Part& part = document_.scene().at(address_.object).parts[static_cast<std::size_t>(address_.slot)];
        const bool moved = std::holds_alternative<Numbers>(valueOf(document_.scene(), address_));
        box->setChecked(switchAt(document_.scene(), part, parameter().id, document_.frame()));
        box->showKeyed(moved);
    });
    connect(box, &Switch::clicked, this, [this](bool on) {
        document_.editTogether(address_, [&](const Scene& s, const Address& one) { return setSwitch(s, one, on, document_.frame()); });
        document_.seal();
    });
    if (!parameter().still) offerKey(box);
    connect(box, &Switch::keyAsked, this,
            [this] { document_.edit([&](const Scene& s) { return toggleKey(s, address_, document_.frame()); }); });
}

/// What is keyed may keep its frames or its seconds.
void ParameterRow::askRate(const QString& rate, const QPoint& at) {
    const auto& objects = document_.scene().objects;
    const bool keys = std::any_of(objects.begin(), objects.end(),
                                  [&](const auto& entry) { return !keyedNumbers(document_.scene(), entry.first).empty(); });
    RateKeeps keeps = RateKeeps::frames;
    if (keys) {
        QMenu menu(window());
        menu.setObjectName("rateMenu");
        menu.addAction("Keys keep their frames");
        const QAction* seconds = menu.addAction("Keys keep their seconds");
        const QPointer<ParameterRow> still(this);
        const QAction* done = askMenu(menu, at, this);
        if (!still) return;
        if (!done) return refresh();
        if (done == seconds) keeps = RateKeeps::seconds;
    }
    document_.edit([&](const Scene& s) { return setRate(s, rate.toStdString(), keeps); });
    refresh();
}

void ParameterRow::addPoints() {
    auto* field = new PointsField(fields_);
    fields_->layout()->addWidget(field);
    refreshers_.push_back([this, field] { field->show(std::get<Points>(valueOf(document_.scene(), address_))); });
    connect(field, &PointsField::edited, this, [this](const Points& points) { document_.setValue(address_, points); });
    connect(field, &PointsField::finished, this, [this] { document_.seal(); });
    connect(field, &PointsField::trouble, this, &ParameterRow::trouble);
}

void ParameterRow::addReference() {
    auto* slot = new QPushButton(fields_);
    slot->setAccessibleName(QString::fromStdString(parameter().label));
    slot->setToolTip(QString::fromStdString(parameter().summary) +
                     "\nClick, then click the thing in the view or in the list; or drag it here from the list.");
    slot->setIcon(theme::icon("pick"));
    fields_->layout()->addWidget(slot);
    auto* none = new QToolButton(fields_);
    none->setIcon(theme::icon("close", theme::quiet));
    none->setToolTip("Refer to nothing");
    none->setAccessibleName("Refer to nothing");
    fields_->layout()->addWidget(none);
    const bool hanging = document_.scene().at(address_.object).parts[static_cast<std::size_t>(address_.slot)].kind == &hangKind;
    // A pick may be answered when this row is long gone, so that it is not asked for anything.
    const auto refer = [&document = document_, address = address_, hanging](ObjectId id) {
        if (!hanging) return document.setValue(address, id);
        document.edit([&](const Scene& s) { return hang(s, address.object, id, document.frame(), document.store()); });
    };
    connect(none, &QToolButton::clicked, this, [refer] { refer({}); });
    refreshers_.push_back([this, none] { none->setVisible(static_cast<bool>(std::get<ObjectId>(valueOf(document_.scene(), address_)))); });
    refreshers_.push_back([this, slot] {
        const ObjectId id = std::get<ObjectId>(valueOf(document_.scene(), address_));
        const Object* object = document_.scene().find(id);
        if (slot->property("waits").toBool() && document_.picking()) return slot->setText("click the thing…");
        slot->setProperty("waits", false);
        const char* empty = doesWithout() ? "none" : "choose one";
        slot->setText(object ? QString::fromStdString(object->name) : id ? "deleted: choose another" : empty);
    });
    new DropTarget(document_, slot, parameter().references, refer);
    connect(slot, &QPushButton::clicked, this, [this, slot, refer] {
        slot->setProperty("waits", true);
        document_.startPick(parameter().references, refer);
    });
}
