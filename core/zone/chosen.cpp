// Zone of instances that were chosen one by one, by their ids.
#include <algorithm>

#include "core/scene/chosen_ids.h"
#include "core/zone/zone_kind.h"

namespace gswarm {
namespace {

struct Chosen {
    std::string ids;
    std::vector<std::uint64_t> sorted;
};

void prepare(Chosen& zone, const RailSource&) { zone.sorted = chosenIds(zone.ids); }

void weigh(const ZoneInput& in, float* weight) {
    const auto& chosen = in.as<Chosen>().sorted;
    for (int i = 0; i < in.count; ++i) {
        const std::uint64_t id = static_cast<std::uint64_t>(in.block->home.idHigh[i]) << 32 | in.block->home.idLow[i];
        weight[i] = std::binary_search(chosen.begin(), chosen.end(), id) ? 1.0f : 0.0f;
    }
}

ZoneKind chosenKind() {
    ZoneKind kind = preparing(makes(DescribeZone<Chosen>("chosen", "Chosen instances", "Acts on instances that you chose, wherever they go")
                                        .found("selection picked manual group mask")
                                        .instances("ids", &Chosen::ids, "The chosen instances")
                                        .label("Instances")
                                        .kind(),
                                    weigh),
                              prepare);
    kind.instancesOnly = [](const void*) { return true; };
    return kind;
}

}  // namespace

const ZoneKind chosenZone = chosenKind();

}  // namespace gswarm
