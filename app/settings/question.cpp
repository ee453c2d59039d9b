#include "app/settings/question.h"

#include <algorithm>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QToolButton>

#include "app/settings/parameter_row.h"
#include "app/theme/theme.h"
#include "core/edit/rail_edits.h"
#include "core/kinds/registry.h"

using namespace gswarm;

namespace {

bool contains(const std::vector<std::string>& list, const std::string& item) {
    return std::find(list.begin(), list.end(), item) != list.end();
}

/// Which parameters of a part have a row; no kind if the object is gone.
struct WantedRows {
    const Kind* kind = nullptr;
    int slot = 0;
    std::vector<int> parameters;
    bool operator==(const WantedRows&) const = default;
};

WantedRows wantedRows(const Scene& scene, ObjectId id, const std::string& part, const std::vector<std::string>& leftOut,
                      const std::vector<std::string>& just) {
    WantedRows wanted;
    const Object* object = scene.find(id);
    if (!object) return wanted;
    const auto& infos = classOf(id.type()).slotInfos;
    for (std::size_t s = 0; s < infos.size(); ++s) {
        if (infos[s].id != part) continue;
        wanted.kind = object->parts[s].kind;
        wanted.slot = static_cast<int>(s);
        for (std::size_t i = 0; i < wanted.kind->parameters.size(); ++i) {
            const Parameter& p = wanted.kind->parameters[i];
            if (p.type != ParameterType::curve && applies(p, object->parts[s]) && !contains(leftOut, p.id) &&
                (just.empty() || contains(just, p.id)))
                wanted.parameters.push_back(static_cast<int>(i));
        }
    }
    return wanted;
}

/// What of a row the keyboard reaches, in its order.
std::vector<QWidget*> fieldsOf(const ParameterRow& row) {
    std::vector<QWidget*> fields;
    for (auto* one : row.findChildren<QWidget*>())
        if (one->focusPolicy() & Qt::TabFocus) fields.push_back(one);
    return fields;
}

}  // namespace

Question::Question(SettingsDesk& desk, Subject subject, const QString& title)
    : Section(title, nullptr), desk_(desk), subject_(std::move(subject)) {
    const auto known = desk.open.find(title);
    setOpen(known == desk.open.end() || known->second);
    connect(this, &Section::helpAsked, this, [this] { emit desk_.helpAsked(this->title()); });
    connect(this, &Section::toggled, this, [this](bool open) { desk_.open[this->title()] = open; });
}

void Question::startClosed() {
    if (!desk_.open.contains(title())) setOpen(false);
}

bool Question::fits() const {
    return filled_ && std::all_of(fitting_.begin(), fitting_.end(), [](const auto& still) { return still(); });
}

bool Question::refresh() {
    if (fits()) {
        refreshValues();
        return false;
    }
    const auto place = focusedPlace();
    setUpdatesEnabled(false);
    rows_.clear();
    told_.clear();
    fitting_.clear();
    if (filled_) clear();
    filled_ = true;
    fill();
    setSummary(summary());
    setUpdatesEnabled(true);
    if (place) focus(*place);
    return true;
}

void Question::refreshValues() {
    for (ParameterRow* row : rows_) row->refresh();
    tellFound();
    setSummary(summary());
}

void Question::tellFound() {
    for (const auto& tell : told_) tell();
}

void Question::tells(std::function<void()> tell) {
    tell();
    told_.push_back(std::move(tell));
}

/// The row that has the keyboard and which of its fields.
std::optional<Question::Place> Question::focusedPlace() const {
    QWidget* focused = filled_ ? window()->focusWidget() : nullptr;
    if (!focused || !content()->isAncestorOf(focused)) return std::nullopt;
    for (const ParameterRow* row : rows_) {
        if (!row->isAncestorOf(focused)) continue;
        const auto fields = fieldsOf(*row);
        const auto found = std::ranges::find_if(fields, [&](QWidget* one) { return one == focused || one->isAncestorOf(focused); });
        return Place{row->address(), static_cast<std::size_t>(found - fields.begin())};
    }
    return Place{};
}

