#pragma once
#include <cstdint>
#include <functional>
#include <glm/vec4.hpp>
#include <string>
#include <vector>

#include "core/base/block.h"
#include "core/base/progress.h"
#include "core/flow/home_plan.h"
#include "core/material/material.h"
#include "core/pattern/pattern_kind.h"
#include "core/scene/object_kinds.h"
#include "core/shape/shape_kind.h"

namespace gswarm {

struct Lamp;
struct Result;

/// One thing that instances repeat, ready to draw: a stock entry's shape or one of its pieces, a light, or another swarm.
struct Variant {
    ObjectId stock, shape;
    std::shared_ptr<const ShapeMeshes> meshes;
    float size = 1;
    glm::vec3 foot{0};  ///< in the shape's metres
    Look look;
    std::shared_ptr<const Lamp> lamp;  ///< of a light that is repeated, at the middle of the world; null for a shape
    /// Of a swarm that is repeated: what it shows, in its own space. Its `meshes` are then bounds without triangles. Null for a shape.
    std::shared_ptr<const Result> inner;
    std::uint16_t now = 0;  ///< which variant it is at the frame itself; its own number but where it shows another moment
};

/// A variant that instances show at moments of their own.
struct Clip {
    std::size_t variant;  ///< as it is at the frame itself
    /// The same so many whole frames later. Throws Error if it can't be made there.
    std::function<Variant(int frames, Progress& progress)> later;
};

/// The most variants that a result can tell apart.
inline constexpr std::size_t mostVariants = 65'000;

/// A number of each instance that mixes materials: a named value, or how strongly a card acts.
struct MixColumn {
    int named = -1;  ///< column of the named value; −1 for a weight
    ObjectId card;   ///< the rail entry of the weight

    bool operator==(const MixColumn&) const = default;
};

/// How each instance of a swarm gets its variant.
struct StockPlan {
    struct Entry {
        int first, count;  ///< its variants; an entry that repeats pieces has one for each
        float until;       ///< end of its share of 0 … 1
    };
    std::vector<Variant> variants;
    std::vector<Entry> entries;
    std::vector<Clip> clips;  ///< in the order of their variants; empty where no instance has a time of its own
    StockRule stockRule{};
    ResolvedPart pattern;
    std::vector<MixColumn> mixedBy;  ///< what mixes its materials, by Mix::column
    std::string note;                ///< something the person should know, one sentence

    const PatternKind& patternKind() const { return static_cast<const PatternKind&>(*pattern.kind); }
};

/// Fills the block's `variant` column; its homes, number and count are there already.
void chooseVariants(const StockPlan& stock, const HomePlan& homes, const Bounds& bounds, const Moment& moment, Block& block);

}  // namespace gswarm
