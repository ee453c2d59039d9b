#include "core/scene/value.h"

namespace gswarm {

bool Track::operator==(const Track& other) const {
    if (keyed() != other.keyed() || bool(formula) != bool(other.formula) || bool(link) != bool(other.link)) return false;
    if (keyed()) return *keys == *other.keys && before == other.before && after == other.after;
    if (formula && !(*formula == *other.formula)) return false;
    if (link && !(*link == *other.link)) return false;
    return value == other.value;
}

}  // namespace gswarm
