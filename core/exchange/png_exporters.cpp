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

void write(PictureMaker& maker, const Png& png, const ExportFrames& frames, double frame, const std::filesystem::path& path,
           Progress& progress) {
    const PngOptions options{png.transparent, markOf(frames, frame)};
    if (png.bits == Bits::sixteen)
        writePng(maker.fine(frame, progress), path, options);
    else
        writePng(maker.at(frame, progress), path, options);
}

void writeStill(const Png& png, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    if (pngMark(path) == markOf(frames, frames.moment)) {
        if (frames.kept) frames.kept(static_cast<int>(frames.moment), path);
        return progress.report(1);
    }
    PictureMaker maker(png, frames);
    write(maker, png, frames, frames.moment, path, progress);
}

/// Files that were written stay when it is cancelled.
void writeSequence(const Png& png, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    PictureMaker maker(png, frames);
    forEachFile(frames, path, sequenceExporter, progress,
                [&](int frame, const std::filesystem::path& file) { write(maker, png, frames, frame, file, progress); });
}

DescribeExporter<Png> described(const char* id, const char* label, const char* summary) {
    DescribeExporter<Png> kind(ExportGroup::pictures, id, label, ".png", summary);
    describeShown(kind);
    kind.toggle("transparent", &Png::transparent, false, "Leaves the background out: an alpha channel says what is there")
        .choice("bits", &Png::bits, {{"8", "8 bits"}, {"16", "16 bits"}},
                "Of each channel: 16 leave room for grading, in files three times as large");
    kind.kind().markIn = pngMark;
    return kind;
}

ExporterKind still() {
    auto kind = described("still", "Picture (PNG)", "Traced with all that lights it, or drawn as the view does.");
    kind.found("render image picture screenshot");
    return writes(kind, writeStill);
}

ExporterKind sequence() {
    auto described =
        gswarm::described("sequence", "Frames (PNG)",
                          "Traced, one numbered file a frame. What is written stays if you cancel, and is not made again when you go on.");
    described.found("render images animation movie frames");
    ExporterKind kind = writes(described, writeSequence);
    kind.moves = kind.numbered = true;
    return kind;
}

}  // namespace

const ExporterKind stillExporter = still();
const ExporterKind sequenceExporter = sequence();

}  // namespace gswarm
