#pragma once
#include <glm/mat3x3.hpp>
#include <glm/mat4x4.hpp>
#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/picture/draw_list.h"
#include "core/picture/mesh_trees.h"
#include "core/picture/view.h"

/// What rays meet: Embree's scenes made from a draw list.
namespace gswarm {

/// Beyond everything, metres.
inline constexpr float farAway = 1e30f;
/// See-through surfaces that a ray passes, one behind the other.
inline constexpr int mostLayers = 64;

/// What stands behind one of Embree's instances: an instance of a mesh, or all of a surface joined. Of hundreds of thousands each is read
/// where rays meet them, far from one another: no more of it than the processor fetches at once.
struct alignas(64) Seen {
    std::uint32_t surface : 30 = 0;  ///< of the draw list
    bool joined : 1 = false;
    bool moves : 1 = false;     ///< while the shutter is open
    std::uint32_t number = 0;   ///< of its thing, or the first of them
    std::uint32_t row = 0;      ///< of the surface's result, of one that is not joined
    glm::mat3 normalMatrix{1};  ///< of joined ones from their swarm's space
    glm::vec4 colour{1};        ///< linear, straight alpha; joined ones have one each
};
static_assert(sizeof(Seen) == 64);

struct Hit {
    bool any = false;
    float distance = 0;
    glm::vec3 place{0}, normal{0}, flat{0};  ///< `flat` is the face's own normal; both unit, as the mesh has them
    glm::vec3 tint{1};                       ///< the mesh's own colour
    const Mesh* mesh = nullptr;              ///< null on the floor
    std::uint32_t surface = 0;               ///< of the draw list
    std::uint32_t row = 0;                   ///< of the surface's result
    glm::vec4 colour{1};                     ///< of the instance, linear with straight alpha
    std::uint32_t number = 0;                ///< of the thing, as eachThing counts them
    std::uint32_t geometry = 0;              ///< of TraceWorld::seen(), whose instance it is
    std::uint32_t triangle = 0;              ///< of the mesh
    float second = 0, third = 0;             ///< how much of the triangle's second and third corner is there
};

/// A way through the world. `time` is 0 when the shutter opens and 1 when it closes.
struct WorldRay {
    glm::vec3 from{0}, direction{0};
    float time = 0;
    float distance = farAway;  ///< that it goes at most
};
/// As many as Embree shoots together.
inline constexpr std::size_t raysTogether = 16;

class TraceWorld {
  public:
    /// Takes what the lists have; they must outlive the world or its next dress. Several are moments from the shutter's opening to
    /// its closing, evenly apart: what all of them show alike in number and shape moves between them. What inner swarms show is joined
    /// where that takes less. The cost grows with the instances, of which a hundred thousand take some 130 ms on two cores
    /// (docs/performance.md). Throws Cancelled.
    TraceWorld(std::span<const DrawList> shutter, const Ground& ground, MeshTrees& trees, Progress& progress);
    ~TraceWorld();
    TraceWorld(const TraceWorld&) = delete;
    TraceWorld& operator=(const TraceWorld&) = delete;

    /// Puts what the lists have where it is now; they must be madeAlike. Half the time of making it again. Throws Cancelled, after
    /// which the world is of no use.
    void move(std::span<const DrawList> shutter, const Ground& ground, Progress& progress);
    /// Takes looks, colours and ground of lists that standAlike, without making anything again.
    void dress(std::span<const DrawList> shutter, const Ground& ground);

    /// For who shoots rays of his own.
    RTCScene rays() const { return top_; }

    /// `time` is 0 when the shutter opens and 1 when it closes.
    Hit cast(const glm::vec3& from, const glm::vec3& direction, float time) const;
    /// Up to sixteen at a time. Those that start close by and go `alike` are shot together, which is then much faster.
    void cast(std::span<const WorldRay> rays, bool alike, std::span<Hit* const> hits) const;
    /// What of light gets over the whole way of each of up to sixteen rays: through what is partly opaque, and straight through what
    /// lets light through.
    void reaching(std::span<const WorldRay> rays, std::span<glm::vec3> light) const;
    /// All that there is, by the numbers of Embree's geometries: joined surfaces behind all others.
    std::span<const Seen> seen() const { return seen_; }
    const Look& lookOf(const Seen& seen) const { return *dressed_[seen.surface].look; }
    const Mesh& meshOf(const Seen& seen) const { return *dressed_[seen.surface].mesh; }
    /// Into the world, of one that is not joined; of what moves as the shutter opens.
    glm::mat4 poseOf(std::uint32_t geometry) const;
    /// A place on a triangle of one that is not joined, and of its face, as if a ray had met it.
    Hit hitOn(std::uint32_t geometry, const glm::mat4& pose, std::uint32_t triangle, float second, float third) const;
    /// The material and colour at a hit, seen from a direction that points away from it.
    Material materialAt(const Hit& hit, const glm::vec3& view) const;
    /// How opaque it is there: what is not is passed without a bounce.
    float opacityAt(const Hit& hit, const Material& material, const glm::vec3& view) const;

  private:
    void make(std::span<const DrawList> shutter, MeshTrees& trees, const Progress& progress);
    void place(std::uint32_t number, std::span<const glm::mat4> transforms);
    /// Which thing of a joined surface was met, and its way out of its own space.
    void findJoined(const Seen& seen, Hit& hit, glm::mat3& turned) const;
    /// What an instance of Embree's was met at.
    void met(const WorldRay& ray, std::uint32_t geometry, std::uint32_t triangle, float distance, float second, float third,
             const glm::vec3& flat, Hit& hit) const;
    /// What is met where no instance is.
    void metElse(const WorldRay& ray, Hit& hit) const;
    glm::vec3 throughAll(const WorldRay& ray) const;
    /// What a hit is of; normals by the way that `turned` is into the world.
    void tell(const Seen& seen, Hit& hit) const;
    void smooth(Hit& hit, const glm::mat3& turned) const;
    void commit(Progress& progress);
    /// What its look depends on there, but for how it faces the eye.
    LookedAt lookedAt(const Hit& hit) const;
    /// How the height of bumps grows over the mesh, along its surface.
    glm::vec3 bumpOf(const Hit& hit) const;

    RTCDevice device_;
    RTCScene top_;
    std::vector<Seen> seen_;
    std::vector<bool> joined_;
    struct Dressed {
        const Look* look;
        const Surface* surface;
        const Mesh* mesh;
        bool bumps;
    };
    std::vector<Dressed> dressed_;  ///< by the surfaces of the list
    Ground ground_;
    bool seeThrough_ = false;
};

/// Whether they have the same things in the same order, wherever these stand.
bool madeAlike(std::span<const DrawList> a, std::span<const DrawList> b);
/// Whether they are made alike and everything stands where it stood.
bool standAlike(std::span<const DrawList> a, std::span<const DrawList> b);

}  // namespace gswarm
