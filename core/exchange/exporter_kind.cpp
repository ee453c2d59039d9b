#include "core/exchange/exporter_kind.h"

#include <algorithm>
#include <cstdio>
#include <nlohmann/json.hpp>

#include "core/base/content_hash.h"
#include "core/base/error.h"
#include "core/base/outside_file.h"
#include "core/edit/edit.h"
#include "core/exchange/project_copy.h"
#include "core/file/project_file.h"
#include "core/provide/file_hash.h"

namespace gswarm {

DrawList ExportFrames::at(double frame, Progress& progress) const {
    std::vector<std::shared_ptr<const Result>> results;
    for (const ObjectId id : scene.all(ObjectType::swarm)) results.push_back(evaluator.evaluate(scene, id, frame, options, progress));
    return drawListOf(results);
}

Shot ExportFrames::shot(double frame, Progress& progress) const {
    const auto [opens, closes] = shutterOf(setting(frame).camera, frame);
    const ObjectId through = camera ? camera : cameraOn(scene, frame);
    Shot shot;
    const int moments = closes > opens ? shutterMoments : 1;
    for (int k = 0; k < moments; ++k) {
        const double moment = moments == 1 ? frame : opens + (closes - opens) * k / (moments - 1);
        shot.lists.push_back(at(moment, progress));
        // A cut while it is open is none: the picture is that of the frame.
        shot.settings.push_back(settingThrough(scene, through, moment, evaluator.store()));
        addPictures(shot.settings.back(), options.projectFolder, evaluator.store());
    }
    return shot;
}

Setting ExportFrames::setting(double frame) const {
    Setting setting = settingThrough(scene, camera ? camera : cameraOn(scene, frame), frame, evaluator.store());
    addPictures(setting, options.projectFolder, evaluator.store());
    return setting;
}

const std::vector<const ExporterKind*>& exporters() {
    static const std::vector<const ExporterKind*> all{&stillExporter,
                                                      &sequenceExporter,
                                                      &layeredExporter,
                                                      &layeredSequenceExporter,
                                                      &h264Exporter,
                                                      &h265Exporter,
                                                      &proRes422Exporter,
                                                      &proRes4444Exporter,
                                                      &vp9Exporter,
                                                      &av1Exporter,
                                                      &gifExporter,
                                                      &gltfExporter,
                                                      &bakedGltfExporter,
                                                      &usdExporter,
                                                      &usdAnimationExporter,
                                                      &plyPointsExporter,
                                                      &plyPointsSequenceExporter,
                                                      &plyMeshExporter,
                                                      &plyMeshSequenceExporter,
                                                      &objExporter,
                                                      &objSequenceExporter,
                                                      &csvExporter,
                                                      &framesCsvExporter,
                                                      &npyExporter,
                                                      &bakeExporter};
    return all;
}

const ExporterKind* findExporter(std::string_view id) {
    for (const ExporterKind* kind : exporters())
        if (kind->id == id) return kind;
    return nullptr;
}

Part settingsFor(const ExporterKind& kind, const Scene& scene) {
    Part settings = standardPart(kind);
    const Part& project = scene.project().part("settings");
    for (const auto& [setting, from] : {std::pair{"width", "pictureWidth"}, {"height", "pictureHeight"}})
        if (const int at = kind.indexOf(setting); at >= 0) settings.values[static_cast<std::size_t>(at)] = project[from];
    return settings;
}

Scene showingOnly(const Scene& scene, const std::vector<ObjectId>& swarms) {
    Scene only = scene;
    for (const ObjectId swarm : scene.all(ObjectType::swarm))
        if (std::find(swarms.begin(), swarms.end(), swarm) == swarms.end())
            only = setValue(only, addressOf(only, swarm, "shown"), false).scene;
    return only;
}

namespace {

const ExporterKind& kindOf(const Part& settings) { return static_cast<const ExporterKind&>(*settings.kind); }

ResolvedPart resolvedSettings(const Part& settings) {
    return resolvedWith(settings, [](const Track& track) { return track.value; });
}

/// The mark of all frames together.
std::string wholeMark(const Part& settings, const ExportFrames& frames) {
    ContentHash hash;
    hash.add(toJson(frames.scene));
    hash.add(settings.kind->id);
    hash.add(partJson(settings).dump());
    hash.add(frames.camera.bits);
    FileHashes hashes;
    for (const std::string& file : filesOf(frames.scene, frames.options.projectFolder)) {
        hash.add(file);
        hash.add(hashes.of(pathInProject(file, frames.options.projectFolder)).hash);
    }
    char text[17];
    std::snprintf(text, sizeof text, "%016llx", static_cast<unsigned long long>(hash.value()));
    return text;
}

bool isThere(const std::filesystem::path& path) {
    std::error_code failed;
    return std::filesystem::is_regular_file(path, failed);
}

/// Also a folder.
bool exists(const std::filesystem::path& path) {
    std::error_code failed;
    return std::filesystem::exists(path, failed);
}

}  // namespace

namespace {

/// What takes more than is free is not begun.
void checkRoom(const Part& settings, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    const ExporterKind& kind = kindOf(settings);
    std::error_code failed;
    const auto folder = path.has_parent_path() ? path.parent_path() : std::filesystem::path(".");
    const auto space = std::filesystem::space(folder, failed);
    if (!kind.bytes || failed) return;
    const int files = kind.numbered ? frames.range.count() : 1;
    const double bytes = kind.bytes(resolvedSettings(settings).data.get(), frames, progress) * files;
    if (bytes > static_cast<double>(space.available))
        throw Error("That takes about " + bytesInWords(bytes) + ", but only " + bytesInWords(static_cast<double>(space.available)) +
                    " are free in that folder; nothing was written.");
}

}  // namespace

std::string bytesInWords(double bytes) {
    const char* units[] = {"bytes", "kB", "MB", "GB", "TB"};
    int unit = 0;
    while (bytes >= 999.5 && unit < 4) bytes /= 1000, ++unit;
    char text[32];
    std::snprintf(text, sizeof text, bytes < 9.95 && unit > 0 ? "%.1f %s" : "%.0f %s", bytes, units[unit]);
    return text;
}

void eachFrame(const FrameRange& range, Progress& progress, const std::function<void(int frame)>& take) {
    const double count = range.count();
    for (int k = 0; k < range.count(); ++k) {
        progress.part(k / count, (k + 1) / count);
        progress.check();
        take(range.at(k));
        progress.report(1);
    }
}

ExporterKind sequenceOf(const ExporterKind& still, std::string id, std::string label) {
    ExporterKind kind = still;
    kind.id = std::move(id);
    kind.label = std::move(label);
    kind.summary += " One numbered file a frame.";
    if (kind.markIn) kind.summary += " What is written stays if you cancel, and is not made again when you go on.";
    kind.moves = kind.numbered = true;
    kind.write = [write = still.write](const void* settings, const ExportFrames& frames, const std::filesystem::path& path,
                                       Progress& progress) {
        ExportFrames one = frames;
        one.tracer = std::make_shared<Tracer>();
        eachFrame(frames.range, progress, [&](int frame) {
            const std::filesystem::path file = numbered(path, frame);
            if (frames.whole.contains(file)) {
                if (frames.kept) frames.kept(frame, file);
                return;
            }
            one.moment = frame;
            write(settings, one, file, progress);
            if (frames.wrote) frames.wrote(frame, file);
        });
    };
    return kind;
}

std::string markOf(const ExportFrames& frames, double frame) {
    char text[32];
    std::snprintf(text, sizeof text, "%.17g", frame);
    return frames.mark + " " + text;
}

std::vector<std::filesystem::path> filesWritten(const Part& settings, const Scene& scene, const FrameRange& range,
                                                const std::filesystem::path& path) {
    const ExporterKind& kind = kindOf(settings);
    const ResolvedPart resolved = resolvedSettings(settings);
    std::vector<std::filesystem::path> files;
    const auto add = [&](const std::filesystem::path& file) {
        files.push_back(file);
        if (!kind.besides) return;
        const auto besides = kind.besides(resolved.data.get(), scene, file);
        files.insert(files.end(), besides.begin(), besides.end());
    };
    if (!kind.numbered) return add(path), files;
    for (int k = 0; k < range.count(); ++k) add(numbered(path, range.at(k)));
    return files;
}

namespace {

/// What lies where an export would be written.
struct Lying {
    std::set<std::filesystem::path> whole;        ///< just as it would be written
    std::vector<std::filesystem::path> inTheWay;  ///< anything else
};

Lying lyingThere(const Part& settings, const ExportFrames& frames, const std::filesystem::path& path) {
    const ExporterKind& kind = kindOf(settings);
    const ResolvedPart resolved = resolvedSettings(settings);
    Lying lying;
    const auto look = [&](const std::filesystem::path& file, double frame) {
        const auto besides = kind.besides ? kind.besides(resolved.data.get(), frames.scene, file) : std::vector<std::filesystem::path>{};
        if (kind.markIn && isThere(file) && kind.markIn(file) == markOf(frames, frame)) {
            // Where some of what belongs beside it is gone, all are made again.
            if (std::all_of(besides.begin(), besides.end(), exists)) lying.whole.insert(file);
            return;
        }
        if (isThere(file)) lying.inTheWay.push_back(file);
        std::copy_if(besides.begin(), besides.end(), std::back_inserter(lying.inTheWay), exists);
    };
    if (!kind.numbered) return look(path, frames.moment), lying;
    for (int k = 0; k < frames.range.count(); ++k) look(numbered(path, frames.range.at(k)), frames.range.at(k));
    return lying;
}

}  // namespace

void writeExport(const Part& settings, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    const ExporterKind& kind = kindOf(settings);
    if (path.extension() != kind.ending) throw Error("The file must end in " + kind.ending + "; nothing was written.");
    if (kind.moves && frames.range.last < frames.range.first)
        throw Error("The last frame must not be before the first; nothing was written.");
    ExportFrames marked = frames;
    if (kind.markIn) marked.mark = wholeMark(settings, frames);
    Lying lying = lyingThere(settings, marked, path);
    if (const auto& found = lying.inTheWay; !frames.replaces && !found.empty())
        throw InTheWay("“" + found.front().filename().string() + "” is there already" +
                       (found.size() > 1 ? ", and " + std::to_string(found.size() - 1) + " more" : "") +
                       "; nothing was written. Choose another name, or replace what is there.");
    if (!kind.numbered && lying.whole.contains(path)) {
        if (frames.kept) frames.kept(static_cast<int>(frames.moment), path);
        return progress.report(1);
    }
    marked.whole = std::move(lying.whole);
    checkRoom(settings, frames, path, progress);
    kind.write(resolvedSettings(settings).data.get(), marked, path, progress);
}

std::filesystem::path numbered(const std::filesystem::path& path, int frame) {
    char number[16];
    std::snprintf(number, sizeof number, frame < 0 ? "-%05d" : "-%04d", frame);
    return path.parent_path() / (path.stem().string() + number + path.extension().string());
}

}  // namespace gswarm
