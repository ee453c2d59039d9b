#pragma once
#include <cstdint>
#include <memory>
#include <vector>

#include "core/base/aligned_allocator.h"
#include "core/flow/flow.h"
#include "core/flow/plan.h"

namespace gswarm {

inline constexpr std::uint16_t notShown = 65535;

/// The instances of one swarm at one frame, in number order, in swarm space. 54 bytes an instance, and four for each
/// value that mixes materials.
struct ResultColumns {
    std::vector<float, AlignedAllocator<float>> matrix;  ///< 12 an instance: three rows of four, the last column is the place
    std::vector<std::uint32_t> colour;                   ///< R in the lowest byte; sRGB-encoded, straight alpha
    std::vector<std::uint16_t> variant;                  ///< into Result::variants, or notShown
    std::vector<float> mixed;                            ///< the named values that mix materials, one column behind the other
    std::vector<float> named;                            ///< all named values likewise, where the plan keeps them
};

/// Where an instance of the result is drawn, in swarm space: its shape's own metres scaled, rotated and moved there.
struct Placement {
    glm::vec3 translation;
    glm::quat rotation;
    glm::vec3 scale;
};

/// What one card did to all instances.
struct Census {
    ObjectId entry;
    bool acts = true;
    std::string waits;  ///< what it waits for, one sentence; empty for most
    int touched = 0, seen = 0, clippedWhere = 0, clippedShaped = 0;
    int notFinite = 0;  ///< left as they were, because a formula gave what is no number
    float least = 0, most = 0;
    CardSamples samples;
};

struct Result {
    ObjectId swarm;
    Moment moment;
    WorldPose pose;
    /// By its symmetries, in swarm space: all below is seen in each. The first is the original.
    std::vector<glm::mat4> copies{glm::mat4(1)};
    bool shown = true;                ///< the swarm's own switch
    int count = 0;                    ///< instances that were worked on
    int total = 0;                    ///< of the whole swarm; more than `count` in a rehearsal
    std::vector<ObjectId> wantWhole;  ///< rail entries that need the whole swarm, in a rehearsal
    std::uint64_t hash = 0;           ///< of all it depends on; 0 where that can't be told
    HomePlan home;                    ///< whose rows they are: ids and numbers
    int visible = 0;                  ///< instances that are drawn
    int notFinite = 0;                ///< left out because a place came out as no number
    Bounds bounds;                    ///< of the visible instances' places, swarm space
    std::vector<Variant> variants;    ///< also those at other moments, behind those of the frame itself
    std::uint64_t leaves = 0;         ///< shapes and lights that are drawn, through all swarms that it repeats and with all copies
    std::uint64_t groups = 0;         ///< in which they are drawn: those of one swarm that show the same are one
    std::vector<Census> cards;
    std::vector<Backdrop> backdrops;
    std::vector<std::string> notes;  ///< what the person should know, one sentence each
    Wanted wanted = {};
    std::vector<float> weights;              ///< of the wanted card, in number order
    std::vector<Placement> placements;       ///< where they are wanted; of hidden instances they may be anything
    std::shared_ptr<ResultColumns> columns;  ///< recycled by the evaluator once nobody else holds them
};

/// The number of the instance in a row, from 0 for the first of the whole swarm to 1 for the last.
float shareOf(const Result& result, std::uint32_t row);
/// What mixes the materials of the instance in a row, facing the eye.
LookedAt lookedAt(const Result& result, std::uint32_t row);

/// An instance's colour, from R G B A in bytes with R the lowest, as linear light.
glm::vec4 linearColour(std::uint32_t encoded);
/// The other way: rounded to bytes, what lies outside 0 … 1 at its ends.
std::uint32_t encodedColour(const glm::vec4& linear);
/// Where the instance in a row is drawn, in swarm space.
glm::mat4 matrixOf(const Result& result, std::uint32_t row);

/// Which variant the instance in a row shows, whatever its moment; notShown for none.
std::uint16_t shownBy(const Result& result, std::uint32_t row);

/// The shown instances of each variant, in number order.
std::vector<std::vector<std::uint32_t>> instancesByVariant(const Result& result);

}  // namespace gswarm
