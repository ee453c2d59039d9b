// Zone of the instances nearest to its place.
#include <algorithm>
#include <glm/geometric.hpp>
#include <numeric>

#include "core/zone/zone_kind.h"

namespace gswarm {
namespace {

struct Nearest {
    int count;
    std::vector<std::uint32_t> numbers;  ///< of the chosen ones, ascending
};

void gather(void* data, std::span<const glm::vec3> places, std::span<const std::uint32_t> numbers) {
    auto& zone = *static_cast<Nearest*>(data);
    std::vector<std::uint32_t> rows(places.size());
    std::iota(rows.begin(), rows.end(), 0u);
    const auto wanted = static_cast<std::ptrdiff_t>(std::min<std::size_t>(static_cast<std::size_t>(zone.count), rows.size()));
    std::partial_sort(rows.begin(), rows.begin() + wanted, rows.end(), [&](std::uint32_t a, std::uint32_t b) {
        const float da = glm::dot(places[a], places[a]), db = glm::dot(places[b], places[b]);
        return da != db ? da < db : numbers[a] < numbers[b];
    });
    zone.numbers.clear();
    for (std::ptrdiff_t r = 0; r < wanted; ++r) zone.numbers.push_back(numbers[rows[static_cast<std::size_t>(r)]]);
    std::sort(zone.numbers.begin(), zone.numbers.end());
}

void weigh(const ZoneInput& in, float* weight) {
    const auto& chosen = in.as<Nearest>().numbers;
    for (int i = 0; i < in.count; ++i)
        weight[i] = std::binary_search(chosen.begin(), chosen.end(), static_cast<std::uint32_t>(in.block->number[i])) ? 1.0f : 0.0f;
}

ZoneKind nearestKind() {
    ZoneKind kind = makes(DescribeZone<Nearest>("nearest", "Nearest to a point", "Acts on the instances nearest to its place")
                              .found("closest selection count hero")
                              .whole("count", &Nearest::count, 1, {1, 50}, "How many of them")
                              .hard(1, 1e6)
                              .kind(),
                          weigh);
    kind.gather = gather;
    kind.instancesOnly = [](const void*) { return true; };
    return kind;
}

}  // namespace

const ZoneKind nearestZone = nearestKind();

}  // namespace gswarm
