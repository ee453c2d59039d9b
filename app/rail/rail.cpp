#include "app/rail/rail.h"

#include <algorithm>
#include <cmath>
#include <QHBoxLayout>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QToolButton>

#include "app/document/evaluation.h"
#include "app/document/own_starts.h"
#include "app/fields/drop_target.h"
#include "app/rail/gallery.h"
#include "app/rail/rail_card.h"
#include "app/theme/retire.h"
#include "app/theme/theme.h"
#include "core/arrange/fitted_edits.h"
#include "core/arrange/fitted_formation.h"
#include "core/edit/rail_edits.h"
#include "core/gesture/gesture_kind.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"

using namespace gswarm;

Rail::Rail(Document& document, Evaluation& evaluation, QWidget* parent) : QWidget(parent), document_(document), evaluation_(evaluation) {
    setObjectName("rail");
    setFixedHeight(76);
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(8, 6, 8, 6);
    line->setSpacing(6);
    stock_ = new RailCard(0, this);
    formation_ = new RailCard(1, this);
    result_ = new RailCard(1000, this);
    for (RailCard* card : {stock_, formation_, result_}) {
        card->setFixedWidth(104);
        connect(card, &RailCard::stepped, this, [this, card](int direction) { step(card->index(), direction); });
    }
    connect(stock_, &RailCard::chosen, this, [this] {
        const Object* swarm = document_.scene().find(swarm_);
        if (swarm) document_.click(swarm->list("stock").empty() ? swarm_ : swarm->list("stock").front());
    });
    connect(formation_, &RailCard::chosen, this, [this] {
        if (const Object* swarm = document_.scene().find(swarm_)) document_.click(referenceOf(swarm->part("place"), "formation"));
    });
    connect(result_, &RailCard::chosen, this, [this] { document_.click(swarm_); });
    connect(result_, &RailCard::buttonPressed, this, [this] {
        document_.edit([&](const Scene& s) { return fitStock(s, swarm_); });
        document_.seal();
    });
    row_ = new QWidget;
    rowLayout_ = new QHBoxLayout(row_);
    rowLayout_->setContentsMargins(0, 0, 0, 0);
    rowLayout_->setSpacing(6);
    scroll_ = new QScrollArea(this);
    scroll_->setWidget(row_);
    scroll_->setWidgetResizable(true);
    scroll_->setFocusPolicy(Qt::NoFocus);
    scroll_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll_->setFixedHeight(64);
    add_ = new QToolButton(this);
    add_->setObjectName("addGesture");
    add_->setIcon(theme::icon("plus"));
    add_->setFixedSize(32, 64);
    add_->setToolTip("Add a gesture (Ctrl+G)");
    add_->setAccessibleName("Add a gesture");
    add_->setStyleSheet("QToolButton { border: 1px dashed #3a3329; } QToolButton:focus { border-color: #d9a441; }");
    connect(add_, &QToolButton::clicked, this, &Rail::openGallery);
    out_ = new QToolButton(this);
    out_->setObjectName("railOut");
    out_->setFixedHeight(64);
    out_->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
    out_->setIcon(theme::icon("up"));
    out_->setStyleSheet("QToolButton { border: none; color: #a3967f; } QToolButton:hover, QToolButton:focus { color: #d9a441; }");
    connect(out_, &QToolButton::clicked, this, [this] {
        if (const auto by = swarmsRepeating(document_.scene(), swarm_); !by.empty()) document_.click(by.front());
    });
    line->addWidget(out_);
    line->addWidget(stock_);
    line->addWidget(formation_);
    line->addWidget(scroll_, 1);
    line->addWidget(result_);
    for (const auto signal : {&Document::sceneChanged, &Document::chosenChanged, &Document::sessionChanged})
        connect(&document_, signal, this, &Rail::refresh);
    connect(&evaluation_, &Evaluation::ready, this, &Rail::refresh);
    connect(&document_.session(), &Session::tallyChanged, this, &Rail::refresh);
    for (const auto signal : {&Evaluation::overlapsKnown, &Evaluation::actingKnown}) connect(&evaluation_, signal, this, &Rail::refresh);
    rebuild();
}

