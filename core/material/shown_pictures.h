#pragma once
#include <cstdint>
#include <glm/vec2.hpp>
#include <glm/vec3.hpp>
#include <glm/vec4.hpp>
#include <memory>
#include <vector>

#include "core/base/float_picture.h"

namespace gswarm {

struct LookedAt;

/// What says how much later an instance sees it than the first.
enum class LaterBy { none, number, share, namedValue, weight };
enum class ShownMirrored { no, across, down, everySecond };

/// A picture that each instance shows as a whole, or its own part of it, each at its own moment. What differs from one to the next is
/// a place on one sheet, where all moments lie side by side.
struct ShownPictures {
    std::shared_ptr<const FloatPicture> sheet;
    std::uint64_t key = 0;  ///< of all that is on it
    int columns = 1;        ///< of moments on the sheet
    glm::vec2 moment{1};    ///< share of the sheet's sides that one takes
    LaterBy later = LaterBy::none;
    float frames = 0;                       ///< later for each number, or where the driver is 1
    int column = 0;                         ///< of the instance's numbers, where a named value or a gesture's weight is the driver
    float step = 1;                         ///< frames from one entry of `moments` to the next
    std::vector<std::uint16_t> moments{0};  ///< on the sheet, by how much later

    bool own = false;  ///< its own part instead of the whole
    ShownMirrored mirrored = ShownMirrored::no;
    int across = 1, down = 1;                                ///< parts
    std::shared_ptr<const std::vector<std::uint32_t>> part;  ///< by row: from the left and the top, row by row; null for the first
    std::vector<glm::vec3> tints;                            ///< by part, at most 1; empty for none

    bool operator==(const ShownPictures&) const = default;
};

/// What of it one instance shows.
struct ShownWhich {
    std::uint32_t part = 0;
    std::uint16_t later = 0;  ///< entry of ShownPictures::moments

    auto operator<=>(const ShownWhich&) const = default;
};
ShownWhich whichOf(const ShownPictures& shown, const LookedAt& at);
/// Where that lies on the sheet: its left and upper edge, then its sides, below 0 where it is mirrored; as shares of the
/// sheet's. What lies outside would be seen of others.
glm::vec4 placeOnSheet(const ShownPictures& shown, const ShownWhich& which);
/// What the colour of an instance is times.
glm::vec3 tintOf(const ShownPictures& shown, const ShownWhich& which);
/// Of a sheet, at a place of an instance's UV.
glm::vec3 lightOnSheet(const ShownPictures& shown, const glm::vec4& place, const glm::vec2& uv);

}  // namespace gswarm
