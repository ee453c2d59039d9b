#pragma once
#include <string>
#include <vector>

#include "core/base/world_pose.h"
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
    std::vector<std::uint32_t> number;   ///< in the whole swarm, of a rehearsal; empty where rows are numbers
    std::vector<HomeExtra> extras;       ///< further columns, from files
    std::string note;                    ///< something the person should know, one sentence
    std::size_t bytes() const { return sizeof *this + x.size() * (44 + 4 * extras.size()); }
};

/// Where all instances of a swarm stand before any gesture: either computed inside each block, or stored.
struct HomePlan {
    const FormationKind* kind = nullptr;
    std::shared_ptr<void> data;               ///< of a formation that is computed
    std::shared_ptr<const HomeStore> stored;  ///< of one that is not; null otherwise
    int count = 0;                            ///< of the instances that are worked on
    int total = 0;                            ///< of the whole swarm; more than `count` in a rehearsal
    std::uint64_t hash = 0;                   ///< of all that the homes depend on; 0 where that can't be told
    Bounds bounds;                            ///< of the whole swarm's homes
    Spacing spacing;                          ///< empty where the formation has none
    std::string note;                         ///< something the person should know, one sentence

    void place(const HomeRange& range, HomeColumns& out) const;
    /// Which face, edge, corner or piece an instance comes from; its number where it comes from none.
    std::uint32_t elementOf(int row) const;
    /// The number in the whole swarm of the instance in a row.
    int numberOf(int row) const {
        return stored && !stored->number.empty() ? static_cast<int>(stored->number[static_cast<std::size_t>(row)]) : row;
    }
};

/// The homes of a formation with standing and order applied. Throws Error if there would be more than may be.
HomePlan prepareHomes(const Scene& scene, ObjectId swarm, const Object& formation, double frame, const PlanOptions& options, Store& store,
                      Progress& progress);

/// All homes of a plan in number order, as one list.
Homes listOf(const HomePlan& plan, Progress& progress);

/// Where the shown instances of a swarm are in the world at a frame. Throws Error if there are none.
Homes instancesInWorld(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, Store& store, Progress& progress);

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
