#include "core/scene/gesture_starts.h"

#include "core/gesture/change.h"
#include "core/pattern/pattern_kind.h"

namespace gswarm {
namespace {

void set(Object& gesture, std::string_view slot, std::string_view parameter, Value value) {
    Part& part = gesture.part(slot);
    part.values[static_cast<std::size_t>(part.kind->indexOf(parameter))] = std::move(value);
}

Object gestureWith(const char* name, const Kind& pattern) {
    return standardObject(
        ObjectType::gesture, name,
        {&changeGesture, &pattern, kindsOf(Family::response).front(), kindsOf(Family::response).front(), kindsOf(Family::stagger).front()});
}

Object lift() {
    Object g = gestureWith("Rise", steadyPattern);
    set(g, "change", "position", true);
    return g;
}
Object scatter() {
    Object g = gestureWith("Scatter", randomPattern);
    set(g, "change", "position", true);
    set(g, "change", "positionAmount", fixedNumbers({0.4, 0.4, 0.4}));
    return g;
}
Object drift() {
    Object g = gestureWith("Drift", noisePattern);
    set(g, "change", "position", true);
    set(g, "change", "positionAmount", fixedNumbers({0.5, 0.5, 0.5}));
    return g;
}
Object tumble() {
    Object g = gestureWith("Tumble", randomPattern);
    set(g, "change", "rotation", true);
    set(g, "change", "rotationAmount", fixedNumbers({180, 180, 180}));
    return g;
}
Object randomSize() {
    Object g = gestureWith("Random size", randomPattern);
    set(g, "change", "scale", true);
    set(g, "pattern", "sameOnAllAxes", true);
    return g;
}
Object wave() {
    Object g = gestureWith("Wave", wavePattern);
    set(g, "change", "position", true);
    set(g, "change", "positionAmount", fixedNumbers({0, 0.5, 0}));
    set(g, "pattern", "along", std::string("direction"));
    return g;
}
Object grow() {
    Object g = gestureWith("Grow", steadyPattern);
    set(g, "change", "scale", true);
    set(g, "change", "scaleAmount", fixedNumbers({0, 0, 0}));
    set(g, "when", "by", std::string("number"));
    auto keys = std::make_shared<const std::vector<Key>>(std::vector<Key>{{0, 100, Ease::eased}, {25, 0, Ease::eased}});
    set(g, "change", "strength", Numbers{{100, keys}});
    return g;
}
Object gild() {
    Object g = gestureWith("Gild", alongAxisPattern);
    set(g, "change", "colour", true);
    set(g, "change", "source", std::string("ramp"));
    return g;
}
Object tint() {
    Object g = gestureWith("Tint", steadyPattern);
    set(g, "change", "colour", true);
    return g;
}

}  // namespace

const std::vector<GestureStart>& gestureStarts() {
    static const std::vector<GestureStart> starts = {
        {"lift", "Rise", "Moves all by the same amount, or where a zone is", lift},
        {"scatter", "Scatter", "Moves each by chance", scatter},
        {"drift", "Drift", "Moves all softly, as in water; loops exactly", drift},
        {"wave", "Wave", "Sends crests through the swarm", wave},
        {"tumble", "Tumble", "Turns each by chance", tumble},
        {"randomSize", "Random size", "Sizes each by chance", randomSize},
        {"grow", "Grow", "Lets them appear one after the other", grow},
        {"gild", "Gild", "Colours by height or along another axis", gild},
        {"tint", "Tint", "Colours all, or where a zone is", tint},
    };
    return starts;
}

}  // namespace gswarm
