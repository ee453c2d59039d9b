#pragma once
#include <glm/vec3.hpp>
#include <glm/vec4.hpp>
#include <string>

#include "core/scene/kind.h"

namespace gswarm {

/// The scene's own objects are described by the same tables as kinds. Lengths in metres, angles in radians.

/// How light becomes what a screen shows: cut where it is too bright, or softly bent there.
enum class DisplayTransform { plain, soft };

/// Settings of the whole project. Frames may start anywhere, also below 0.
struct ProjectSettings {
    std::string rate;  ///< frames a second as a fraction, "25" or "30000/1001"
    float firstFrame, lastFrame, loopStart, loopFrames;
    glm::vec4 background;
    float exposure;  ///< stops
    DisplayTransform display;
    int pictureWidth, pictureHeight;
};
/// What is behind everything that is pictured.
enum class Background { colour, gradient, surroundings, picture, transparent };
enum class EdgeLines { none, over, alone };
/// What happens to a picture after its light was gathered.
struct After {
    Background background;
    std::string backgroundPicture;  ///< a file in the project's folder
    glm::vec4 above;                ///< of a gradient, at the upper edge; the project's colour is at the lower
    bool fog;
    glm::vec4 fogColour;
    float fogStart, fogDepth;  ///< metres: where it begins, and after which 63 % is fog
    EdgeLines lines;
    glm::vec4 lineColour;
    float lineStrength;  ///< nits
    float lineWidth;     ///< pixels of the project's own size of pictures
    float lineCrease;    ///< radians between normals
    float bloom;         ///< percent of the light
    float bloomSize;     ///< percent of the picture's height
    float vignette;      ///< percent of light that a corner loses
    float grain;         ///< percent of white
};
struct Pose {
    glm::vec3 position, rotation;
    bool on;
};
/// What an object's place is told from.
enum class HangBy { none, object, curve };
struct Hang {
    HangBy by;
    ObjectId from, curve;
    float along;  ///< percent of the curve's length
    bool turned;
};
struct SwarmPlace {
    glm::vec3 position, rotation;
    float scale;
    bool shown;
    ObjectId formation;  ///< the version that is on
};
/// Which of a swarm's stock each instance repeats, and how large it is.
enum class StockRuleBy { turn, chance, pattern };
struct StockRule {
    StockRuleBy by;
    int seed;
    bool fit;   ///< sized so that neighbours just touch
    float gap;  ///< percent of the touching size
};
/// How a shape that is stood upon or cut from is itself seen, where the swarms that use it stand.
enum class DisplayAs { hidden, dimmed, shown };
struct Display {
    DisplayAs as;
    ObjectId material;  ///< none for plain stone
};
/// What is done to the homes of any formation.
enum class StandingTurn { formed, upright };
struct Standing {
    float offset;
    StandingTurn turned;
    float turn, randomTurn;  ///< radians about the normal
    int seed;
    ObjectId density;  ///< a zone that thins the homes out, or none
    bool fitted;       ///< the formation's own length follows the shape it stands on
};
/// In which order instances count.
enum class OrderBy { made, axis, distance, curve, chance };
enum class OrderAxis { x, y, z };
struct Order {
    OrderBy by;
    OrderAxis axis;
    glm::vec3 place;
    ObjectId curve;
    int seed;
    bool reversed;
};
enum class Foot { base, centre, point };
enum class PiecesOf { none, parts, faces };
struct StockEntry {
    ObjectId shape;
    Foot foot;
    glm::vec3 footPoint;
    float size, odds;
    PiecesOf pieces;
    ObjectId material;  ///< none for plain clay
    bool ownMoment, roundLoop;
    ObjectId standIn;  ///< what is shown in its place where light stock is wanted; none for the same
};
struct RailEntry {
    ObjectId gesture;
    bool on;
};
/// A column of one number per instance that a swarm declares: there from home on, changed by gestures, read by
/// patterns, formulas and exports.
struct NamedValue {
    float standard;
};
inline constexpr std::size_t mostNamedValues = 16;
inline constexpr int deepestWeave = 3;  ///< groups in groups of a weave
enum class WeaveOperation { cut, minus, add, times, larger, smaller, difference, mix, screen };
/// A zone's part in a weave, or a group: entries of its own that are woven first.
struct WeaveEntry {
    ObjectId zone;
    WeaveOperation operation;
    float amount;  ///< percent
    bool on;
};
/// What a camera looks at.
enum class LooksAt { place, thing };
/// What is sharp in a traced picture.
enum class Focus { everything, distance, target };
enum class ShutterOpens { around, at };
enum class Projection { perspective, parallel };
struct Camera {
    bool on;
    glm::vec3 position, target;
    LooksAt looksAt;
    ObjectId thing;
    float lag;  ///< frames
    Projection projection;
    float focalLength;      ///< millimetres on a 36 mm wide frame
    float width;            ///< metres across that a parallel one sees
    float nearCut, farCut;  ///< metres along its way of looking; 0 for none
    Focus focus;
    float focusDistance, fNumber;
    bool blurs;
    float shutter;  ///< percent of a frame that it is open
    ShutterOpens opens;

    bool operator==(const Camera&) const = default;
};

enum class WeightMemory { none, linger, hold };
enum class DrivenMemory { none, lag, spring };

/// What a gesture remembers: its weight may rise and fade slowly or be held, and what drives it may lag behind or swing
/// like a spring.
struct FollowThrough {
    WeightMemory weight;
    float rises, holds, fades;  ///< frames
    DrivenMemory driven;
    float lag;        ///< frames until 95 % of a change has arrived
    float frequency;  ///< swings a second
    float damping;    ///< 0 swings for ever, 1 just does not swing
    bool loops;       ///< starts one loop early, so that the seam is closed

    bool any() const { return weight != WeightMemory::none || driven != DrivenMemory::none; }
    int weightColumns() const { return weight == WeightMemory::none ? 0 : 2; }
    int drivenColumns() const { return driven == DrivenMemory::none ? 0 : driven == DrivenMemory::lag ? 2 : 3; }
};

/// What is heard before the part that is played begins, and after it ends: nothing, or the part over and over.
enum class SoundBeyond { silence, repeat };

/// Where a sound lies in the project.
struct SoundLaid {
    float start;     ///< the project's frame at which the part begins
    float from, to;  ///< seconds of the sound between which that part lies; `to` is 0 for the sound's end
    SoundBeyond beyond;
    float volume;  ///< decibels
    bool heard;
};

/// How numbers listen to a sound, and what they hear.
struct SoundHeard {
    float low, high;                    ///< hertz, of the own band
    float floor, ceiling, tilt;         ///< decibels, as of patterns that listen
    float attack, release, decay;       ///< seconds
    float sensitivity;                  ///< percent
    float level, bass, middle, treble;  ///< 0 … 1; told by who listens, never set
    float band, onsets;
};

extern const Kind projectKind, afterKind, poseKind, mountKind, hangKind, swarmKind, stockRuleKind, displayKind, standingKind, orderKind,
    stockKind, railKind, weaveKind, namedValueKind, cameraKind, followThroughKind, soundLaidKind, soundHeardKind;

/// Frames a second from "25", "23.976" or "30000/1001"; 0 when the text is no such thing or not in 0 … 1000.
double parseRate(const std::string& text);

}  // namespace gswarm
