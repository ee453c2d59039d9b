#pragma once
#include <string_view>

#include "core/scene/address.h"

namespace gswarm {

/// The value a person typed, checked against the parameter: numbers with commas between components or a formula behind =, on/off, a
/// choice's id, an object's id or name, a text. Throws Error that tells what is allowed.
Value parseValue(const Scene& scene, const Address& address, std::string_view typed);

}  // namespace gswarm
