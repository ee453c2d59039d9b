#pragma once
#include <array>
#include <glm/common.hpp>
#include <glm/vec3.hpp>
#include <numbers>
#include <span>
#include <vector>

namespace gswarm {

/// Directions that lights shine in: around an axis as far as an angle, radians; without one everywhere.
struct LightCone {
    glm::vec3 axis{0, -1, 0};
    float spread = std::numbers::pi_v<float>;
};

/// Where a light is, where it shines and how much: about candela, above 0.
struct LightBox {
    glm::vec3 low{0}, high{0};
    LightCone cone;
    float power = 0;
};

/// Lights in a tree of boxes and cones, of which a place picks one about as often as it matters there (after Conty Estevez and
/// Kulla 2018). Thousands cost as much as a dozen steps down.
class LightTree {
  public:
    explicit LightTree(std::vector<LightBox> lights);
    bool empty() const { return nodes_.empty(); }

    struct Picked {
        int light = 0;
        float chance = 1;
    };
    /// Of a tree that isn't empty.
    Picked pick(const glm::vec3& place, float choose) const;
    /// With which pick() would have come to that light.
    float chanceOf(int light, const glm::vec3& place) const;

    /// Calls `look(light)` for each whose box a ray meets within a distance.
    template <class Look>
    void meet(const glm::vec3& from, const glm::vec3& direction, float distance, const Look& look) const {
        if (empty()) return;
        const glm::vec3 inverse = 1.0f / direction;
        std::array<int, 64> open;
        std::size_t count = 0;
        open[count++] = 0;
        while (count > 0) {
            const Node& node = nodes_[static_cast<std::size_t>(open[--count])];
            if (!meetsBox(node.box, from, inverse, distance)) continue;
            if (node.left < 0) {
                look(node.right);
            } else {
                open[count++] = node.left, open[count++] = node.right;
            }
        }
    }

  private:
    struct Node {
        LightBox box;
        int left = -1, right = -1;  ///< of a leaf: −1, and the light
    };
    int build(const std::vector<LightBox>& lights, std::span<int> order, int parent);
    float weight(int node, const glm::vec3& place) const;
    /// How often the left of two is picked.
    float leftShare(const Node& node, const glm::vec3& place) const;
    static bool meetsBox(const LightBox& box, const glm::vec3& from, const glm::vec3& inverse, float distance);

    std::vector<Node> nodes_;
    std::vector<int> parent_, leafOf_;
};

}  // namespace gswarm
