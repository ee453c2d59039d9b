// A clip: pictures out of one file, which a program of its own decodes.
#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>

#include "core/base/content_hash.h"
#include "core/base/error.h"
#include "core/base/outside_file.h"
#include "core/base/parallel.h"
#include "core/base/text.h"
#include "core/media/meanings.h"
#include "core/media/media_kind.h"

namespace gswarm {
namespace {

struct Clip {
    std::string file;
    PictureAs colours;
    float start, speed, from, to;
    MediaBeyond beyond;
};

std::filesystem::path fileOf(const Clip& clip, const MediaSource& source) {
    if (clip.file.empty()) throw Error("It has no file yet; choose a clip in the project's folder.");
    return pathInProject(clip.file, source.projectFolder);
}

/// The part of it that is seen, in seconds.
struct Part {
    double from, to;
};

Part partOf(const Clip& clip, const ClipFacts& facts) {
    const double to = clip.to > 0 ? std::min(double(clip.to), facts.seconds) : facts.seconds;
    if (clip.from >= to)
        throw Error("Nothing of it is left between From and To: it is " + shortNumber(std::round(facts.seconds * 100) / 100) +
                    " s long; change one of them.");
    return {clip.from, to};
}

/// Seconds that are added, so that what falls on a beginning is not rounded to the picture or the lap before.
constexpr double nearly = 1e-5;

/// The second of the clip that is seen at a moment.
double secondAt(const Clip& clip, const Part& part, const Moment& moment) {
    const double length = part.to - part.from;
    // Backward it begins with its end.
    const double t = (moment.frame - clip.start) / moment.rate * clip.speed / 100 + (clip.speed < 0 ? length : 0);
    switch (clip.beyond) {
        case MediaBeyond::hold:
            return part.from + std::clamp(t, 0.0, length);
        case MediaBeyond::repeat:
            return part.from + t - length * std::floor((t + nearly) / length);
        case MediaBeyond::backAndForth: {
            const double lap = t - 2 * length * std::floor((t + nearly) / (2 * length));
            return part.from + (lap < length ? lap : 2 * length - lap);
        }
    }
    return 0;
}

/// The picture that is on at a second, of those that begin before the part ends.
std::int64_t pictureAt(const ClipFacts& facts, const Part& part, double second) {
    const auto before = [&](double s) { return std::upper_bound(facts.begins.begin(), facts.begins.end(), s) - facts.begins.begin() - 1; };
    return std::clamp<std::int64_t>(before(second + nearly), 0, std::max<std::int64_t>(0, before(part.to - nearly)));
}

MediaFrame frameOf(std::shared_ptr<const ClipPicture> picture, const ClipFacts& facts, PictureAs colours) {
    if (!facts.deep) return {bytePixels(facts.width, facts.height, {picture, &picture->bytes}, colours)};
    const std::vector<float>& colour = meanings<std::uint16_t>(colours);
    const std::vector<float>& share = meanings<std::uint16_t>(PictureAs::numbers);
    Pixels<glm::vec4> light{facts.width, facts.height, {}};
    light.pixels.resize(static_cast<std::size_t>(facts.width) * static_cast<std::size_t>(facts.height));
    forRanges(light.pixels.size(), 65536, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            std::uint16_t numbers[4];
            std::memcpy(numbers, picture->bytes.data() + i * sizeof numbers, sizeof numbers);
            light.pixels[i] = {colour[numbers[0]], colour[numbers[1]], colour[numbers[2]], share[numbers[3]]};
        }
    });
    return {std::move(light)};
}

MediaShown shown(const Clip& clip, const MediaSource& source) {
    const auto file = fileOf(clip, source);
    const auto facts = source.clip(file);
    const Part part = partOf(clip, *facts);
    const std::int64_t number = pictureAt(*facts, part, secondAt(clip, part, source.moment));
    ContentHash key;
    key.add("clip");
    key.add(source.contentOf(file));
    key.add(static_cast<std::uint64_t>(number));
    key.add(static_cast<std::uint64_t>(clip.colours));
    return {key.value(),
            [facts, file, number, colours = clip.colours, picture = source.clipPicture] {
                return frameOf(picture(file, number), *facts, colours);
            },
            false};
}

std::string told(const Clip& clip, const MediaSource& source) {
    const auto facts = source.clip(fileOf(clip, source));
    const auto count = static_cast<double>(facts->begins.size());
    const auto rounded = [](double x) { return shortNumber(std::round(x * 100) / 100); };
    std::string text = grouped(count) + (count == 1 ? " picture" : " pictures");
    // Steady ones have a rate; of others the mean is told.
    double longest = 0, shortest = 1e30;
    for (std::size_t k = 1; k < facts->begins.size(); ++k) {
        const double step = facts->begins[k] - facts->begins[k - 1];
        longest = std::max(longest, step), shortest = std::min(shortest, step);
    }
    if (count > 1) text += (longest > 1.2 * shortest + 0.002 ? ", about " : ", ") + rounded(count / facts->seconds) + " a second";
    text += ", " + rounded(facts->seconds) + " s, " + facts->codec + (facts->deep ? " of more than 8 bits." : ".");
    if (longest > 1.2 * shortest + 0.002 && count > 1) text += " Its rate changes; each picture is seen at its own time.";
    return text;
}

}  // namespace

const MediaKind clipMedia = shows(
    DescribeMedia<Clip>("clip", "Clip", "Pictures that move, out of one file")
        .found("video movie footage film mp4 mov webm mkv avi gif animation")
        .file("file", &Clip::file,
              {".mp4", ".mov", ".m4v", ".webm", ".mkv", ".avi", ".gif", ".apng", ".mpg", ".mpeg", ".ts", ".mxf", ".ogv"},
              "A clip in the project's folder")
        .choice("colours", &Clip::colours, pictureColours(),
                "Light: its colours are decoded from sRGB. Plain numbers: as they are written, for depths and masks")
        .number("start", &Clip::start, 0, {-250, 250}, "The project's frame at which it begins")
        .unit("f")
        .hard(-1e7, 1e7)
        .number("speed", &Clip::speed, 100, {-200, 400}, "100 % is as it was made; below 0 from its end to its beginning")
        .unit("%")
        .hard(-10000, 10000)
        .number("from", &Clip::from, 0, {0, 60}, "The second of the clip at which the part that is seen begins")
        .unit("s")
        .hard(0, 1e6)
        .number("to", &Clip::to, 0, {0, 60}, "The second at which it ends; 0 for the clip's own end")
        .unit("s")
        .hard(0, 1e6)
        .choice("beyond", &Clip::beyond, mediaBeyonds(), "What is seen before its beginning and after its end")
        .label("At its ends"),
    shown, +[](const Clip&) { return true; }, told);

}  // namespace gswarm
