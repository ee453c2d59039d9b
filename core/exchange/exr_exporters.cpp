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

void write(const Exr& exr, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    checkTraceSize(exr.size());
    const double frame = frames.moment;
    const LightGroups groups = lightGroupsOf(frames.scene);
    Layering layering = exr.lights ? groups.layering : Layering{};
    std::optional<Motion> motion;
    if (exr.motion) {
        motion.emplace(frames.at(frame, progress), frames.at(frame + 1, progress), frames.setting(frame).camera,
                       frames.setting(frame + 1).camera, exr.width, exr.height, progress);
        layering.motion = &*motion;
    }
    layering.place = exr.position;
    layering.emission = exr.emission;
    layering.things = exr.mattes;
    const auto tracer = frames.tracer ? frames.tracer : std::make_shared<Tracer>();
    const Film film = exposed(*tracer, frames.shot(frame, progress), exr.size(), progress, layering);
    LinearPicture picture = exr.filter ? filtered(film, progress) : developed(film);
    const Shot& shot = tracer->shot();
    const std::map<std::string, std::string> notes{{markNote, markOf(frames, frame)}};
    if (exr.png) writePng(finish(picture, shot.setting()), pngBeside(path), {false, {}});
    writeLayers(exr.wanted(), picture, film, groups, frames.scene, shot.lists.front(), notes, path);
}

ExporterKind layered() {
    DescribeExporter<Exr> kind(ExportGroup::pictures, "layered", "Layers (OpenEXR)", ".exr",
                               "Traced, in linear light as it was gathered, without background: for grading and compositing.");
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
        .label("PNG beside it")
        .found("render passes aov image images frames composite cryptomatte hdr");
    kind.kind().markIn = markIn;
    kind.kind().besides = besides;
    return writes(kind, write);
}

}  // namespace

const ExporterKind layeredExporter = layered();
const ExporterKind layeredSequenceExporter = sequenceOf(layered(), "layeredSequence", "Frames of layers (OpenEXR)");

}  // namespace gswarm
