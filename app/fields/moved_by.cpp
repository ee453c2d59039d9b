#include "app/fields/moved_by.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/fields/formula_editor.h"
#include "app/fields/number_field.h"
#include "app/fields/switch.h"
#include "core/base/error.h"
#include "core/edit/key_edits.h"
#include "core/formula/parse.h"
#include "core/resolve/resolve.h"

using namespace gswarm;

namespace {

/// Ways between the ranges of a link that are offered by name.
struct Bend {
    const char* label;
    CurvePoints points;
};
const std::vector<Bend>& bends() {
    static const std::vector<Bend> all = {{"Straight", {}},
                                          {"Slow start", {{0, 0, 0, 0}, {1, 1, 2, 2}}},
                                          {"Slow end", {{0, 0, 2, 2}, {1, 1, 0, 0}}},
                                          {"Slow start and end", {{0, 0, 0, 0}, {1, 1, 0, 0}}}};
    return all;
}

}  // namespace

MovedBy::MovedBy(Document& document, const Address& number, QWidget* parent)
    : QWidget(parent), document_(document), number_(number), formula_(false) {
    setObjectName("movedBy");
    formula_ = static_cast<bool>(track().formula);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 0, 0, 2);
    column->setSpacing(2);
    formula_ ? addFormula() : addLink();
    told_ = new QLabel(this);
    told_->setObjectName("movedTold");
    told_->setWordWrap(true);
    column->addWidget(told_);
    refresh();
}

const Track& MovedBy::track() const { return trackAt(document_.scene(), number_); }

bool MovedBy::fits() const {
    const auto* numbers = std::get_if<gswarm::Numbers>(&valueOf(document_.scene(), number_));
    return numbers && (formula_ ? static_cast<bool>(track().formula) : static_cast<bool>(track().link));
}

void MovedBy::edit() {
    if (editor_) editor_->findChild<QPlainTextEdit*>()->setFocus();
}

void MovedBy::refresh() {
    for (const auto& refresher : refreshers_) refresher();
    const std::string wrong = troubleOf(document_.scene(), track(), document_.frame());
    told_->setText(QString::fromStdString(wrong));
    told_->setStyleSheet("color: #f08a72;");
    told_->setVisible(!wrong.empty());
}

void MovedBy::addFormula() {
    editor_ = new FormulaEditor([this] { return FormulaEditor::offersFor(document_.scene()); }, this);
    editor_->setToolTip(
        "What this setting is: t, frame, loop, other settings by name; amounts and strength also know the instance (i, share, x …)");
    layout()->addWidget(editor_);
    refreshers_.push_back([this] { editor_->show(QString::fromStdString(track().formula->text)); });
    connect(editor_, &FormulaEditor::typed, this, [this](const QString& text) {
        try {
            const Edit made = setFormula(document_.scene(), number_, text.toStdString());
            editor_->clearError();
            document_.edit([&](const Scene&) { return made; });
        } catch (const FormulaError& error) {
            editor_->showError(error.what(), static_cast<int>(error.place));
        } catch (const Error& error) {
            editor_->showError(error.what(), -1);
        }
    });
    connect(editor_, &FormulaEditor::finished, this, [this] { document_.seal(); });
}

void MovedBy::setLink(const std::function<void(Link&)>& change) {
    Link link = *track().link;
    change(link);
    document_.edit([&](const Scene& s) { return gswarm::setLink(s, number_, link); });
}

void MovedBy::addLinkNumber(QWidget* row, const QString& label, const char* unit, double low, double high, double Link::*member) {
    Parameter p;
    p.label = label.toStdString();
    p.summary = p.label;
    p.unit = unit;
    p.suggested = {low, high};
    p.hard = {-1e9, 1e9};
    if (member == &Link::step) p.hard.low = 0;
    auto* field = new NumberField(p, momentAt(document_.scene(), 0).rate, row);
    field->setObjectName("link-" + label);
    row->layout()->addWidget(field);
    refreshers_.push_back([this, field, member] { field->show((*track().link).*member, NumberField::Mark::none); });
    connect(field, &NumberField::edited, this, [this, member](double v) { setLink([&](Link& link) { link.*member = v; }); });
    connect(field, &NumberField::finished, this, [this] { document_.seal(); });
    connect(field, &NumberField::trouble, this, &MovedBy::trouble);
}

void MovedBy::addLink() {
    const auto line = [this] {
        auto* row = new QWidget(this);
        auto* box = new QHBoxLayout(row);
        box->setContentsMargins(0, 0, 0, 0);
        box->setSpacing(3);
        layout()->addWidget(row);
        return row;
    };
    const auto word = [](QWidget* row, const QString& text) {
        auto* label = new QLabel(text, row);
        label->setStyleSheet("color: #a3967f;");
        row->layout()->addWidget(label);
        return label;
    };
    QWidget* first = line();
    auto* name = word(first, "");
    name->setObjectName("linkName");
    refreshers_.push_back([this, name] {
        try {
            name->setText("follows " +
                          QString::fromStdString(nameOf(document_.scene(), parseAddress(document_.scene(), track().link->to))));
        } catch (const Error&) {
            name->setText("follows a setting that was deleted");
        }
    });
    const Link& now = *track().link;
    const auto [fromLow, fromHigh] = std::minmax(now.fromLow, now.fromHigh);
    const auto [toLow, toHigh] = std::minmax(now.toLow, now.toHigh);
    QWidget* ranges = line();
    word(ranges, "from");
    addLinkNumber(ranges, "from", "", fromLow, fromHigh, &Link::fromLow);
    addLinkNumber(ranges, "from end", "", fromLow, fromHigh, &Link::fromHigh);
    word(ranges, "to");
    addLinkNumber(ranges, "to", "", toLow, toHigh, &Link::toLow);
    addLinkNumber(ranges, "to end", "", toLow, toHigh, &Link::toHigh);
    QWidget* rest = line();
    auto* bend = new QComboBox(rest);
    bend->setObjectName("linkCurve");
    bend->setToolTip("The way between the two ranges");
    for (const Bend& one : bends()) bend->addItem(one.label);
    rest->layout()->addWidget(bend);
    refreshers_.push_back([this, bend] {
        for (std::size_t k = 0; k < bends().size(); ++k)
            if (bends()[k].points == track().link->curve) bend->setCurrentIndex(static_cast<int>(k));
    });
    connect(bend, &QComboBox::activated, this, [this](int at) {
        setLink([&](Link& link) { link.curve = bends()[static_cast<std::size_t>(at)].points; });
        document_.seal();
    });
    word(rest, "clip");
    auto* clip = new Switch(rest);
    clip->setObjectName("linkClip");
    clip->setAccessibleName("Clip");
    clip->setToolTip("Stays between the two values of the range it goes to");
    rest->layout()->addWidget(clip);
    refreshers_.push_back([this, clip] { clip->setChecked(track().link->clip); });
    connect(clip, &Switch::clicked, this, [this](bool on) {
        setLink([&](Link& link) { link.clip = on; });
        document_.seal();
    });
    QWidget* last = line();
    word(last, "in steps of");
    addLinkNumber(last, "step", "", 0, std::max(1.0, toHigh - toLow), &Link::step);
    word(last, "later by");
    addLinkNumber(last, "delay", "frames", 0, 50, &Link::delay);
}