void Rail::rebuild() {
    swarm_ = document_.swarm();
    entries_ = swarm_ ? document_.scene().at(swarm_).list("rail") : std::vector<ObjectId>{};
    symmetries_ = swarm_ ? document_.scene().at(swarm_).list("symmetries") : std::vector<ObjectId>{};
    for (const auto* cards : {&cards_, &symmetryCards_})
        for (RailCard* card : *cards) retire(card);
    cards_.clear();
    symmetryCards_.clear();
    while (rowLayout_->count()) delete rowLayout_->takeAt(0);
    for (const ObjectId entry : entries_) {
        auto* card = new RailCard(static_cast<int>(cards_.size()) + 2, row_);
        connectGesture(card, entry);
        rowLayout_->addWidget(card);
        cards_.push_back(card);
    }
    add_->setParent(row_);
    add_->setVisible(static_cast<bool>(swarm_));
    rowLayout_->addWidget(add_);
    for (const ObjectId symmetry : symmetries_) {
        auto* card = new RailCard(static_cast<int>(cards_.size() + symmetryCards_.size()) + 2, row_);
        connectSymmetry(card, symmetry);
        rowLayout_->addWidget(card);
        symmetryCards_.push_back(card);
    }
    rowLayout_->addStretch(1);
    out_->setVisible(swarm_ && !swarmsRepeating(document_.scene(), swarm_).empty());
    for (QWidget* card : {static_cast<QWidget*>(stock_), static_cast<QWidget*>(formation_), static_cast<QWidget*>(result_)})
        card->setVisible(static_cast<bool>(swarm_));
    arrange();
}

void Rail::connectGesture(RailCard* card, ObjectId entry) {
    // The empty id where the card is gone: nothing is done with it.
    const auto gesture = [this, entry] {
        const Object* card = document_.scene().find(entry);
        return card ? referenceOf(card->part("entry"), "gesture") : ObjectId{};
    };
    connect(card, &RailCard::chosen, this, [this, gesture] { document_.click(gesture()); });
    new DropTarget(document_, card, {ObjectType::zone},
                   [this, gesture](ObjectId zone) { document_.edit([&](const Scene& s) { return weaveZone(s, gesture(), zone); }); });
    connect(card, &RailCard::switched, this, [this, entry](bool on) {
        document_.edit([&](const Scene& s) { return setValue(s, addressOf(s, entry, "on"), on); });
        document_.seal();
    });
    connect(card, &RailCard::soloAsked, this, [this, entry] { document_.setSolo(document_.solo() == entry ? ObjectId{} : entry); });
    connect(card, &RailCard::strengthAsked, this, [this, gesture](double strength) {
        if (document_.scene().find(gesture())) document_.setNumber(addressOf(document_.scene(), gesture(), "strength"), strength * 100);
    });
    connect(card, &RailCard::strengthDone, this, [this] { document_.seal(); });
    for (const auto signal : {&RailCard::whyAsked, &RailCard::buttonPressed}) connect(card, signal, this, [this, entry] { askWhy(entry); });
    connect(card, &RailCard::menuAsked, this, [this, entry](const QPoint& at) { showMenu(entry, at); });
    connect(card, &RailCard::renameAsked, this, [this, gesture] {
        document_.choose(gesture());
        emit renameAsked();
    });
    connect(card, &RailCard::dropped, this, [this, entry](int x) { drop(entry, x); });
    connect(card, &RailCard::stepped, this, [this, card](int direction) { step(card->index(), direction); });
    connect(card, &RailCard::moveAsked, this, [this, entry](int direction) {
        const auto at = std::find(entries_.begin(), entries_.end(), entry) - entries_.begin();
        document_.edit([&](const Scene& s) { return moveInList(s, entry, static_cast<int>(at) + direction); });
    });
}

std::vector<RailCard*> Rail::allCards() const {
    std::vector<RailCard*> all{stock_, formation_};
    for (const auto* cards : {&cards_, &symmetryCards_}) all.insert(all.end(), cards->begin(), cards->end());
    all.push_back(result_);
    return all;
}

void Rail::step(int index, int direction) {
    const std::vector<RailCard*> all = allCards();
    const auto at = std::find_if(all.begin(), all.end(), [index](RailCard* c) { return c->index() == index; }) - all.begin() + direction;
    if (at >= 0 && at < static_cast<std::ptrdiff_t>(all.size())) all[static_cast<std::size_t>(at)]->setFocus();
}

