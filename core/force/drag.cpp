// Slows whatever moves, as water does.
#include <algorithm>

#include "core/force/force_kind.h"

namespace gswarm {
namespace {

struct Drag : ForceBasics {
    float grip;
};

void act(const ForceInput& in, ForceColumns& out) {
    for (float* column : {out.push.x, out.push.y, out.push.z}) std::fill_n(column, in.count, 0.0f);
    std::fill_n(out.grip, in.count, in.as<Drag>().grip);
}

ForceKind dragKind() {
    DescribeForce<Drag> d("drag", "Drag", "Slows whatever moves");
    d.found("friction damping resistance viscosity water slow");
    d.number("grip", &Drag::grip, 2, {0, 20}, "How quickly it slows: in a second divided by this they lose 63 % of their speed")
        .unit("1/s")
        .hard(0, 1e3);
    return makes(d, act);
}

}  // namespace

const ForceKind dragForce = dragKind();

}  // namespace gswarm
