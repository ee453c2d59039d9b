#include "app/rail/rail.h"

#include <algorithm>
#include <QHBoxLayout>
#include <QLocale>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QToolButton>

#include "app/document/evaluation.h"
#include "app/rail/gallery.h"
#include "app/rail/rail_card.h"
#include "app/theme/theme.h"
#include "core/scene/rail_edits.h"
#include "core/evaluate/why.h"

using namespace gswarm;

namespace {

QString grouped(int n) { return QLocale(QLocale::English).toString(n).replace(',', ' '); }

}  // namespace

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
        const auto& stock = document_.scene().at(swarm_).list("stock");
        document_.click(stock.empty() ? swarm_ : stock.front());
    });
    connect(formation_, &RailCard::chosen, this,
            [this] { document_.click(referenceOf(document_.scene().at(swarm_).part("place"), "formation")); });
    connect(result_, &RailCard::chosen, this, [this] { document_.click(swarm_); });
    row_ = new QWidget;
    rowLayout_ = new QHBoxLayout(row_);
    rowLayout_->setContentsMargins(0, 0, 0, 0);
    rowLayout_->setSpacing(6);
    scroll_ = new QScrollArea(this);
    scroll_->setWidget(row_);
    scroll_->setWidgetResizable(true);
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
    line->addWidget(stock_);
    line->addWidget(formation_);
    line->addWidget(scroll_, 1);
    line->addWidget(result_);
    for (const auto signal : {&Document::sceneChanged, &Document::chosenChanged, &Document::sessionChanged})
        connect(&document_, signal, this, &Rail::refresh);
    connect(&evaluation_, &Evaluation::ready, this, &Rail::refresh);
    connect(&evaluation_, &Evaluation::overlapsKnown, this, &Rail::refresh);
    rebuild();
}

void Rail::rebuild() {
    swarm_ = document_.swarm();
    entries_ = swarm_ ? document_.scene().at(swarm_).list("rail") : std::vector<ObjectId>{};
    for (RailCard* card : cards_) card->deleteLater();
    cards_.clear();
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
    rowLayout_->addStretch(1);
    for (QWidget* card : {static_cast<QWidget*>(stock_), static_cast<QWidget*>(formation_), static_cast<QWidget*>(result_)})
        card->setVisible(static_cast<bool>(swarm_));
    arrange();
}

