#pragma once
#include <atomic>
#include <map>
#include <memory>
#include <optional>
#include <QImage>
#include <QOpenGLFunctions_3_3_Core>
#include <QRect>
#include <QSize>

#include "app/document/evaluation.h"
#include "app/picture/view_camera.h"
#include "core/picture/draw_list.h"
#include "core/shape/shape_kind.h"

class LayerBuffer;
class QOpenGLFramebufferObject;
class QOpenGLShaderProgram;

/// What one picture shows.
struct ViewRequest {
    std::shared_ptr<const Evaluated> evaluated;
    gswarm::Setting setting;  ///< light, background, exposure; the camera is the view's
    ViewCamera camera;
    QSize pixels{16, 16};
    bool moving = false;   ///< coarser meshes
    bool fine = false;     ///< gives way to any newer request
    bool weights = false;  ///< colour by the weights of evaluated->weightsOf
    bool ground = true;
};

/// Where one of the nine variations is drawn in a picture of that size.
QRect variationRect(int number, QSize whole);

/// Draws instanced meshes into a framebuffer. Lives on the view thread with its context current.
class Renderer : protected QOpenGLFunctions_3_3_Core {
  public:
    /// Throws gswarm::Error if the shaders don't build.
    Renderer();
    ~Renderer();

    /// In slices of at most about 20 ms; returns a null image if `cancelled` became true in between.
    QImage draw(const ViewRequest& request, const std::atomic<bool>& cancelled);

  private:
    struct GpuMesh {
        unsigned vertexArray = 0, vertices = 0, indices = 0;
        int indexCount = 0;
        std::weak_ptr<const gswarm::ShapeMeshes> meshes;
    };
    /// Instances of one mesh, gathered for drawing.
    struct Batch {
        std::vector<float> matrices;
        std::vector<std::uint32_t> colours;
        std::vector<float> mixes;  ///< share of the second material; empty where all have one
    };
    /// An instance that is seen through; it is drawn after all that is not.
    struct SeeThrough {
        float depth;
        const gswarm::Surface* surface;
        int level;
        std::uint32_t row, colour;
        float mix;
    };
    GpuMesh& meshFor(const std::shared_ptr<const gswarm::ShapeMeshes>& meshes, int level);
    void release(GpuMesh& mesh);
    void drop();
    void setLight(const ViewRequest& request, QOpenGLShaderProgram& program);
    /// With what comes after; empty where nothing does, a null image where it was cancelled.
    std::optional<QImage> drawLayered(const ViewRequest& request, const std::atomic<bool>& cancelled);
    bool drawScene(const ViewRequest& request, const std::atomic<bool>& cancelled);
    /// `ghost` is 0, or how strongly a ghost is drawn.
    bool drawList(const ViewRequest& request, const gswarm::DrawList& list, float ghost, const std::atomic<bool>& cancelled);
    void drawSingle(const ViewRequest& request, const gswarm::Surface& surface, const gswarm::Look& look);
    void setSurface(const ViewRequest& request, const gswarm::Surface& surface, const gswarm::Look& look, float ghost);
    void setMaterials(const gswarm::Look& look);
    void setLamps(const ViewRequest& request, const gswarm::DrawList& list);
    void setBlending(bool on);
    bool drawBatch(GpuMesh& mesh, const Batch& batch, const std::atomic<bool>& cancelled);
    void drawGround(const ViewRequest& request);
    /// The opaque instances by their level of detail; those that are seen through go to `later`.
    std::vector<Batch> gather(const ViewRequest& request, const gswarm::Surface& surface, const gswarm::Look& look, float ghost,
                              std::vector<SeeThrough>& later) const;

    std::unique_ptr<QOpenGLShaderProgram> swarmProgram_, groundProgram_;
    std::unique_ptr<QOpenGLFramebufferObject> buffer_;
    std::unique_ptr<LayerBuffer> layers_;  ///< for pictures that something comes after
    bool layered_ = false;
    int drawn_ = 0;  ///< instances of the picture at hand
    std::map<std::pair<const gswarm::ShapeMeshes*, int>, GpuMesh> meshes_;
    unsigned matrixBuffer_ = 0, colourBuffer_ = 0, mixBuffer_ = 0, emptyArray_ = 0;
};
