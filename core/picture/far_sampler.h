#pragma once
#include <array>
#include <glm/vec3.hpp>
#include <span>
#include <vector>

#include "core/light/far_light.h"
#include "core/picture/cone.h"

namespace gswarm {

/// Light of one source from far away along one direction.
struct FarWay {
    glm::vec3 direction{0, 1, 0};  ///< unit, toward it
    glm::vec3 light{0};            ///< its radiance
    float density = 0;             ///< by solid angle, with which sample() goes there; 0 where it does not shine from
};

/// The same at sixteen places.
struct FarWays {
    VectorLanes direction;
    std::array<glm::vec3, placesTogether> light;
    NumberLanes density;
};

/// Picks directions from which suns and surroundings shine, of each about as often as they matter. The soft light of skies is not among
/// them: it comes from everywhere.
class FarSampler {
  public:
    explicit FarSampler(const FarLight& light);
    /// Suns first, then surroundings.
    int count() const { return static_cast<int>(suns_.size() + surroundings_.size()); }
    /// The light that it is.
    ObjectId of(int source) const { return of_[static_cast<std::size_t>(source)]; }
    /// Ways for these of sixteen places, by two numbers of 0 … 1 each.
    void sample(int source, std::span<const int> places, const NumberLanes& u, const NumberLanes& v, FarWays& ways) const;
    /// What a ray that meets nothing brings of a source.
    FarWay met(int source, const glm::vec3& direction) const;

    /// One of the sources, by what white paper would send back if it faced them; the chance that it is this one.
    int pick(float choose) const;
    float chanceOf(int source) const { return chances_[static_cast<std::size_t>(source)]; }

  private:
    /// A sun's disc.
    struct Disc {
        Cone cone;
        glm::vec3 light;
        float density;  ///< of its directions by solid angle
    };
    static Disc discOf(const Sun& sun);
    const Surroundings& around(int source) const { return surroundings_[static_cast<std::size_t>(source) - suns_.size()]; }
    bool isSun(int source) const { return static_cast<std::size_t>(source) < suns_.size(); }

    std::vector<Disc> suns_;
    std::vector<Surroundings> surroundings_;
    std::vector<float> chances_;
    std::vector<ObjectId> of_;
};

}  // namespace gswarm
