// An even current along the force's own X.
#include "core/force/force_kind.h"

namespace gswarm {
namespace {

struct Wind : ForceBasics {
    float speed, grip;
};

void act(const ForceInput& in, ForceColumns& out) {
    const auto& wind = in.as<Wind>();
    for (int i = 0; i < in.count; ++i) {
        out.push.x[i] = wind.grip * wind.speed;
        out.push.y[i] = out.push.z[i] = 0;
        out.grip[i] = wind.grip;
    }
}

ForceKind windKind() {
    DescribeForce<Wind> d("wind", "Wind", "Takes things along one way");
    d.found("air flow blow gust breeze directional");
    d.number("speed", &Wind::speed, 3, {0, 20}, "How fast it blows along its own X").unit("m/s").hard(-1e4, 1e4);
    d.grips(2);
    return makes(d, act);
}

}  // namespace

const ForceKind windForce = windKind();

}  // namespace gswarm
