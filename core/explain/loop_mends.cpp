// What closes the seam of a loop.
#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/edit/import_edits.h"
#include "core/edit/key_edits.h"
#include "core/explain/loop_check.h"
#include "core/gesture/gesture_kind.h"
#include "core/memory/memory.h"
#include "core/resolve/resolve.h"
#include "core/scene/object_kinds.h"
#include "core/time/track.h"

namespace gswarm {
namespace {

/// One value in a slot after another, as one edit.
struct Changing {
    Edit edit;
    ObjectId object;
    std::string prefix;

    void set(const std::string& parameter, const Value& value) {
        edit.scene = setValue(edit.scene, addressOf(edit.scene, object, prefix + parameter), value).scene;
    }
};

double numberNow(const Scene& scene, const Part& part, const char* parameter, int component = 0) {
    return numberAt(scene, part, parameter, firstFrameOf(scene), component);
}

/// A speed becomes laps: of the pattern or of the gesture itself.
void addSpeed(const Scene& scene, const Object& object, std::size_t slot, std::vector<LoopMend>& mends) {
    const Part& part = object.parts[slot];
    if (!part.kind->inLaps) return;
    const Moment moment = momentAt(scene, 0);
    const NumberNow now = [&](const char* parameter, int component) { return numberNow(scene, part, parameter, component); };
    const auto laps = part.kind->inLaps(part, now, moment.loopFrames / moment.rate);
    if (!laps) return;
    Changing change{{scene, {}, {}, {}}, object.id, classOf(object.id.type()).slotInfos[slot].prefix};
    for (const auto& [parameter, value] : laps->values) change.set(parameter, value);
    change.edit.label = object.name + ": " + laps->told;
    mends.push_back({object.id, change.edit.label, change.edit});
}

void addMemory(const Scene& scene, const Object& gesture, std::vector<LoopMend>& mends) {
    const Part& follow = gesture.part("follow");
    Changing change{{scene, gesture.name + ": the memory starts one loop early", {}, {}}, gesture.id, ""};
    bool any = false;
    if ((choiceOf(follow, "weight") != "none" || choiceOf(follow, "driven") != "none") && !switchOf(follow, "loops"))
        change.set("follow-loops", true), any = true;
    const GestureKind& kind = gestureKindOf(gesture.part("change"));
    if (kind.startsEarly && !kind.startsEarly(gesture.part("change"))) change.set("loops", true), any = true;
    if (any) mends.push_back({gesture.id, change.edit.label, change.edit});
}

bool comesBack(const Parameter& p, double a, double b) {
    double away = std::abs(b - a);
    if (p.type == ParameterType::angle) away = std::abs(std::remainder(b - a, 360));
    if (p.id == "along") away = std::abs(std::remainder(b - a, 100));
    return away <= 1e-6 * std::max({1.0, std::abs(a), std::abs(b)});
}

/// Keys that do not come back get one more, a loop after the first frame.
void addKeys(const Scene& scene, const Object& object, std::vector<LoopMend>& mends) {
    const double first = firstFrameOf(scene), last = first + momentAt(scene, 0).loopFrames;
    for (const Address& number : keyedNumbers(scene, object.id)) {
        const Track& track = trackAt(scene, number);
        const Parameter& p = parameterAt(scene, number);
        const double begins = keyedValueAt(track, first);
        if (comesBack(p, begins, keyedValueAt(track, last))) continue;
        std::vector<Key> keys = *track.keys;
        std::erase_if(keys, [last](const Key& key) { return key.frame >= last; });
        keys.push_back({last, begins});
        Numbers numbers = std::get<Numbers>(valueOf(scene, number));
        numbers[static_cast<std::size_t>(std::max(number.component, 0))] = withKeys(track, std::move(keys));
        Edit edit = setValue(scene, {number.object, number.slot, number.parameter, -1}, numbers);
        edit.label = nameOf(scene, number) + ": comes back to where it begins";
        edit.mergeKey.clear();
        mends.push_back({object.id, edit.label, edit});
    }
}

/// A sound that is followed repeats a part as long as the loop; one whose part goes into it a whole number of times is left alone.
void addSound(const Scene& scene, const Object& sound, std::vector<LoopMend>& mends) {
    if (fileParameter(*sound.part("sound").kind) < 0 || scene.referringTo(sound.id).empty()) return;
    const Part& laid = sound.part("laid");
    const Moment moment = momentAt(scene, 0);
    const double seconds = moment.loopFrames / moment.rate, from = numberNow(scene, laid, "from"), to = numberNow(scene, laid, "to");
    const bool repeats = choiceOf(laid, "beyond") == "repeat";
    const double laps = to > from ? seconds / (to - from) : 1;
    if (repeats && std::abs(laps - std::round(laps)) < 1e-4) return;
    Changing change{{scene, sound.name + ": a part as long as the loop repeats", {}, {}}, sound.id, "laid-"};
    change.set("beyond", std::string("repeat"));
    change.set("to", fixedNumbers({from + seconds}));
    mends.push_back({sound.id, change.edit.label, change.edit});
}

/// What is repeated at other moments goes round the loop.
void addMoments(const Scene& scene, const Object& entry, std::vector<LoopMend>& mends) {
    const Part& part = entry.part("entry");
    const Object* shown = scene.find(referenceOf(part, "shape"));
    const ObjectId swarm = scene.ownerOf(entry.id);
    if (!shown || !swarm || !switchOf(part, "ownMoment") || switchOf(part, "roundLoop") || !shiftsTimes(scene, swarm)) return;
    if (shown->id.type() == ObjectType::light) return;
    Changing change{{scene, scene.at(swarm).name + ": " + shown->name + " goes round the loop", {}, {}}, entry.id, ""};
    change.set("roundLoop", true);
    mends.push_back({entry.id, change.edit.label, change.edit});
}

}  // namespace

std::vector<LoopMend> loopMends(const Scene& scene, ObjectId wanted) {
    std::vector<LoopMend> mends;
    for (const auto& [id, object] : scene.objects) {
        if (wanted && id != wanted) continue;
        for (std::size_t slot = 0; slot < object->parts.size(); ++slot) addSpeed(scene, *object, slot, mends);
        if (id.type() == ObjectType::gesture) addMemory(scene, *object, mends);
        addKeys(scene, *object, mends);
        if (id.type() == ObjectType::stock) addMoments(scene, *object, mends);
        if (id.type() == ObjectType::sound) addSound(scene, *object, mends);
    }
    return mends;
}

Edit makeLoop(const Scene& scene, ObjectId object) {
    Edit edit{scene, (object ? scene.at(object).name : std::string("The project")) + ": make it loop", {}, {}};
    // Each mend is made anew from the scene that the ones before it left.
    bool any = false;
    for (auto mends = loopMends(scene, object); !mends.empty(); mends = loopMends(edit.scene, object)) {
        edit.scene = mends.front().edit.scene;
        any = true;
    }
    if (!any) throw Error("Nothing here has a speed, open keys or a memory that would keep it from looping.");
    return edit;
}

}  // namespace gswarm
