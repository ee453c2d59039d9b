#pragma once
#include <filesystem>
#include <set>

#include "core/base/error.h"
#include "core/evaluate/evaluator.h"
#include "core/picture/draw_list.h"
#include "core/picture/trace.h"
#include "core/picture/view.h"
#include "core/scene/describe.h"
#include "core/scene/frame_range.h"

namespace gswarm {

/// Told of a file of a sequence.
using WroteFrame = std::function<void(int frame, const std::filesystem::path&)>;

/// Draws pictures as the live view does, of 8 bits or finer; who can, hands it to exporters.
struct LiveStill {
    std::function<Image(const DrawList& list, const Setting& setting, int width, int height)> plain;
    std::function<Image16(const DrawList& list, const Setting& setting, int width, int height)> fine;
};

/// What an exporter writes: the frames of a scene as draw lists, with where, how turned and how large each instance is as the
/// rail made them. All exporters read frames here and nowhere else.
struct ExportFrames {
    Evaluator& evaluator;
    const Scene& scene;
    PlanOptions options;
    double moment = 0;     ///< the frame of an exporter that writes one
    FrameRange range{};    ///< the frames of one that writes several
    ObjectId swarm{};      ///< whose instances, where an exporter writes those of one swarm
    WroteFrame wrote{};    ///< told of every file that is done
    WroteFrame kept{};     ///< and of every one that was there already, just as it would be written
    LiveStill live{};      ///< empty where pictures can only be traced
    ObjectId camera{};     ///< that it is seen through; the empty id for the one that is on
    bool replaces = true;  ///< what lies there already; else it is an error, but for what is just as it would be written
    std::function<void(const std::string&)> told{};  ///< told what the person should know of what was written, one sentence
    std::shared_ptr<Tracer> tracer{};                ///< handed on from frame to frame; null for one of one's own
    // Given by writeExport:
    std::string mark{};                       ///< of the piece and all settings, see markOf
    std::set<std::filesystem::path> whole{};  ///< files that are there, just as they would be written

    /// What all swarms show at a frame.
    DrawList at(double frame, Progress& progress) const;
    /// All that a traced picture of a frame is made of: with the moments of an open shutter.
    Shot shot(double frame, Progress& progress) const;
    /// Camera, light and background at a frame.
    Setting setting(double frame) const;
};

/// What exporters are offered under.
enum class ExportGroup { pictures, video, geometry, tables };
inline constexpr const char* exportGroupNames[] = {"Pictures", "Video", "Geometry", "Tables"};

/// A way out: what panel, tool and manual know of it, and the function that writes.
struct ExporterKind : Kind {
    ExportGroup group = ExportGroup::pictures;
    std::string ending;     ///< of its files: ".png"
    bool moves = false;     ///< writes a range of frames, not one moment
    bool ofSwarm = false;   ///< writes the instances of one swarm
    bool numbered = false;  ///< writes one numbered file a frame: NAME.png gives NAME-0007.png
    /// The mark of a file that is whole, empty for others: what carries the right one is not written again. Empty where
    /// files carry none.
    std::function<std::string(const std::filesystem::path&)> markIn;
    /// What else is written beside a file: other files, or folders of them. Empty for nothing.
    std::function<std::vector<std::filesystem::path>(const void* settings, const Scene&, const std::filesystem::path&)> besides;
    /// About how many bytes one file takes, where that can be told before. Empty where it can't.
    std::function<double(const void* settings, const ExportFrames&, Progress&)> bytes;
    /// Throws Error with what was kept, Cancelled between frames or tiles.
    std::function<void(const void* settings, const ExportFrames&, const std::filesystem::path&, Progress&)> write;
};

/// What tables say of copies by symmetry.
inline constexpr const char* copiesInTables = "Of a swarm with symmetries each copy has rows of its own, and a column tells which it is";

/// `summary` is what the panel says of it. The kind is finished by its settings' `write`.
template <class T>
struct DescribeExporter : Describe<T, ExporterKind> {
    DescribeExporter(ExportGroup group, std::string id, std::string label, std::string ending, std::string summary)
        : Describe<T, ExporterKind>(Family::object, std::move(id), std::move(label), std::move(summary)) {
        this->kind().group = group;
        this->kind().ending = std::move(ending);
    }
};

template <class T>
ExporterKind writes(Describe<T, ExporterKind>& described,
                    void (*write)(const T&, const ExportFrames&, const std::filesystem::path&, Progress&)) {
    ExporterKind kind = described.kind();
    kind.write = [write](const void* settings, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
        write(*static_cast<const T*>(settings), frames, path, progress);
    };
    return kind;
}

/// The scene with no other swarms shown than these, with the shapes that are seen where they stand; all that works on them stays.
Scene showingOnly(const Scene& scene, const std::vector<ObjectId>& swarms);

/// Something lies where a file would be written: it may be asked for once more with `replaces`.
struct InTheWay : Error {
    using Error::Error;
};

/// Calls `take` for every frame of the range, each a part of the progress. Throws Cancelled between frames.
void eachFrame(const FrameRange& range, Progress& progress, const std::function<void(int frame)>& take);

/// The kind that writes a numbered file for each frame of a range as another one writes that of a moment, but for those that are there
/// just so. What was written stays when it is cancelled.
ExporterKind sequenceOf(const ExporterKind& still, std::string id, std::string label);

extern const ExporterKind stillExporter, sequenceExporter, layeredExporter, layeredSequenceExporter, h264Exporter, h265Exporter,
    proRes422Exporter, proRes4444Exporter, vp9Exporter, av1Exporter, gifExporter, gltfExporter, bakedGltfExporter, usdExporter,
    usdAnimationExporter, plyPointsExporter, plyPointsSequenceExporter, plyMeshExporter, plyMeshSequenceExporter, objExporter,
    objSequenceExporter, csvExporter, framesCsvExporter, npyExporter, bakeExporter;

/// All exporters, in the order in which they are offered.
const std::vector<const ExporterKind*>& exporters();
/// Null if there is none.
const ExporterKind* findExporter(std::string_view id);

/// An exporter's settings as they begin for a project: pictures have its size.
Part settingsFor(const ExporterKind& kind, const Scene& scene);

/// The files that a part's settings write of a scene, in their order.
std::vector<std::filesystem::path> filesWritten(const Part& settings, const Scene& scene, const FrameRange& range,
                                                const std::filesystem::path& path);
/// What a file is of: the piece with what it reads from files, the settings and the frame. The same mark, the same file.
std::string markOf(const ExportFrames& frames, double frame);

/// Writes with the settings of an exporter's part. Throws Error if the ending is another, if the range runs backwards, InTheWay,
/// or as the exporter does.
void writeExport(const Part& settings, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress);

/// "3.2 GB"
std::string bytesInWords(double bytes);

/// The file of a frame of a sequence: NAME.png gives NAME-0007.png.
std::filesystem::path numbered(const std::filesystem::path& path, int frame);

}  // namespace gswarm
