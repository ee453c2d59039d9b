// The last cards of the rail: copies of the whole result.
#include <algorithm>
#include <QMenu>

#include "app/document/evaluation.h"
#include "app/rail/rail.h"
#include "app/theme/theme.h"
#include "core/arrange/symmetry_edits.h"
#include "core/resolve/resolve.h"

using namespace gswarm;

void Rail::addSymmetryOf(const SymmetryKind& kind) {
    const ObjectId made = document_.edit([&](const Scene& s) { return addSymmetry(s, swarm_, kind, evaluation_.resultOf(swarm_).get()); });
    if (made) document_.choose(made);
}

void Rail::connectSymmetry(RailCard* card, ObjectId symmetry) {
    connect(card, &RailCard::chosen, this, [this, symmetry] { document_.click(symmetry); });
    connect(card, &RailCard::switched, this, [this, symmetry](bool on) {
        document_.edit([&](const Scene& s) { return setValue(s, addressOf(s, symmetry, "on"), on); });
        document_.seal();
    });
    connect(card, &RailCard::menuAsked, this, [this, symmetry](const QPoint& at) { showSymmetryMenu(symmetry, at); });
    connect(card, &RailCard::renameAsked, this, [this, symmetry] {
        document_.choose(symmetry);
        emit renameAsked();
    });
    connect(card, &RailCard::stepped, this, [this, card](int direction) { step(card->index(), direction); });
    const auto moveTo = [this, symmetry](std::ptrdiff_t to) {
        document_.edit([&](const Scene& s) { return moveInList(s, symmetry, static_cast<int>(to)); });
    };
    const auto placeNow = [this, symmetry] { return std::find(symmetries_.begin(), symmetries_.end(), symmetry) - symmetries_.begin(); };
    connect(card, &RailCard::moveAsked, this, [placeNow, moveTo](int direction) { moveTo(placeNow() + direction); });
    connect(card, &RailCard::dropped, this, [this, placeNow, moveTo](int globalX) {
        std::ptrdiff_t to = std::count_if(symmetryCards_.begin(), symmetryCards_.end(), [globalX](const RailCard* other) {
            return other->mapToGlobal(other->rect().center()).x() < globalX;
        });
        if (to > placeNow()) --to;
        if (to != placeNow()) moveTo(to);
    });
}

void Rail::showSymmetryMenu(ObjectId symmetry, const QPoint& at) {
    if (!document_.scene().find(symmetry)) return;
    QMenu menu(this);
    menu.setObjectName("cardMenu");
    const auto edit = [this](const Document::MakeEdit& make) { return [this, make] { document_.edit(make); }; };
    menu.addAction("Duplicate", this, edit([symmetry](const Scene& s) { return duplicateSymmetry(s, symmetry); }));
    menu.addAction("Delete", this, edit([symmetry](const Scene& s) { return remove(s, symmetry); }));
    menu.exec(at);
}

CardState Rail::symmetryState(ObjectId id) const {
    const Scene& scene = document_.scene();
    const Part& part = scene.at(id).part("symmetry");
    const auto& kind = static_cast<const SymmetryKind&>(*part.kind);
    CardState state;
    state.icon = "symmetry";
    state.name = QString::fromStdString(scene.at(id).name);
    state.hasSwitch = true;
    state.on = switchAt(scene, part, "on", document_.frame());
    state.chosen = document_.chosen() == id;
    state.tip = QString::fromStdString(kind.summary) + "\nDrag to reorder, double-click to rename, right-click for more";
    const ResolvedPart now = resolve(scene, part, document_.frame());
    state.count = state.on ? "× " + theme::grouped(static_cast<qint64>(kind.copies(now.data.get()).size())) : QString("off");
    return state;
}
