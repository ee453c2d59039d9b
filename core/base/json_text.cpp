#include "core/base/json_text.h"

#include <nlohmann/json.hpp>

namespace gswarm {

nlohmann::ordered_json parsedJson(const std::string& text) { return nlohmann::ordered_json::parse(text); }
std::string jsonText(const nlohmann::ordered_json& json, int indent) { return json.dump(indent); }

}  // namespace gswarm