void Rail::arrange() {
    const int room = scroll_->width() - 38;
    const auto count = static_cast<int>(cards_.size() + symmetryCards_.size());
    const int each = count == 0 ? 132 : std::clamp(room / count - 6, 88, 132);
    for (const auto* cards : {&cards_, &symmetryCards_})
        for (RailCard* card : *cards) card->setFixedWidth(each);
}

void Rail::resizeEvent(QResizeEvent*) { arrange(); }

void Rail::refresh() {
    const ObjectId swarm = document_.swarm();
    const Object* now = document_.scene().find(swarm);
    if (swarm != swarm_ || (now && (now->list("rail") != entries_ || now->list("symmetries") != symmetries_))) rebuild();
    if (!swarm_) return;
    showWhere();
    showStock();
    showFormation();
    showResult();
    for (std::size_t i = 0; i < entries_.size(); ++i) cards_[i]->show(gestureState(i));
    for (std::size_t i = 0; i < symmetries_.size(); ++i) symmetryCards_[i]->show(symmetryState(symmetries_[i]));
}

/// What one instance had after card `card` (−1: its home); none unless an instance is tallied.
std::optional<TallyText> Rail::tallyAfter(int card) const {
    const auto latest = evaluation_.latest();
    const auto row = static_cast<std::size_t>(card + 1);
    if (!latest || latest->tallySwarm != swarm_ || row >= latest->tally.size()) return std::nullopt;
    QStringList numbers;
    const Object* swarm = latest->scene.find(swarm_);
    if (!swarm) return std::nullopt;
    for (const ObjectId id : swarm->list("namedValues")) numbers << QString::fromStdString(latest->scene.at(id).name);
    return tallyText(row == 0 ? nullptr : &latest->tally[row - 1], latest->tally[row], numbers);
}

void Rail::showWhere() {
    const auto by = swarmsRepeating(document_.scene(), swarm_);
    out_->setVisible(!by.empty());
    if (by.empty()) return;
    const QString outer = QString::fromStdString(document_.scene().at(by.front()).name),
                  own = QString::fromStdString(document_.scene().at(swarm_).name);
    const QString others = by.size() > 1 ? QString(" and %1 more").arg(by.size() - 1) : QString();
    out_->setText("in " + out_->fontMetrics().elidedText(outer, Qt::ElideRight, 90) + others);
    out_->setToolTip(own + " is repeated by " + outer + others + ". Out to it (Esc)");
    out_->setAccessibleName("Out to " + outer);
}

void Rail::showStock() {
    const Scene& scene = document_.scene();
    QStringList shapes;
    for (const ObjectId entry : scene.at(swarm_).list("stock"))
        if (const Object* shape = scene.find(referenceOf(scene.at(entry).part("entry"), "shape")))
            shapes << QString::fromStdString(shape->name);
    CardState state;
    state.icon = "stock";
    state.name = "Stock";
    state.count = shapes.size() > 2 ? QString("%1 shapes").arg(shapes.size()) : shapes.join(", ");
    state.tip = "What the swarm repeats: " + shapes.join(", ");
    state.chosen = document_.chosen().type() == ObjectType::stock;
    state.trouble = shapes.isEmpty();
    stock_->show(state);
}

void Rail::showFormation() {
    const Scene& scene = document_.scene();
    const auto& kind = *scene.at(referenceOf(scene.at(swarm_).part("place"), "formation")).part("formation").kind;
    CardState state;
    state.icon = "formation";
    state.name = "Formation";
    state.count = QString::fromStdString(kind.label);
    state.tip = "Where the instances stand";
    state.chosen = document_.chosen().type() == ObjectType::formation;
    addTally(-1, state);
    formation_->show(state);
}

