#include "core/read/overlaps.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <glm/common.hpp>
#include <map>

#include "core/base/parallel.h"
#include "core/read/solid.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

constexpr float shrunk = 1 - 1e-4f;

struct Body {
    Placed placed;
    Bounds bounds;
};

Body bodyOf(const Result& result, std::uint32_t i, const Solid& solid) {
    const float* m = &result.columns->matrix[12 * std::size_t{i}];
    const glm::mat3 axes(m[0], m[4], m[8], m[1], m[5], m[9], m[2], m[6], m[10]);
    // Shrunk about its own middle.
    const glm::vec3 middle = solid.bounds.centre(), place = glm::vec3(m[3], m[7], m[11]) + axes * middle * (1 - shrunk);
    Body body{{&solid, axes * shrunk, place}, {}};
    const glm::vec3 half = solid.bounds.size() * 0.5f, at = body.placed.toWorld(middle);
    const glm::mat3& a = body.placed.axes;
    const glm::vec3 reach = glm::abs(a[0]) * half.x + glm::abs(a[1]) * half.y + glm::abs(a[2]) * half.z;
    body.bounds = {at - reach, at + reach};
    return body;
}

/// Bodies by the cell of their middle, cells in a hash. Cells are as wide as all but the largest bodies.
class Cells {
  public:
    Cells(const std::vector<Body>& bodies, float width) : width_(width) {
        std::size_t size = 64;
        while (size < bodies.size()) size *= 2;
        start_.assign(size + 1, 0);
        for (const Body& b : bodies) ++start_[slot(cellOf(b)) + 1];
        for (std::size_t s = 1; s < start_.size(); ++s) start_[s] += start_[s - 1];
        members_.resize(bodies.size());
        auto next = start_;
        for (std::uint32_t i = 0; i < bodies.size(); ++i) members_[next[slot(cellOf(bodies[i]))]++] = i;
    }
    glm::ivec3 cellOf(const Body& b) const { return glm::ivec3(glm::floor(b.bounds.centre() / width_)); }
    std::size_t slot(const glm::ivec3& c) const {
        const auto mixed = static_cast<std::uint32_t>(c.x) * 0x8DA6B343u ^ static_cast<std::uint32_t>(c.y) * 0xD8163841u ^
                           static_cast<std::uint32_t>(c.z) * 0xCB1AB31Fu;
        return (mixed ^ mixed >> 15) & (start_.size() - 2);
    }
    template <class See>
    void around(const Body& b, See see) const {
        const glm::ivec3 cell = cellOf(b);
        for (int x = -1; x <= 1; ++x)
            for (int y = -1; y <= 1; ++y)
                for (int z = -1; z <= 1; ++z) {
                    const std::size_t s = slot(cell + glm::ivec3(x, y, z));
                    for (std::uint32_t k = start_[s]; k < start_[s + 1]; ++k) see(members_[k]);
                }
    }

  private:
    float width_;
    std::vector<std::uint32_t> start_, members_;
};

bool meet(const Body& a, const Body& b, const Progress& progress) {
    if (glm::any(glm::lessThan(a.bounds.high, b.bounds.low)) || glm::any(glm::lessThan(b.bounds.high, a.bounds.low))) return false;
    return boxesOverlap(a.placed, b.placed, 1, 1) && solidsOverlap(a.placed, b.placed, progress);
}

}  // namespace

int countOverlaps(const Result& result, Progress& progress) {
    std::map<const ShapeMeshes*, Solid> solids;
    std::vector<const Solid*> ofVariant(result.variants.size());
    std::vector<std::uint32_t> shown;
    for (std::uint32_t i = 0; i < static_cast<std::uint32_t>(result.count); ++i) {
        const std::uint16_t v = result.columns->variant[i];
        if (v == notShown) continue;
        if (!ofVariant[v]) {
            const auto* meshes = result.variants[v].meshes.get();
            const auto [entry, fresh] = solids.try_emplace(meshes);
            if (fresh) entry->second = solidOf(meshes->mesh());
            ofVariant[v] = &entry->second;
        }
        if (!ofVariant[v]->triangles.empty()) shown.push_back(i);
    }
    if (shown.size() < 2) return 0;
    progress.check();
    std::vector<Body> bodies(shown.size());
    std::vector<float> widths(shown.size());
    forRanges(shown.size(), 4096, [&](std::size_t begin, std::size_t end) {
        for (std::size_t k = begin; k < end; ++k) {
            bodies[k] = bodyOf(result, shown[k], *ofVariant[result.columns->variant[shown[k]]]);
            const glm::vec3 s = bodies[k].bounds.size();
            widths[k] = std::max({s.x, s.y, s.z});
        }
    });
    std::vector<float> sorted = widths;
    std::nth_element(sorted.begin(), sorted.begin() + static_cast<std::ptrdiff_t>(sorted.size() / 2), sorted.end());
    const float width = std::max(1e-9f, std::min(*std::max_element(widths.begin(), widths.end()), 4 * sorted[sorted.size() / 2]));
    const Cells cells(bodies, width);
    std::vector<std::atomic<bool>> overlapping(bodies.size());
    const auto mark = [&](std::uint32_t i, std::uint32_t j) {
        overlapping[i].store(true, std::memory_order_relaxed);
        overlapping[j].store(true, std::memory_order_relaxed);
    };
    const auto known = [&](std::uint32_t i, std::uint32_t j) {
        return overlapping[i].load(std::memory_order_relaxed) && overlapping[j].load(std::memory_order_relaxed);
    };
    forRanges(bodies.size(), 512, [&](std::size_t begin, std::size_t end) {
        for (auto i = static_cast<std::uint32_t>(begin); i < end && !progress.cancelled(); ++i) {
            const auto see = [&](std::uint32_t j) {
                if (i < j && !known(i, j) && meet(bodies[i], bodies[j], progress)) mark(i, j);
            };
            cells.around(bodies[i], see);
            if (widths[i] <= width) continue;
            // The few that are wider than a cell are held against all.
            for (std::uint32_t j = 0; j < bodies.size(); ++j)
                if (i != j && !known(i, j) && meet(bodies[i], bodies[j], progress)) mark(i, j);
        }
    });
    progress.check();
    return static_cast<int>(std::count_if(overlapping.begin(), overlapping.end(), [](const auto& flag) { return flag.load(); }));
}

}  // namespace gswarm
