#include "core/exchange/record_media.h"

#include <algorithm>
#include <tuple>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/text.h"
#include "core/exchange/video_file.h"
#include "core/flow/result.h"
#include "core/media/media_frame.h"
#include "core/provide/media.h"

namespace gswarm {
namespace {

/// As large as the codec takes it: what is too much at the right and lower edge is left out.
Image encoded(const MediaFrame& frame, int width, int height) {
    Image image{width, height,
                std::vector<std::uint8_t>(std::size_t{4} * static_cast<std::size_t>(width) * static_cast<std::size_t>(height))};
    forRanges(static_cast<std::size_t>(height), 16, [&](std::size_t first, std::size_t last) {
        for (std::size_t y = first; y < last; ++y)
            for (int x = 0; x < width; ++x) {
                const std::uint32_t colour =
                    encodedColour(frame.at(std::min(x, frame.width() - 1), std::min(static_cast<int>(y), frame.height() - 1)));
                for (unsigned c = 0; c < 4; ++c)
                    image.pixels[4 * (y * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)) + c] =
                        static_cast<std::uint8_t>(colour >> (8 * c));
            }
    });
    return image;
}

}  // namespace

void recordMedia(const Scene& scene, ObjectId media, const FrameRange& range, const std::filesystem::path& projectFolder, Store& store,
                 const std::filesystem::path& path, Progress& progress) {
    const auto first = mediaAt(scene, media, range.first, projectFolder, store);
    VideoFormat format;
    const std::string ending = lowered(path.extension().string());
    if (ending != ".mp4" && ending != ".mov")
        throw Error("“" + path.filename().string() + "” can't be recorded: its ending must be .mp4 (H.264) or .mov (ProRes 4444).");
    format.codec = ending == ".mov" ? VideoCodec::proRes4444 : VideoCodec::h264;
    format.alpha = hasAlpha(format.codec);
    std::tie(format.width, format.height) = fittedTo(format.codec, first->width(), first->height());
    if (format.width < 2 || format.height < 2) throw Error("“" + scene.at(media).name + "” has too few pixels for a clip; make it larger.");
    std::tie(format.rateNumerator, format.rateDenominator) = rateFraction(std::get<std::string>(scene.project().part("settings")["rate"]));
    format.quality = 100;
    VideoFile file(path, format);
    for (int k = 0; k < range.count(); ++k) {
        progress.check();
        file.add(encoded(*mediaAt(scene, media, range.at(k), projectFolder, store), format.width, format.height));
        progress.report((k + 1.0) / range.count());
    }
    file.commit();
}

std::filesystem::path freeRecording(const std::filesystem::path& folder, const std::string& name, const std::string& ending) {
    const std::string safe = harmlessFileName(name, "recording");
    for (int number = 1;; ++number) {
        auto path = folder / (safe + (number > 1 ? "-" + std::to_string(number) : "") + ending);
        std::error_code failed;
        if (!std::filesystem::exists(path, failed)) return path;
    }
}

}  // namespace gswarm
