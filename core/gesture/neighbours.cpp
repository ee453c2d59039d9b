#include "core/gesture/neighbours.h"

#include <tbb/parallel_for.h>
#include <algorithm>
#include <cmath>
#include <numeric>

namespace gswarm {
namespace {

/// A bin's place as one number: 21 bits an axis.
std::uint64_t keyOf(std::int64_t x, std::int64_t y, std::int64_t z) {
    const auto bits = [](std::int64_t v) { return static_cast<std::uint64_t>(v + (1 << 20)) & 0x1FFFFF; };
    return bits(z) << 42 | bits(y) << 21 | bits(x);
}

/// Places in the order of their bins, with where each bin begins.
struct Bins {
    std::vector<std::uint64_t> keys;   ///< of each row, ascending
    std::vector<std::uint32_t> index;  ///< of the place in each row
    std::vector<std::uint64_t> distinct;
    std::vector<std::uint32_t> begin;  ///< distinct.size() + 1
    std::vector<std::uint32_t> table;  ///< open hash of distinct, + 1; 0 is free

    std::uint32_t find(std::uint64_t key) const {
        const std::size_t mask = table.size() - 1;
        for (std::size_t at = (key * 0x9E3779B97F4A7C15ull >> 20) & mask;; at = (at + 1) & mask) {
            if (table[at] == 0) return UINT32_MAX;
            if (distinct[table[at] - 1] == key) return table[at] - 1;
        }
    }
};

Bins binned(const std::vector<std::uint64_t>& keyOfPlace) {
    Bins bins;
    const std::size_t n = keyOfPlace.size();
    std::vector<std::pair<std::uint64_t, std::uint32_t>> rows(n);
    for (std::size_t i = 0; i < n; ++i) rows[i] = {keyOfPlace[i], static_cast<std::uint32_t>(i)};
    std::sort(rows.begin(), rows.end());
    for (const auto& [key, index] : rows) {
        if (bins.distinct.empty() || bins.distinct.back() != key) {
            bins.distinct.push_back(key);
            bins.begin.push_back(static_cast<std::uint32_t>(bins.index.size()));
        }
        bins.index.push_back(index);
    }
    bins.begin.push_back(static_cast<std::uint32_t>(n));
    std::size_t size = 16;
    while (size < 2 * bins.distinct.size()) size *= 2;
    bins.table.assign(size, 0);
    for (std::size_t d = 0; d < bins.distinct.size(); ++d) {
        std::size_t at = (bins.distinct[d] * 0x9E3779B97F4A7C15ull >> 20) & (size - 1);
        while (bins.table[at] != 0) at = (at + 1) & (size - 1);
        bins.table[at] = static_cast<std::uint32_t>(d) + 1;
    }
    return bins;
}

}  // namespace

Neighbours neighboursWithin(const std::vector<float>& x, const std::vector<float>& y, const std::vector<float>& z, float distance,
                            std::size_t most) {
    const std::size_t n = x.size();
    Neighbours out;
    out.start.assign(n + 1, 0);
    if (n == 0 || !(distance > 0)) return out;
    const auto cell = [distance](float v) { return static_cast<std::int64_t>(std::floor(std::clamp(v / distance, -1e6f, 1e6f))); };
    std::vector<std::uint64_t> keys(n);
    for (std::size_t i = 0; i < n; ++i) keys[i] = keyOf(cell(x[i]), cell(y[i]), cell(z[i]));
    const Bins bins = binned(keys);
    const float within2 = distance * distance;
    const auto collect = [&](std::size_t i, std::vector<std::uint32_t>& found) {
        found.clear();
        for (std::int64_t dz = -1; dz <= 1; ++dz)
            for (std::int64_t dy = -1; dy <= 1; ++dy)
                for (std::int64_t dx = -1; dx <= 1; ++dx) {
                    const std::uint32_t bin = bins.find(keyOf(cell(x[i]) + dx, cell(y[i]) + dy, cell(z[i]) + dz));
                    if (bin == UINT32_MAX) continue;
                    for (std::uint32_t r = bins.begin[bin]; r < bins.begin[bin + 1]; ++r) {
                        const std::uint32_t j = bins.index[r];
                        const float ox = x[j] - x[i], oy = y[j] - y[i], oz = z[j] - z[i];
                        if (j != i && (ox * ox + oy * oy) + oz * oz < within2) found.push_back(j);
                    }
                }
        std::sort(found.begin(), found.end());
        if (found.size() > most) found.resize(most);
    };
    // Counted and filled in chunks whose places in the list are known afterwards.
    constexpr std::size_t chunk = 4096;
    const std::size_t chunks = (n + chunk - 1) / chunk;
    std::vector<std::vector<std::uint32_t>> parts(chunks);
    tbb::parallel_for(std::size_t{0}, chunks, [&](std::size_t c) {
        std::vector<std::uint32_t> found;
        for (std::size_t i = c * chunk; i < std::min(n, (c + 1) * chunk); ++i) {
            collect(i, found);
            out.start[i + 1] = static_cast<std::uint32_t>(found.size());
            parts[c].insert(parts[c].end(), found.begin(), found.end());
        }
    });
    std::partial_sum(out.start.begin(), out.start.end(), out.start.begin());
    out.others.reserve(out.start.back());
    for (const auto& part : parts) out.others.insert(out.others.end(), part.begin(), part.end());
    return out;
}

}  // namespace gswarm
