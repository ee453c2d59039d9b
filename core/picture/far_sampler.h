#pragma once
#include <glm/vec3.hpp>
#include <vector>

#include "core/light/far_light.h"

namespace gswarm {

/// Light from far away along one direction.
struct FarWay {
    glm::vec3 direction{0, 1, 0};  ///< unit, toward it
    glm::vec3 light{0};            ///< radiance of all suns and surroundings there
    float density = 0;             ///< by solid angle, with which sample() goes there
};

/// Picks directions from which suns and surroundings shine, about as often as they matter. The soft light of skies is not among
/// them: it comes from everywhere.
class FarSampler {
  public:
    explicit FarSampler(const FarLight& light);
    bool empty() const { return suns_.empty() && surroundings_.empty(); }
    FarWay sample(float choose, float u, float v) const;
    /// What a ray that meets nothing brings of them.
    FarWay met(const glm::vec3& direction) const;

  private:
    /// A sun's disc as a cone of directions.
    struct Disc {
        explicit Disc(const Sun& sun);
        glm::vec3 toward, a, b, light;
        float cosine, density;  ///< of its directions by solid angle
        float chance = 0;       ///< of being picked
        bool holds(const glm::vec3& direction) const;
        glm::vec3 direction(float u, float v) const;
    };
    struct Around {
        Surroundings what;
        float chance = 0;
    };
    /// Adds all but one disc.
    void add(FarWay& way, const Disc* but) const;

    std::vector<Disc> suns_;
    std::vector<Around> surroundings_;
};

}  // namespace gswarm
