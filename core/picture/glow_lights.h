#pragma once
#include <map>
#include <memory>
#include <vector>

#include "core/picture/light_tree.h"
#include "core/picture/trace_world.h"

namespace gswarm {

/// The light that a surface gives of itself on either side, without its rim.
inline glm::vec3 glowOf(const Material& m) {
    if (m.emission <= 0) return glm::vec3(0);
    return (m.emissionColour == glm::vec3(0) ? glm::vec3(m.colour) : m.emissionColour) * m.emission;
}

/// Light of a place on something that glows, as it comes to another.
struct GlowLight {
    glm::vec3 direction{0};  ///< unit, toward what glows
    float distance = 0;
    glm::vec3 light{0};  ///< radiance by its opacity, divided by the density
    float density = 0;   ///< of the way by solid angle
};

/// Things that give light of themselves: places look for it, instead of only meeting it by chance. What moves while the shutter is open,
/// what inner swarms show joined, what glows at few places of it alone, and all where more than `mostGlowing` may glow are only met.
class GlowLights {
  public:
    /// Of the look that the world has; it must outlive this, or its next dress.
    explicit GlowLights(const TraceWorld& world);
    bool empty() const { return tree_.empty(); }

    /// Picks a thing, a triangle of it by its share of the area, and a place on that evenly. Of a tree that isn't empty.
    GlowLight sample(const glm::vec3& place, float choose, float triangle, float u, float v) const;
    /// With which sample() goes from a place in that direction to what is met there; 0 for what it never goes to.
    float densityOf(const Hit& hit, const glm::vec3& from, const glm::vec3& direction) const;

  private:
    struct Skin {
        std::vector<double> areas;  ///< of the triangles in their own metres, summed up
        glm::vec3 low{1e30f}, high{-1e30f};
        double shareOf(std::uint32_t triangle) const { return (areas[triangle] - (triangle > 0 ? areas[triangle - 1] : 0)) / areas.back(); }
    };
    struct Thing {
        std::uint32_t geometry;
        const Skin* skin;
        glm::mat4 pose;
    };
    void gather();
    /// A light for each of `things_`.
    std::vector<LightBox> boxes();
    const Skin& skinOf(const Mesh& mesh);

    const TraceWorld* world_;
    std::map<const Mesh*, std::unique_ptr<Skin>> skins_;
    std::vector<Thing> things_;
    std::vector<std::int32_t> thingOf_;  ///< by geometries, below 0 for none
    LightTree tree_;
};

inline constexpr std::size_t mostGlowing = 30'000;

}  // namespace gswarm
