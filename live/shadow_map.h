#pragma once
#include <glm/mat4x4.hpp>
#include <vector>

#include "core/light/far_light.h"
#include "live/casters.h"

namespace gswarm::live {

/// How far from a sun the first thing in its way is. It is drawn again only when things or the sun have moved, not when the camera
/// has: turning around a scene keeps its shadows. Belongs to the context that is current when it is made.
class ShadowMap {
  public:
    ShadowMap() : map_(size) {}

    /// Whether it has the shadows of what is cast in a sun, as they are.
    bool has(const std::vector<Cast>& casts, const Sun& sun) const { return !empty_ && sun == sun_ && casts == casts_; }
    /// Draws what is opaque of a list. Leaves another framebuffer and viewport bound.
    void draw(const DrawList& list, const Sun& sun, CasterDrawer& drawer, GpuMeshes& meshes, unsigned matrixBuffer);
    /// Puts it into a texture unit, and how it is read into a program.
    void use(Program& program, int unit) const;

    static constexpr int size = 2048;  ///< pixels of a side

  private:
    DepthMap map_;
    std::vector<Cast> casts_;
    Sun sun_;
    glm::mat4 toMap_{1};
    float spread_ = 0;  ///< share of the map that the edge of a shadow is wide
    bool empty_ = true;
};

}  // namespace gswarm::live
