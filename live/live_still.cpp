#include "live/live_still.h"

#include "core/base/error.h"
#include "live/headless.h"
#include "live/renderer.h"

namespace gswarm::live {
namespace {

/// Means of two by two.
Image halved(const Image& from) {
    Image to{from.width / 2, from.height / 2, {}};
    to.pixels.resize(from.pixels.size() / 4);
    const auto row = 4 * static_cast<std::size_t>(from.width);
    for (std::size_t y = 0; y < static_cast<std::size_t>(to.height); ++y)
        for (std::size_t i = 0; i < row / 2; ++i) {
            const std::size_t first = 2 * y * row + i / 4 * 8 + i % 4;
            const int sum = from.pixels[first] + from.pixels[first + 4] + from.pixels[first + row] + from.pixels[first + row + 4];
            to.pixels[y * row / 2 + i] = static_cast<std::uint8_t>((sum + 2) / 4);
        }
    return to;
}

struct Drawing {
    Headless context;
    Renderer renderer;
};

}  // namespace

LiveStill liveStill() {
    return [drawing = std::shared_ptr<Drawing>()](const DrawList& list, const Setting& setting, int width, int height) mutable {
        constexpr int largest = 4096;  // of what every driver has, twice as large for its four samples
        if (width > largest || height > largest)
            throw Error("A live picture of " + std::to_string(width) + " × " + std::to_string(height) +
                        " can't be drawn; each side takes at most " + std::to_string(largest) + " pixels. Traced ones may be larger.");
        if (!drawing) drawing = std::make_shared<Drawing>();
        LivePicture picture;
        picture.list = list;
        picture.setting = setting;
        const std::atomic<bool> never{false};
        picture.steps.smoothEdges = false;
        return halved(*drawing->renderer.draw(picture, 2 * width, 2 * height, never));
    };
}

}  // namespace gswarm::live
