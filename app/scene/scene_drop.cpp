#include "app/scene/scene_drop.h"

#include <algorithm>
#include <QFileInfo>
#include <QMenu>

#include "app/document/importing.h"
#include "core/arrange/hang.h"
#include "core/edit/arrange_edits.h"
#include "core/edit/material_edits.h"
#include "core/edit/rail_edits.h"
#include "core/shape/shape_kind.h"

using namespace gswarm;

namespace {

struct Meaning {
    QString label;
    std::function<Edit(const Scene&)> make;
};

bool allAre(const std::vector<ObjectId>& things, ObjectType type) {
    return std::all_of(things.begin(), things.end(), [&](ObjectId id) { return id.type() == type; });
}

/// The entry of a swarm's rail in which a gesture stands, in the rail where another does.
ObjectId cardBeside(const Scene& scene, ObjectId gesture, ObjectId other) {
    for (const ObjectId entry : scene.referringTo(other)) {
        if (entry.type() != ObjectType::rail) continue;
        for (const ObjectId card : scene.at(scene.ownerOf(entry)).list("rail"))
            if (referenceOf(scene.at(card).part("entry"), "gesture") == gesture) return card;
    }
    return {};
}

int placeInRail(const Scene& scene, ObjectId card, ObjectId before) {
    const auto& rail = scene.at(scene.ownerOf(card)).list("rail");
    const auto from = std::find(rail.begin(), rail.end(), card) - rail.begin();
    const auto to = std::find_if(rail.begin(), rail.end(),
                                 [&](ObjectId entry) { return referenceOf(scene.at(entry).part("entry"), "gesture") == before; }) -
                    rail.begin();
    return static_cast<int>(to > from ? to - 1 : to);
}

std::vector<Meaning> betweenRows(const Scene& scene, const std::vector<ObjectId>& things, const Drop& drop) {
    const ObjectId first = things.front();
    if (first.type() == ObjectType::gesture && drop.onto.type() == ObjectType::gesture)
        if (const ObjectId card = cardBeside(scene, first, drop.onto))
            return {{"Move the card",
                     [card, before = drop.before](const Scene& s) { return moveInList(s, card, placeInRail(s, card, before)); }}};
    if (first.type() == drop.onto.type() && scene.ownerOf(first) && scene.ownerOf(first) == scene.ownerOf(drop.onto))
        return {{"Move it", [first, drop](const Scene& s) {
                     const Object& owner = s.at(s.ownerOf(first));
                     for (const auto& list : owner.lists) {
                         const auto from = std::find(list.begin(), list.end(), first),
                                    to = std::find(list.begin(), list.end(), drop.before);
                         if (from != list.end()) return moveInList(s, first, static_cast<int>((to > from ? to - 1 : to) - list.begin()));
                     }
                     return moveInList(s, first, 0);
                 }}};
    const Object* onto = scene.find(drop.onto);
    const ObjectId group = onto ? onto->group : ObjectId{};
    return {{"Move them", [things, drop, group](const Scene& s) {
                 Edit edit = moveToGroup(s, things, group);
                 edit.scene = moveBefore(edit.scene, things, drop.before.type() == things.front().type() ? drop.before : ObjectId{}).scene;
                 edit.label = "Move " + (things.size() == 1 ? s.at(things.front()).name : std::to_string(things.size()) + " things");
                 return edit;
             }}};
}

std::vector<Meaning> onRow(const Document& document, const std::vector<ObjectId>& things, ObjectId onto) {
    const Scene& scene = document.scene();
    const QString name = QString::fromStdString(scene.at(onto).name);
    std::vector<Meaning> all;
    if (onto.type() == ObjectType::group)
        return {{"Into " + name, [things, onto](const Scene& s) { return moveToGroup(s, things, onto); }}};
    if ((onto.type() == ObjectType::gesture || onto.type() == ObjectType::force) && allAre(things, ObjectType::zone))
        all.push_back({name + " acts there too", [things, onto](const Scene& s) {
                           return forEach(s, things, [&](const Scene& now, ObjectId zone) { return weaveZone(now, onto, zone); });
                       }});
    if (things.size() == 1 && allAre(things, ObjectType::material)) {
        const auto wear = [material = things.front()](const std::vector<ObjectId>& wearers) {
            return [material, wearers](const Scene& s) {
                return forEach(s, wearers, [&](const Scene& now, ObjectId wearer) { return useMaterial(now, wearer, material); });
            };
        };
        const Object& wearer = scene.at(onto);
        if (onto.type() == ObjectType::stock || onto.type() == ObjectType::shape) all.push_back({"Worn by " + name, wear({onto})});
        if (onto.type() == ObjectType::swarm && !wearer.list("stock").empty())
            all.push_back({"Worn by " + name, wear(wearer.list("stock"))});
    }
    if (onto.type() == ObjectType::swarm &&
        (allAre(things, ObjectType::shape) || allAre(things, ObjectType::light) || allAre(things, ObjectType::swarm)))
        all.push_back({name + " repeats it too", [things, onto](const Scene& s) {
                           return forEach(s, things, [&](const Scene& now, ObjectId shape) { return addStock(now, onto, shape); });
                       }});
    if (onto.type() == ObjectType::swarm && allAre(things, ObjectType::gesture))
        all.push_back({"Copy to " + name, [things, onto](const Scene& s) {
                           return forEach(s, things, [&](const Scene& now, ObjectId gesture) {
                               for (const ObjectId user : now.referringTo(gesture))
                                   if (user.type() == ObjectType::rail) return copyCard(now, user, onto);
                               throw std::logic_error("a gesture without a card");
                           });
                       }});
    for (const char* slot : {"formation", "entry"}) {
        if (things.size() != 1 || things.front().type() != ObjectType::shape || !scene.at(onto).holds(slot)) continue;
        const Part& part = scene.at(onto).part(slot);
        for (const Parameter& p : part.kind->parameters) {
            if (p.type != ParameterType::reference || p.references.front() != ObjectType::shape || !applies(p, part)) continue;
            if (!gives(static_cast<const ShapeKind&>(*scene.at(things.front()).part("maker").kind), p.needs)) continue;
            all.push_back({QString::fromStdString(p.label) + " of " + name, [shape = things.front(), onto, id = p.id](const Scene& s) {
                               return setValue(s, addressOf(s, onto, id), shape);
                           }});
        }
    }
    const auto canHang = [&](ObjectId id) { return scene.at(id).holds("hang"); };
    const bool hangs = onto.type() == ObjectType::mount || onto.type() == ObjectType::swarm || onto.type() == ObjectType::zone ||
                       onto.type() == ObjectType::camera;
    if (hangs && std::all_of(things.begin(), things.end(), canHang))
        all.push_back({"Hang from " + name, [things, onto, frame = document.frame(), &store = document.store()](const Scene& s) {
                           return forEach(s, things, [&](const Scene& now, ObjectId id) { return hang(now, id, onto, frame, store); });
                       }});
    return all;
}

}  // namespace

