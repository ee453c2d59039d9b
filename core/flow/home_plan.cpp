#include "core/flow/home_plan.h"

#include <algorithm>
#include <cstring>

namespace gswarm {

void HomePlan::place(const HomeRange& range, HomeColumns& out) const {
    if (!stored) return kind->place(data.get(), range, out);
    eachHomeColumn(out, *stored, [&](auto* to, const auto& from) {
        std::memcpy(to, from.data() + range.first, static_cast<std::size_t>(range.count) * sizeof from[0]);
    });
}

std::uint32_t HomePlan::elementOf(int row) const {
    return stored && !stored->element.empty() ? stored->element[static_cast<std::size_t>(row)] : static_cast<std::uint32_t>(numberOf(row));
}

std::uint64_t idAt(const HomeColumns& home, int i) { return static_cast<std::uint64_t>(home.idHigh[i]) << 32 | home.idLow[i]; }

std::vector<std::uint64_t> idsOfRows(const HomePlan& homes, const std::vector<std::uint32_t>& rows) {
    const auto columns = std::make_unique<HomeColumns>();
    std::vector<std::uint64_t> ids;
    int have = -1;
    for (const std::uint32_t row : rows) {
        const int block = static_cast<int>(row) / blockSize, first = block * blockSize;
        if (block != have) homes.place({first, std::min(blockSize, homes.count - first), homes.count}, *columns);
        have = block;
        ids.push_back(idAt(*columns, static_cast<int>(row) - first));
    }
    return ids;
}

namespace {

/// Ids in a table of at least twice as many places, each at or behind its own.
class IdSet {
  public:
    explicit IdSet(const std::vector<std::uint64_t>& ids) {
        while ((std::size_t{1} << bits_) < 2 * ids.size()) ++bits_;
        places_.resize(std::size_t{1} << bits_);
        for (const std::uint64_t id : ids) {
            holdsZero_ = holdsZero_ || id == 0;
            places_[placeOf(id)] = id;
        }
    }
    bool contains(std::uint64_t id) const { return id == 0 ? holdsZero_ : places_[placeOf(id)] == id; }

  private:
    /// Where it stands, or the empty place where it would.
    std::size_t placeOf(std::uint64_t id) const {
        std::size_t place = id * 0x9E3779B97F4A7C15u >> (64 - bits_);
        while (places_[place] != 0 && places_[place] != id) place = (place + 1) & (places_.size() - 1);
        return place;
    }
    int bits_ = 4;
    std::vector<std::uint64_t> places_;  ///< 0 where there is none
    bool holdsZero_ = false;
};

}  // namespace

std::vector<std::uint32_t> rowsOfIds(const HomePlan& homes, const std::vector<std::uint64_t>& ids) {
    const auto columns = std::make_unique<HomeColumns>();
    const IdSet wanted(ids);
    std::vector<std::uint32_t> rows;
    for (int first = 0; first < homes.count && rows.size() < ids.size(); first += blockSize) {
        const HomeRange range{first, std::min(blockSize, homes.count - first), homes.count};
        homes.place(range, *columns);
        for (int i = 0; i < range.count; ++i)
            if (wanted.contains(idAt(*columns, i))) rows.push_back(static_cast<std::uint32_t>(first + i));
    }
    return rows;
}

}  // namespace gswarm
