#pragma once
#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

namespace gswarm {

/// Who is near whom. Places are put in the order of a grid's cells, so that those near one another also stand near one
/// another in memory: work on columns in that order, slot by slot.
struct Neighbours {
    std::vector<std::uint32_t> order;  ///< the place in each slot
    std::vector<std::uint32_t> start;  ///< where each slot's list begins in its part
    std::vector<std::vector<std::uint32_t>> parts;

    static constexpr std::size_t slotsInPart = 2048;

    /// The slots nearer than the distance to a slot's place, itself left out, in the order of cells and places.
    std::span<const std::uint32_t> of(std::size_t slot) const {
        const auto& part = parts[slot / slotsInPart];
        const bool last = slot + 1 == order.size() || (slot + 1) % slotsInPart == 0;
        return {part.data() + start[slot], (last ? part.size() : start[slot + 1]) - start[slot]};
    }
    /// A column by slot.
    std::vector<float> inOrder(const std::vector<float>& column) const;
    /// A column by slot written back by place.
    void putBack(const std::vector<float>& bySlot, std::vector<float>& column) const;
};

/// At most `most` neighbours each: those found first, the same for any number of threads. Time grows with the pairs found,
/// also where places are spread unevenly. Places that are no numbers have no neighbours.
Neighbours neighboursWithin(const std::vector<float>& x, const std::vector<float>& y, const std::vector<float>& z, float distance,
                            std::size_t most);

}  // namespace gswarm
