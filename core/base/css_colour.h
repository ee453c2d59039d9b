#pragma once
#include <glm/vec4.hpp>
#include <optional>
#include <string_view>

namespace gswarm {

/// A colour of CSS (level 3): a name, #rgb, #rgba, #rrggbb, #rrggbbaa, rgb(), rgba(), hsl(), hsla(). sRGB-encoded with
/// straight alpha; none for anything else.
std::optional<glm::vec4> cssColour(std::string_view text);

}  // namespace gswarm
