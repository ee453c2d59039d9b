#pragma once
#include <glm/mat4x4.hpp>
#include <memory>
#include <vector>

#include "core/picture/draw_list.h"
#include "live/gpu_meshes.h"
#include "live/program.h"

namespace gswarm::live {

/// How far from a sun the first thing in its way is. It is drawn again only when things or the sun have moved, not when the camera
/// has: turning around a scene keeps its shadows. Belongs to the context that is current when it is made.
class ShadowMap {
  public:
    ShadowMap();
    ~ShadowMap();
    ShadowMap(const ShadowMap&) = delete;
    ShadowMap& operator=(const ShadowMap&) = delete;

    /// Whether it has the shadows of a list in a sun, as they are.
    bool has(const DrawList& list, const Sun& sun) const;
    /// Draws what is opaque of a list. Leaves another framebuffer and viewport bound.
    void draw(const DrawList& list, const Sun& sun, GpuMeshes& meshes, unsigned matrixBuffer);
    /// Puts it into a texture unit, and how it is read into a program.
    void use(Program& program, int unit) const;

    static constexpr int size = 2048;  ///< pixels of a side

  private:
    struct Drawn {
        std::shared_ptr<const Result> swarm;
        std::shared_ptr<const ShapeMeshes> meshes;
        WorldPose pose;
        std::size_t count;
        bool operator==(const Drawn&) const = default;
    };
    static std::vector<Drawn> drawnOf(const DrawList& list);

    Program program_;
    void drawCards(const std::vector<glm::vec3>& corners);

    unsigned frame_ = 0, texture_ = 0, cards_ = 0, corners_ = 0, indices_ = 0;
    std::vector<Drawn> drawn_;
    Sun sun_;
    glm::mat4 toLight_{1};
    float spread_ = 0;  ///< share of the map that the edge of a shadow is wide
    bool empty_ = true;
};

}  // namespace gswarm::live
