// The table of Change, and what it needs to know of the swarm before it runs.
#include <algorithm>

#include "core/base/error.h"
#include "core/gesture/change.h"

namespace gswarm {
namespace {

void prepare(Change& change, const RailSource& source) {
    if (change.rotation && change.rotationMode == ChangeMode::by && change.turnAbout == TurnAbout::toward)
        change.towardPlace = source.swarm.fromWorld(source.pose(change.turnToward).position);
    if (change.value) change.valueColumn = source.column(change.valueOf);
    if (!change.shape) return;
    change.stock = source.stock();
    if (change.shapeBy == ShapeBy::driven) return;
    const auto& entries = change.stock.entries;
    const auto found = std::find_if(entries.begin(), entries.end(), [&](const auto& e) { return e.id == change.shapeEntry; });
    if (found == entries.end()) throw Error("The shape it changes to is not in this swarm's stock; choose one of the stock.");
    change.shapeVariant = found->first;
    change.shapeVariants = found->count;
}

std::vector<Choice> byTo() { return {{"by", "By"}, {"to", "To"}}; }
std::vector<Choice> byAxes() { return {{"swarm", "Swarm"}, {"world", "World"}, {"own", "Own"}, {"normal", "Normal"}}; }
std::vector<Choice> toAxes() { return {{"swarm", "Swarm"}, {"world", "World"}}; }
const std::vector<std::string> on{"on"};

/// Only position, rotation and scale have amounts that change nothing.
std::string stillAmount(const Part& change, const NumberNow& now) {
    for (const char* channel : {"colour", "shape", "showing", "time", "value"})
        if (switchOf(change, channel)) return {};
    const auto all = [&](const std::string& parameter, double still) {
        for (int c = 0; c < 3; ++c)
            if (now(parameter.c_str(), c) != still) return false;
        return true;
    };
    const auto still = [&](const std::string& channel, double value) {
        if (!switchOf(change, channel)) return true;
        if (choiceOf(change, channel + "Mode") != "by" || switchOf(change, channel + "HasElsewhere")) return false;
        const bool oneAngle = channel == "rotation" && choiceOf(change, "turnAbout") != "angles";
        return oneAngle ? now("rotationAngle", 0) == 0 : all(channel + "Amount", value);
    };
    const bool nothing = still("position", 0) && still("rotation", 0) && still("scale", 1);
    return nothing ? "its amounts change nothing (0, or × 1 for scale)" : "";
}

GestureKind changeKind() {
    DescribeGesture<Change> d("change", "Change", "Moves, turns, sizes, colours and more");
    d.toggle("position", &Change::position, false, "Moves instances")
        .choice("positionMode", &Change::positionMode, byTo(), "By adds to what is there, to goes toward a position")
        .label("Position")
        .only("position", on)
        .choice("positionAxes", &Change::positionAxes, byAxes(), "Whose X, Y and Z are meant")
        .label("Axes")
        .only("position", on)
        .only("positionMode", {"by"})
        .choice("positionIn", &Change::positionIn, toAxes(), "Where the position is measured")
        .label("Measured in")
        .only("position", on)
        .only("positionMode", {"to"})
        .length("positionAmount", &Change::positionAmount, {0, 1, 0}, {-5, 5}, "How far, or the position to go to")
        .label("Amount")
        .only("position", on)
        .perInstance()
        .toggle("positionHasElsewhere", &Change::positionHasElsewhere, false, "Another amount where the gesture's zones are not")
        .label("Elsewhere")
        .only("position", on)
        .length("positionElsewhere", &Change::positionElsewhere, {0, 0, 0}, {-5, 5}, "The amount where the weight is 0")
        .label("Elsewhere")
        .only("position", on)
        .only("positionHasElsewhere", on);
    d.toggle("rotation", &Change::rotation, false, "Turns instances")
        .choice("rotationMode", &Change::rotationMode, byTo(), "By adds to what is there, to goes toward a rotation")
        .label("Rotation")
        .only("rotation", on)
        .choice("turnAbout", &Change::turnAbout,
                {{"angles", "Three angles"},
                 {"x", "X"},
                 {"y", "Y"},
                 {"z", "Z"},
                 {"normal", "The normal"},
                 {"across", "Across normal and up"},
                 {"toward", "Toward a thing"}},
                "Three turns about X, then Y, then Z, or one turn about one axis")
        .label("About")
        .only("rotation", on)
        .only("rotationMode", {"by"})
        .choice("rotationAxes", &Change::rotationAxes, byAxes(), "Whose X, Y and Z are meant")
        .label("Axes")
        .only("rotation", on)
        .only("rotationMode", {"by"})
        .only("turnAbout", {"angles", "x", "y", "z"})
        .reference("turnToward", &Change::turnToward, {ObjectType::zone, ObjectType::swarm, ObjectType::camera, ObjectType::mount},
                   "The axis points at this")
        .label("Toward")
        .only("rotation", on)
        .only("rotationMode", {"by"})
        .only("turnAbout", {"toward"})
        .choice("rotationIn", &Change::rotationIn, toAxes(), "Where the rotation is measured")
        .label("Measured in")
        .only("rotation", on)
        .only("rotationMode", {"to"})
        .angle("rotationAmount", &Change::rotationAmount, {0, 90, 0}, {-360, 360},
               "Turns about X, then Y, then Z; toward a rotation, whole turns are lost")
        .label("Amount")
        .hard(-36000, 36000)
        .only("rotation", on)
        .only("turnAbout", {"angles"})
        .perInstance()
        .angle("rotationAngle", &Change::rotationAngle, 90, {-360, 360}, "How far about the axis")
        .label("Amount")
        .hard(-36000, 36000)
        .only("rotation", on)
        .only("rotationMode", {"by"})
        .only("turnAbout", {"x", "y", "z", "normal", "across", "toward"})
        .perInstance()
        .toggle("rotationHasElsewhere", &Change::rotationHasElsewhere, false, "Another amount where the gesture's zones are not")
        .label("Elsewhere")
        .only("rotation", on)
        .angle("rotationElsewhere", &Change::rotationElsewhere, {0, 0, 0}, {-360, 360}, "The turns where the weight is 0")
        .label("Elsewhere")
        .hard(-36000, 36000)
        .only("rotation", on)
        .only("rotationHasElsewhere", on)
        .only("turnAbout", {"angles"})
        .angle("angleElsewhere", &Change::angleElsewhere, 0, {-360, 360}, "The rotation where the weight is 0")
        .label("Elsewhere")
        .hard(-36000, 36000)
        .only("rotation", on)
        .only("rotationHasElsewhere", on)
        .only("turnAbout", {"x", "y", "z", "normal", "across", "toward"});
    d.toggle("scale", &Change::scale, false, "Sizes instances")
        .choice("scaleMode", &Change::scaleMode, byTo(), "By multiplies what is there, to goes toward a scale")
        .label("Scale")
        .only("scale", on)
        .number("scaleAmount", &Change::scaleAmount, {1.5, 1.5, 1.5}, {0, 3}, "The factor, or the scale to go to")
        .label("Amount")
        .hard(0, 1e4)
        .only("scale", on)
        .perInstance()
        .toggle("scaleHasElsewhere", &Change::scaleHasElsewhere, false, "Another amount where the gesture's zones are not")
        .label("Elsewhere")
        .only("scale", on)
        .number("scaleElsewhere", &Change::scaleElsewhere, {0.8, 0.8, 0.8}, {0, 3}, "The factor or scale where the weight is 0")
        .label("Elsewhere")
        .hard(0, 1e4)
        .only("scale", on)
        .only("scaleHasElsewhere", on);
    d.toggle("colour", &Change::colour, false, "Colours instances")
        .choice("blend", &Change::blend, {{"mix", "Mix"}, {"multiply", "Multiply"}, {"add", "Add"}}, "How the colour joins what is there")
        .only("colour", on)
        .choice("source", &Change::source, {{"single", "Single"}, {"ramp", "Ramp"}, {"driven", "What drives it"}},
                "A single one, stops along a ramp read by what drives the gesture, or what drives it itself: a picture's colours, or grey")
        .label("From")
        .only("colour", on)
        .colour("colourAmount", &Change::colourAmount, {0.85, 0.64, 0.25, 1}, "The colour to go to")
        .label("Colour")
        .only("colour", on)
        .only("source", {"single"})
        .perInstance()
        .toggle("colourHasElsewhere", &Change::colourHasElsewhere, false, "Another colour where the gesture's zones are not")
        .label("Elsewhere")
        .only("colour", on)
        .only("source", {"single"})
        .colour("colourElsewhere", &Change::colourElsewhere, {0.2, 0.3, 0.3, 1}, "The colour where the weight is 0")
        .label("Elsewhere")
        .only("colour", on)
        .only("source", {"single"})
        .only("colourHasElsewhere", on)
        .ramp("ramp", &Change::ramp, {{0, {0.16, 0.12, 0.09, 1}}, {0.6, {0.72, 0.5, 0.2, 1}}, {1, {1, 0.9, 0.66, 1}}},
              "The colours from 0 to 1")
        .only("colour", on)
        .only("source", {"ramp"});
    d.toggle("shape", &Change::shape, false, "Changes which of the stock is repeated, where the weight is a half or more")
        .choice("shapeBy", &Change::shapeBy, {{"driven", "What drives it chooses"}, {"one", "One of the stock"}}, "Which of the stock")
        .label("Shape")
        .only("shape", on)
        .reference("shapeEntry", &Change::shapeEntry, {ObjectType::stock}, "The entry of the stock")
        .label("To")
        .only("shape", on)
        .only("shapeBy", {"one"})
        .toggle("showing", &Change::showing, false, "Hides or shows instances, where x is a half or more")
        .choice("showingAs", &Change::showingAs, {{"hide", "Hide"}, {"show", "Show again"}},
                "Show again undoes what an earlier gesture hid")
        .label("Shown")
        .only("showing", on)
        .toggle("time", &Change::time, false, "Shifts an instance's own time for all later gestures")
        .number("timeAmount", &Change::timeAmount, -25, {-100, 100}, "Later gestures see this much later; below 0: earlier")
        .unit("frames")
        .label("Time shift")
        .hard(-1000, 1000)
        .only("time", on)
        .toggle("value", &Change::value, false, "Changes a named value of the swarm, for later gestures, colours and exports")
        .reference("valueOf", &Change::valueOf, {ObjectType::namedValue}, "Which of the swarm's named values")
        .label("Which")
        .only("value", on)
        .choice("valueMode", &Change::valueMode, byTo(), "By adds to what is there, to goes toward a value")
        .label("Named value")
        .only("value", on)
        .number("valueAmount", &Change::valueAmount, 1, {-1, 1}, "How much, or the value to go to")
        .label("Amount")
        .only("value", on)
        .perInstance();
    d.migrated({2, {{"number", "value"}, {"numberOf", "valueOf"}, {"numberMode", "valueMode"}, {"numberAmount", "valueAmount"}}, nullptr});
    d.migrated({3, {}, nullptr});
    GestureKind kind = preparing(makes(d, applyChange), prepare);
    kind.channels = {"position", "rotation", "scale", "colour", "shape", "showing", "time", "value"};
    kind.stillAmount = stillAmount;
    kind.shiftsTime = [](const void* data) {
        const auto& change = *static_cast<const Change*>(data);
        return change.time ? static_cast<double>(change.timeAmount) : 0.0;
    };
    kind.timeShift = [](const Part& part) { return switchOf(part, "time") ? &part["timeAmount"] : nullptr; };
    kind.actsElsewhere = [](const void* data) { return static_cast<const Change*>(data)->anyElsewhere(); };
    return kind;
}

}  // namespace

const GestureKind changeGesture = changeKind();

}  // namespace gswarm
