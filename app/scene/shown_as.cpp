#include "app/scene/shown_as.h"

#include "core/base/error.h"
#include "core/edit/key_edits.h"
#include "core/resolve/resolve.h"

using namespace gswarm;

QString shownAs(const Scene& scene, ObjectId id) {
    if (id.type() == ObjectType::shape) return QString::fromStdString(choiceOf(scene.at(id).part("display"), "as"));
    if (id.type() == ObjectType::swarm) return switchOf(scene.at(id).part("place"), "shown") ? "shown" : "hidden";
    return {};
}

Edit withNextShown(const Scene& scene, ObjectId id, double frame) {
    if (id.type() == ObjectType::swarm)
        return setSwitch(scene, addressOf(scene, id, "shown"), !switchAt(scene, scene.at(id).part("place"), "shown", frame), frame);
    if (id.type() != ObjectType::shape) throw Error("“" + scene.at(id).name + "” has nothing to show or to hide.");
    const QString now = shownAs(scene, id);
    return setValue(scene, addressOf(scene, id, "display-as"),
                    std::string(now == "shown"    ? "dimmed"
                                : now == "dimmed" ? "hidden"
                                                  : "shown"));
}
