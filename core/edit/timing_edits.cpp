#include "core/edit/timing_edits.h"

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/edit/key_edits.h"
#include "core/resolve/resolve.h"

namespace gswarm {
namespace {

std::vector<KeyPlace> allKeys(const Scene& scene, ObjectId gesture) {
    std::vector<KeyPlace> out;
    for (const Address& number : keyedNumbers(scene, gesture))
        for (const Key& key : *trackAt(scene, number).keys) out.push_back({number, key.frame});
    return out;
}

bool staggers(const Object& gesture) { return choiceOf(gesture.part("when"), "by") != "none"; }

Timing needed(const Scene& scene, ObjectId gesture) {
    if (const auto timing = timingOf(scene, gesture, 0)) return *timing;
    throw Error("“" + scene.at(gesture).name + "” has no keys whose time could be set; key its strength first.");
}

Edit named(Edit edit, const Scene& scene, ObjectId gesture, const std::string& what) {
    edit.label = scene.at(gesture).name + ": " + what;
    edit.mergeKey = toText(gesture) + what;
    return edit;
}

}  // namespace

std::optional<Timing> timingOf(const Scene& scene, ObjectId id, double frame) {
    const Object& gesture = scene.at(id);
    const auto keys = allKeys(scene, id);
    if (keys.empty()) return std::nullopt;
    const auto [first, last] = spanOf(keys);
    const double over = staggers(gesture) ? numberAt(scene, gesture.part("when"), "over", frame) : 0;
    return Timing{first, last - first, first + std::max(over, 0.0), trackAt(scene, keys.front().number).keys->front().ease};
}

Edit growFrom(const Scene& scene, ObjectId gesture, double frame) {
    const Address strength = addressOf(scene, gesture, "strength");
    Numbers numbers = std::get<Numbers>(valueOf(scene, strength));
    const double rate = std::round(momentAt(scene, 0).rate);
    numbers.front().formula.reset();
    numbers.front().link.reset();
    numbers.front().keys = std::make_shared<const std::vector<Key>>(std::vector<Key>{{frame, 0}, {frame + rate, 100}});
    Edit edit = setValue(scene, strength, numbers);
    edit.mergeKey.clear();
    edit.label = scene.at(gesture).name + ": grows from 0 to 100 %";
    return edit;
}

Edit setEach(const Scene& scene, ObjectId gesture, double frames) {
    const Timing timing = needed(scene, gesture);
    if (!(frames >= 1)) throw Error("Each instance takes at least one frame; it was kept.");
    if (timing.each == 0) throw Error("“" + scene.at(gesture).name + "” has keys at one frame only; add another one.");
    return named(stretchKeys(scene, allKeys(scene, gesture), timing.first, frames / timing.each), scene, gesture,
                 "each takes another time");
}

Edit setLastStart(const Scene& scene, ObjectId gesture, double frame) {
    const Timing timing = needed(scene, gesture);
    const double over = std::max(frame - timing.first, 0.0);
    Edit edit{scene, {}, {}, {}};
    if (!staggers(scene.at(gesture)) && over > 0)
        edit.scene = setValue(edit.scene, addressOf(edit.scene, gesture, "when-by"), std::string("number")).scene;
    edit.scene = setNumber(edit.scene, addressOf(edit.scene, gesture, "when-over"), over, 0).scene;
    return named(edit, scene, gesture, "the last starts at another time");
}

Edit setDone(const Scene& scene, ObjectId gesture, double frame) {
    const Timing timing = needed(scene, gesture);
    if (frame < timing.first + timing.each)
        throw Error("Each takes " + std::to_string(std::lround(timing.each)) + " frames, so all can't be done before frame " +
                    std::to_string(std::lround(timing.first + timing.each)) + "; it was kept.");
    return named(setLastStart(scene, gesture, frame - timing.each), scene, gesture, "all done at another time");
}

Edit setGrowthEase(const Scene& scene, ObjectId gesture, Ease ease) {
    needed(scene, gesture);
    return setKeyEase(scene, allKeys(scene, gesture), ease);
}

}  // namespace gswarm
