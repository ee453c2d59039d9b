#pragma once
#include <cstdint>
#include <memory>
#include <vector>

#include "core/base/aligned_allocator.h"
#include "core/evaluate/plan.h"

namespace gswarm {

inline constexpr std::uint16_t notShown = 65535;

/// The instances of one swarm at one frame, in number order, in swarm space. 54 bytes an instance.
struct ResultColumns {
    std::vector<float, AlignedAllocator<float>> matrix;  ///< 12 an instance: three rows of four, the last column is the place
    std::vector<std::uint32_t> colour;                   ///< R in the lowest byte; sRGB-encoded, straight alpha
    std::vector<std::uint16_t> variant;                  ///< into Result::variants, or notShown
};

/// What one card did to all instances.
struct Census {
    ObjectId entry;
    bool acts = true;
    int touched = 0, seen = 0, clippedWhere = 0, clippedShaped = 0;
    float least = 0, most = 0;
    std::vector<float> strip;  ///< weight of numbers 0, stride, 2 stride …, at most 512
};

struct Result {
    ObjectId swarm;
    Moment moment;
    glm::vec3 position{0};
    glm::quat rotation{1, 0, 0, 0};
    float scale = 1;
    bool shown = true;  ///< the swarm's own switch
    int count = 0;
    int visible = 0;    ///< instances that are drawn
    int notFinite = 0;  ///< left out because a place came out as no number
    Bounds bounds;      ///< of the visible instances' places, swarm space
    std::vector<Variant> variants;
    std::vector<Census> cards;
    std::vector<Backdrop> backdrops;
    std::vector<std::string> notes;          ///< what the person should know, one sentence each
    std::shared_ptr<ResultColumns> columns;  ///< recycled by the evaluator once nobody else holds them
};

/// The shown instances of each variant, in number order.
std::vector<std::vector<std::uint32_t>> instancesByVariant(const Result& result);

}  // namespace gswarm
