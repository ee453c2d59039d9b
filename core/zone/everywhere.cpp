// The zone that takes in everything, to be cut or mixed with others.
#include <algorithm>

#include "core/zone/zone_kind.h"

namespace gswarm {
namespace {

struct Everywhere {};

void weigh(const ZoneInput& in, float* weight) { std::fill_n(weight, in.count, 1.0f); }

}  // namespace

const ZoneKind everywhereZone = makes(
    DescribeZone<Everywhere>("everywhere", "Everywhere", "Acts on everything, to be cut by others").found("all whole base").kind(), weigh);

}  // namespace gswarm
