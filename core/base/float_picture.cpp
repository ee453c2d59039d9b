#include "core/base/float_picture.h"

#include <algorithm>

namespace gswarm {

FloatPicture reduced(const FloatPicture& picture, int step) {
    const int across = std::min(step, picture.width), down = std::min(step, picture.height);
    FloatPicture to{picture.width / across, picture.height / down, {}};
    to.light.reserve(static_cast<std::size_t>(to.width) * static_cast<std::size_t>(to.height));
    for (int y = 0; y < to.height; ++y)
        for (int x = 0; x < to.width; ++x) {
            glm::vec3 sum(0);
            for (int b = y * down; b < (y + 1) * down; ++b)
                for (int a = x * across; a < (x + 1) * across; ++a)
                    sum +=
                        picture.light[static_cast<std::size_t>(b) * static_cast<std::size_t>(picture.width) + static_cast<std::size_t>(a)];
            to.light.push_back(sum / static_cast<float>(across * down));
        }
    return to;
}

}  // namespace gswarm
