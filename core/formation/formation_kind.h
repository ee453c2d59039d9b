#pragma once
#include "core/base/block.h"
#include "core/scene/describe.h"

namespace gswarm {

/// More instances in one swarm are refused with the figure, never tried. Below 2²⁴, so that a number fits a float.
inline constexpr double mostInstances = 16'000'000;

/// Which homes a block wants: numbers first … first + count − 1 of total.
struct HomeRange {
    int first, count, total;
};

/// A formation that makes its homes inside the block and stores none.
struct FormationKind : Kind {
    /// How many instances; may be beyond any limit, the caller checks before anything is made.
    std::function<double(const void*)> count;
    /// Fills the columns up to the next multiple of 16 above range.count.
    std::function<void(const void*, const HomeRange&, HomeColumns&)> place;
};

template <class T>
struct DescribeFormation : Describe<T, FormationKind> {
    DescribeFormation(std::string id, std::string label, std::string summary)
        : Describe<T, FormationKind>(Family::formation, std::move(id), std::move(label), std::move(summary)) {}
};

template <class T>
FormationKind makes(Describe<T, FormationKind>& described, double (*count)(const T&),
                    void (*place)(const T&, const HomeRange&, HomeColumns&)) {
    FormationKind kind = described.kind();
    kind.count = [count](const void* data) { return count(*static_cast<const T*>(data)); };
    kind.place = [place](const void* data, const HomeRange& range, HomeColumns& out) { place(*static_cast<const T*>(data), range, out); };
    return kind;
}

/// Id of a place on a lattice: three signed coordinates of 21 bits from the formation's anchor.
inline std::uint64_t latticeId(int x, int y, int z) {
    const auto bits = [](int v) { return static_cast<std::uint64_t>(static_cast<std::uint32_t>(v)) & 0x1FFFFF; };
    return bits(x) | bits(y) << 21 | bits(z) << 42;
}

extern const FormationKind gridFormation, honeycombFormation, goldenSpiralFormation;

}  // namespace gswarm