void Rail::showResult() {
    const auto result = evaluation_.resultOf(swarm_);
    const auto latest = evaluation_.latest();
    const int overlaps = evaluation_.overlapsOf(swarm_);
    const bool stuck = latest && latest->problems.contains(swarm_);
    CardState state;
    state.icon = "result";
    state.name = "Result";
    state.chosen = document_.chosen() == swarm_;
    const QString copies = result && result->copies.size() > 1 ? QString(" × %1").arg(result->copies.size()) : QString();
    state.count = stuck ? "can't be made" : !result ? "…" : theme::grouped(result->visible) + copies + " shown";
    if (!stuck && result && overlaps > 0) {
        state.count += "\n" + theme::grouped(overlaps) + " overlap";
        if (canFitStock(document_.scene(), swarm_)) state.button = "Fit";
    }
    if (result) {
        state.tip = theme::counted(result->count, "instance") + ", " + theme::grouped(result->visible) + " shown";
        if (!copies.isEmpty())
            state.tip += QString(", each %1 times by symmetry: %2 in all")
                             .arg(result->copies.size())
                             .arg(theme::grouped(static_cast<qint64>(result->visible) * static_cast<qint64>(result->copies.size())));
        if (result->notFinite) state.tip += QString(", %1 left out: their position is not a valid number").arg(result->notFinite);
    }
    if (stuck) state.tip = latest->problems.at(swarm_);
    if (overlaps >= 0 && result && !stuck)
        state.tip += "\n" + (overlaps == 0   ? QString("No instance overlaps another")
                             : overlaps == 1 ? QString("1 instance overlaps another")
                                             : theme::grouped(overlaps) + " instances overlap another");
    for (const auto& note : result ? result->notes : std::vector<std::string>{}) state.tip += "\n" + QString::fromStdString(note);
    state.trouble = stuck || (result && result->notFinite > 0);
    if (latest && latest->tallySwarm == swarm_ && !latest->tally.empty()) {
        const InstanceRow& end = latest->tally.back().instance;
        state.added = QString("number %1").arg(end.number);
        state.value = "A leaves";
        state.tip = QString("Instance %1, id %2. The cards show its values; A leaves.").arg(end.number).arg(end.id);
    }
    result_->show(state);
}

void Rail::addTally(int card, CardState& state) const {
    const auto text = tallyAfter(card);
    if (!text) return;
    state.added = text->added;
    state.value = text->value;
    state.tip = text->tip;
}

QString Rail::iconOf(const Object& gesture) {
    const Part& change = gesture.part("change");
    if (!choosesByOrTo(change)) return QString::fromStdString(change.kind->id);
    QString icon = "gesture";
    for (const auto& [channel, name] : {std::pair{"value", "number"},
                                        {"time", "time"},
                                        {"showing", "showing"},
                                        {"shape", "shape-by"},
                                        {"colour", "colour"},
                                        {"scale", "scale"},
                                        {"rotation", "rotation"},
                                        {"position", "position"}})
        if (switchOf(change, channel)) icon = name;
    return icon;
}

CardState Rail::gestureState(std::size_t i) const {
    const Scene& scene = document_.scene();
    const Part& entry = scene.at(entries_[i]).part("entry");
    const Object* gesture = scene.find(referenceOf(entry, "gesture"));
    const auto result = evaluation_.resultOf(swarm_);
    CardState state;
    state.icon = gesture ? iconOf(*gesture) : "why";
    state.name = QString::fromStdString(nameOfCard(scene, entries_[i]));
    state.hasSwitch = true;
    state.on = switchAt(document_.scene(), entry, "on", document_.frame());
    state.solo = document_.solo() == entries_[i];
    if (gesture) {
        state.chosen = document_.chosen() == gesture->id;
        state.swarms = usersOf(scene, gesture->id);
        state.strength = numberAt(document_.scene(), gesture->part("change"), "strength", document_.frame()) / 100;
    }
    state.count = state.on ? "…" : "off";
    if (result && i < result->cards.size() && result->cards[i].entry == entries_[i]) addCensus(*result, i, state);
    if (state.swarms > 1) state.tip += QString("\nShared by %1 swarms: edited in one, changed in all").arg(state.swarms);
    addTally(static_cast<int>(i), state);
    return state;
}

