#pragma once
#include <filesystem>
#include <functional>

#include "core/base/progress.h"
#include "core/picture/draw_list.h"
#include "core/picture/view.h"

namespace gswarm {

/// Binary glTF 2.0 of one moment, with EXT_mesh_gpu_instancing: one node per swarm and shape; per-instance colour as
/// the attribute _COLOR_0 (linear, float). Only instances that are shown are written, from the placements that their results
/// want. Materials go by the ratified extensions, the sun and lamps as punctual lights, with the camera that is on (gltf_looks.h).
/// Throws Error if the file can't be written or would pass 4 GiB.
void writeGltfStill(const Scene& scene, const DrawList& list, const Setting& setting, const std::filesystem::path& path,
                    Progress& progress);

/// Frames of a baked export, first to last, each `every`-th.
struct BakeRange {
    int first, last;
    double rate;
    int every = 1;
    int count() const { return (last - first) / every + 1; }
};
/// Every instance as a plain node with baked translation, rotation and scale keys, for any viewer. A channel that
/// never changes has no keys. One that is hidden at some frames, or repeats several shapes, has a child for each shape whose
/// scale steps between 1 and 0. Colours are those of the frame at which an instance is first shown, rounded to at most 256
/// materials a shape and opacity, because plain glTF can't animate them. `at` gives what is shown at a frame, with placements, and is
/// called in ascending order.
/// Throws Error if more than `mostBakedKeys` keys would be needed.
inline constexpr double mostBakedKeys = 30e6;
void writeGltfBaked(const Scene& scene, const std::function<DrawList(int frame)>& at, const Setting& setting, const BakeRange& range,
                    const std::filesystem::path& path, Progress& progress);

}  // namespace gswarm
