#pragma once
#include <cstdint>
#include <glm/vec3.hpp>
#include <vector>

#include "core/base/image.h"
#include "core/picture/film.h"
#include "core/picture/view.h"

/// What comes after light was gathered: the same for live, traced and exported pictures.
namespace gswarm {

/// A picture in linear light, rows from the top. Light is that of what is there, by its part (premultiplied), without background. All
/// have width × height members, but depth, normal and id may be empty where nothing that comes after looks at them.
struct LinearPicture {
    int width = 0, height = 0;
    std::vector<glm::vec3> light;
    std::vector<float> coverage;
    std::vector<float> depth;       ///< metres from the lens, of what is there; 0 where nothing is
    std::vector<glm::vec3> normal;  ///< about unit
    std::vector<std::uint32_t> id;  ///< of the instance seen first; 0 for none
};

/// Whether pictures look other for it. A background that is transparent does not: where nothing can be seen through, it is a colour.
bool changesPictures(const After& after);

/// The means of a film.
LinearPicture developed(const Film& film);

/// What is seen of it in the end, in this order: fog by depth, lines where depth, normal or id jump, the background behind it,
/// bloom, a dark edge, exposure and display, grain. Lengths in pixels count at the project's own size of pictures and are scaled
/// with the width. With a transparent background its coverage is the alpha; else alpha is 255.
Image finish(LinearPicture picture, const Setting& setting);
/// The same in finer steps.
Image16 finish16(LinearPicture picture, const Setting& setting);
/// As finish, but uses the picture's light up and leaves its memory, which the next one can be written into.
Image finishInPlace(LinearPicture& picture, const Setting& setting);

/// How strongly a line is drawn at each pixel, 0 … 1: one for `width` pixels around jumps of id, of depth against the slope at
/// both sides, and of the normal by more than `creaseCosine` allows.
std::vector<float> linesOf(const LinearPicture& picture, float width, float creaseCosine);

}  // namespace gswarm