/// What a card that is silent now says: when it is at work, if it is at all. Only one that never is needs help.
void Rail::addSilence(std::size_t card, CardState& state) const {
    const ActingFrames* acting = evaluation_.actingOf(entries_[card]);
    state.count = "on 0";
    if (!acting) return;
    const double frame = document_.frame(), rate = momentAt(document_.scene(), 0).rate;
    const auto seconds = [&](double at) { return QString("%1 s").arg(at / rate, 0, 'f', 1); };
    if (const auto next = nextActing(*acting, frame))
        state.count = "from " + seconds(*next);
    else if (const auto last = lastActing(*acting, frame))
        state.count = "until " + seconds(*last);
    else
        state.trouble = true;
    if (!state.trouble) state.tip = "Not at work at this frame; " + state.count + " it is.\n" + state.tip;
}

void Rail::addCensus(const Result& result, std::size_t card, CardState& state) const {
    const Census& census = result.cards[card];
    state.strip = census.samples.strip;
    state.tip = QString(
                    "acts on %1 · seen at the end on %2\nstrength %3 %, drag the bar at the bottom\nDrag to reorder, double-click to "
                    "rename, right-click for more")
                    .arg(theme::grouped(census.touched), theme::grouped(census.seen))
                    .arg(state.strength.value_or(1) * 100);
    state.wantsWhole = std::find(result.wantWhole.begin(), result.wantWhole.end(), entries_[card]) != result.wantWhole.end();
    if (!state.on) {
        state.count = "off";
    } else if (!census.waits.empty()) {
        state.count = "incomplete";
        state.trouble = true;
        state.tip = "It waits. " + QString::fromStdString(census.waits) + "\n" + state.tip;
    } else if (!census.acts) {
        state.count = "muted by solo";
    } else if (census.notFinite > 0) {
        state.count = theme::grouped(census.notFinite) + " invalid";
        state.trouble = true;
        state.tip += "\n" + notFiniteText(census.notFinite);
    } else if (state.wantsWhole) {
        state.count = "needs all instances";
    } else if (census.touched == 0 || census.seen == 0) {
        addSilence(card, state);
    } else {
        state.count = "on " + theme::grouped(census.touched);
        if (census.seen != census.touched) state.count += " · seen " + theme::grouped(census.seen);
    }
    if (state.trouble) state.button = "Why?";
    const int cut = census.clippedWhere + census.clippedShaped;
    if (cut > 0) {
        const int percent = std::max(1, static_cast<int>(std::lround(100.0 * cut / std::max(result.count, 1))));
        state.cut = QString("clipped %1 %").arg(percent);
        state.tip += "\nThe clip cuts " + theme::counted(cut, "value") + QString(", %1 % of all").arg(percent);
    }
}

void Rail::addStart(const GestureStart& start) {
    const auto& instances = document_.session().instances();
    const auto chosen = instances.swarm == swarm_ ? instances.ids : std::vector<std::uint64_t>{};
    const ObjectId made =
        document_.edit([&](const Scene& s) { return addGestureStart(s, swarm_, start, chosen, evaluation_.resultOf(swarm_).get()); });
    if (made) document_.choose(made);
}

void Rail::openGallery() {
    if (!swarm_) return;
    if (!gallery_) {
        gallery_ = new Gallery(this);
        connect(gallery_, &Gallery::taken, this, &Rail::addStart);
        connect(gallery_, &Gallery::symmetryTaken, this, &Rail::addSymmetryOf);
        connect(gallery_, &Gallery::ownTaken, this, [this](const std::filesystem::path& path) { useStartFile(document_, path, {}); });
    }
    gallery_->adjustSize();
    QPoint at = add_->mapToGlobal(QPoint(0, add_->height() + 2));
    const QRect screen = window()->frameGeometry();
    at.setX(std::min(at.x(), screen.right() - gallery_->width() - 8));
    gallery_->move(at);
    gallery_->show();
    gallery_->setFocus();
    gallery_->findChild<QPushButton*>()->setFocus();
}

int Rail::placeAt(int globalX) const {
    int place = 0;
    for (const RailCard* card : cards_)
        if (card->mapToGlobal(card->rect().center()).x() < globalX) ++place;
    return place;
}

void Rail::drop(ObjectId entry, int globalX) {
    const auto from = static_cast<int>(std::find(entries_.begin(), entries_.end(), entry) - entries_.begin());
    int to = placeAt(globalX);
    if (to > from) --to;
    if (to != from) document_.edit([&](const Scene& s) { return moveInList(s, entry, to); });
}
