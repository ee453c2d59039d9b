#include "core/flow/block_lanes.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/flow/block_lanes.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

void settleLanes(Block& block) {
    const HomeColumns& home = block.home;
    const F zero = hn::Zero(Floats()), one = number(1);
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        store(load(home.position.x + i), block.position.x + i);
        store(load(home.position.y + i), block.position.y + i);
        store(load(home.position.z + i), block.position.z + i);
        store(load(home.rotation.x + i), block.rotation.x + i);
        store(load(home.rotation.y + i), block.rotation.y + i);
        store(load(home.rotation.z + i), block.rotation.z + i);
        store(load(home.rotation.w + i), block.rotation.w + i);
        const F size = load(home.size + i);
        store(size, block.scale.x + i);
        store(size, block.scale.y + i);
        store(size, block.scale.z + i);
        store(one, block.shown + i);
        store(zero, block.shift + i);
    }
}

void fillLanes(float value, int count, float* column) {
    const F v = number(value);
    for (int i = 0; i < count; i += lanes()) store(v, column + i);
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(settleLanes);
HWY_EXPORT(fillLanes);

void settleAtHome(Block& block) { HWY_DYNAMIC_DISPATCH(settleLanes)(block); }
void fillColumn(float value, int count, float* column) { HWY_DYNAMIC_DISPATCH(fillLanes)(value, count, column); }

}  // namespace gswarm
#endif
