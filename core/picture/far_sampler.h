#pragma once
#include <array>
#include <glm/vec3.hpp>
#include <span>
#include <vector>

#include "core/light/far_light.h"
#include "core/picture/cone.h"

namespace gswarm {

struct PanoramaPlaces;

/// Light of one source from far away along one direction each for sixteen places.
struct FarWays {
    VectorLanes direction;                          ///< unit, toward it
    std::array<glm::vec3, placesTogether> light{};  ///< its radiance
    NumberLanes density;                            ///< by solid angle, with which sample() goes there; 0 where it does not shine from
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
    /// What rays that meet nothing bring of a source, for these of sixteen places; density 0 where it does not shine from there.
    void met(int source, std::span<const int> places, const VectorLanes& directions, FarWays& ways) const;

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
    struct Around {
        Surroundings surroundings;
        float cosine, sine;  ///< of its turn
    };
    static void look(const Around& all, std::span<const int> places, const PanoramaPlaces& on, FarWays& ways);
    const Around& around(int source) const { return surroundings_[static_cast<std::size_t>(source) - suns_.size()]; }
    bool isSun(int source) const { return static_cast<std::size_t>(source) < suns_.size(); }

    std::vector<Disc> suns_;
    std::vector<Around> surroundings_;
    std::vector<float> chances_;
    std::vector<ObjectId> of_;
};

}  // namespace gswarm
