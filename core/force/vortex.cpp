// A current around the force's own Y: stiff within its core, outside slower with the distance (the vortex of Rankine, 1858).
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/force/force_kind.h"

namespace gswarm {
namespace {

struct Vortex : ForceBasics {
    float turns, core, inward, lift, grip;
};

void act(const ForceInput& in, ForceColumns& out) {
    const auto& vortex = in.as<Vortex>();
    const float spin = 2 * std::numbers::pi_v<float> * vortex.turns, core = std::max(vortex.core, 1e-4f);
    for (int i = 0; i < in.count; ++i) {
        const float x = in.local.x[i], z = in.local.z[i], squared = x * x + z * z, away = std::sqrt(squared);
        const float around = squared > core * core ? spin * core * core / squared : spin;
        // Toward the axis as fast as asked, but for the middle of the core, where there is nowhere to go.
        const float draw = vortex.inward / std::max(away, core / 4);
        out.push.x[i] = vortex.grip * (around * z - draw * x);
        out.push.y[i] = vortex.grip * vortex.lift;
        out.push.z[i] = vortex.grip * (-around * x - draw * z);
        out.grip[i] = vortex.grip;
    }
}

ForceKind vortexKind() {
    DescribeForce<Vortex> d("vortex", "Vortex", "Takes things around an axis, its own Y");
    d.found("whirl swirl tornado spin spiral eddy whirlpool");
    d.number("turns", &Vortex::turns, 0.5, {-4, 4}, "Turns a second within the core; below 0 the other way").unit("Hz").hard(-1e3, 1e3);
    d.length("core", &Vortex::core, 1, {0.1, 10}, "Within this distance of the axis all turns alike; farther out it gets slower")
        .hard(1e-3, 1e6);
    d.number("inward", &Vortex::inward, 0, {-5, 5}, "How fast it draws things to the axis").unit("m/s").hard(-1e4, 1e4);
    d.number("lift", &Vortex::lift, 0, {-5, 5}, "How fast it carries things along the axis").unit("m/s").hard(-1e4, 1e4);
    d.grips(4);
    return makes(d, act);
}

}  // namespace

const ForceKind vortexForce = vortexKind();

}  // namespace gswarm
