#pragma once
#include <filesystem>
#include <functional>
#include <memory>
#include <span>

#include "core/base/block.h"
#include "core/base/lattice.h"
#include "core/base/progress.h"
#include "core/scene/describe.h"
#include "core/shape/homes.h"
#include "core/shape/shape_kind.h"

namespace gswarm {

/// More instances in one swarm are refused with the figure, never tried. Below 2²⁴, so that a number fits a float.
inline constexpr double mostInstances = 16'000'000;

/// Which homes a block wants: numbers first … first + count − 1 of total.
struct HomeRange {
    int first, count, total;
};

/// What formations may read besides their own numbers. Calls throw Error if what is asked for is not there.
struct FormationSource {
    std::filesystem::path projectFolder;
    /// A shape at this frame, in swarm space.
    std::function<std::shared_ptr<const ShapeMeshes>(ObjectId)> shape;
    /// The same at the piece's first frame: points are spread there and carried along, so that they never re-scatter.
    std::function<std::shared_ptr<const ShapeMeshes>(ObjectId)> restShape;
    /// Where the shown instances of another swarm are, in this swarm's space.
    std::function<Homes(ObjectId)> swarm;
    /// Every shape that another swarm shows, in this swarm's space.
    std::function<StandingShapes(ObjectId)> shown;
    /// 0 … 1 at places in swarm space; empty where nothing steers the density.
    std::function<void(std::span<const glm::vec3>, float*)> density;
    /// Surface points under a key of what they were made from, or made now.
    std::function<std::shared_ptr<const SurfacePoints>(std::uint64_t, const std::function<SurfacePoints()>&)> kept;
    Progress* progress = nullptr;

    void check() const {
        if (progress) progress->check();
    }
    void report(double fraction) const {
        if (progress) progress->report(fraction);
    }
};

/// A neighbour as a home sees it, in the home's own axes.
struct Neighbour {
    glm::vec3 offset;
    glm::quat rotation{1, 0, 0, 0};
    float size = 1;
};

/// How far homes stand apart, for stock that is fitted. Either the neighbours of every home, or only the least distance
/// between any two (`reach`), along a surface or in all directions.
struct Spacing {
    std::vector<Neighbour> neighbours;
    float reach = 0;
    bool flat = true;
};

/// A rule that gives each instance its home. Either homes are computed inside the block and never stored (`place`), or
/// they are made once (`make`).
struct FormationKind : Kind {
    /// How many instances, before anything is made; the caller checks it against the limit.
    std::function<double(const void*, const FormationSource&)> count;
    /// Fills the columns up to the next multiple of 16 above range.count.
    std::function<void(const void*, const HomeRange&, HomeColumns&)> place;
    std::function<Homes(const void*, const FormationSource&)> make;
    /// Whether these numbers need `make` although the kind can `place` too.
    std::function<bool(const void*)> stored;
    /// Empty for formations without a spacing of their own.
    std::function<Spacing(const void*)> spacing;
    bool fitsStock = false;  ///< stock is fitted to its spacing when it is chosen
    std::string fittedBy;    ///< the length by which its count follows the shape it stands on; empty where none does
    /// Settings of the small picture by which people choose it: a few dozen instances.
    std::vector<std::pair<std::string, Value>> sample;
    /// Settings that it begins with where it is chosen, so that something is seen; their standard is that of older files.
    std::vector<std::pair<std::string, Value>> beginning;
    /// The mesh that has a home on every corner, numbered as they are; none where homes are anywhere else.
    std::function<ObjectId(const void*)> corners;
    /// Of a grid whose homes have their coordinates as ids; empty for all others.
    std::function<Lattice(const void*)> lattice;
    bool countIsGuess = false;    ///< the count before making is only near
    bool drawsByDensity = false;  ///< `make` asks for the density itself, so that its count stays exact

    bool needsMaking(const void* data) const { return make && (!stored || stored(data)); }
};

template <class T>
struct DescribeFormation : Describe<T, FormationKind> {
    DescribeFormation(std::string id, std::string label, std::string summary)
        : Describe<T, FormationKind>(Family::formation, std::move(id), std::move(label), std::move(summary)) {}
};

/// A formation that makes its homes inside the block.
template <class T>
FormationKind makes(Describe<T, FormationKind>& described, double (*count)(const T&),
                    void (*place)(const T&, const HomeRange&, HomeColumns&), Spacing (*spacing)(const T&) = nullptr) {
    FormationKind kind = described.kind();
    kind.count = [count](const void* data, const FormationSource&) { return count(*static_cast<const T*>(data)); };
    kind.place = [place](const void* data, const HomeRange& range, HomeColumns& out) { place(*static_cast<const T*>(data), range, out); };
    if (spacing) kind.spacing = [spacing](const void* data) { return spacing(*static_cast<const T*>(data)); };
    return kind;
}

/// A formation whose homes are stored.
template <class T>
FormationKind stores(Describe<T, FormationKind>& described, double (*count)(const T&, const FormationSource&),
                     Homes (*make)(const T&, const FormationSource&), Spacing (*spacing)(const T&) = nullptr) {
    FormationKind kind = described.kind();
    kind.count = [count](const void* data, const FormationSource& source) { return count(*static_cast<const T*>(data), source); };
    kind.make = [make](const void* data, const FormationSource& source) { return make(*static_cast<const T*>(data), source); };
    if (spacing) kind.spacing = [spacing](const void* data) { return spacing(*static_cast<const T*>(data)); };
    return kind;
}

/// Adds what its small picture is made with.
inline FormationKind sampled(FormationKind kind, std::vector<std::pair<std::string, Value>> sample) {
    kind.sample = std::move(sample);
    return kind;
}
/// How many it makes is known only once they are made.
inline FormationKind guessed(FormationKind kind) {
    kind.countIsGuess = true;
    return kind;
}
inline FormationKind fitting(FormationKind kind) {
    kind.fitsStock = true;
    return kind;
}

inline FormationKind beginning(FormationKind kind, std::vector<std::pair<std::string, Value>> settings) {
    kind.beginning = std::move(settings);
    return kind;
}
inline FormationKind fittedBy(FormationKind kind, const char* length) {
    kind.fittedBy = length;
    return kind;
}

/// One home into a block's columns.
void setHome(HomeColumns& out, int i, const glm::vec3& position, const glm::quat& rotation, float size, std::uint64_t id);

extern const FormationKind lineFormation, ringFormation, gridFormation, hexagonsFormation, closePackingFormation, goldenSpiralFormation;
extern const FormationKind alongCurveFormation, elementsFormation, randomOnMeshFormation, evenlySpacedFormation;
extern const FormationKind cellsFormation, scatterInMeshFormation, looseFormation, pointsFileFormation, onSwarmFormation, piecesFormation;

}  // namespace gswarm
