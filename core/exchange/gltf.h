#pragma once
#include <filesystem>
#include <functional>
#include <memory>
#include <vector>

#include "core/base/progress.h"
#include "core/flow/result.h"

namespace gswarm {

/// Binary glTF 2.0 of one moment, with EXT_mesh_gpu_instancing: one node per swarm and shape; per-instance colour as
/// the attribute _COLOR_0 (linear, float). Only instances that are shown are written. Throws Error if the file can't
/// be written or would pass 4 GiB.
void writeGltfStill(const Scene& scene, const std::vector<std::shared_ptr<const Result>>& swarms, const std::filesystem::path& path,
                    Progress& progress);

/// Frames of a baked export, first to last by whole frames.
struct BakeRange {
    int first, last;
    double rate;
};
/// Every instance as a plain node with baked translation, rotation and scale keys, for any viewer. A channel that
/// never changes has no keys. Colours are those of the first frame, rounded to at most 256 materials a shape, because
/// plain glTF can't animate them. `at` gives all shown swarms at a frame and is called in ascending order.
/// Throws Error if more than `mostBakedKeys` keys would be needed.
inline constexpr double mostBakedKeys = 30e6;
void writeGltfBaked(const Scene& scene, const std::function<std::vector<std::shared_ptr<const Result>>(int frame)>& at,
                    const BakeRange& range, const std::filesystem::path& path, Progress& progress);

}  // namespace gswarm
