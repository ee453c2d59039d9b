#pragma once
#include <array>
#include <memory>
#include <string>
#include <utility>
#include <variant>
#include <vector>

#include "core/scene/object_id.h"

namespace gswarm {

/// How a number goes from one key to the next.
enum class Ease { linear, hold, eased };
/// As the project file and undo call them, in the order of Ease.
inline constexpr std::array<const char*, 3> easeNames = {"linear", "hold", "eased"};

struct Key {
    double frame = 0;
    double value = 0;
    Ease ease = Ease::eased;  ///< on the way to the next key
    bool operator==(const Key&) const = default;
};

/// How one number changes: fixed while `keys` is empty, otherwise keyed (keys in ascending order of frame, no two at
/// the same one). Values are as the person typed them: degrees, metres, percent, sRGB-encoded colour.
struct Track {
    double value = 0;
    std::shared_ptr<const std::vector<Key>> keys;

    bool keyed() const { return keys && !keys->empty(); }
    bool operator==(const Track& other) const {
        if (keyed() != other.keyed()) return false;
        return keyed() ? *keys == *other.keys : value == other.value;
    }
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

/// One to four numbers that belong together: a length, a place, a colour.
using Numbers = std::vector<Track>;

/// What a parameter holds. Choices, texts, files and chosen instances (ids with
/// spaces between) are strings; a choice's string is its id.
using Value = std::variant<Numbers, bool, std::string, ObjectId, Ramp, Points, CurvePoints, Formula>;

inline Numbers fixedNumbers(std::initializer_list<double> values) {
    Numbers numbers;
    for (const double v : values) numbers.push_back({v, nullptr});
    return numbers;
}

}  // namespace gswarm
