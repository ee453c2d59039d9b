#include "core/scene/object_kinds.h"

#include <charconv>
#include <nlohmann/json.hpp>

#include "core/scene/describe.h"

namespace gswarm {
namespace {

template <class T>
using DescribeObject = Describe<T, Kind>;

}  // namespace

const Kind projectKind =
    DescribeObject<ProjectSettings>(Family::object, "project", "Project", "Time, background and exposure of the whole project")
        .text("rate", &ProjectSettings::rate, "25", "Frames a second, also as a fraction such as 30000/1001")
        .number("firstFrame", &ProjectSettings::firstFrame, 0, {0, 500}, "Where playing and rendering begin")
        .unit("frame")
        .still()
        .number("lastFrame", &ProjectSettings::lastFrame, 124, {0, 500}, "The last frame that is played and rendered")
        .unit("frame")
        .still()
        .number("loopStart", &ProjectSettings::loopStart, 0, {0, 500}, "The frame at which the loop begins")
        .unit("frame")
        .still()
        .number("loopFrames", &ProjectSettings::loopFrames, 125, {1, 500}, "Length of the loop: what makes laps makes them in this time")
        .unit("frames")
        .hard(1, 1e6)
        .still()
        .colour("background", &ProjectSettings::background, {0.055, 0.047, 0.039, 1}, "Colour behind everything")
        .opaque()
        .number("exposure", &ProjectSettings::exposure, 0, {-4, 4}, "Brightness of the picture; one stop doubles the light")
        .unit("stops")
        .hard(-20, 20)
        .choice("display", &ProjectSettings::display, {{"plain", "Plain"}, {"soft", "Soft highlights"}},
                "What becomes of light too bright for a screen: it is cut, or bends softly and loses its colour")
        .standard("soft")
        .since(3)
        .whole("pictureWidth", &ProjectSettings::pictureWidth, 1280, {16, 3840}, "Pixels across of the pictures that are made")
        .hard(1, 16384)
        .still()
        .since(2)
        .whole("pictureHeight", &ProjectSettings::pictureHeight, 720, {16, 2160}, "Their pixels from top to bottom")
        .hard(1, 16384)
        .still()
        .since(2)
        .migrated({2, {}, nullptr})
        .migrated({3, {}, [](nlohmann::ordered_json& part) { part["display"] = "plain"; }})
        .kind();

const Kind poseKind = DescribeObject<Pose>(Family::object, "pose", "Place", "Where an object stands and how it is turned")
                          .toggle("on", &Pose::on, true, "An object that is off has no effect")
                          .length("position", &Pose::position, {0, 0, 0}, {-10, 10}, "Position in the world")
                          .angle("rotation", &Pose::rotation, {0, 0, 0}, {-180, 180}, "Turns about X, then Y, then Z")
                          .kind();

const Kind mountKind = DescribeObject<Pose>(Family::object, "mount", "Place", "Where an empty object stands that others hang from")
                           .length("position", &Pose::position, {0, 0, 0}, {-10, 10}, "Position in the world, or from what it hangs from")
                           .angle("rotation", &Pose::rotation, {0, 0, 0}, {-180, 180}, "Turns about X, then Y, then Z")
                           .kind();

const Kind hangKind =
    DescribeObject<Hang>(Family::object, "hang", "Hanging", "What its position and rotation are told from")
        .choice("by", &Hang::by, {{"none", "On its own"}, {"object", "From an object"}, {"curve", "Along a curve"}},
                "What its position and rotation are told from; scale is never inherited")
        .label("Hangs")
        .reference("from", &Hang::from, {ObjectType::mount, ObjectType::swarm, ObjectType::zone, ObjectType::camera},
                   "Moves and turns along with this")
        .only("by", {"object"})
        .reference("curve", &Hang::curve, {ObjectType::shape}, "Goes along this line, path, circle or helix")
        .only("by", {"curve"})
        .number("along", &Hang::along, 0, {0, 100}, "How far along the curve, as a share of its length; closed ones go around")
        .unit("%")
        .only("by", {"curve"})
        .toggle("turned", &Hang::turned, true, "Its Z points along the curve and its Y along the curve's normal")
        .only("by", {"curve"})
        .kind();

const Kind swarmKind =
    DescribeObject<SwarmPlace>(Family::object, "swarm", "Swarm", "Position, rotation and scale of the whole swarm")
        .toggle("shown", &SwarmPlace::shown, true, "A swarm that is not shown is neither drawn nor exported")
        .length("position", &SwarmPlace::position, {0, 0, 0}, {-10, 10}, "Position of the whole swarm in the world")
        .angle("rotation", &SwarmPlace::rotation, {0, 0, 0}, {-180, 180}, "Rotation of the whole swarm: turns about X, then Y, then Z")
        .number("scale", &SwarmPlace::scale, 1, {0.1, 4}, "Scale of the whole swarm, the same in every direction")
        .hard(1e-4, 1e4)
        .reference("formation", &SwarmPlace::formation, {ObjectType::formation}, "The formation that is on")
        .kind();

const Kind stockRuleKind =
    DescribeObject<StockRule>(Family::object, "stockRule", "Stock", "Which of its stock each instance repeats")
        .choice("by", &StockRule::by, {{"turn", "In turn"}, {"chance", "At random, with odds"}, {"pattern", "By a pattern"}},
                "How each instance gets its shape")
        .label("Chosen")
        .whole("seed", &StockRule::seed, 1, {1, 100}, "Another seed, other choices")
        .hard(0, 1e9)
        .only("by", {"chance"})
        .toggle("fit", &StockRule::fit, false,
                "Sizes the stock so that neighbours just touch, where the formation has a spacing of its own")
        .label("Fit to spacing")
        .number("gap", &StockRule::gap, 0, {0, 50}, "Left between neighbours, in percent of the size at which they touch")
        .unit("%")
        .hard(-100, 100)
        .only("fit", {"on"})
        .kind();

const Kind displayKind =
    DescribeObject<Display>(Family::object, "display", "Shown", "Whether the shape itself is seen where swarms stand on it")
        .choice("as", &Display::as, {{"hidden", "Hidden"}, {"dimmed", "Dimmed"}, {"shown", "Shown"}},
                "Dimmed is seen while working and left out of pictures and exports")
        .label("The shape itself")
        .reference("material", &Display::material, {ObjectType::material}, "How it looks where it is seen; plain stone without one")
        .only("as", {"dimmed", "shown"})
        .since(2)
        .migrated({2, {}, nullptr})
        .kind();

const Kind standingKind =
    DescribeObject<Standing>(Family::object, "standing", "Standing", "How instances stand on their homes")
        .length("offset", &Standing::offset, 0, {-2, 2}, "Along the normal, away from the surface")
        .choice("turned", &Standing::turned, {{"formed", "To the surface"}, {"upright", "Upright"}},
                "Upright keeps the heading and lets +Y point up")
        .angle("turn", &Standing::turn, 0, {-180, 180}, "About the normal")
        .angle("randomTurn", &Standing::randomTurn, 0, {0, 180}, "At random about the normal, up to this much to either side")
        .whole("seed", &Standing::seed, 1, {1, 100}, "Another seed, other turns")
        .hard(0, 1e9)
        .reference("density", &Standing::density, {ObjectType::zone}, "Instances get fewer where this zone's weight is less than 1")
        .label("Density zone")
        .toggle("fitted", &Standing::fitted, false,
                "Its distances follow the shape it stands on, for some 600 instances, until you set them")
        .label("Fits by itself")
        .still()
        .since(2)
        .migrated({2, {}, nullptr})
        .kind();

const Kind orderKind = DescribeObject<Order>(Family::object, "order", "Order", "In which order instances count")
                           .choice("by", &Order::by,
                                   {{"made", "As formed"},
                                    {"axis", "Along an axis"},
                                    {"distance", "By distance"},
                                    {"curve", "Along a curve"},
                                    {"chance", "At random"}},
                                   "What their numbers follow")
                           .label("Numbered")
                           .choice("axis", &Order::axis, {{"x", "X"}, {"y", "Y"}, {"z", "Z"}}, "Numbers grow along it")
                           .only("by", {"axis"})
                           .length("place", &Order::place, {0, 0, 0}, {-10, 10}, "Numbers grow away from here, in the swarm")
                           .only("by", {"distance"})
                           .reference("curve", &Order::curve, {ObjectType::shape}, "Numbers grow along this curve")
                           .only("by", {"curve"})
                           .whole("seed", &Order::seed, 1, {1, 100}, "Another seed, another order")
                           .hard(0, 1e9)
                           .only("by", {"chance"})
                           .toggle("reversed", &Order::reversed, false, "Counts the other way")
                           .kind();

const Kind stockKind =
    DescribeObject<StockEntry>(Family::object, "stock", "Stock", "A shape, a light or another swarm that the swarm repeats")
        .reference("shape", &StockEntry::shape, {ObjectType::shape, ObjectType::light, ObjectType::swarm},
                   "What is repeated: a shape, a light, or another swarm as a whole")
        .number("size", &StockEntry::size, 1, {0.05, 4}, "Factor on the shape's own size")
        .hard(0, 1e4)
        .number("odds", &StockEntry::odds, 1, {0, 10}, "How often it is chosen, against the odds of the others")
        .hard(0, 1e6)
        .choice("pieces", &StockEntry::pieces, {{"none", "Whole"}, {"parts", "Its connected parts"}, {"faces", "Its single faces"}},
                "Repeats the shape, or its pieces one after the other")
        .choice("foot", &StockEntry::foot, {{"base", "Base"}, {"centre", "Centre"}, {"point", "A point"}},
                "The point that stands on its home; size and turn act about it")
        .length("footPoint", &StockEntry::footPoint, {0, 0, 0}, {-2, 2}, "The point, in the shape's own metres")
        .only("foot", {"point"})
        .reference("material", &StockEntry::material, {ObjectType::material}, "How it looks; its colour is that before any gesture")
        .since(2)
        .migrated({2, {}, nullptr})
        .toggle(
            "ownMoment", &StockEntry::ownMoment, true,
            "Where gestures shift the time of an instance, it shows what is repeated so many frames later or earlier: another swarm, or "
            "a shape that moves")
        .label("At its own moment")
        .since(3)
        .toggle(
            "roundLoop", &StockEntry::roundLoop, false,
            "Moments behind the end of the loop are those from its beginning again, so that what is repeated closes where it is not made "
            "to go on")
        .label("Round the loop")
        .only("ownMoment", {"on"})
        .since(3)
        .reference("standIn", &StockEntry::standIn, {ObjectType::shape, ObjectType::swarm},
                   "Something lighter that is shown in its place while one works with light stock; pictures and exports show the real one")
        .label("Light stand-in")
        .optional()
        .since(3)
        .migrated({3, {}, [](nlohmann::ordered_json& part) { part["ownMoment"] = false; }})
        .kind();

const Kind railKind = DescribeObject<RailEntry>(Family::object, "rail", "Rail entry", "A gesture's turn in the rail")
                          .reference("gesture", &RailEntry::gesture, {ObjectType::gesture}, "Which gesture")
                          .toggle("on", &RailEntry::on, true, "A card that is off changes nothing")
                          .kind();

const Kind weaveKind = DescribeObject<WeaveEntry>(Family::object, "weave", "Weave entry", "A zone's part in where a gesture acts")
                           .reference("zone", &WeaveEntry::zone, {ObjectType::zone}, "Which zone")
                           .choice("operation", &WeaveEntry::operation,
                                   {{"cut", "Cut"},
                                    {"minus", "Minus"},
                                    {"add", "Add"},
                                    {"times", "Times"},
                                    {"larger", "Larger"},
                                    {"smaller", "Smaller"},
                                    {"difference", "Difference"},
                                    {"mix", "Mix"},
                                    {"screen", "Screen"}},
                                   "How it joins what stands above it; the first stands alone")
                           .number("amount", &WeaveEntry::amount, 100, {0, 100}, "How much of the zone takes part")
                           .unit("%")
                           .hard(-1000, 1000)
                           .toggle("on", &WeaveEntry::on, true, "An entry that is off is passed over")
                           .kind();

const Kind namedValueKind =
    DescribeObject<NamedValue>(Family::object, "namedValue", "Named value", "A value that each instance carries along")
        .number("standard", &NamedValue::standard, 0, {-1, 1}, "What every instance begins with")
        .label("At home")
        .kind();

const Kind cameraKind =
    DescribeObject<Camera>(Family::object, "camera", "Camera", "Where pictures are made from")
        .toggle("on", &Camera::on, true, "Pictures are made from the first camera that is on; its keys are cuts")
        .since(2)
        .length("position", &Camera::position, {7, 6, 9}, {-30, 30}, "Where the camera stands")
        .choice("looksAt", &Camera::looksAt, {{"place", "A place"}, {"thing", "A thing"}}, "What it looks at")
        .since(2)
        .length("target", &Camera::target, {0, 0.5, 0}, {-30, 30}, "What it looks at")
        .only("looksAt", {"place"})
        .reference("thing", &Camera::thing, {ObjectType::swarm, ObjectType::zone, ObjectType::mount}, "It looks to where this stands")
        .only("looksAt", {"thing"})
        .since(2)
        .number("lag", &Camera::lag, 0, {-25, 25}, "It looks to where the thing was so many frames ago; below 0, to where it will be")
        .unit("frames")
        .hard(-1e4, 1e4)
        .only("looksAt", {"thing"})
        .since(2)
        .choice("projection", &Camera::projection, {{"perspective", "Perspective"}, {"parallel", "Parallel"}},
                "What is far looks smaller, or is as large as what is near")
        .since(4)
        .number("focalLength", &Camera::focalLength, 45, {12, 200}, "Longer brings the distance closer")
        .unit("mm")
        .hard(1, 5000)
        .only("projection", {"perspective"})
        .length("width", &Camera::width, 10, {0.5, 50}, "How much it sees from side to side")
        .hard(1e-3, 1e6)
        .only("projection", {"parallel"})
        .since(4)
        .length("nearCut", &Camera::nearCut, 0, {0, 20}, "What is nearer is not seen; 0 cuts nothing")
        .hard(0, 1e6)
        .since(4)
        .length("farCut", &Camera::farCut, 0, {0, 100}, "What is farther is not seen; 0 cuts nothing")
        .hard(0, 1e6)
        .since(4)
        .choice("focus", &Camera::focus, {{"everything", "Everything"}, {"distance", "At a distance"}, {"target", "What it looks at"}},
                "What is sharp in a traced picture")
        .label("Sharp")
        .only("projection", {"perspective"})
        .since(3)
        .length("focusDistance", &Camera::focusDistance, 8, {0.1, 50}, "From the camera to what is sharp")
        .hard(1e-3, 1e6)
        .only("focus", {"distance"})
        .since(3)
        .number("fNumber", &Camera::fNumber, 2.8, {0.5, 22}, "Smaller blurs more of what is nearer and farther")
        .hard(0.01, 1000)
        .only("focus", {"distance", "target"})
        .label("f-number")
        .since(3)
        .toggle("blurs", &Camera::blurs, false, "What moves is blurred in a traced picture")
        .label("Motion blur")
        .since(3)
        .number("shutter", &Camera::shutter, 50, {0, 100}, "How long the shutter is open, in percent of a frame")
        .unit("%")
        .hard(0, 1000)
        .only("blurs", {"on"})
        .since(3)
        .choice("opens", &Camera::opens, {{"around", "Around the frame"}, {"at", "At the frame"}}, "When the shutter opens")
        .only("blurs", {"on"})
        .since(3)
        .migrated({2, {}, nullptr})
        .migrated({3, {}, nullptr})
        .migrated({4, {}, nullptr})
        .kind();

const Kind followThroughKind =
    DescribeObject<FollowThrough>(Family::object, "followThrough", "Follow-through", "What a gesture remembers of the frames before")
        .choice("weight", &FollowThrough::weight, {{"none", "At once"}, {"linger", "Lingers"}, {"hold", "Is held"}},
                "How the weight follows when a zone comes and goes")
        .label("Weight follows")
        .number("rises", &FollowThrough::rises, 0, {0, 50}, "Until a weight of 0 has come to 1; 0 is at once")
        .unit("frames")
        .hard(0, 1e5)
        .only("weight", {"linger", "hold"})
        .number("holds", &FollowThrough::holds, 25, {0, 200}, "How long a weight stays after its cause has gone")
        .unit("frames")
        .hard(0, 1e6)
        .only("weight", {"hold"})
        .number("fades", &FollowThrough::fades, 25, {0, 100}, "Until a weight of 1 has come to 0; 0 is at once")
        .unit("frames")
        .hard(0, 1e5)
        .only("weight", {"linger", "hold"})
        .choice("driven", &FollowThrough::driven, {{"none", "At once"}, {"lag", "Lags behind"}, {"spring", "Swings like a spring"}},
                "How what drives the gesture follows")
        .label("Pattern follows")
        .number("lag", &FollowThrough::lag, 12, {0, 100}, "Until nearly all of a change has arrived")
        .unit("frames")
        .hard(0, 1e5)
        .only("driven", {"lag"})
        .number("frequency", &FollowThrough::frequency, 2, {0.2, 8}, "How often it swings")
        .unit("Hz")
        .hard(0.001, 1000)
        .only("driven", {"spring"})
        .number("damping", &FollowThrough::damping, 0.25, {0, 1}, "0 swings for ever, 1 comes to rest without swinging")
        .hard(0, 10)
        .only("driven", {"spring"})
        .toggle("loops", &FollowThrough::loops, false, "Starts one loop early, so that the last frame meets the first")
        .label("Loop this memory")
        .kind();

const Kind soundLaidKind =
    DescribeObject<SoundLaid>(Family::object, "soundLaid", "Laid", "Where a sound lies in time, and how loud it is played")
        .number("start", &SoundLaid::start, 0, {-250, 250}, "The project's frame at which it begins")
        .unit("f")
        .hard(-1e7, 1e7)
        .still()
        .number("from", &SoundLaid::from, 0, {0, 60}, "The second of the sound at which the part that is heard begins")
        .unit("s")
        .hard(0, 1e5)
        .still()
        .number("to", &SoundLaid::to, 0, {0, 60}, "The second at which it ends; 0 for the sound's own end")
        .unit("s")
        .hard(0, 1e5)
        .still()
        .choice("beyond", &SoundLaid::beyond, {{"silence", "Silence"}, {"repeat", "Repeats"}},
                "What is heard before its beginning and after its end")
        .label("At its ends")
        .number("volume", &SoundLaid::volume, 0, {-40, 6},
                "How loud it is played and written; what follows it listens to it as it is in its file")
        .unit("dB")
        .hard(-120, 24)
        .still()
        .toggle("heard", &SoundLaid::heard, true, "Off, it is neither played nor written into videos; what follows it goes on")
        .kind();

const Kind soundHeardKind =
    DescribeObject<SoundHeard>(Family::object, "soundHeard", "Heard by numbers",
                               "What numbers can follow: link one to these, or name them in its formula")
        .number("level", &SoundHeard::level, 0, {0, 1}, "How loud all of it is at this frame, between floor and ceiling")
        .heard()
        .number("bass", &SoundHeard::bass, 0, {0, 1}, "How loud it is from 40 to 160 Hz")
        .heard()
        .number("middle", &SoundHeard::middle, 0, {0, 1}, "How loud it is from 160 Hz to 2.5 kHz")
        .heard()
        .number("treble", &SoundHeard::treble, 0, {0, 1}, "How loud it is from 2.5 to 16 kHz")
        .heard()
        .number("band", &SoundHeard::band, 0, {0, 1}, "How loud its own band is, from and to the pitches below")
        .label("Own band")
        .heard()
        .number("onsets", &SoundHeard::onsets, 0, {0, 1}, "1 at each stroke or note that begins, then falling")
        .heard()
        .number("low", &SoundHeard::low, 200, {40, 2000}, "Where the own band begins")
        .label("Band from")
        .unit("Hz")
        .hard(20, 20000)
        .still()
        .number("high", &SoundHeard::high, 400, {40, 16000}, "Where it ends")
        .label("Band to")
        .unit("Hz")
        .hard(20, 24000)
        .still()
        .number("floor", &SoundHeard::floor, -60, {-100, 0}, "How loud 0 is; a sine of full scale has 0 dB")
        .unit("dB")
        .hard(-200, 100)
        .still()
        .number("ceiling", &SoundHeard::ceiling, 0, {-60, 12}, "How loud 1 is")
        .unit("dB")
        .hard(-200, 100)
        .still()
        .number(
            "tilt", &SoundHeard::tilt, 3, {0, 6},
            "Lifts high pitches for each octave above 1 kHz and lowers those below: at 0 hiss is even over all bands, at 3 most music is")
        .unit("dB")
        .hard(-24, 24)
        .still()
        .number("attack", &SoundHeard::attack, 0, {0, 0.5}, "Seconds in which 63 % of a rise has arrived")
        .unit("s")
        .hard(0, 1000)
        .still()
        .number("release", &SoundHeard::release, 0.15, {0, 2}, "Seconds in which 63 % of a fall has arrived")
        .unit("s")
        .hard(0, 1000)
        .still()
        .number("decay", &SoundHeard::decay, 0.2, {0.02, 2}, "Seconds in which a pulse of the onsets has lost 63 %")
        .unit("s")
        .hard(0, 1000)
        .still()
        .number("sensitivity", &SoundHeard::sensitivity, 70, {0, 100}, "At 100 % the weakest onset counts, at 0 % only the strongest")
        .unit("%")
        .hard(0, 100)
        .still()
        .kind();

double parseRate(const std::string& text) {
    const auto readNumber = [](std::string_view part) {
        double value = 0;
        const auto [end, error] = std::from_chars(part.data(), part.data() + part.size(), value);
        return error == std::errc() && end == part.data() + part.size() ? value : 0.0;
    };
    const auto slash = text.find('/');
    const std::string_view whole = text;
    const double rate = slash == std::string::npos
                            ? readNumber(whole)
                            : readNumber(whole.substr(0, slash)) / std::max(readNumber(whole.substr(slash + 1)), 1e-9);
    return rate > 0 && rate <= 1000 ? rate : 0;
}

}  // namespace gswarm
