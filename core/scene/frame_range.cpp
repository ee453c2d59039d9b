#include "core/scene/frame_range.h"

#include <cmath>

namespace gswarm {

FrameRange framesOf(const Scene& scene) {
    const Part& project = scene.project().part("settings");
    const auto whole = [&](const char* parameter) {
        return static_cast<int>(std::lround(std::get<Numbers>(project[parameter]).front().value));
    };
    const int first = whole("firstFrame");
    return {first, std::max(first, whole("lastFrame"))};
}

}  // namespace gswarm
