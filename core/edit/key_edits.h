#pragma once
#include <set>
#include <string>
#include <vector>

#include "core/edit/edit.h"

/// Edits of what moves numbers: keys, formulas and links. A number is an address with its component; a switch that is
/// keyed has one number. Of two keys that come to one frame, the one that was moved or pasted stays.
namespace gswarm {

/// One key of one number.
struct KeyPlace {
    Address number;
    double frame = 0;
    bool operator==(const KeyPlace&) const = default;
};

/// The numbers of an object that have keys, in the order of its tables.
std::vector<Address> keyedNumbers(const Scene& scene, ObjectId object);
/// The track of a number; throws Error if the address is not one number.
const Track& trackAt(const Scene& scene, const Address& number);
/// All keys of an object's numbers at one frame.
std::vector<KeyPlace> keysAt(const Scene& scene, ObjectId object, double frame);

/// Puts a key at the frame with the value the number has there; takes it away if there is one.
Edit toggleKey(const Scene& scene, const Address& number, double frame);
/// Turns a switch: a key at the frame where it is keyed.
Edit setSwitch(const Scene& scene, const Address& address, bool on, double frame);
/// Puts this key in place of the one at `frame`: another frame, value, ease or slopes.
Edit setKey(const Scene& scene, const Address& number, double frame, const Key& key);

Edit removeKeys(const Scene& scene, const std::vector<KeyPlace>& keys);
Edit moveKeys(const Scene& scene, const std::vector<KeyPlace>& keys, double byFrames);
/// Multiplies their distances in time from a frame; they go to whole frames.
Edit stretchKeys(const Scene& scene, const std::vector<KeyPlace>& keys, double about, double factor);
/// Turns them around in time between their first and their last, eases and slopes too.
Edit mirrorKeys(const Scene& scene, const std::vector<KeyPlace>& keys);
/// To whole frames.
Edit snapKeys(const Scene& scene, const std::vector<KeyPlace>& keys);
/// Their first and last frame. Throws Error if there are none.
std::pair<double, double> spanOf(const std::vector<KeyPlace>& keys);
Edit setKeyEase(const Scene& scene, const std::vector<KeyPlace>& keys, Ease ease);
/// What numbers do before their first and after their last key.
Edit setBeyond(const Scene& scene, const std::vector<Address>& numbers, Beyond before, Beyond after);

/// Keys taken along: for each number its keys, frames counted from the first of all.
struct CopiedKeys {
    struct Number {
        Address from;
        std::string parameter;  ///< with its slot's prefix
        std::vector<Key> keys;
    };
    std::vector<Number> numbers;
    bool empty() const { return numbers.empty(); }
};
CopiedKeys copyKeys(const Scene& scene, const std::vector<KeyPlace>& keys);
/// From the frame on, onto the numbers of the same name of another object, or, with the empty id, onto those they came
/// from. Throws Error if there are none.
Edit pasteKeys(const Scene& scene, const CopiedKeys& copied, ObjectId onto, double frame);

/// A formula in place of whatever moved the number. Throws FormulaError with the place of a mistake, and Error where it
/// would make a circle or reads instance values that the number can't have.
Edit setFormula(const Scene& scene, const Address& number, const std::string& text);
/// Follows another number. Throws Error with the chain where that would be a circle.
Edit setLink(const Scene& scene, const Address& number, const Link& link);
/// A link with ranges that suit the two numbers: their suggested ranges.
Link suggestedLink(const Scene& scene, const Address& number, const Address& to);
/// Fixed at what it is at the frame.
Edit setFixed(const Scene& scene, const Address& number, double frame);
/// The numbers that follow this one through links or name it in formulas.
std::vector<Address> readersOf(const Scene& scene, const Address& number);
/// All numbers that others follow or name, as links and formulas write them.
std::set<std::string> numbersRead(const Scene& scene);

enum class RateKeeps { frames, seconds };
/// Another frame rate: keys, ranges, loop and times in frames keep their frames, or are moved so that they keep their
/// seconds (times of the project to whole frames).
Edit setRate(const Scene& scene, const std::string& rate, RateKeeps keeps);

}  // namespace gswarm
