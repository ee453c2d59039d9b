#pragma once
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace gswarm {

/// Ids as a parameter of chosen instances holds them: ascending, each once, with a space between.
std::string chosenText(std::vector<std::uint64_t> ids);
/// The ids in such a text, ascending. Throws Error if something in it is no id.
std::vector<std::uint64_t> chosenIds(std::string_view text);

}  // namespace gswarm
