#include "core/flow/result.h"

#include <algorithm>

#include "core/media/meanings.h"
#include "core/scene/kind.h"

namespace gswarm {

float shareOf(const Result& result, std::uint32_t row) {
    const int stretch = result.home.stretchOf(static_cast<int>(row));
    return stretch > 1 ? static_cast<float>(result.home.orderOf(static_cast<int>(row))) / static_cast<float>(stretch - 1) : 0.0f;
}

LookedAt lookedAt(const Result& result, std::uint32_t row) {
    LookedAt at;
    at.share = shareOf(result, row);
    at.number = result.home.orderOf(static_cast<int>(row));
    at.row = row;
    const auto& mixed = result.columns->mixed;
    const auto count = static_cast<std::size_t>(result.count);
    for (std::size_t c = 0; c * count < mixed.size(); ++c) at.named[c] = mixed[c * count + row];
    return at;
}

std::vector<std::vector<std::uint32_t>> instancesByVariant(const Result& result) {
    std::vector<std::vector<std::uint32_t>> out(result.variants.size());
    for (std::size_t i = 0; i < static_cast<std::size_t>(result.count); ++i)
        if (const std::uint16_t v = result.columns->variant[i]; v != notShown) out[v].push_back(static_cast<std::uint32_t>(i));
    return out;
}

glm::vec4 linearColour(std::uint32_t c) {
    static const float* const table = meanings<std::uint8_t>(PictureAs::light).data();
    return {table[c & 255], table[c >> 8 & 255], table[c >> 16 & 255], static_cast<float>(c >> 24) / 255.0f};
}

std::uint32_t encodedColour(const glm::vec4& c) {
    const auto byte = [](double share) { return static_cast<std::uint32_t>(std::clamp(share, 0.0, 1.0) * 255 + 0.5); };
    return byte(srgbFromLinear(c.x)) | byte(srgbFromLinear(c.y)) << 8 | byte(srgbFromLinear(c.z)) << 16 | byte(c.w) << 24;
}

glm::mat4 matrixOf(const Result& result, std::uint32_t row) {
    const float* m = &result.columns->matrix[12 * static_cast<std::size_t>(row)];
    return {m[0], m[4], m[8], 0, m[1], m[5], m[9], 0, m[2], m[6], m[10], 0, m[3], m[7], m[11], 1};
}

std::uint16_t shownBy(const Result& result, std::uint32_t row) {
    const std::uint16_t variant = result.columns->variant[row];
    return variant == notShown ? notShown : result.variants[variant].now;
}

}  // namespace gswarm
