#include "core/explain/why.h"

#include <algorithm>
#include <cmath>

#include "core/gesture/gesture_kind.h"
#include "core/resolve/resolve.h"

namespace gswarm {
namespace {

Why mended(std::string reason, std::string label, Edit edit) { return {std::move(reason), std::move(label), std::move(edit), false}; }
Why told(std::string reason) { return {std::move(reason), {}, {}, false}; }
Why passing(Why why) {
    why.passing = true;
    return why;
}

Edit set(const Scene& scene, ObjectId object, const char* parameter, Value value) {
    return setValue(scene, addressOf(scene, object, parameter), value);
}

/// Whether a gesture says what to change.
bool anyChannel(const Part& change) {
    const auto& channels = gestureKindOf(change).channels;
    return channels.empty() || std::any_of(channels.begin(), channels.end(), [&](const auto& c) { return switchOf(change, c); });
}

/// Why the amounts of the channels that are on change nothing, if that is so.
std::optional<std::string> emptyAmount(const Scene& scene, const Part& change, double frame) {
    const GestureKind& kind = gestureKindOf(change);
    if (!kind.stillAmount) return std::nullopt;
    const std::string why = kind.stillAmount(
        change, [&](const char* parameter, int component) { return numberAt(scene, change, parameter, frame, component); });
    return why.empty() ? std::nullopt : std::optional(why);
}

std::optional<Why> zoneReason(const Scene& scene, const Object& gesture, double frame) {
    for (const ObjectId id : gesture.list("weave")) {
        const Part& entry = scene.at(id).part("entry");
        const ObjectId zoneId = referenceOf(entry, "zone");
        const Object* zone = scene.find(zoneId);
        if (!zone) continue;  // a group
        if (!switchAt(scene, zone->part("place"), "on", frame))
            return mended("Its zone “" + zone->name + "” is off.", "Switch it on", set(scene, zoneId, "on", true));
    }
    return std::nullopt;
}

/// Moves the first zone of the weave to the middle of the instances.
Why zoneElsewhere(const Scene& scene, const Object& gesture, const Result& result) {
    const ObjectId zoneId = referenceOf(scene.at(gesture.list("weave").front()).part("entry"), "zone");
    const Object* zone = scene.find(zoneId);
    if (!zone || !static_cast<const ZoneKind*>(zone->part("form").kind)->outline)
        return told("What its weave gives is 0 on every instance.");
    const glm::vec3 middle = result.pose.toWorld(result.bounds.centre());
    Edit edit{scene, {}, {}, {}};
    for (int c = 0; c < 3; ++c)
        edit =
            setNumber(edit.scene, addressOf(edit.scene, zoneId, "position", c), std::round(middle[c] * 100.0) / 100.0, result.moment.frame);
    edit.label = "Bring " + scene.at(zoneId).name + " to the instances";
    edit.mergeKey.clear();
    return mended("Its zone “" + scene.at(zoneId).name + "” is elsewhere at this frame: no instance lies inside.", "Bring it here",
                  std::move(edit));
}

Why untouched(const Scene& scene, const Object& gesture, const Result& result) {
    const double frame = result.moment.frame;
    if (numberAt(scene, gesture.part("change"), "strength", frame) == 0)
        return passing(mended("Its strength is 0 % at this frame.", "Set it to 100 %",
                              setNumber(scene, addressOf(scene, gesture.id, "strength"), 100, frame)));
    const Part& where = gesture.part("where");
    if (numberAt(scene, where, "inLow", frame) == numberAt(scene, where, "inHigh", frame) ||
        (numberAt(scene, where, "outLow", frame) == 0 && numberAt(scene, where, "outHigh", frame) == 0)) {
        Edit edit = setKind(scene, gesture.id, "where", *where.kind);
        for (const auto& [parameter, value] :
             {std::pair{"where-inLow", 0.0}, {"where-inHigh", 1.0}, {"where-outLow", 0.0}, {"where-outHigh", 1.0}})
            edit = setNumber(edit.scene, addressOf(edit.scene, gesture.id, parameter), value, frame);
        edit.mergeKey.clear();
        return mended("The range under Where is empty.", "Make it 0 to 1", std::move(edit));
    }
    if (auto zone = zoneReason(scene, gesture, frame)) return *zone;
    if (choiceOf(gesture.part("when"), "by") != "none" && std::get<Numbers>(gesture.part("change")["strength"])[0].keyed())
        return passing(told("Its stagger has not reached any instance at this frame; go on in time or start it earlier."));
    if (!gesture.list("weave").empty()) return passing(zoneElsewhere(scene, gesture, result));
    return passing(told("Its weight is 0 on every instance."));
}

}  // namespace

namespace {

/// What a card waits for, with a mend where one is plain.
Why waiting(const Scene& scene, const Object& gesture, const std::string& sentence) {
    for (const ObjectId id : gesture.list("weave")) {
        const Object& entry = scene.at(id);
        if (entry.list("group").empty() && !scene.find(referenceOf(entry.part("entry"), "zone")))
            return mended("It waits. " + sentence, "Take the entry out", remove(scene, id));
    }
    return told("It waits. " + sentence);
}

}  // namespace

std::optional<Why> whyNothing(const Scene& scene, const Result& result, ObjectId railEntry, ObjectId solo) {
    const auto census = std::find_if(result.cards.begin(), result.cards.end(), [&](const Census& c) { return c.entry == railEntry; });
    if (census == result.cards.end() || (census->touched > 0 && census->seen > 0)) return std::nullopt;
    const Part& entry = scene.at(railEntry).part("entry");
    const Object* found = scene.find(referenceOf(entry, "gesture"));
    if (!found) return mended("The gesture it refers to is not in the project.", "Take the card out", remove(scene, railEntry));
    const Object& gesture = *found;
    if (!switchAt(scene, entry, "on", result.moment.frame))
        return mended("The card is off.", "Switch it on", set(scene, railEntry, "on", true));
    if (solo && solo != railEntry) return Why{"Another card is soloed.", "End the solo", {}, true};
    if (!census->waits.empty()) return waiting(scene, gesture, census->waits);
    if (!anyChannel(gesture.part("change")))
        return mended("No channel is on: it does not say what to change.", "Change the position",
                      set(scene, gesture.id, gesture.part("change").kind->indexOf("position") >= 0 ? "position" : "scale", true));
    if (census->notFinite > 0 && census->notFinite == result.count)
        return told("Its formula gives no valid number for any instance; they were left as they were.");
    if (census->touched == 0) return untouched(scene, gesture, result);
    if (const auto amount = emptyAmount(scene, gesture.part("change"), result.moment.frame)) return told("It acts, but " + *amount + ".");
    if (result.visible == 0) return told("It acts, but every instance is hidden: a scale of 0 or less stands later in the rail.");
    const auto later = std::find_if(census + 1, result.cards.end(), [](const Census& c) { return c.acts && c.seen > 0; });
    if (later != result.cards.end()) {
        return mended("It acts, but “" + nameOfCard(scene, later->entry) + "” comes later and goes the whole way to its own value.",
                      "Move this card behind it", moveInList(scene, railEntry, static_cast<int>(later - result.cards.begin())));
    }
    return told("It acts, but " + static_cast<const GestureKind*>(gesture.part("change").kind)->stillReason + ".");
}

}  // namespace gswarm