void dropThings(Document& document, const std::vector<ObjectId>& things, const Drop& drop, const QPoint& at, QWidget* window) {
    const Scene& scene = document.scene();
    const bool gone = std::any_of(things.begin(), things.end(), [&](ObjectId id) { return !scene.find(id) || id == drop.onto; });
    if (gone || (drop.onto && !scene.find(drop.onto))) return;
    const auto meanings = drop.between || !drop.onto ? betweenRows(scene, things, drop) : onRow(document, things, drop.onto);
    if (meanings.empty()) return;
    std::size_t taken = 0;
    if (meanings.size() > 1) {
        QMenu menu(window);
        menu.setObjectName("dropMenu");
        for (const Meaning& meaning : meanings) menu.addAction(meaning.label);
        const QAction* chosen = menu.exec(at);
        if (!chosen) return;
        taken = static_cast<std::size_t>(menu.actions().indexOf(chosen));
    }
    document.edit(meanings[taken].make);
    document.seal();
}

void dropFiles(Document& document, const QStringList& files, ObjectId onto, const QPoint& at, QWidget* window) {
    document.asOneStep("Import " + QFileInfo(files.front()).completeBaseName().toStdString(), [&] {
        const auto made = importing::make(document, files);
        if (made.empty()) return;
        const Scene before = document.scene();
        if (onto) dropThings(document, made, {onto, onto, false}, at, window);
        if (document.scene() == before) document.choose(made.back());
    });
}
