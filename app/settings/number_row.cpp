// The fields of a row of numbers: their values, what moves them, and their menu.
#include <algorithm>
#include <QLayout>
#include <QMenu>

#include "app/fields/moved_by.h"
#include "app/fields/number_field.h"
#include "app/settings/parameter_row.h"
#include "app/theme/ask_menu.h"
#include "core/base/error.h"
#include "core/edit/key_edits.h"
#include "core/formula/number_formula.h"
#include "core/formula/parse.h"
#include "core/resolve/resolve.h"
#include "core/resolve/typed_number.h"

using namespace gswarm;

namespace {

NumberField::Mark markOf(const Scene& scene, const Parameter& p, const Track& track, double frame) {
    if (p.still) return NumberField::Mark::none;
    if (!track.moves()) return NumberField::Mark::fixed;
    if (!track.keyed() && !troubleOf(scene, track, frame).empty()) return NumberField::Mark::trouble;
    if (track.formula) return NumberField::Mark::formula;
    if (track.link) return NumberField::Mark::link;
    for (const Key& key : *track.keys)
        if (key.frame == frame) return NumberField::Mark::keyHere;
    return NumberField::Mark::keyed;
}

bool readsInstance(const Track& track) {
    try {
        return track.formula && numberFormula(*track.formula)->readsInstance;
    } catch (const FormulaError&) {
        return false;
    }
}

}  // namespace

Address ParameterRow::numberOf(int component) const {
    Address one = address_;
    one.component = parameter().components > 1 ? component : -1;
    return one;
}

void ParameterRow::addNumbers() {
    const double rate = momentAt(document_.scene(), 0).rate;
    movers_.resize(static_cast<std::size_t>(parameter().components));
    for (int c = 0; c < parameter().components; ++c) {
        auto* field = new NumberField(parameter(), rate, fields_);
        if (parameter().components > 1) {
            field->setObjectName(QString("xyz"[c]));
            field->setLetter(QString("XYZ"[c]));
        }
        fields_->layout()->addWidget(field);
        const Address one = numberOf(c);
        refreshers_.push_back([this, field, c, one] {
            const Track& track = std::get<Numbers>(valueOf(document_.scene(), address_))[static_cast<std::size_t>(c)];
            const double frame = document_.frame();
            field->show(parameter().heard ? valueAtAddress(document_.scene(), toText(document_.scene(), one), frame).value_or(0)
                                          : valueAt(document_.scene(), track, frame),
                        markOf(document_.scene(), parameter(), track, frame));
            field->showInstead(document_.differs(numberOf(c)) ? "several" : readsInstance(track) ? "varies" : "");
            field->showFollowed(document_.followed(numberOf(c)));
            field->offerPick(document_.linking());
            showMover(c, false);
        });
        connect(field, &NumberField::edited, this, [this, one](double v) { document_.setNumber(one, v); });
        connect(field, &NumberField::finished, this, [this] { document_.seal(); });
        connect(field, &NumberField::formulaTyped, this, [this, one, c](const QString& text) { takeFormula(one, c, text); });
        connect(field, &NumberField::severalPasted, this, [this, c](const QStringList& texts) { takeSeveral(c, texts); });
        connect(field, &NumberField::trouble, this, &ParameterRow::trouble);
        connect(field, &NumberField::picked, this, [this, one] { document_.linkTo(one); });
        connect(field, &NumberField::keyAsked, this,
                [this, one] { document_.edit([&](const Scene& s) { return toggleKey(s, one, document_.frame()); }); });
        connect(field, &NumberField::markClicked, this,
                [this, field, one] { showNumberMenu(one, field->mapToGlobal(QPoint(0, field->height()))); });
        field->setContextMenuPolicy(Qt::CustomContextMenu);
        connect(field, &QWidget::customContextMenuRequested, this,
                [this, field, one](const QPoint& at) { showNumberMenu(one, field->mapToGlobal(at)); });
    }
}

/// What is no number may name others: then it becomes a formula. Else the number stays and says so.
void ParameterRow::takeFormula(const Address& number, int component, const QString& text) {
    const Track& track = trackAt(document_.scene(), number);
    QString kept = QString::number(valueAt(document_.scene(), track, document_.frame()), 'g', 6);
    if (!parameter().unit.empty()) kept += " " + QString::fromStdString(parameter().unit);
    const QString stays = QString("%1 stays %2.").arg(QString::fromStdString(parameter().label), kept);
    const bool names =
        std::any_of(text.begin(), text.end(), [](QChar c) { return c == '.' || c == '(' || c == '*' || c == '+' || c == '/'; });
    if (parameter().still || !names) return emit trouble(QString("“%1” is not a number; %2").arg(text, stays));
    try {
        const Edit edit = setFormula(document_.scene(), number, text.toStdString());
        document_.edit([&](const Scene&) { return edit; });
        document_.seal();
        showMover(component, false);
    } catch (const FormulaError& error) {
        emit trouble(QString("“%1” is neither a number nor a formula (%2); %3").arg(text, QString::fromUtf8(error.what()), stays));
    } catch (const Error& error) {
        emit trouble(QString("%1 %2").arg(QString::fromUtf8(error.what()), stays));
    }
}

