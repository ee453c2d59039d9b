#pragma once
#include <optional>
#include <string_view>

namespace gswarm {

/// The number a person typed, in the unit of its setting ("m", "°", "frames", "%" …): arithmetic with + − * / and brackets,
/// a decimal point or comma, exponents, and units: km, m, cm, mm for lengths, ° or deg and turn or turns for angles, f
/// (frames) and s (seconds at the rate) for times. A unit behind a product holds for all of it: 1/4 turns is a quarter
/// turn. Empty if it is none or not finite.
std::optional<double> typedNumber(std::string_view text, std::string_view unit, double framesPerSecond);

}  // namespace gswarm
