#pragma once
#include <string>
#include <string_view>

#include "core/scene/scene.h"

namespace gswarm {

/// Where a value lives: `id/parameter.component`, such as `z4k…/position.x` or `g9w…/pattern-size`.
/// The component is x, y, z (or r, g, b, a for colours) or left out for all of them.
struct Address {
    ObjectId object;
    int slot = 0;
    int parameter = 0;
    int component = -1;  ///< −1 means all

    bool operator==(const Address&) const = default;
};

std::string toText(const Scene& scene, const Address& address);

/// The object with an id or, where it is unique, a name. Throws Error if there is none or several.
ObjectId objectNamed(const Scene& scene, std::string_view text);

/// Also takes an object's name in place of its id where the name is unique: `Swell/position.x`.
/// Throws Error if it names nothing in the scene.
Address parseAddress(const Scene& scene, std::string_view text);
/// The address of a parameter by its id with the slot's prefix, e.g. "pattern-size". Throws Error if there is none.
Address addressOf(const Scene& scene, ObjectId object, std::string_view parameter, int component = -1);

/// Whether there is a value behind an address that was right for some scene: its object may have been deleted since, or the
/// kind in its slot changed.
bool exists(const Scene& scene, const Address& address);
/// Both throw Error where there is none.
const Parameter& parameterAt(const Scene& scene, const Address& address);
const Value& valueOf(const Scene& scene, const Address& address);
/// The same for one or more numbers. Throws Error where there are none, or a switch that does not move.
const Numbers& numbersAt(const Scene& scene, const Address& address);

/// Throws Error if the value may not stand there: wrong type, out of the hard range, not finite, unknown choice.
/// `where` opens the sentence.
void checkValue(const Parameter& parameter, const Value& value, const std::string& where);

}  // namespace gswarm
