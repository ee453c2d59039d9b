#include "core/exchange/exporter_kind.h"

#include <cstdio>

#include "core/base/error.h"

namespace gswarm {

DrawList ExportFrames::at(double frame, Progress& progress) const {
    std::vector<std::shared_ptr<const Result>> results;
    for (const ObjectId id : scene.all(ObjectType::swarm)) results.push_back(evaluator.evaluate(scene, id, frame, options, progress));
    return drawListOf(results);
}

DrawList ExportFrames::placedAt(double frame, Progress& progress) const {
    ExportFrames placed = *this;
    placed.options.wanted.placements = true;
    return placed.at(frame, progress);
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
    static const std::vector<const ExporterKind*> all{&stillExporter, &sequenceExporter, &gltfExporter, &bakedGltfExporter, &csvExporter};
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

void writeExport(const Part& settings, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    const auto& kind = static_cast<const ExporterKind&>(*settings.kind);
    if (path.extension() != kind.ending) throw Error("The file must end in " + kind.ending + "; nothing was written.");
    if (kind.moves && frames.range.last < frames.range.first)
        throw Error("The last frame must not be before the first; nothing was written.");
    const ResolvedPart resolved = resolvedWith(settings, [](const Track& track) { return track.value; });
    kind.write(resolved.data.get(), frames, path, progress);
}

std::filesystem::path numbered(const std::filesystem::path& path, int frame) {
    char number[16];
    std::snprintf(number, sizeof number, frame < 0 ? "-%05d" : "-%04d", frame);
    return path.parent_path() / (path.stem().string() + number + path.extension().string());
}

}  // namespace gswarm
