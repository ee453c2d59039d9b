#pragma once
#include <array>
#include <filesystem>
#include <functional>
#include <memory>

#include "core/base/progress.h"
#include "core/scene/describe.h"
#include "core/shape/curve.h"
#include "core/shape/mesh.h"
#include "core/shape/standing_shape.h"

namespace gswarm {

/// No shape has more.
inline constexpr std::size_t mostTriangles = 20'000'000;

/// How finely a shape is made: 0 as the person set it, each step above has about a quarter of the triangles.
inline constexpr int detailLevels = 3;

/// What a maker makes: a mesh, curves, or both; and one sentence about what it left out or put in another's place.
struct ShapeForm {
    Mesh mesh;
    std::vector<Curve> curves;
    std::string note;
};

/// A shape at its levels of detail, made once and shared. Levels that are alike share one mesh.
struct ShapeMeshes {
    std::array<std::shared_ptr<const Mesh>, detailLevels> level;
    std::vector<Curve> curves;
    std::string note;
    Bounds bounds;           ///< of the mesh, or of the curves where there is no mesh
    std::uint64_t hash = 0;  ///< of everything it was made from

    const Mesh& mesh() const { return *level[0]; }
};

/// What makers may read besides their own numbers.
struct ShapeSource {
    std::filesystem::path projectFolder;
    /// Another shape, made already. Throws Error if there is none.
    std::function<std::shared_ptr<const ShapeMeshes>(ObjectId)> shape;
    /// All shapes that a swarm shows, with their copies by symmetry, in the swarm's own space. Throws Error if it shows none.
    std::function<std::shared_ptr<const SwarmShown>(ObjectId swarm)> shown;
    Progress* progress = nullptr;  ///< long work checks it; may be null
};

struct ShapeKind : Kind {
    bool levels = true;   ///< false: every level of detail is the same
    bool curves = false;  ///< has curves that instances can stand along
    bool surface = true;  ///< has a surface of its own; a curve's rod is none
    bool closed = true;   ///< its surface has an inside
    /// Settings that it begins with where a swarm stands on its corners: fine enough to be carried, and of a size to be seen.
    std::vector<std::pair<std::string, Value>> carriedFrom;
    /// The swarm that it is made of, in whose space it lies and where that stands it is seen; none of most kinds.
    std::function<ObjectId(const void*)> swarm;
    bool carried = false;  ///< it is the mesh that this swarm carries by its corners, and nothing else is made
    /// None for what is carried. Throws Error if a file is missing or damaged, or another shape is.
    std::function<ShapeForm(const void*, int detail, const ShapeSource&)> make;
};

/// Whether shapes of a kind have what a reference needs. A file may hold anything.
bool gives(const ShapeKind& kind, Needs needs);

template <class T>
struct DescribeShape : Describe<T, ShapeKind> {
    DescribeShape(std::string id, std::string label, std::string summary)
        : Describe<T, ShapeKind>(Family::shape, std::move(id), std::move(label), std::move(summary)) {}
};

/// For makers of a mesh alone.
template <class T>
ShapeKind makes(Describe<T, ShapeKind>& described, Mesh (*make)(const T&, int detail)) {
    ShapeKind kind = described.kind();
    kind.make = [make](const void* data, int detail, const ShapeSource&) {
        return ShapeForm{make(*static_cast<const T*>(data), detail), {}, {}};
    };
    return kind;
}

/// For makers that read files or other shapes: the same at every level of detail.
template <class T>
ShapeKind makes(Describe<T, ShapeKind>& described, ShapeForm (*make)(const T&, const ShapeSource&)) {
    ShapeKind kind = described.kind();
    kind.levels = false;
    kind.make = [make](const void* data, int, const ShapeSource& source) { return make(*static_cast<const T*>(data), source); };
    return kind;
}

/// The same for makers whose outlines are curves too.
inline ShapeKind withCurves(ShapeKind kind) {
    kind.curves = true;
    return kind;
}

/// The same with what it begins with where a swarm stands on its corners.
inline ShapeKind carriedFrom(ShapeKind kind, std::vector<std::pair<std::string, Value>> settings) {
    kind.carriedFrom = std::move(settings);
    return kind;
}

/// The same for surfaces that have no inside.
inline ShapeKind withoutInside(ShapeKind kind) {
    kind.closed = false;
    return kind;
}

/// For curves: a rod of the struct's `thickness` and `sides` stands for the curve where it is drawn.
template <class T>
ShapeKind makesCurve(Describe<T, ShapeKind>& described, Curve (*make)(const T&, int steps)) {
    described.length("thickness", &T::thickness, 0.05, {0, 0.5}, "Of the rod that is drawn along it; 0 draws nothing")
        .hard(0, 1e4)
        .whole("steps", &T::steps, 96, {2, 400}, "Straight pieces it is made of")
        .hard(1, 20000)
        .whole("sides", &T::sides, 8, {3, 32}, "Faces around the rod")
        .hard(3, 256);
    ShapeKind kind = described.kind();
    kind.curves = true;
    kind.surface = kind.closed = false;
    kind.make = [make](const void* data, int detail, const ShapeSource&) {
        const T& shape = *static_cast<const T*>(data);
        Curve curve = make(shape, std::max(2, shape.steps >> detail));
        return ShapeForm{rodAlong(curve, shape.thickness, std::max(3, shape.sides >> detail)), {std::move(curve)}, {}};
    };
    return kind;
}

/// Makes all levels and puts tangents in. Throws Error if a shape is too large or not sound.
ShapeMeshes makeShape(const ShapeKind& kind, const void* data, const ShapeSource& source);

extern const ShapeKind boxShape, ballShape, geodesicBallShape, regularSolidShape, tubeShape, coneShape, ringShape, discShape, cardShape;
extern const ShapeKind lineShape, pathShape, circleShape, helixShape;
extern const ShapeKind letteringShape, artworkShape, meshFileShape, clippedShape, dualShape, revolvedShape, sweptShape, loftedShape;
extern const ShapeKind subdividedShape, thickenedShape, wireFrameShape, membraneShape, joinedShape, unitedShape;

}  // namespace gswarm
