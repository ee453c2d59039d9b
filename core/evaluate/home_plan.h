#pragma once
#include <string>
#include <vector>

#include "core/formation/formation_kind.h"
#include "core/scene/object_kinds.h"
#include "core/scene/scene.h"

namespace gswarm {

class Shapes;
class Store;
struct PlanOptions;

/// Stored homes as blocks read them: one column each, in number order.
struct HomeStore {
    std::vector<float> x, y, z, qx, qy, qz, qw, size;
    std::vector<std::uint32_t> idLow, idHigh;
    std::vector<std::uint32_t> element;  ///< source face, edge, corner or piece
    std::size_t bytes() const { return sizeof *this + x.size() * 44; }
};

/// Where all instances of a swarm stand before any gesture: either computed inside each block, or stored.
struct HomePlan {
    const FormationKind* kind = nullptr;
    std::shared_ptr<void> data;               ///< of a formation that is computed
    std::shared_ptr<const HomeStore> stored;  ///< of one that is not; null otherwise
    int count = 0;
    Bounds bounds;
    Spacing spacing;   ///< empty where the formation has none
    std::string note;  ///< something the person should know, one sentence

    void place(const HomeRange& range, HomeColumns& out) const;
    /// Which face, edge, corner or piece an instance comes from; its number where it comes from none.
    std::uint32_t elementOf(int number) const;
};

/// A swarm's pose, for zones and other swarms.
struct SwarmPose {
    glm::vec3 position{0};
    glm::quat rotation{1, 0, 0, 0};
    float scale = 1;
    glm::vec3 toWorld(const glm::vec3& p) const { return position + rotation * (p * scale); }
    glm::vec3 fromWorld(const glm::vec3& p) const { return glm::conjugate(rotation) * (p - position) / scale; }
};
SwarmPose swarmPoseAt(const Scene& scene, ObjectId swarm, double frame);

/// The homes of a formation with standing and order applied. Throws Error if there would be more than may be.
HomePlan prepareHomes(const Scene& scene, ObjectId swarm, const Object& formation, double frame, const PlanOptions& options, Store& store,
                      Progress& progress);

/// How many instances a formation would have, and whether that is only near; nothing is made but the shapes it stands
/// on. May be beyond any limit.
struct CountTold {
    double count = 0;
    bool guess = false;
};
CountTold countOf(const Scene& scene, ObjectId swarm, const Object& formation, double frame, const PlanOptions& options, Store& store,
                  Progress& progress);

/// "1 000 000".
std::string grouped(double n);

}  // namespace gswarm
