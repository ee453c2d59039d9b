#pragma once
#include <glm/mat4x4.hpp>
#include <memory>
#include <vector>

#include "core/picture/draw_list.h"
#include "core/shape/mesh.h"
#include "live/gpu_meshes.h"
#include "live/program.h"

/// What throws shadows, drawn as a light sees it.
namespace gswarm::live {

/// A light's way of seeing: from the world into its own axes, where it looks along −Z, and from there to the map.
struct ShadowView {
    glm::mat4 toLight{1}, toMap{1};
    float pixels = 1;      ///< of the map that a metre is wide: anywhere, or a metre away from a lamp
    bool parallel = true;  ///< false: of a lamp, which things farther away look smaller from
};

/// What of a list throws shadows. Where two are alike, so are their shadows.
struct Cast {
    std::shared_ptr<const Result> swarm;
    std::shared_ptr<const ShapeMeshes> meshes;
    glm::mat4 pose;
    std::size_t count;
    bool operator==(const Cast&) const = default;
};
std::vector<Cast> castsOf(const DrawList& list);
/// Where all of it is, in the world; empty if there is none.
Bounds boundsOf(const std::vector<Cast>& casts);

/// How many instances of a list throw shadows of a lamp. On all cores.
std::size_t castersOf(const DrawList& list, const Lamp& lamp);

/// Matrices of what is drawn as it is, and the four corners, in the light's axes, of a card for what is so small there that the card
/// stands for it: software renderers take long for many instances of a few triangles each, and for every triangle.
struct Sorted {
    std::vector<float> whole;
    std::vector<glm::vec3> cards;
};

/// Draws depths of what is opaque into the framebuffer and viewport that are bound. What is small there is drawn as cards. Belongs to
/// the context that is current when it is made.
class CasterDrawer {
  public:
    CasterDrawer();
    ~CasterDrawer();
    CasterDrawer(const CasterDrawer&) = delete;
    CasterDrawer& operator=(const CasterDrawer&) = delete;

    /// Of every so many instances of a surface one stands for all, as large as they.
    void draw(const DrawList& list, const ShadowView& view, std::size_t stride, GpuMeshes& meshes, unsigned matrixBuffer);

  private:
    void drawSorted(const ShadowView& view, const glm::mat4& pose, const GpuMesh& mesh, const Sorted& casters, unsigned matrixBuffer);
    void drawCards(const glm::mat4& toMap, const std::vector<glm::vec3>& corners);

    Program program_;
    unsigned cards_ = 0, corners_ = 0, indices_ = 0;
};

/// A depth texture that shaders compare with, and a framebuffer for it.
struct DepthMap {
    unsigned texture = 0, frame = 0;
    explicit DepthMap(int size);
    ~DepthMap();
    DepthMap(const DepthMap&) = delete;
    DepthMap& operator=(const DepthMap&) = delete;
};

}  // namespace gswarm::live
