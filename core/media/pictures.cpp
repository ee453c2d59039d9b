// Numbered pictures, one after the other.
#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/numbered_files.h"
#include "core/base/outside_file.h"
#include "core/base/text.h"
#include "core/media/media_kind.h"

namespace gswarm {
namespace {

struct Pictures {
    std::string file;
    PictureAs colours;
    float rate, start;
    MediaBeyond beyond;
};

std::vector<NumberedFile> filesOf(const Pictures& pictures, const MediaSource& source) {
    if (pictures.file.empty()) throw Error("It has no files yet; choose one of the numbered pictures in the project's folder.");
    return numberedLike(pathInProject(pictures.file, source.projectFolder));
}

long long countOf(const std::vector<NumberedFile>& files) { return files.back().number - files.front().number + 1; }

double rateOf(const Pictures& pictures, const Moment& moment) { return pictures.rate > 0 ? pictures.rate : moment.rate; }

/// Which picture is seen, counted from the first.
long long pictureAt(const Pictures& pictures, const Moment& moment, long long count) {
    // A little more, so that what falls on a picture's beginning is not rounded to the one before.
    const double at = std::floor((moment.frame - pictures.start) * (rateOf(pictures, moment) / moment.rate) + 1e-6);
    const auto k = static_cast<long long>(std::clamp(at, -1e15, 1e15));
    switch (pictures.beyond) {
        case MediaBeyond::hold:
            return std::clamp(k, 0LL, count - 1);
        case MediaBeyond::repeat:
            return ((k % count) + count) % count;
        case MediaBeyond::backAndForth: {
            const long long lap = std::max(1LL, 2 * (count - 1)), within = ((k % lap) + lap) % lap;
            return within < count ? within : lap - within;
        }
    }
    return 0;
}

MediaShown shown(const Pictures& pictures, const MediaSource& source) {
    const auto files = filesOf(pictures, source);
    const long long wanted = files.front().number + pictureAt(pictures, source.moment, countOf(files));
    // A number that is missing shows the one before.
    const auto behind =
        std::upper_bound(files.begin(), files.end(), wanted, [](long long n, const NumberedFile& f) { return n < f.number; });
    const auto beside = std::filesystem::path(pictures.file).parent_path() / std::prev(behind)->path.filename();
    // Every one of them has to lie in the project's folder, wherever links lead.
    return shownOfFile(source, pathInProject(beside.generic_string(), source.projectFolder), pictures.colours, true);
}

std::string told(const Pictures& pictures, const MediaSource& source) {
    const auto files = filesOf(pictures, source);
    const long long count = countOf(files);
    const double rate = rateOf(pictures, source.moment);
    std::string text = grouped(static_cast<double>(files.size())) + (files.size() == 1 ? " picture, " : " pictures, ") + shortNumber(rate) +
                       " a second, " + shortNumber(std::round(static_cast<double>(count) / rate * 100) / 100) + " s.";
    if (const auto missing = count - static_cast<long long>(files.size()); missing > 0)
        text += " " + grouped(static_cast<double>(missing)) + (missing == 1 ? " number is" : " numbers are") +
                " missing; the picture before stands for each.";
    return text;
}

}  // namespace

const MediaKind picturesMedia = shows(
    DescribeMedia<Pictures>("pictures", "Numbered pictures", "Pictures one after the other, by the numbers of their files")
        .found("image sequence frames numbered png exr movie")
        .file("file", &Pictures::file, {".png", ".jpg", ".jpeg", ".exr", ".hdr"},
              "One of the files, in the project's folder; all that are called like it but for the number before the ending belong to it")
        .numbered()
        .choice("colours", &Pictures::colours, pictureColours(),
                "Light: 8 and 16 bit colours are decoded from sRGB. Plain numbers: as they are written, for depths and masks")
        .number("rate", &Pictures::rate, 0, {0, 60}, "Pictures a second; 0 shows one at each frame of the project")
        .hard(0, 1000)
        .number("start", &Pictures::start, 0, {-250, 250}, "The project's frame at which the first one is seen")
        .unit("f")
        .hard(-1e7, 1e7)
        .choice("beyond", &Pictures::beyond, mediaBeyonds(), "What is seen before the first picture and after the last")
        .label("At its ends"),
    shown, +[](const Pictures&) { return true; }, told);

}  // namespace gswarm
