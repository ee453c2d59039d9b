#pragma once
#include <glm/gtc/quaternion.hpp>
#include <glm/vec3.hpp>
#include <vector>

#include "core/shape/mesh.h"

namespace gswarm {

/// Straight pieces from point to point, metres. A closed curve goes on from its last point to its first.
struct Curve {
    std::vector<glm::vec3> points;
    bool closed = false;
};

/// A curve measured, with a frame at every point that turns about the tangent no more than it must, so that it never
/// flips: rotation-minimising frames by double reflection (Wang et al. 2008). The first frame's normal points as far
/// up as it can; on a closed curve the leftover turn is spread evenly so that the ends meet.
class MeasuredCurve {
  public:
    explicit MeasuredCurve(const Curve& curve);

    double length() const { return at_.empty() ? 0 : at_.back(); }
    bool closed() const { return closed_; }

    struct Station {
        glm::vec3 place;
        glm::quat frame;  ///< +Z along the curve, +Y its normal
    };
    /// The place at a distance from the beginning, held at the ends of an open curve and going around a closed one.
    Station at(double distance) const;
    /// The same on a smooth curve through its points (cubic Hermite by the frames), which has no corners.
    Station smoothAt(double distance) const;

    struct Nearest {
        double distance;  ///< along the curve from the beginning
        float away;       ///< metres from the place
    };
    Nearest nearestTo(const glm::vec3& place) const;

  private:
    /// The piece that a distance lies on, by the point it ends with, and how far along it.
    std::pair<std::size_t, float> pieceAt(double distance) const;
    glm::quat frameAt(std::size_t end, float share) const;

    std::vector<glm::vec3> points_;
    std::vector<glm::quat> frames_;
    std::vector<double> at_;  ///< distance of each point
    bool closed_ = false;
};

/// A round rod of a thickness (metres across) along a curve, closed with discs at open ends. Empty for thickness 0.
Mesh rodAlong(const Curve& curve, float thickness, int sides);

}  // namespace gswarm
