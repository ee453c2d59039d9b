#pragma once
#include <string_view>

namespace gswarm {

/// Whether a JSON text opens more than so many lists and objects inside one another. Parsers that call themselves for each
/// level would run out of stack on some millions of them, so whoever parses JSON from others asks this first.
bool nestedDeeperThan(std::string_view json, int most);

}  // namespace gswarm
