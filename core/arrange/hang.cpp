#include "core/arrange/hang.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/error.h"
#include "core/edit/edit_parts.h"
#include "core/provide/placing.h"
#include "core/provide/store.h"
#include "core/resolve/hanging.h"
#include "core/scene/address.h"
#include "core/scene/object_kinds.h"
#include "core/time/track.h"

namespace gswarm {
namespace {

bool readsFiles(const Part& maker) {
    return std::any_of(maker.kind->parameters.begin(), maker.kind->parameters.end(),
                       [&](const Parameter& p) { return p.type == ParameterType::file && !choiceOf(maker, p.id).empty(); });
}

/// Frames at which an object's place or turn has keys, and one more.
std::set<double> framesOfPlace(const Part& place, double also) {
    std::set<double> frames;
    for (const char* name : {"position", "rotation", "target"}) {
        if (place.kind->indexOf(name) < 0) continue;
        for (const Track& track : std::get<Numbers>(place[name]))
            if (track.keyed())
                for (const Key& key : *track.keys) frames.insert(key.frame);
    }
    if (frames.empty()) frames.insert(also);
    return frames;
}

bool movedInWords(const Track& track) { return track.formula || track.link; }

/// Sets three numbers at a frame: their keys where they have some. What a formula or a link moves stays as it is written.
void setThree(Part& place, const char* name, const glm::dvec3& values, double frame, bool keyed) {
    auto& numbers = std::get<Numbers>(place.values[static_cast<std::size_t>(place.kind->indexOf(name))]);
    for (int c = 0; c < 3; ++c) {
        Track& track = numbers[static_cast<std::size_t>(c)];
        if (movedInWords(track)) continue;
        const double rounded = std::round(values[c] * 1e6) / 1e6;
        track = keyed ? withKey(track, frame, rounded, Ease::eased) : Track{rounded};
    }
}

}  // namespace

Edit hang(const Scene& scene, ObjectId id, ObjectId to, double frame, Store& store) {
    const Object& object = scene.at(id);
    if (!object.holds("hang") || object.parts.front().kind->indexOf("position") < 0)
        throw Error("“" + object.name + "” has no position of its own that could hang from something.");
    if (to) {
        const int from = hangKind.indexOf(to.type() == ObjectType::shape ? "curve" : "from");
        checkValue(hangKind.parameters[static_cast<std::size_t>(from)], to, "What “" + object.name + "” hangs from");
    }
    const bool curve = to.type() == ObjectType::shape;
    if (curve && readsFiles(scene.at(to).part("maker")))
        throw Error("“" + scene.at(to).name +
                    "” reads its curves from a file, and a position can't follow those; draw a path along it instead.");
    Edit edit{scene, {}, {}, id};
    edit.label = !to ? object.name + ": stands on its own" : object.name + (curve ? ": follows " : ": hangs from ") + scene.at(to).name;
    Object& changed = edits::changed(edit.scene, id);
    edits::setText(changed, "hang", "by", !to ? "none" : curve ? "curve" : "object");
    if (to) edits::setReference(changed, "hang", curve ? "curve" : "from", to);
    if (const std::string circle = circleOfHanging(edit.scene, id); !circle.empty())
        throw Error("That would make a circle of hanging: " + circle + ". It was kept as it was.");
    Part& place = changed.parts.front();
    if (curve) {
        for (const char* name : {"position", "rotation"})
            if (place.kind->indexOf(name) >= 0) setThree(place, name, {0, 0, 0}, frame, false);
        return edit;
    }
    const auto hasWords = [&place](const char* name) {
        if (place.kind->indexOf(name) < 0) return false;
        const auto& numbers = std::get<Numbers>(place[name]);
        return std::any_of(numbers.begin(), numbers.end(), movedInWords);
    };
    if (hasWords("position") || hasWords("rotation") || hasWords("target")) edit.label += "; its formulas and links count from there";
    const auto frames = framesOfPlace(place, frame);
    const bool keyed = framesOfPlace(place, -1e9).count(-1e9) == 0;
    const Scene hung = edit.scene;  // bases are read before the place is changed
    for (const double at : frames) {
        const WorldPose base = baseOf(hung, id, at, store), world = poseAt(scene, id, at, store);
        setThree(place, "position", base.fromWorld(world.position), at, keyed);
        if (id.type() == ObjectType::camera)
            setThree(place, "target", base.fromWorld(cameraAt(scene, id, at, store).target), at, keyed);
        else if (place.kind->indexOf("rotation") >= 0)
            setThree(place, "rotation", glm::dvec3(turnsFromRotation(glm::conjugate(base.rotation) * world.rotation)) * 57.29577951308232,
                     at, keyed);
    }
    return edit;
}

}  // namespace gswarm
