// Pictures, traced or as the live view draws them: one frame, or a numbered file for each of several.
#include "core/base/error.h"
#include "core/exchange/exporter_kind.h"
#include "core/exchange/layers_exr.h"
#include "core/exchange/png.h"
#include "core/picture/filter.h"
#include "core/picture/trace.h"

namespace gswarm {
namespace {

struct Picture {
    int width, height, samples, seed;
    float noise;
    bool filter, transparent, live, layers;
    TraceSize size() const { return {width, height, samples, static_cast<std::uint32_t>(seed), noise / 100, filter}; }
};

/// Writes the picture of a frame, and its layers beside it.
void write(Tracer& tracer, const ExportFrames& frames, double frame, const Picture& picture, const std::filesystem::path& path,
           Progress& progress) {
    if (picture.live) {
        if (!frames.live) throw Error("Live pictures can't be drawn here; leave “live” off and it is traced.");
        Setting setting = frames.setting(frame);
        if (picture.transparent) setting.after.background = Background::transparent;
        return writePng(frames.live(frames.at(frame, progress), setting, picture.width, picture.height), path);
    }
    Shot shot = frames.shot(frame, progress);
    if (picture.transparent)
        for (Setting& setting : shot.settings) setting.after.background = Background::transparent;
    const Film film = exposed(tracer, std::move(shot), picture.size(), progress);
    LinearPicture light = picture.filter ? filtered(film, progress) : developed(film);
    if (picture.layers) writeLayers(light, film, std::filesystem::path(path).replace_extension(".exr"));
    writePng(finish(std::move(light), tracer.shot().setting()), path);
}

void writeStill(const Picture& picture, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    checkTraceSize(picture.size());
    Tracer tracer;
    write(tracer, frames, frames.moment, picture, path, progress);
}

/// Files that were written stay when it is cancelled.
void writeSequence(const Picture& picture, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    checkTraceSize(picture.size());
    const auto [first, last] = frames.range;
    Tracer tracer;
    for (int frame = first; frame <= last; ++frame) {
        const double count = last - first + 1;
        progress.part((frame - first) / count, (frame - first + 1) / count);
        write(tracer, frames, frame, picture, numbered(path, frame), progress);
        if (frames.wrote) frames.wrote(frame, numbered(path, frame));
    }
}

Describe<Picture, ExporterKind> described(const char* id, const char* label, const char* summary) {
    return DescribeExporter<Picture>(id, label, ".png", summary)
        .whole("width", &Picture::width, 1280, {1, 16384}, "Pixels across")
        .whole("height", &Picture::height, 720, {1, 16384}, "Pixels from top to bottom")
        .whole("samples", &Picture::samples, 64, {1, 4096}, "Paths a pixel: more of them, less grain, more time")
        .whole("seed", &Picture::seed, 1, {0, 2147483647}, "Another seed, another grain")
        .number("noise", &Picture::noise, 0, {0, 10},
                "Where its error is below this share of white, a picture takes no more samples; 0 takes all")
        .unit("%")
        .hard(0, 100)
        .toggle("filter", &Picture::filter, false, "Smooths what noise is left, along surfaces")
        .label("Noise filter")
        .toggle("transparent", &Picture::transparent, false, "Leaves the background out: an alpha channel says what is there")
        .toggle("live", &Picture::live, false, "Drawn as the live view draws: in a moment, with simpler light and no motion blur")
        .toggle("layers", &Picture::layers, false,
                "Writes an OpenEXR file of the same name beside it: linear light with coverage, albedo, normals, depth and ids")
        .only("live", {"off"});
}

ExporterKind still() {
    auto described =
        gswarm::described("still", "Picture of this frame (PNG)", "Traced with all that lights it, or drawn as the view does.");
    described.found("render image picture screenshot");
    return writes(described, writeStill);
}

ExporterKind sequence() {
    auto described =
        gswarm::described("sequence", "Frames (PNG sequence)", "Traced, one numbered file a frame. What is written stays if you cancel.");
    described.found("render images animation movie frames");
    ExporterKind kind = writes(described, writeSequence);
    kind.moves = kind.numbered = true;
    return kind;
}

}  // namespace

const ExporterKind stillExporter = still();
const ExporterKind sequenceExporter = sequence();

}  // namespace gswarm
