#pragma once
#include <cstdint>
#include <vector>

#include "core/light/light_kind.h"
#include "core/picture/light_tree.h"

namespace gswarm {

/// Light of one lamp as it comes to a place.
struct LampLight {
    glm::vec3 direction{0};  ///< unit, from the place to the lamp
    float distance = 0;
    glm::vec3 light{0};  ///< radiance times the solid angle it stands for; counts once for the chance of having been picked
    float density = 0;   ///< of the way by solid angle, with the chance of the pick; 0 for lamps that no ray can meet
    int lamp = 0;        ///< which
};

/// Lamps that a place picks one of, and that rays meet.
class LampTree {
  public:
    explicit LampTree(std::vector<Lamp> lamps);
    bool empty() const { return lamps_.empty(); }
    int count() const { return static_cast<int>(lamps_.size()); }
    /// The light, or the swarm that repeats it.
    ObjectId of(int lamp) const { return lamps_[static_cast<std::size_t>(lamp)].of; }
    /// Picks a lamp and a place on it. No light where the lamp shines elsewhere.
    LampLight sample(const glm::vec3& place, float choose, float u, float v) const;
    /// What lamps that a ray meets within a distance send back along it.
    struct Met {
        float distance = 0;
        glm::vec3 light{0};
        float density = 0;  ///< with which sample() would have gone there
        int lamp = 0;
    };
    std::vector<Met> meets(const glm::vec3& from, const glm::vec3& direction, float distance) const;

  private:
    std::vector<Lamp> lamps_;
    LightTree tree_;
    bool solid_ = false;  ///< some of them can be met by rays
};

/// How much of a spot's light goes in a direction away from it.
float spotShare(const Lamp& lamp, const glm::vec3& away);

}  // namespace gswarm
