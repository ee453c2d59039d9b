#pragma once
#include <functional>
#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/base/content_hash.h"
#include "core/scene/value.h"

namespace gswarm {

/// The closed list of parameter types. `angle` is typed in degrees and reaches kernels in radians; `length` is metres;
/// `colour` is typed sRGB-encoded and reaches kernels in linear light; `instances` are ids of chosen instances.
enum class ParameterType {
    number,
    whole,
    angle,
    length,
    ramp,
    points,
    curve,
    colour,
    toggle,
    choice,
    text,
    file,
    instances,
    formula,
    reference
};

struct Range {
    double low, high;
};

struct Choice {
    std::string id, label;
};

/// When a parameter means anything: another parameter of the same kind has one of these choices ("on" for a toggle).
struct Condition {
    std::string parameter;
    std::vector<std::string> choices;
};

/// A parameter's value at one moment, in the units kernels use.
struct Resolved {
    double number[4] = {};
    bool on = false;
    int choice = 0;
    std::string text;
    ObjectId object;
    Ramp ramp;
    Points points;
    CurvePoints curve;
    Formula formula;
};

/// What a reference to a shape has to have: a curve, a surface, a closed mesh, or faces worth telling apart.
enum class Needs { anything, curve, surface, closedMesh, faces };

/// One parameter of a kind: all that panels, the project file, keys, `--set`, the reference and tests need to know.
struct Parameter {
    std::string id;       ///< permanent, camelCase
    std::string label;    ///< for people
    std::string summary;  ///< one sentence, the tooltip
    std::string unit;     ///< as people read it: "m", "°", "%", "frames"
    ParameterType type = ParameterType::number;
    int components = 1;
    Value standard;         ///< the default
    Range suggested{0, 1};  ///< the slider's
    Range hard{-1e6, 1e6};  ///< the limit
    std::vector<Choice> choices;
    std::vector<ObjectType> references;  ///< allowed types
    Needs needs = Needs::anything;       ///< of a shape
    bool optional = false;               ///< a reference that does well without: nothing is put in for a start
    std::string begins;                  ///< the named value that is made for a reference to begin with
    std::vector<Condition> when;         ///< all must hold
    bool lines = false;                  ///< a text of several lines
    bool families = false;               ///< a text that names an installed font
    std::vector<std::string> endings;    ///< of a file: ".csv", in small letters
    bool numbered = false;               ///< of a file: those that are numbered like it belong to it
    bool perInstance = false;            ///< may be read at each instance's own time
    bool opaque = false;                 ///< a colour of which nothing is seen through: its opacity means nothing
    bool heard = false;                  ///< what is heard at the frame: can't be set, only followed
    bool still = false;                  ///< has one value for the whole project: can't be keyed
    int since = 1;                       ///< version of the kind that has it first; files of earlier ones mean the default
    std::function<void(void*, const Resolved&)> assign;

    /// Whether it has numbers; a switch has one only while it moves.
    bool numeric() const { return components > 0 && std::holds_alternative<Numbers>(standard); }
};

enum class Family { object, shape, formation, pattern, zone, gesture, response, stagger, material, light, symmetry, media, sound, force };

/// What a version of a kind changed about its part of a project file. Names first, then `change` on the part as it is then.
struct Migration {
    int version = 2;  ///< the first that is written so
    /// Parameters by their old and new id; "tilt.x" is one component of an old one. Addresses and formulas follow.
    std::vector<std::pair<std::string, std::string>> renamed;
    std::function<void(nlohmann::ordered_json& part)> change;  ///< may be empty
};

struct Part;

/// What a part's numbers are at the moment that is asked about.
using NumberNow = std::function<double(const char* parameter, int component)>;

/// Settings that turn a speed into whole laps of the loop, and what that is in words: "2 whole laps a loop".
struct LapSettings {
    std::vector<std::pair<std::string, Value>> values;
    std::string told;
};

/// What is declared once about a kind of thing. Families add the functions that compute it.
struct Kind {
    Family family = Family::object;
    int version = 1;
    std::string id, label, summary;
    std::string words;  ///< plain trade words that people bring, by which it is found too
    std::vector<Parameter> parameters;
    std::vector<Migration> migrations;  ///< from version 1 to `version`, in their order
    /// How its speed is mended for a loop of so many seconds; nothing where it moves by no speed. Empty for most.
    std::function<std::optional<LapSettings>(const Part&, const NumberNow&, double loopSeconds)> inLaps;
    std::function<std::shared_ptr<void>()> create;  ///< the resolved struct with its C++ defaults
    bool feelsForces = false;                       ///< what it makes goes by the forces of the scene
    std::string sharesWith;                         ///< its reference to a swarm with which it makes what it makes; empty for most

    virtual ~Kind() = default;
    /// −1 if there is none of that name.
    int indexOf(std::string_view parameter) const;
};

/// A declared thing in the scene: its kind and a value for each of the kind's parameters, in their order.
struct Part {
    const Kind* kind = nullptr;
    std::vector<Value> values;
    std::string unknown;  ///< members of the file's object that this version does not know, as JSON text

    const Value& operator[](std::string_view parameter) const;
    bool operator==(const Part&) const = default;
};

Part standardPart(const Kind& kind);

/// True if every condition of the parameter holds for the part's values. A condition on a parameter that itself means
/// nothing now holds.
bool applies(const Parameter& parameter, const Part& part);

/// Laps nearest to a speed, at least one in its direction; and so many in words.
double nearestLaps(double perLoop);
std::string lapsInWords(double count);

/// The typed text of a choice, e.g. the id of the chosen entry.
const std::string& choiceOf(const Part& part, std::string_view parameter);
/// Whether a switch is on, or on at some frames.
bool switchOf(const Part& part, std::string_view parameter);
ObjectId referenceOf(const Part& part, std::string_view parameter);

/// A kind's struct filled in for one frame, and a hash of all it was filled with.
struct ResolvedPart {
    const Kind* kind = nullptr;
    std::shared_ptr<void> data;
    std::uint64_t hash = 0;

    template <class T>
    const T& as() const {
        return *static_cast<const T*>(data.get());
    }
};
/// Fills in a kind's struct, parameter by parameter; `numberOf` gives each number in typed units.
using NumberOf = std::function<double(const Track& track)>;
ResolvedPart resolvedWith(const Part& part, const NumberOf& numberOf);

/// One colour typed sRGB-encoded, in linear light.
double linearFromSrgb(double encoded);
double srgbFromLinear(double linear);

}  // namespace gswarm
