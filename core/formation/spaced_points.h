#pragma once
#include <cmath>
#include <glm/geometric.hpp>
#include <glm/vec3.hpp>
#include <vector>

namespace gswarm {

/// Points that keep a distance: told quickly whether another one may join. Cells as wide as the distance, found by a
/// hash; each holds a short chain.
class SpacedPoints {
  public:
    SpacedPoints(float distance, std::size_t expected) : distance_(distance) {
        std::size_t size = 64;
        while (size < 2 * expected && size < (std::size_t{1} << 26)) size *= 2;
        heads_.assign(size, -1);
    }
    const std::vector<glm::vec3>& points() const { return points_; }

    /// Calls see(point) for all points that may lie within the distance; stops when it returns false.
    template <class See>
    bool around(const glm::vec3& p, See see) const {
        const glm::ivec3 cell = cellOf(p);
        for (int x = -1; x <= 1; ++x)
            for (int y = -1; y <= 1; ++y)
                for (int z = -1; z <= 1; ++z)
                    for (int i = heads_[slot(cell + glm::ivec3(x, y, z))]; i >= 0; i = next_[static_cast<std::size_t>(i)])
                        if (!see(points_[static_cast<std::size_t>(i)])) return false;
        return true;
    }
    bool fits(const glm::vec3& p) const {
        return around(p, [&](const glm::vec3& other) {
            const glm::vec3 d = other - p;
            return glm::dot(d, d) >= distance_ * distance_;
        });
    }
    void add(const glm::vec3& p) {
        const std::size_t s = slot(cellOf(p));
        next_.push_back(heads_[s]);
        heads_[s] = static_cast<int>(points_.size());
        points_.push_back(p);
    }

  private:
    glm::ivec3 cellOf(const glm::vec3& p) const { return glm::ivec3(glm::floor(p / distance_)); }
    std::size_t slot(const glm::ivec3& c) const {
        const auto mixed = static_cast<std::uint32_t>(c.x) * 0x8DA6B343u ^ static_cast<std::uint32_t>(c.y) * 0xD8163841u ^
                           static_cast<std::uint32_t>(c.z) * 0xCB1AB31Fu;
        return (mixed ^ mixed >> 15) & (heads_.size() - 1);
    }
    float distance_;
    std::vector<int> heads_, next_;
    std::vector<glm::vec3> points_;
};

}  // namespace gswarm
