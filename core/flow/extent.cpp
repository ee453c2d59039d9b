#include "core/flow/extent.h"

#include <cmath>

namespace gswarm {
namespace {

Bounds extentOfOriginal(const Result& result) {
    Bounds all;
    for (std::size_t row = 0; row < static_cast<std::size_t>(result.count); ++row) {
        const std::uint16_t variant = result.columns->variant[row];
        if (variant == notShown) continue;
        const Bounds& shape = result.variants[variant].meshes->bounds;
        const glm::vec3 middle = shape.centre(), half = shape.size() * 0.5f;
        const float* m = &result.columns->matrix[12 * row];
        for (int axis = 0; axis < 3; ++axis) {
            const float* line = m + 4 * axis;
            const float at = line[0] * middle.x + line[1] * middle.y + line[2] * middle.z + line[3];
            const float reach = std::abs(line[0]) * half.x + std::abs(line[1]) * half.y + std::abs(line[2]) * half.z;
            all.low[axis] = std::min(all.low[axis], at - reach);
            all.high[axis] = std::max(all.high[axis], at + reach);
        }
    }
    return all;
}

}  // namespace

Bounds extentOf(const Result& result) {
    const Bounds one = extentOfOriginal(result);
    if (one.empty()) return one;
    Bounds all = one;
    for (std::size_t k = 1; k < result.copies.size(); ++k) {
        const glm::mat4& copy = result.copies[k];
        const glm::vec3 half = one.size() * 0.5f, at(copy * glm::vec4(one.centre(), 1));
        const glm::vec3 reach =
            glm::abs(glm::vec3(copy[0])) * half.x + glm::abs(glm::vec3(copy[1])) * half.y + glm::abs(glm::vec3(copy[2])) * half.z;
        all.add(at - reach), all.add(at + reach);
    }
    return all;
}

}  // namespace gswarm
