#pragma once
#include <filesystem>

#include "core/evaluate/evaluator.h"
#include "core/exchange/gltf.h"
#include "core/picture/trace.h"

namespace gswarm {

/// The frames that are played and rendered, whole numbers.
struct FrameRange {
    int first = 0, last = 0;
};
FrameRange framesOf(const Scene& scene);

/// What all swarms of a scene show at a frame.
DrawList drawListAt(Evaluator& evaluator, const Scene& scene, double frame, const PlanOptions& options, Progress& progress);

/// One traced frame. Writes a PNG.
void exportStill(Evaluator& evaluator, const Scene& scene, const PlanOptions& options, double frame, const TraceSize& size,
                 const std::filesystem::path& path, Progress& progress);

/// Traced frames as numbered PNG files: NAME.png gives NAME-0007.png. Files that were written stay when it is cancelled.
/// `wrote` is told of every file that is done.
using WroteFrame = std::function<void(int frame, const std::filesystem::path&)>;
void exportSequence(Evaluator& evaluator, const Scene& scene, const PlanOptions& options, FrameRange range, const TraceSize& size,
                    const std::filesystem::path& path, Progress& progress, const WroteFrame& wrote = {});
std::filesystem::path numbered(const std::filesystem::path& path, int frame);

void exportGltfStill(Evaluator& evaluator, const Scene& scene, const PlanOptions& options, double frame, const std::filesystem::path& path,
                     Progress& progress);
void exportGltfBaked(Evaluator& evaluator, const Scene& scene, const PlanOptions& options, FrameRange range,
                     const std::filesystem::path& path, Progress& progress);
void exportCsv(Evaluator& evaluator, const Scene& scene, ObjectId swarm, const PlanOptions& options, double frame,
               const std::filesystem::path& path, Progress& progress);

}  // namespace gswarm