/// One after the other, from that one on, as one step.
void ParameterRow::takeSeveral(int first, const QStringList& texts) {
    const double rate = momentAt(document_.scene(), 0).rate;
    document_.edit([&](const Scene& scene) {
        Edit edit{scene, {}, {}, {}};
        for (int k = 0; k < texts.size() && first + k < parameter().components; ++k)
            if (const auto value = typedNumber(texts[k].toStdString(), parameter().unit, rate))
                edit.scene = setNumber(edit.scene, numberOf(first + k), std::clamp(*value, parameter().hard.low, parameter().hard.high),
                                       document_.frame())
                                 .scene;
        edit.label = scene.at(address_.object).name + ": " + parameter().label + " pasted";
        return edit;
    });
    document_.seal();
}

void ParameterRow::showMover(int component, bool editIt) {
    const Address one = numberOf(component);
    MovedBy*& mover = movers_[static_cast<std::size_t>(component)];
    const Track& track = trackAt(document_.scene(), one);
    if (mover && !mover->fits()) {
        mover->hide();
        mover->deleteLater();
        mover = nullptr;
    }
    if (!mover && (track.formula || track.link)) {
        mover = new MovedBy(document_, one, this);
        connect(mover, &MovedBy::trouble, this, &ParameterRow::trouble);
        layout()->addWidget(mover);
        mover->show();
    }
    if (mover) mover->refresh();
    if (mover && editIt) mover->edit();
}

/// What moves the number, and what else can be done with it.
void ParameterRow::showNumberMenu(const Address& number, const QPoint& at) {
    const Track track = trackAt(document_.scene(), number);
    QMenu menu(window());
    menu.setObjectName("numberMenu");
    const bool still = parameter().still;
    QAction* const fixed = menu.addAction("Fixed");
    QAction* const key = menu.addAction("Key here, or take the key away (K)");
    QAction* const formula = menu.addAction("Formula");
    QAction* const link = menu.addAction("Link: then click the setting to follow");
    const bool now[] = {!track.moves(), track.keyed(), bool(track.formula), bool(track.link)};
    QAction* const ways[] = {fixed, key, formula, link};
    for (int k = 0; k < 4; ++k) {
        ways[k]->setCheckable(true);
        ways[k]->setChecked(now[k]);
        ways[k]->setEnabled(!still);
    }
    const auto readers = readersOf(document_.scene(), number);
    if (!readers.empty()) {
        menu.addSeparator();
        for (const Address& reader : readers) {
            QAction* follows = menu.addAction("Followed by " + QString::fromStdString(nameOf(document_.scene(), reader)));
            connect(follows, &QAction::triggered, this, [this, reader] { document_.choose(reader.object); });
        }
    }
    menu.addSeparator();
    NumberField* field = fields_->findChildren<NumberField*>()[std::max(number.component, 0)];
    const QAction* copy = menu.addAction("Copy");
    const QAction* paste = menu.addAction("Paste");
    QAction* const same = menu.addAction("Same as another: then click that setting");
    same->setEnabled(!still);
    menu.addSeparator();
    const QAction* vary = menu.addAction("Nine values side by side");
    const QAction* reset = menu.addAction("Reset");
    const QAction* done = askMenu(menu, at, this);
    if (!done) return;
    if (done == fixed) document_.edit([&](const Scene& s) { return setFixed(s, number, document_.frame()); });
    if (done == key) document_.edit([&](const Scene& s) { return toggleKey(s, number, document_.frame()); });
    if (done == formula) {
        const double value = valueAt(document_.scene(), track, document_.frame());
        document_.edit([&](const Scene& s) { return setFormula(s, number, QString::number(value).toStdString()); });
        showMover(std::max(number.component, 0), true);
    }
    if (done == copy) field->copy();
    if (done == paste) field->paste();
    if (done == link || done == same) document_.startLink(number);
    if (done == vary) emit variationsAsked(number);
    if (done == reset) document_.setValue(address_, parameter().standard);
}
