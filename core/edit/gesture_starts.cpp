#include "core/edit/gesture_starts.h"

#include "core/gesture/change.h"
#include "core/kinds/registry.h"
#include "core/pattern/pattern_kind.h"

namespace gswarm {
namespace {

void set(Object& gesture, std::string_view slot, std::string_view parameter, Value value) {
    Part& part = gesture.part(slot);
    part.values[static_cast<std::size_t>(part.kind->indexOf(parameter))] = std::move(value);
}

Object gestureWith(const char* name, const Kind& pattern, const Kind& kind = changeGesture) {
    return standardObject(
        ObjectType::gesture, name,
        {&kind, &pattern, kindsOf(Family::response).front(), kindsOf(Family::response).front(), kindsOf(Family::stagger).front()});
}

Object rise() {
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
Object hero() {
    Object g = gestureWith("Hero", steadyPattern);
    set(g, "change", "scale", true);
    set(g, "change", "scaleAmount", fixedNumbers({2, 2, 2}));
    set(g, "change", "scaleHasElsewhere", true);
    set(g, "change", "scaleElsewhere", fixedNumbers({0.7, 0.7, 0.7}));
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
Object moments() {
    Object g = gestureWith("Moments", numberPattern);
    set(g, "change", "time", true);
    set(g, "change", "timeAmount", fixedNumbers({-50}));
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
Object sound() {
    Object g = gestureWith("Sound", soundPattern);
    set(g, "change", "scale", true);
    set(g, "change", "scaleAmount", fixedNumbers({1, 4, 1}));
    set(g, "pattern", "read", std::string("bands"));
    // Most of what is listened to is music.
    set(g, "pattern", "tilt", fixedNumbers({3}));
    return g;
}
Object picture() {
    Object g = gestureWith("Picture", picturePattern);
    set(g, "change", "colour", true);
    set(g, "change", "source", std::string("driven"));
    set(g, "pattern", "channel", std::string("colour"));
    set(g, "pattern", "along", std::string("y"));
    return g;
}

Object ripple() {
    Object g = gestureWith("Ripple", distancePattern);
    set(g, "change", "position", true);
    set(g, "change", "positionAmount", fixedNumbers({0, 1, 0}));
    return g;
}
Object formula() {
    Object g = gestureWith("Formula", formulaPattern);
    set(g, "change", "position", true);
    return g;
}
Object aim() { return gestureWith("Aim", steadyPattern, aimGesture); }
Object swing() { return gestureWith("Swing", steadyPattern, swingGesture); }
Object makeRoom() { return gestureWith("Make room", steadyPattern, makeRoomGesture); }
Object fall() { return gestureWith("Fall", steadyPattern, bodiesGesture); }
/// Without weight, each on a spring to its place, until a zone lets a current of noise at them.
Object stir() {
    Object g = gestureWith("Stir", noisePattern, bodiesGesture);
    set(g, "change", "gravity", fixedNumbers({0}));
    set(g, "change", "ground", false);
    set(g, "change", "push", fixedNumbers({20, 20, 20}));
    set(g, "change", "strive", fixedNumbers({1}));
    set(g, "change", "turnStrive", fixedNumbers({1}));
    set(g, "change", "wakes", std::string("where"));
    return g;
}
Object snap() { return gestureWith("Snap", steadyPattern, snapGesture); }
Object stream() { return gestureWith("Stream", steadyPattern, streamGesture); }
Object travel() {
    Object g = gestureWith("Travel", steadyPattern, travelGesture);
    set(g, "when", "by", std::string("number"));
    auto keys = std::make_shared<const std::vector<Key>>(std::vector<Key>{{0, 0, Ease::eased}, {50, 100, Ease::eased}});
    set(g, "change", "strength", Numbers{{0, keys}});
    return g;
}
Object bend() { return gestureWith("Bend", steadyPattern, bendGesture); }
Object twist() { return gestureWith("Twist", steadyPattern, twistGesture); }
Object taper() { return gestureWith("Taper", steadyPattern, taperGesture); }
Object round() { return gestureWith("Round", steadyPattern, roundGesture); }
Object squash() { return gestureWith("Squash", steadyPattern, squashGesture); }
Object curl() { return gestureWith("Curl", steadyPattern, curlGesture); }
Object press() { return gestureWith("Press", steadyPattern, pressGesture); }
Object pressOut() {
    Object g = gestureWith("Press out", steadyPattern, pressGesture);
    set(g, "change", "meets", std::string("last"));
    set(g, "when", "by", std::string("random"));
    set(g, "follow", "driven", std::string("spring"));
    set(g, "follow", "damping", fixedNumbers({0.15}));
    auto keys = std::make_shared<const std::vector<Key>>(std::vector<Key>{{0, 0, Ease::eased}, {10, 100, Ease::eased}});
    set(g, "change", "strength", Numbers{{0, keys}});
    return g;
}
Object smooth() {
    Object g = gestureWith("Smooth", steadyPattern, smoothGesture);
    set(g, "change", "place", std::string("current"));
    return g;
}

}  // namespace

const std::vector<GestureStart>& gestureStarts() {
    static const std::vector<GestureStart> starts = {
        {"rise", "Rise", "Moves all by the same amount, or where a zone is", "move offset lift translate position", rise},
        {"scatter", "Scatter", "Moves each at random", "move jitter random offset strew", scatter},
        {"drift", "Drift", "Moves all softly, as in water; loops exactly", "noise move float turbulence organic", drift},
        {"wave", "Wave", "Sends crests through the swarm", "sine move ripple oscillate", wave},
        {"tumble", "Tumble", "Rotates each at random", "rotate random spin turn", tumble},
        {"randomSize", "Random size", "Scales each at random", "scale random variation", randomSize},
        {"hero", "Hero", "Makes one or the chosen ones larger and the rest smaller", "scale selection single focus main", hero, true},
        {"grow", "Grow", "Lets them appear one after the other", "scale appear reveal build intro start", grow},
        {"moments", "Moments", "Shows each a moment later than the one before", "time offset delay shift clip instance stagger swarms",
         moments},
        {"gild", "Gild", "Colours by height or along another axis", "colour color gradient ramp height", gild},
        {"picture", "Picture", "Colours by a picture, or by a simulated camera", "image photo mosaic video clip media colour color",
         picture},
        {"sound", "Sound", "Grows with the bands of a sound, or of a simulated microphone",
         "audio music beat spectrum equalizer react dance visualizer", sound},
        {"tint", "Tint", "Colours all, or where a zone is", "colour color material paint", tint},
        {"ripple", "Ripple", "Moves by the distance to a drawn curve or a surface", "distance falloff move curve", ripple},
        {"formula", "Formula", "Moves by what you write", "expression script code math", formula},
        {"aim", "Aim", "Points each at a thing or along its way", "look at target point face follow", aim},
        {"stream", "Stream", "Lets all travel endlessly through a box", "flow wrap endless conveyor particles", stream},
        {"travel", "Travel", "Takes each to another formation, one after the other", "morph transition formation move", travel},
        {"makeRoom", "Make room", "Moves apart what is nearer than its size", "push separate collide overlap spread relax", makeRoom},
        {"snap", "Snap", "Snaps positions, rotations or scales to steps", "quantize grid round steps", snap},
        {"swing", "Swing", "Lets what is finished swing or lag behind", "spring delay lag inertia overshoot follow bounce", swing},
        {"fall", "Fall", "Lets them fall, meet each other and come to rest",
         "physics gravity rigid body dynamics drop collide simulation pile", fall},
        {"stir", "Stir", "Lets what is woken drift, and strive home when left alone",
         "physics turbulence current disturb wake rigid body spring simulation", stir},
        {"press", "Press", "Takes each to what it meets along its normal", "shrink wrap project drape ray collide push skin", press},
        {"pressOut", "Press out", "Lets beads push it out, one after the other, ringing", "bulge swell pimple skin jelly blob spring",
         pressOut, false, "which"},
        {"bend", "Bend", "Bends all along an axis", "deform arc warp curve", bend},
        {"twist", "Twist", "Twists all about an axis", "deform screw spiral warp", twist},
        {"taper", "Taper", "Makes all narrower or wider along an axis", "deform cone pinch bulge warp", taper},
        {"round", "Round", "Takes all toward a ball, a tube or a box", "deform spherify sphere cylinder cube warp", round},
        {"squash", "Squash", "Squashes or stretches all and keeps the volume", "deform stretch flatten warp", squash},
        {"curl", "Curl", "Lays all along a curve", "deform path rope warp", curl},
        {"smooth", "Smooth", "Evens out sizes and colours among neighbours", "blur average relax soften", smooth},
    };
    return starts;
}

}  // namespace gswarm
