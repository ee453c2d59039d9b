#pragma once
#include <nlohmann/json_fwd.hpp>

namespace gswarm {

/// For migrations of kinds: a parameter's number times a factor, whether it is fixed, keyed, a formula or a link.
void scaleNumber(nlohmann::ordered_json& part, const char* parameter, double factor);

}  // namespace gswarm