void Rail::connectGesture(RailCard* card, ObjectId entry) {
    const auto gesture = [this, entry] { return referenceOf(document_.scene().at(entry).part("entry"), "gesture"); };
    connect(card, &RailCard::chosen, this, [this, gesture] { document_.click(gesture()); });
    connect(card, &RailCard::switched, this, [this, entry](bool on) {
        document_.setValue(addressOf(document_.scene(), entry, "on"), on);
        document_.seal();
    });
    connect(card, &RailCard::whyAsked, this, [this, entry] { askWhy(entry); });
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

void Rail::step(int index, int direction) {
    std::vector<RailCard*> all{stock_, formation_};
    all.insert(all.end(), cards_.begin(), cards_.end());
    all.push_back(result_);
    const auto at = std::find_if(all.begin(), all.end(), [index](RailCard* c) { return c->index() == index; }) - all.begin() + direction;
    if (at >= 0 && at < static_cast<std::ptrdiff_t>(all.size())) all[static_cast<std::size_t>(at)]->setFocus();
}

void Rail::arrange() {
    const int room = scroll_->width() - 38;
    const int each = cards_.empty() ? 132 : std::clamp(room / static_cast<int>(cards_.size()) - 6, 88, 132);
    for (RailCard* card : cards_) card->setFixedWidth(each);
}

void Rail::resizeEvent(QResizeEvent*) { arrange(); }

void Rail::refresh() {
    const ObjectId swarm = document_.swarm();
    if (swarm != swarm_ || (swarm && document_.scene().at(swarm).list("rail") != entries_)) rebuild();
    if (!swarm_) return;
    const Scene& scene = document_.scene();
    const Object& object = scene.at(swarm_);
    const auto result = evaluation_.resultOf(swarm_);
    const ObjectId chosen = document_.chosen();
    QStringList shapes;
    for (const ObjectId entry : object.list("stock"))
        if (const Object* shape = scene.find(referenceOf(scene.at(entry).part("entry"), "shape")))
            shapes << QString::fromStdString(shape->name);
    const auto& formation = *scene.at(referenceOf(object.part("place"), "formation")).part("formation").kind;
    stock_->show({"stock",
                  "Stock",
                  shapes.size() > 2 ? QString("%1 shapes").arg(shapes.size()) : shapes.join(", "),
                  "What the swarm repeats: " + shapes.join(", "),
                  {},
                  chosen.type() == ObjectType::stock,
                  true,
                  false,
                  false,
                  shapes.isEmpty(),
                  false,
                  1});
    formation_->show({"formation",
                      "Formation",
                      QString::fromStdString(formation.label),
                      "Where the instances stand",
                      {},
                      chosen.type() == ObjectType::formation,
                      true,
                      false,
                      false,
                      false,
                      false,
                      1});
    const int overlaps = evaluation_.overlapsOf(swarm_);
    const auto latest = evaluation_.latest();
    const bool stuck = latest && latest->problems.contains(swarm_);
    const QString count = stuck          ? "can't be made"
                          : !result      ? "…"
                          : overlaps > 0 ? grouped(result->visible) + " shown\n" + grouped(overlaps) + " overlap"
                                         : grouped(result->visible) + " shown";
    const QString tip =
        result ? QString("%1 instances, %2 shown%3")
                     .arg(grouped(result->count), grouped(result->visible),
                          result->notFinite ? QString(", %1 left out: their place is no number").arg(result->notFinite) : QString())
               : QString();
    QString told = stuck ? latest->problems.at(swarm_) : tip;
    if (overlaps >= 0 && result && !stuck) told += QString("\n%1 instances overlap another").arg(overlaps == 0 ? "No" : grouped(overlaps));
    for (const auto& note : result ? result->notes : std::vector<std::string>{}) told += "\n" + QString::fromStdString(note);
    result_->show(
        {"result", "Result", count, told, {}, chosen == swarm_, true, false, false, stuck || (result && result->notFinite > 0), false, 1});
    for (std::size_t i = 0; i < entries_.size(); ++i) {
        const Part& entry = scene.at(entries_[i]).part("entry");
        const Object& gesture = scene.at(referenceOf(entry, "gesture"));
        CardState state;
        state.icon = "gesture";
        for (const char* channel : {"colour", "scale", "rotation", "position"})
            if (switchOf(gesture.part("change"), channel)) state.icon = channel;
        state.name = QString::fromStdString(gesture.name);
        state.hasSwitch = true;
        state.on = switchOf(entry, "on");
        state.solo = document_.solo() == entries_[i];
        state.chosen = document_.chosen() == gesture.id;
        state.strength = numberAt(gesture.part("change"), "strength", document_.frame()) / 100;
        state.count = state.on ? "…" : "off";
        if (result && i < result->cards.size() && result->cards[i].entry == entries_[i]) {
            const Census& census = result->cards[i];
            state.strip = census.samples.strip;
            state.why = census.touched == 0 || census.seen == 0;
            state.trouble = state.why && state.on;
            state.count =
                !census.acts ? (state.on ? "not soloed" : "off") : QString("%1 · %2").arg(grouped(census.touched), grouped(census.seen));
            state.tip =
                QString("acts on %1 · seen at the end on %2\nstrength %3 %\nDrag to reorder, double-click to rename, right-click for more")
                    .arg(grouped(census.touched), grouped(census.seen))
                    .arg(state.strength * 100);
            const int cut = census.clippedWhere + census.clippedShaped;
            if (cut > 0) state.tip += QString("\nThe clip cuts %1 values").arg(grouped(cut));
        }
        cards_[i]->show(state);
    }
}

void Rail::openGallery() {
    if (!swarm_) return;
    if (!gallery_) {
        gallery_ = new Gallery(this);
        connect(gallery_, &Gallery::taken, this, [this](const Object& gesture) {
            const ObjectId made = document_.edit([&](const Scene& s) { return addGesture(s, swarm_, gesture); });
            if (made) document_.choose(made);
        });
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

void Rail::askWhy(ObjectId entry) {
    const auto result = evaluation_.resultOf(swarm_);
    if (!result) return;
    const auto why = whyNothing(document_.scene(), *result, entry, document_.solo());
    QMenu menu(this);
    menu.setObjectName("why");
    menu.addAction(why ? QString::fromStdString(why->reason) : "It acts, and what it does is seen.")->setEnabled(false);
    QAction* mend = nullptr;
    if (why && !why->mendLabel.empty()) mend = menu.addAction(QString::fromStdString(why->mendLabel));
    const auto at = std::find(entries_.begin(), entries_.end(), entry) - entries_.begin();
    RailCard* card = cards_[static_cast<std::size_t>(at)];
    if (menu.exec(card->mapToGlobal(QPoint(0, card->height()))) != mend || !mend) return;
    if (why->unsolo)
        document_.setSolo({});
    else
        document_.edit([&](const Scene&) { return *why->mend; });
}

void Rail::showMenu(ObjectId entry, const QPoint& at) {
    QMenu menu(this);
    QAction* solo = menu.addAction(document_.solo() == entry ? "End the solo" : "Solo");
    QAction* why = menu.addAction("Why?");
    menu.addSeparator();
    QAction* duplicate = menu.addAction("Duplicate, same zones");
    QAction* duplicateOwn = menu.addAction("Duplicate, zones of its own");
    QAction* away = menu.addAction("Delete");
    const QAction* done = menu.exec(at);
    if (done == solo) document_.setSolo(document_.solo() == entry ? ObjectId{} : entry);
    if (done == why) askWhy(entry);
    if (done == duplicate) document_.edit([&](const Scene& s) { return duplicateCard(s, entry, ZonesOfCopy::shared); });
    if (done == duplicateOwn) document_.edit([&](const Scene& s) { return duplicateCard(s, entry, ZonesOfCopy::own); });
    if (done == away) document_.edit([&](const Scene& s) { return remove(s, entry); });
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
