// Traced pictures as OpenEXR, with what else is known of each pixel in layers: one frame, or a numbered file for each of several.
#include "core/base/error.h"
#include "core/exchange/layers_exr.h"
#include "core/exchange/picture_maker.h"
#include "core/exchange/png.h"
#include "core/picture/filter.h"
#include "core/picture/motion.h"

namespace gswarm {
namespace {

constexpr const char* markNote = "gildedSwarm";

struct Exr : TracedSettings {
    bool albedo, normal, depth, position, motion, emission, lights, mattes, png;
    int ranks;
    ExrPrecision precision;
    ExrCompression compression;
    LayerFiles files;

    LayersWanted wanted() const {
        return {albedo, normal, depth, position, motion, emission, lights, mattes, ranks, precision, compression, files};
    }
};

std::string markIn(const std::filesystem::path& path) { return exrNote(path, markNote); }

std::filesystem::path pngBeside(const std::filesystem::path& path) { return std::filesystem::path(path).replace_extension(".png"); }

std::vector<std::filesystem::path> besides(const void* settings, const Scene&, const std::filesystem::path& path) {
    const Exr& exr = *static_cast<const Exr*>(settings);
    std::vector<std::filesystem::path> files = layerFiles(exr.wanted(), path);
    files.erase(files.begin());
    if (exr.png) files.push_back(pngBeside(path));
    return files;
}

/// Makes the layered pictures of a scene one after the other.
class Maker {
  public:
    Maker(const Exr& exr, const ExportFrames& frames) : exr_(exr), frames_(frames), groups_(lightGroupsOf(frames.scene)) {
        checkTraceSize(exr.size());
    }
    void write(double frame, const std::filesystem::path& path, Progress& progress) {
        Layering layering = exr_.lights ? groups_.layering : Layering{};
        std::optional<Motion> motion;
        if (exr_.motion) {
            motion.emplace(frames_.at(frame, progress), frames_.at(frame + 1, progress), frames_.setting(frame).camera,
                           frames_.setting(frame + 1).camera, exr_.width, exr_.height, progress);
            layering.motion = &*motion;
        }
        layering.place = exr_.position;
        layering.emission = exr_.emission;
        layering.things = exr_.mattes;
        const Film film = exposed(tracer_, frames_.shot(frame, progress), exr_.size(), progress, layering);
        LinearPicture picture = exr_.filter ? filtered(film, progress) : developed(film);
        const Shot& shot = tracer_.shot();
        const std::map<std::string, std::string> notes{{markNote, markOf(frames_, frame)}};
        if (exr_.png) writePng(finish(picture, shot.setting()), pngBeside(path), {false, {}});
        writeLayers(exr_.wanted(), picture, film, groups_, frames_.scene, shot.lists.front(), notes, path);
    }

  private:
    const Exr& exr_;
    const ExportFrames& frames_;
    LightGroups groups_;
    Tracer tracer_;
};

void writeStill(const Exr& exr, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    if (markIn(path) == markOf(frames, frames.moment)) {
        if (frames.kept) frames.kept(static_cast<int>(frames.moment), path);
        return progress.report(1);
    }
    Maker(exr, frames).write(frames.moment, path, progress);
}

/// Files that were written stay when it is cancelled.
void writeSequence(const Exr& exr, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    Maker maker(exr, frames);
    forEachFile(frames, path, layeredSequenceExporter, progress,
                [&](int frame, const std::filesystem::path& file) { maker.write(frame, file, progress); });
}

DescribeExporter<Exr> describedLayers(const char* id, const char* label, const char* summary) {
    DescribeExporter<Exr> kind(ExportGroup::pictures, id, label, ".exr", summary);
    describeTraced(kind);
    kind.choice("precision", &Exr::precision, {{"half", "Half floats"}, {"full", "Full floats"}},
                "Of light and colours; positions, depths, motion and mattes are full floats always")
        .choice("compression", &Exr::compression,
                {{"none", "None"},
                 {"rle", "RLE"},
                 {"zips", "ZIPS, each line"},
                 {"zip", "ZIP, 16 lines"},
                 {"piz", "PIZ, wavelets"},
                 {"pxr24", "PXR24, 24 bits"},
                 {"dwaa", "DWAA, loses a little"},
                 {"dwab", "DWAB, loses a little"}},
                "How it is packed; the last three don't keep every bit, so mattes get a file of their own with them")
        .standard("zip")
        .choice("files", &Exr::files, {{"one", "All in one file"}, {"each", "One file a layer"}},
                "One file a layer is called after it: NAME.depth.exr")
        .toggle("albedo", &Exr::albedo, true, "Layer of the colours that surfaces have without light")
        .toggle("normal", &Exr::normal, true, "Layer of where surfaces face, in the world")
        .toggle("depth", &Exr::depth, true, "Layer of metres from the lens")
        .toggle("position", &Exr::position, false, "Layer of places in the world, metres")
        .toggle("motion", &Exr::motion, false, "Layer of pixels that what is seen goes until the next frame, to the right and up")
        .toggle("emission", &Exr::emission, false, "Layer of the light that what is seen gives of itself")
        .toggle("lights", &Exr::lights, false, "A layer for each light, or group of lights, and one for all that glows; together the light")
        .toggle("mattes", &Exr::mattes, false, "Cryptomatte of instances, shapes and materials: picks anything later, with soft edges")
        .whole("ranks", &Exr::ranks, 6, {2, 16}, "How many things each pixel of a matte can name")
        .only("mattes", {"on"})
        .toggle("png", &Exr::png, false, "Writes the finished picture beside it as PNG")
        .label("PNG beside it");
    kind.kind().markIn = markIn;
    kind.kind().besides = besides;
    return kind;
}

ExporterKind layered() {
    auto kind = describedLayers("layered", "Layers (OpenEXR)",
                                "Traced, in linear light as it was gathered, without background: for grading and compositing.");
    kind.found("render passes aov image composite cryptomatte hdr");
    return writes(kind, writeStill);
}

ExporterKind layeredSequence() {
    auto kind = describedLayers("layeredSequence", "Frames of layers (OpenEXR)",
                                "Traced, in linear light, one numbered file a frame. What is written stays if you cancel, and is not "
                                "made again when you go on.");
    kind.found("render passes aov images frames composite cryptomatte hdr");
    ExporterKind made = writes(kind, writeSequence);
    made.moves = made.numbered = true;
    return made;
}

}  // namespace

const ExporterKind layeredExporter = layered();
const ExporterKind layeredSequenceExporter = layeredSequence();

}  // namespace gswarm
