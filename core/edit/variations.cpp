#include "core/edit/variations.h"
#include "core/resolve/resolve.h"

#include <algorithm>
#include <cmath>

namespace gswarm {

VariationRange standardVariations(const Parameter& p, double now) {
    const auto held = [&](double v) { return std::clamp(v, p.hard.low, p.hard.high); };
    constexpr double last = variationCount - 1;
    if (p.id == "seed" || p.id.ends_with("Seed")) {
        const double from = std::min(now, p.hard.high - last);
        return {held(from), held(from + last)};
    }
    if (p.type == ParameterType::whole) {
        const double from = held(now - last / 2);
        return {from, held(from + last)};
    }
    if (now == 0) return {held(p.suggested.low), held(p.suggested.high)};
    return {held(now * 0.5), held(now * 1.5)};
}

std::array<double, variationCount> valuesOf(const Parameter& p, const VariationRange& range) {
    std::array<double, variationCount> values{};
    for (int k = 0; k < variationCount; ++k) {
        const double share = static_cast<double>(k) / (variationCount - 1);
        const double value = range.from + (range.to - range.from) * share;
        values[static_cast<std::size_t>(k)] = p.type == ParameterType::whole ? std::round(value) : value;
    }
    return values;
}

Address variedNumber(const Scene& scene, ObjectId gesture) {
    const Object& object = scene.at(gesture);
    if (object.part("pattern").kind->indexOf("seed") >= 0) return addressOf(scene, gesture, "pattern-seed");
    const Part& change = object.part("change");
    for (const char* channel : {"position", "rotation", "scale"}) {
        const std::string name = channel;
        if (change.kind->indexOf(name + "Amount") < 0 || !switchOf(change, name)) continue;
        int largest = 0;
        for (int c = 1; c < 3; ++c)
            if (std::abs(numberAt(scene, change, name + "Amount", 0, c)) > std::abs(numberAt(scene, change, name + "Amount", 0, largest)))
                largest = c;
        return addressOf(scene, gesture, name + "Amount", largest);
    }
    return addressOf(scene, gesture, "strength");
}

}  // namespace gswarm
