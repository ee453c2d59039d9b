#pragma once
#include <array>

#include "core/scene/address.h"
#include "core/scene/scene.h"

namespace gswarm {

/// Nine values of one number, tried side by side.
struct VariationRange {
    double from, to;
    bool operator==(const VariationRange&) const = default;
};
inline constexpr int variationCount = 9;

/// Where they begin: seeds count up from the present one; whole numbers stand around it; all else goes from half to one and
/// a half times the present value, or over the suggested range where that is 0. Held within the hard range.
VariationRange standardVariations(const Parameter& parameter, double now);

/// Evenly from one end to the other; whole numbers are rounded.
std::array<double, variationCount> valuesOf(const Parameter& parameter, const VariationRange& range);

/// The number that a person most likely wants to vary in a gesture: the seed of what drives it, else its strongest amount,
/// else its strength.
Address variedNumber(const Scene& scene, ObjectId gesture);

}  // namespace gswarm
