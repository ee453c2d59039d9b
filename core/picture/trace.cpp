#include "core/picture/trace.h"

#include <atomic>
#include <cmath>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/picture/path.h"

namespace gswarm {

using glm::vec3;

void checkTraceSize(const TraceSize& size) {
    if (size.width < 1 || size.height < 1 || size.width > 16384 || size.height > 16384)
        throw Error("A picture of " + std::to_string(size.width) + " × " + std::to_string(size.height) +
                    " can't be made; each side takes 1 to 16384 pixels.");
    if (size.samples < 1 || size.samples > 4096)
        throw Error(std::to_string(size.samples) + " samples can't be taken; a pixel takes 1 to 4096.");
}

Image trace(const DrawList& list, const Setting& setting, const TraceSize& size, Progress& progress) {
    checkTraceSize(size);
    const TraceWorld world(list, setting.light, progress);
    const LampTree lamps(setting.lamps);
    const PathScene scene{world, setting, lamps};
    Image image{size.width, size.height,
                std::vector<std::uint8_t>(4 * static_cast<std::size_t>(size.width) * static_cast<std::size_t>(size.height))};
    const float aspect = static_cast<float>(size.width) / static_cast<float>(size.height);
    const float up = std::tan(verticalFieldOfView(setting.camera, aspect) * 0.5f);
    const glm::mat4 toWorld = glm::inverse(viewMatrix(setting.camera));
    std::atomic<int> rowsDone{0};
    const auto row = [&](std::size_t number) {
        const int y = static_cast<int>(number);
        for (int x = 0; x < size.width; ++x) {
            if (progress.cancelled()) return;
            vec3 sum(0);
            for (int s = 0; s < size.samples; ++s) {
                Sobol numbers(static_cast<std::uint32_t>(x), static_cast<std::uint32_t>(y), static_cast<std::uint32_t>(s), size.seed);
                const float u = (static_cast<float>(x) + numbers.next()) / static_cast<float>(size.width) * 2 - 1;
                const float v = 1 - (static_cast<float>(y) + numbers.next()) / static_cast<float>(size.height) * 2;
                const vec3 direction = glm::normalize(vec3(toWorld * glm::vec4(u * up * aspect, v * up, -1, 0)));
                sum += tracePath(scene, setting.camera.position, direction, numbers);
            }
            const vec3 shown = display(sum / static_cast<float>(size.samples), setting.exposure);
            std::uint8_t* pixel =
                &image.pixels[4 * (static_cast<std::size_t>(y) * static_cast<std::size_t>(size.width) + static_cast<std::size_t>(x))];
            for (int c = 0; c < 3; ++c) pixel[c] = static_cast<std::uint8_t>(shown[c] * 255 + 0.5f);
            pixel[3] = 255;
        }
        progress.report(static_cast<double>(++rowsDone) / size.height);
    };
    forEach(static_cast<std::size_t>(size.height), row);
    progress.check();
    return image;
}

}  // namespace gswarm
