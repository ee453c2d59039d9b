#pragma once
#include <glm/vec3.hpp>

#include "core/picture/place_lanes.h"

namespace gswarm {

/// All directions within an angle of an axis.
struct Cone {
    /// Around a unit vector, as far as an angle, radians.
    Cone(const glm::vec3& toward, float angle);
    glm::vec3 toward, along, across;  ///< unit, perpendicular to each other
    float cosine;                     ///< of the angle

    bool holds(const glm::vec3& direction) const;
};

/// Sixteen of them by two numbers of 0 … 1 each, evenly by solid angle.
void directionsIn(const Cone& cone, const NumberLanes& u, const NumberLanes& v, VectorLanes& directions);

/// Two unit vectors perpendicular to n and each other (Duff et al. 2017).
void basis(const glm::vec3& n, glm::vec3& a, glm::vec3& b);

}  // namespace gswarm
