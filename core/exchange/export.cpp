#include "core/exchange/export.h"

#include <cmath>
#include <cstdio>

#include "core/base/atomic_file.h"
#include "core/exchange/csv.h"
#include "core/exchange/png.h"
#include "core/picture/view.h"
#include "core/prepare/prepare.h"

namespace gswarm {
FrameRange framesOf(const Scene& scene) {
    const Part& project = scene.project().part("settings");
    const auto whole = [&](const char* parameter) {
        return static_cast<int>(std::lround(std::get<Numbers>(project[parameter]).front().value));
    };
    const int first = whole("firstFrame");
    return {first, std::max(first, whole("lastFrame"))};
}

DrawList drawListAt(Evaluator& evaluator, const Scene& scene, double frame, const PlanOptions& options, Progress& progress) {
    std::vector<std::shared_ptr<const Result>> results;
    for (const ObjectId swarm : scene.all(ObjectType::swarm)) results.push_back(evaluator.evaluate(scene, swarm, frame, options, progress));
    return drawListOf(results);
}

void exportStill(Evaluator& evaluator, const Scene& scene, const PlanOptions& options, double frame, const TraceSize& size,
                 const std::filesystem::path& path, Progress& progress) {
    checkTraceSize(size);
    writePng(trace(drawListAt(evaluator, scene, frame, options, progress), settingAt(scene, frame, evaluator.store()), size, progress),
             path);
}

std::filesystem::path numbered(const std::filesystem::path& path, int frame) {
    char number[16];
    std::snprintf(number, sizeof number, frame < 0 ? "-%05d" : "-%04d", frame);
    return path.parent_path() / (path.stem().string() + number + path.extension().string());
}

void exportSequence(Evaluator& evaluator, const Scene& scene, const PlanOptions& options, FrameRange range, const TraceSize& size,
                    const std::filesystem::path& path, Progress& progress, const WroteFrame& wrote) {
    checkTraceSize(size);
    if (range.last < range.first) throw Error("The last frame lies before the first; nothing was rendered.");
    for (int frame = range.first; frame <= range.last; ++frame) {
        const double count = range.last - range.first + 1;
        progress.part((frame - range.first) / count, (frame - range.first + 1) / count);
        writePng(trace(drawListAt(evaluator, scene, frame, options, progress), settingAt(scene, frame, evaluator.store()), size, progress),
                 numbered(path, frame));
        if (wrote) wrote(frame, numbered(path, frame));
    }
}

void exportGltfStill(Evaluator& evaluator, const Scene& scene, const PlanOptions& options, double frame, const std::filesystem::path& path,
                     Progress& progress) {
    PlanOptions placed = options;
    placed.wanted.placements = true;
    writeGltfStill(scene, drawListAt(evaluator, scene, frame, placed, progress), path, progress);
}

void exportGltfBaked(Evaluator& evaluator, const Scene& scene, const PlanOptions& options, FrameRange range,
                     const std::filesystem::path& path, Progress& progress) {
    PlanOptions placed = options;
    placed.wanted.placements = true;
    writeGltfBaked(
        scene, [&](int frame) { return drawListAt(evaluator, scene, frame, placed, progress); },
        {range.first, range.last, momentAt(scene, 0).rate}, path, progress);
}

void exportCsv(Evaluator& evaluator, const Scene& scene, ObjectId swarm, const PlanOptions& options, double frame,
               const std::filesystem::path& path, Progress& progress) {
    AtomicFile file(path);
    writeCsv(evaluator.plan(scene, swarm, frame, options, progress), scene, file.stream());
    file.commit();
    progress.report(1);
}

}  // namespace gswarm
