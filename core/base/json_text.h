#pragma once
#include <nlohmann/json_fwd.hpp>
#include <string>

/// JSON's text, read and written in one place: what the library makes for it takes seconds to compile in every file that asks.
namespace gswarm {

/// Throws nlohmann::json::parse_error.
nlohmann::ordered_json parsedJson(const std::string& text);
/// In one line, or with each member on its own and so many spaces before it.
std::string jsonText(const nlohmann::ordered_json& json, int indent = -1);

}  // namespace gswarm