/// Rows made anew must not take the keyboard away from where the hand was.
void Question::focus(const Place& place) {
    for (const ParameterRow* row : rows_) {
        if (!(row->address() == place.row)) continue;
        if (const auto fields = fieldsOf(*row); place.field < fields.size()) return fields[place.field]->setFocus();
    }
    for (QWidget* up = parentWidget(); up; up = up->parentWidget())
        if (up->focusPolicy() != Qt::NoFocus) return up->setFocus();
}

ParameterRow* Question::makeRow(const Address& address, QWidget* parent) {
    auto* row = new ParameterRow(document(), address, parent);
    connect(row, &ParameterRow::trouble, &desk_, &SettingsDesk::trouble);
    connect(row, &ParameterRow::variationsAsked, &document(), &Document::vary);
    rows_.push_back(row);
    return row;
}

void Question::addRows(ObjectId object, const std::string& part, const std::vector<std::string>& leftOut,
                       const std::vector<std::string>& just) {
    const WantedRows wanted = uses([this, object, part, leftOut, just] { return wantedRows(scene(), object, part, leftOut, just); });
    for (const int parameter : wanted.parameters) body()->addWidget(makeRow({object, wanted.slot, parameter, -1}, content()));
}

void Question::addSideBySide(ObjectId object, const std::vector<std::string>& parameters, const QString& common) {
    QHBoxLayout* line = addLine(common);
    for (const std::string& parameter : parameters) {
        const Address address = addressOf(scene(), object, parameter);
        ParameterRow* row = makeRow(address, content());
        const QString label = said(parameterAt(scene(), address).label);
        row->setLabelWidth(common.isEmpty() ? row->fontMetrics().horizontalAdvance(label) + 4 : 0);
        line->addWidget(row, 1);
    }
}

QHBoxLayout* Question::addLine(const QString& label) {
    auto* box = new QWidget(content());
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    if (!label.isEmpty()) {
        auto* name = new QLabel(label, box);
        name->setFixedWidth(ParameterRow::labelWidth);
        name->setStyleSheet("color: #a3967f;");
        line->addWidget(name);
    }
    body()->addWidget(box);
    return line;
}

QToolButton* Question::smallButton(const char* icon, const QString& name, const QString& tip, QWidget* parent) const {
    auto* button = new QToolButton(parent);
    button->setObjectName(name);
    button->setIcon(theme::icon(icon, theme::quiet));
    button->setToolTip(tip);
    button->setAccessibleName(tip);
    return button;
}

void Question::addKindChoice(ObjectId object, const std::string& part, const QString& label, const ChangeKind& change) {
    const Kind* now = scene().at(object).part(part).kind;
    auto* box = new QComboBox;
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);  // long choices never widen the panel
    box->setObjectName("kind-" + said(part));
    box->setAccessibleName(label);
    for (const Kind* kind : kindsOf(now->family)) {
        if (kind != now && !kindSuits(scene(), object, part, *kind)) continue;
        box->addItem(said(kind->label), said(kind->id));
        box->setItemData(box->count() - 1, said(kind->summary), Qt::ToolTipRole);
    }
    addLine(label)->addWidget(box, 1);
    tells([this, box, object, part] {
        const Object* found = scene().find(object);
        if (!found) return;
        box->setCurrentIndex(box->findData(said(found->part(part).kind->id)));
        box->setToolTip(said(found->part(part).kind->summary));
    });
    connect(box, &QComboBox::activated, this, [&document = document(), box, object, part, family = now->family, change] {
        const Kind* kind = findKind(family, box->currentData().toString().toStdString());
        const ObjectId made = document.edit([&](const Scene& s) { return change ? change(s, *kind) : setKind(s, object, part, *kind); });
        if (made) document.choose(made);
    });
}
