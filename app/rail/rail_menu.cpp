// What a right click on a card offers, and Why?
#include "app/rail/rail.h"

#include <algorithm>
#include <QMenu>

#include "app/document/evaluation.h"
#include "core/edit/rail_edits.h"
#include "core/explain/why.h"

using namespace gswarm;

void Rail::askWhy(ObjectId entry) {
    const auto result = evaluation_.resultOf(swarm_);
    if (!result) return;
    const auto why = whyNothing(document_.scene(), *result, entry, document_.solo());
    QMenu menu(this);
    menu.setObjectName("why");
    menu.addAction(why ? QString::fromStdString(why->reason) : "It acts, and what it does is seen.")->setEnabled(false);
    std::optional<double> acts;
    QAction* go = nullptr;
    if (why && why->passing) {
        go = menu.addAction("Looking for a frame where it acts …");
        go->setEnabled(false);
        const auto tell = [&] {
            const ActingFrames* card = evaluation_.actingOf(entry);
            if (!card) return;
            acts = nearestActing(*card, document_.frame());
            go->setVisible(acts.has_value());
            go->setEnabled(acts.has_value());
            if (acts) go->setText(QString("Go to frame %1, where it acts").arg(*acts));
        };
        connect(&evaluation_, &Evaluation::actingKnown, &menu, tell);
        tell();
    }
    QAction* mend = nullptr;
    if (why && !why->mendLabel.empty()) mend = menu.addAction(QString::fromStdString(why->mendLabel));
    const auto at = std::find(entries_.begin(), entries_.end(), entry) - entries_.begin();
    RailCard* card = cards_[static_cast<std::size_t>(at)];
    QAction* taken = menu.exec(card->mapToGlobal(QPoint(0, card->height())));
    if (!taken) return;
    if (taken == go)
        document_.setFrame(*acts);
    else if (taken != mend)
        return;
    else if (why->unsolo)
        document_.setSolo({});
    else
        document_.edit([&](const Scene&) { return *why->mend; });
}

/// One entry for each other swarm.
void Rail::addSwarms(QMenu& menu, const QString& title, const std::function<Edit(const Scene&, ObjectId swarm)>& make) {
    QMenu* swarms = menu.addMenu(title);
    for (const ObjectId other : document_.scene().all(ObjectType::swarm)) {
        if (other == swarm_) continue;
        swarms->addAction(QString::fromStdString(document_.scene().at(other).name), this,
                          [this, make, other] { document_.edit([&](const Scene& s) { return make(s, other); }); });
    }
    swarms->setEnabled(!swarms->isEmpty());
}

void Rail::showMenu(ObjectId entry, const QPoint& at) {
    const Object* card = document_.scene().find(entry);
    if (!card) return;
    const ObjectId gesture = referenceOf(card->part("entry"), "gesture");
    QMenu menu(this);
    menu.setObjectName("cardMenu");
    const auto edit = [this](const Document::MakeEdit& make) { return [this, make] { document_.edit(make); }; };
    menu.addAction(document_.solo() == entry ? "End the solo" : "Solo", this,
                   [this, entry] { document_.setSolo(document_.solo() == entry ? ObjectId{} : entry); });
    menu.addAction("Why?", this, [this, entry] { askWhy(entry); });
    menu.addAction("Nine values side by side", this, [this, gesture] {
        if (document_.scene().find(gesture)) document_.vary(variedNumber(document_.scene(), gesture));
    });
    menu.addSeparator();
    menu.addAction("Duplicate, same zones", this, edit([entry](const Scene& s) { return duplicateCard(s, entry, ZonesOfCopy::shared); }));
    menu.addAction("Duplicate, zones of its own", this,
                   edit([entry](const Scene& s) { return duplicateCard(s, entry, ZonesOfCopy::own); }));
    addSwarms(menu, "Copy to", [entry](const Scene& s, ObjectId to) { return copyCard(s, entry, to); });
    addSwarms(menu, "Share with", [entry](const Scene& s, ObjectId to) { return shareCard(s, entry, to); });
    if (usersOf(document_.scene(), gesture) > 1)
        menu.addAction("Give this swarm its own copy", this, edit([entry](const Scene& s) { return giveOwnCopy(s, entry); }));
    menu.addSeparator();
    addSwarms(menu, "Copy the whole rail to", [from = swarm_](const Scene& s, ObjectId to) { return copyRail(s, from, to); });
    addSwarms(menu, "Share the whole rail with", [from = swarm_](const Scene& s, ObjectId to) { return shareRail(s, from, to); });
    menu.addSeparator();
    menu.addAction("Delete", this, edit([entry](const Scene& s) { return remove(s, entry); }));
    menu.exec(at);
}
