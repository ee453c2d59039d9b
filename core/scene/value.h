#pragma once
#include <array>
#include <memory>
#include <string>
#include <utility>
#include <variant>
#include <vector>

#include "core/scene/object_id.h"

namespace gswarm {

/// How a number goes from one key to the next. All but `hold` are cubic; `free` has the slopes of its two keys.
enum class Ease { linear, hold, eased, slowStart, slowEnd, overshoot, backFirst, free };
/// As the project file and undo call them, in the order of Ease.
inline constexpr std::array<const char*, 8> easeNames = {"linear",  "hold",      "eased",     "slowStart",
                                                         "slowEnd", "overshoot", "backFirst", "free"};

struct Key {
    double frame = 0;
    double value = 0;
    Ease ease = Ease::eased;  ///< on the way to the next key
    double in = 0, out = 0;   ///< slopes, units a frame, with which a free way arrives and leaves
    bool operator==(const Key&) const = default;
};
inline constexpr std::size_t mostKeys = 100'000;  ///< of one number

/// What a keyed number does before its first and after its last key: keeps that key's value, begins again (with the first
/// key's value at the frame of the last), goes back and forth, or goes on with the slope it has there.
enum class Beyond { hold, repeat, backAndForth, goOn };
inline constexpr std::array<const char*, 4> beyondNames = {"hold", "repeat", "backAndForth", "continue"};

/// A point of a response curve: `at` and `value` in 0 … 1, and the slopes with which the curve arrives and leaves.
struct CurvePoint {
    double at = 0, value = 0, in = 1, out = 1;
    bool operator==(const CurvePoint&) const = default;
};
/// In ascending order of `at`; before the first and after the last point the curve goes on straight.
using CurvePoints = std::vector<CurvePoint>;
inline constexpr int mostCurvePoints = 16;

/// A formula as it was typed, and what the names in it that mean other numbers stand for: name → address. Renaming
/// an object rewrites the text, never the address.
struct Formula {
    std::string text;
    std::vector<std::pair<std::string, std::string>> names;
    bool operator==(const Formula&) const = default;
};
inline constexpr std::size_t longestFormula = 4000;  ///< characters

/// One number follows another: read some frames ago, from one range to another. Swapping the ends of a range inverts.
struct Link {
    std::string to;  ///< address of the number that is followed
    double fromLow = 0, fromHigh = 1, toLow = 0, toHigh = 1;
    CurvePoints curve = {};  ///< bends the way between the ranges; empty for straight
    bool clip = false;       ///< stays between toLow and toHigh
    double step = 0;         ///< snaps to whole steps of this size; 0 for none
    double delay = 0;        ///< frames
    bool operator==(const Link&) const = default;
};

/// How one number changes: fixed, keyed (keys in ascending order of frame, no two at the same one), by a formula or by a
/// link. At most one of the three pointers is set. Values are as the person typed them: degrees, metres, percent,
/// sRGB-encoded colour. A switch that moves is a track too: on from ½ upward.
struct Track {
    double value = 0;  ///< of a fixed one; what a formula or a link falls back on where it gives no number
    std::shared_ptr<const std::vector<Key>> keys = nullptr;
    Beyond before = Beyond::hold, after = Beyond::hold;
    std::shared_ptr<const Formula> formula = nullptr;
    std::shared_ptr<const Link> link = nullptr;

    bool keyed() const { return keys && !keys->empty(); }
    bool moves() const { return keyed() || formula || link; }
    bool operator==(const Track& other) const;
};

/// A colour at a place along a ramp: `at` in 0 … 1, sRGB-encoded r, g, b and straight alpha.
struct RampStop {
    double at = 0;
    std::array<double, 4> colour{};
    bool operator==(const RampStop&) const = default;
};
using Ramp = std::vector<RampStop>;
inline constexpr int mostRampStops = 16;

/// Places in the order in which something goes through them, metres.
using Points = std::vector<std::array<double, 3>>;
inline constexpr int mostPoints = 10'000;

/// One to four numbers that belong together: a length, a place, a colour.
using Numbers = std::vector<Track>;

/// What a parameter holds. Choices, texts, files and chosen instances (ids with
/// spaces between) are strings; a choice's string is its id.
using Value = std::variant<Numbers, bool, std::string, ObjectId, Ramp, Points, CurvePoints, Formula>;

inline Numbers fixedNumbers(std::initializer_list<double> values) {
    Numbers numbers;
    for (const double v : values) numbers.push_back({v});
    return numbers;
}

}  // namespace gswarm
