#pragma once
#include <atomic>
#include <map>
#include <memory>
#include <optional>
#include <span>

#include "core/base/image.h"
#include "core/picture/after.h"
#include "live/around.h"
#include "live/gathered.h"
#include "live/gpu_meshes.h"
#include "live/instance_buffers.h"
#include "live/lamp_shadows.h"
#include "live/layer_buffer.h"
#include "live/live_picture.h"
#include "live/program.h"
#include "live/shadow_map.h"
#include "live/textures.h"

/// The live view: the draw list by OpenGL 3.3, as nearly as it can be to how it is traced.
namespace gswarm::live {

/// One of several pictures side by side: its place in the whole, rows from the top.
struct Tile {
    LivePicture picture;
    PixelRect place;
};

/// Draws pictures. Lives with the context that is current when it is made, and needs it current.
class Renderer {
  public:
    /// Throws Error if the driver has no OpenGL 3.3 or refuses the shaders.
    Renderer();
    ~Renderer();
    Renderer(const Renderer&) = delete;
    Renderer& operator=(const Renderer&) = delete;

    /// With what comes after. In slices of at most about 20 ms; nothing if `cancelled` became true in between.
    std::optional<Image> draw(const LivePicture& picture, int width, int height, const std::atomic<bool>& cancelled);
    /// The same in finer steps. Throws Error where the driver has no floating layers.
    std::optional<Image16> drawFine(const LivePicture& picture, int width, int height, const std::atomic<bool>& cancelled);
    /// Several, without what comes after.
    std::optional<Image> draw(const std::vector<Tile>& tiles, int width, int height, const std::atomic<bool>& cancelled);

  private:
    struct Frame;
    std::optional<Image> drawPlain(const std::vector<Tile>& tiles, int width, int height, const std::atomic<bool>& cancelled);
    bool drawScene(const Frame& frame);
    /// With the layers bound, into linear_: what is there before what comes after. False if it was cancelled.
    bool drawLayers(const Frame& frame);
    bool drawList(const Frame& frame, const DrawList& list, float ghost);
    void drawSingle(const Frame& frame, const Surface& surface, const Look& look);
    void drawGround(const Frame& frame);
    void drawShadows(Frame& frame);
    struct Opaque {
        const Surface* surface;
        std::array<Batch, detailLevels> batches;
    };
    bool drawDepths(const Frame& frame, const std::vector<Opaque>& opaque);
    bool drawBatches(const Frame& frame, const Surface& surface, const std::array<Batch, detailLevels>& batches);
    bool drawBatch(const Frame& frame, const GpuMesh& mesh, const Batch& batch);
    void setLampLists(const Frame& frame, const GpuMesh& mesh, std::span<const float> matrices);
    /// A program with no more than what is needed, bound; its light is set once a frame and list.
    Program& swarmProgram(const Frame& frame, const Look& look, bool ghost);
    Program& lit(const Frame& frame, bool ground, unsigned features);
    void setLight(const Frame& frame, Program& program);
    void setSurface(const Frame& frame, const Surface& surface, const Look& look, float ghost);
    void setBlending(bool on);
    void bindPlain(int width, int height);

    struct Lit {
        std::unique_ptr<Program> program;
        int light = 0;  ///< that was set
    };
    std::map<std::pair<bool, unsigned>, Lit> programs_;  ///< of the ground or of swarms, by their features
    Program depths_;
    Program* bound_ = nullptr;  ///< that of the surface at hand
    std::string number_;        ///< the named value of vertices that mixes its materials; none of most
    GpuMeshes meshes_;
    Textures textures_;
    std::unique_ptr<CasterDrawer> casters_;
    std::unique_ptr<ShadowMap> shadows_;
    std::unique_ptr<LampShadows> lampShadows_;
    std::unique_ptr<Around> around_;
    LayerBuffer layers_;
    LinearPicture linear_;  ///< what was read of them last
    int light_ = 0;         ///< counts up with every list of things, each of which has its own lamps
    bool blending_ = false;
    int drawn_ = 0;  ///< instances of the picture at hand
    InstanceBuffers instances_;
    unsigned emptyArray_ = 0;
    unsigned frame_ = 0, colour_ = 0, depth_ = 0;  ///< of pictures that nothing comes after
    int width_ = 0, height_ = 0;
};

}  // namespace gswarm::live
