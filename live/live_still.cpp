#include "live/live_still.h"

#include "core/base/error.h"
#include "live/headless.h"
#include "live/renderer.h"

namespace gswarm::live {
namespace {

/// Means of two by two.
template <class I>
I halved(const I& from) {
    I to{from.width / 2, from.height / 2, {}};
    to.pixels.resize(from.pixels.size() / 4);
    const auto row = 4 * static_cast<std::size_t>(from.width);
    for (std::size_t y = 0; y < static_cast<std::size_t>(to.height); ++y)
        for (std::size_t i = 0; i < row / 2; ++i) {
            const std::size_t first = 2 * y * row + i / 4 * 8 + i % 4;
            const int sum = from.pixels[first] + from.pixels[first + 4] + from.pixels[first + row] + from.pixels[first + row + 4];
            to.pixels[y * row / 2 + i] = static_cast<typename decltype(I::pixels)::value_type>((sum + 2) / 4);
        }
    return to;
}

/// The context and what draws in it, from the first picture on.
struct Drawing {
    struct Made {
        Headless context;
        Renderer renderer;
    };
    std::unique_ptr<Made> made;

    /// Draws twice as large with `draw`, one of the renderer's.
    template <class I>
    I still(std::optional<I> (Renderer::*draw)(const LivePicture&, int, int, const std::atomic<bool>&), const DrawList& list,
            const Setting& setting, int width, int height) {
        constexpr int largest = 4096;  // of what every driver has, twice as large for its four samples
        if (width > largest || height > largest)
            throw Error("A live picture of " + std::to_string(width) + " × " + std::to_string(height) +
                        " can't be drawn; each side takes at most " + std::to_string(largest) + " pixels. Traced ones may be larger.");
        if (!made) made = std::make_unique<Made>();
        LivePicture picture;
        picture.list = list;
        picture.setting = setting;
        picture.steps.smoothEdges = false;
        const std::atomic<bool> never{false};
        return halved(*(made->renderer.*draw)(picture, 2 * width, 2 * height, never));
    }
};

}  // namespace

LiveStill liveStill() {
    const auto drawing = std::make_shared<Drawing>();
    return {[drawing](const DrawList& list, const Setting& setting, int width, int height) {
                return drawing->still<Image>(&Renderer::draw, list, setting, width, height);
            },
            [drawing](const DrawList& list, const Setting& setting, int width, int height) {
                return drawing->still<Image16>(&Renderer::drawFine, list, setting, width, height);
            }};
}

}  // namespace gswarm::live
