#include "core/material/shown_pictures.h"

#include <algorithm>
#include <cmath>

#include "core/material/material.h"

namespace gswarm {
ShownWhich whichOf(const ShownPictures& shown, const LookedAt& at) {
    float driver = 0;
    if (shown.later == LaterBy::number) driver = static_cast<float>(at.number);
    if (shown.later == LaterBy::share) driver = at.share;
    if (shown.later == LaterBy::namedValue || shown.later == LaterBy::weight)
        driver = shown.column < 0 ? 0 : std::clamp(at.named[shown.column], 0.0f, 1.0f);
    const auto step = static_cast<std::size_t>(std::round(std::abs(driver * shown.frames) / shown.step));
    return {shown.part && at.row < shown.part->size() ? (*shown.part)[at.row] : 0,
            static_cast<std::uint16_t>(std::min(step, shown.moments.size() - 1))};
}

glm::vec4 placeOnSheet(const ShownPictures& shown, const ShownWhich& which) {
    const int moment = shown.moments[std::min<std::size_t>(which.later, shown.moments.size() - 1)];
    glm::vec2 corner = shown.moment * glm::vec2(moment % shown.columns, moment / shown.columns), sides = shown.moment;
    const auto across = static_cast<std::uint32_t>(shown.across);
    const glm::vec2 cell(which.part % across, which.part / across);
    if (shown.own) {
        sides /= glm::vec2(shown.across, shown.down);
        corner += sides * cell;
    }
    // Half a pixel is left at its edges, so that nothing of what lies beside it comes in.
    const glm::vec2 half =
        glm::min(glm::vec2(0.5f / static_cast<float>(shown.sheet->width), 0.5f / static_cast<float>(shown.sheet->height)), sides * 0.49f);
    corner += half, sides -= 2.0f * half;
    const auto odd = [&](int way) { return (static_cast<std::uint32_t>(cell[way]) & 1U) != 0; };
    const bool every = shown.mirrored == ShownMirrored::everySecond;
    const bool flips[] = {shown.mirrored == ShownMirrored::across || (every && odd(0)),
                          shown.mirrored == ShownMirrored::down || (every && odd(1))};
    for (int way = 0; way < 2; ++way)
        if (flips[way]) corner[way] += sides[way], sides[way] = -sides[way];
    return {corner, sides};
}

glm::vec3 tintOf(const ShownPictures& shown, const ShownWhich& which) {
    return shown.tints.empty() ? glm::vec3(1) : shown.tints[std::min<std::size_t>(which.part, shown.tints.size() - 1)];
}

glm::vec3 lightOnSheet(const ShownPictures& shown, const glm::vec4& place, const glm::vec2& uv) {
    const glm::vec2 within = glm::clamp(glm::vec2(uv.x, 1 - uv.y), 0.0f, 1.0f);
    const glm::vec2 at = glm::vec2(place) + within * glm::vec2(place.z, place.w);
    return lightAt(*shown.sheet, {at.x, 1 - at.y});
}

}  // namespace gswarm
