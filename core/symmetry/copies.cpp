#include "core/symmetry/copies.h"

#include <algorithm>
#include <glm/geometric.hpp>
#include <glm/gtc/matrix_transform.hpp>
#include <numeric>

namespace gswarm {
namespace {

constexpr float same = 1e-5f;

bool fallTogether(const glm::mat4& a, const glm::mat4& b) {
    const float away = glm::length(glm::vec3(a[3] - b[3])), far = 1 + glm::length(glm::vec3(a[3]));
    float turned = 0;
    for (int c = 0; c < 3; ++c) turned = std::max(turned, glm::length(glm::vec3(a[c] - b[c])));
    return away < same * far && turned < same * (glm::length(glm::vec3(a[0])) + 1e-20f);
}

/// Without those that fall together with an earlier one. What is alike has nearly the same sum: only neighbours in the order of
/// sums are held against each other.
std::vector<glm::mat4> eachOnce(const std::vector<glm::mat4>& all) {
    std::vector<double> sums;
    for (const glm::mat4& m : all) {
        double sum = 0, share = 0.31;
        for (int c = 0; c < 4; ++c)
            for (int r = 0; r < 3; ++r, share += 0.057) sum += share * double(m[c][r]);
        sums.push_back(sum);
    }
    std::vector<std::size_t> order(all.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return sums[a] < sums[b]; });
    std::vector<bool> again(all.size());
    for (std::size_t i = 0; i < order.size(); ++i) {
        const glm::mat4& one = all[order[i]];
        const double reach = double(same) * 12 * (1 + glm::length(glm::vec3(one[3])) + glm::length(glm::vec3(one[0])));
        for (std::size_t j = i + 1; j < order.size() && sums[order[j]] - sums[order[i]] < reach; ++j)
            if (fallTogether(one, all[order[j]])) again[std::max(order[i], order[j])] = true;
    }
    std::vector<glm::mat4> once;
    for (std::size_t i = 0; i < all.size(); ++i)
        if (!again[i]) once.push_back(all[i]);
    return once;
}

}  // namespace

std::vector<glm::mat4> copiesOfCopies(std::span<const std::vector<glm::mat4>> symmetries) {
    std::vector<glm::mat4> all{glm::mat4(1)};
    for (const auto& copies : symmetries) {
        std::vector<glm::mat4> next;
        for (const glm::mat4& copy : copies)
            for (const glm::mat4& before : all) next.push_back(copy * before);
        all = eachOnce(next);
    }
    return all;
}

SimilarityParts partsOf(const glm::mat4& m) {
    glm::mat3 axes(m);
    const float scale = scaleOf(m);
    const bool mirrors = glm::determinant(axes) < 0;
    if (mirrors) axes[0] = -axes[0];
    const glm::quat rotation = scale > 0 ? glm::normalize(glm::quat_cast(axes / scale)) : glm::quat(1, 0, 0, 0);
    return {glm::vec3(m[3]), rotation, {mirrors ? -scale : scale, scale, scale}};
}

float scaleOf(const glm::mat4& m) { return glm::length(glm::vec3(m[0])); }

glm::quat CopyInWorld::rotation(const glm::quat& q) const {
    // Mirrored across X, a turn about Y or Z goes the other way round: M R M with M = diag(−1, 1, 1).
    return parts.rotation * (parts.scale.x < 0 ? glm::quat(q.w, q.x, -q.y, -q.z) : q);
}

std::vector<CopyInWorld> furtherCopies(const WorldPose& pose, std::span<const glm::mat4> copies) {
    std::vector<CopyInWorld> further;
    for (std::size_t k = 1; k < copies.size(); ++k) {
        const glm::mat4 stand = matrixOf(pose) * copies[k];
        further.push_back({stand, partsOf(stand)});
    }
    return further;
}

}  // namespace gswarm
