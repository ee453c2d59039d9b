#include "core/media/meanings.h"

#include <array>
#include <limits>

#include "core/scene/kind.h"

namespace gswarm {

template <class Number>
const std::vector<float>& meanings(PictureAs colours) {
    static const std::array<std::vector<float>, 2> all = [] {
        std::array<std::vector<float>, 2> tables;
        constexpr int most = std::numeric_limits<Number>::max();
        for (int k = 0; k <= most; ++k) {
            const double share = double(k) / most;
            tables[static_cast<int>(PictureAs::light)].push_back(static_cast<float>(linearFromSrgb(share)));
            tables[static_cast<int>(PictureAs::numbers)].push_back(static_cast<float>(share));
        }
        return tables;
    }();
    return all[static_cast<std::size_t>(colours)];
}

template const std::vector<float>& meanings<std::uint8_t>(PictureAs);
template const std::vector<float>& meanings<std::uint16_t>(PictureAs);

}  // namespace gswarm
