// Finished pictures as PNG: one frame, or a numbered file for each of several.
#include "core/base/error.h"
#include "core/exchange/picture_maker.h"
#include "core/exchange/png.h"

namespace gswarm {
namespace {

enum class Bits { eight, sixteen };

struct Png : ShownSettings {
    Bits bits;
};

void write(const Png& png, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    PictureMaker maker(png, frames);
    const PngOptions options{png.transparent, markOf(frames, frames.moment)};
    if (png.bits == Bits::sixteen)
        writePng(maker.fine(frames.moment, progress), path, options);
    else
        writePng(maker.at(frames.moment, progress), path, options);
}

ExporterKind still() {
    DescribeExporter<Png> kind(ExportGroup::pictures, "still", "Picture (PNG)", ".png",
                               "Traced with all that lights it, or drawn as the view does.");
    describeShown(kind);
    kind.toggle("transparent", &Png::transparent, false, "Leaves the background out: an alpha channel says what is there")
        .choice("bits", &Png::bits, {{"8", "8 bits"}, {"16", "16 bits"}},
                "Of each channel: 16 leave room for grading, in files three times as large")
        .found("render image images picture screenshot animation movie frames");
    kind.kind().markIn = pngMark;
    return writes(kind, write);
}

}  // namespace

const ExporterKind stillExporter = still();
const ExporterKind sequenceExporter = sequenceOf(still(), "sequence", "Frames (PNG)");

}  // namespace gswarm
