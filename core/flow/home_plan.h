#pragma once
#include <string>
#include <vector>

#include "core/base/world_pose.h"
#include "core/formation/formation_kind.h"
#include "core/scene/object_kinds.h"
#include "core/scene/scene.h"

namespace gswarm {

/// Where all instances of a swarm stand before any gesture: either computed inside each block, or stored.
struct HomePlan {
    const FormationKind* kind = nullptr;
    std::shared_ptr<void> data;           ///< of a formation that is computed
    std::shared_ptr<const Homes> stored;  ///< of one that is not; null otherwise
    int count = 0;                        ///< of the instances that are worked on
    int total = 0;                        ///< of the whole swarm; more than `count` in a rehearsal
    std::uint64_t hash = 0;               ///< of all that the homes depend on; 0 where that can't be told
    Bounds bounds;                        ///< of the whole swarm's homes
    Spacing spacing;                      ///< empty where the formation has none
    std::string note;                     ///< something the person should know, one sentence

    void place(const HomeRange& range, HomeColumns& out) const;
    /// Which face, edge, corner or piece an instance comes from; its number where it comes from none.
    std::uint32_t elementOf(int row) const;
    /// What cards read as the number of the instance in a row, and how many are counted with it.
    int orderOf(int row) const { return anew() ? static_cast<int>(stored->order[static_cast<std::size_t>(row)]) : numberOf(row); }
    int stretchOf(int row) const { return anew() ? static_cast<int>(stored->stretch[static_cast<std::size_t>(row)]) : total; }
    bool anew() const { return stored && !stored->order.empty(); }
    /// The number in the whole swarm of the instance in a row.
    int numberOf(int row) const {
        return stored && !stored->number.empty() ? static_cast<int>(stored->number[static_cast<std::size_t>(row)]) : row;
    }
};

/// The id of the home in a place of filled columns.
std::uint64_t idAt(const HomeColumns& home, int i);
/// The ids of instances by their rows, which are their numbers in all but rehearsals.
std::vector<std::uint64_t> idsOfRows(const HomePlan& homes, const std::vector<std::uint32_t>& rows);
/// The rows of the instances that carry one of the ids, ascending; ids that none carries are passed over.
std::vector<std::uint32_t> rowsOfIds(const HomePlan& homes, const std::vector<std::uint64_t>& ids);

}  // namespace gswarm
