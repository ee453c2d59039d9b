#include "tests/core/traced.h"

namespace gswarm::making {

Shot shotOf(const Build& b) {
    static Evaluator evaluator;
    Progress progress;
    return {{drawListOf(std::vector{evaluator.evaluate(b.scene, b.swarm, 0, {}, progress)})}, {settingAt(b.scene, 0, making::store())}};
}

std::vector<float> numbersOf(const Film& film) {
    std::vector<float> all;
    for (const Film::Pixel& p : film.pixels)
        for (const float v : {p.light.x, p.light.y, p.light.z, p.coverage, p.albedo.x, p.depth, p.normal.y, p.squares, p.early})
            all.push_back(v);
    return all;
}

}  // namespace gswarm::making
