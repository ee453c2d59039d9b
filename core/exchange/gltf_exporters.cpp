// glTF 2.0: a still with instancing, or plain nodes with baked animation.
#include "core/exchange/exporter_kind.h"
#include "core/exchange/gltf.h"
#include "core/exchange/shown_apart.h"
#include "core/resolve/resolve.h"

namespace gswarm {
namespace {

struct Gltf {};

void writeInstanced(const Gltf&, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    ShownApart apart;
    writeGltfStill(frames.scene, apart.placedAt(frames, frames.moment, progress), frames.setting(frames.moment), path, progress);
}

void writeBaked(const Gltf&, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    ShownApart apart;
    apart.meetAll(frames, 0, progress);
    writeGltfBaked(
        frames.scene, [&](int frame) { return apart.placedAt(frames, frame, progress); }, frames.setting(frames.range.first),
        {frames.range.first, frames.range.last, momentAt(frames.scene, 0).rate, frames.range.every}, path, progress);
}

ExporterKind instanced() {
    auto described = DescribeExporter<Gltf>(ExportGroup::geometry, "gltf", "Instances (glTF)", ".glb",
                                            "Small and exact, with EXT_mesh_gpu_instancing: for programs that know instances.");
    described.found("mesh model geometry instancing web");
    return writes(described, writeInstanced);
}

ExporterKind baked() {
    auto described = DescribeExporter<Gltf>(ExportGroup::geometry, "baked", "Animation (glTF)", ".glb",
                                            "Every instance a node with baked keys, for any viewer. Colours are those of the first frame.");
    described.found("animation mesh model web viewer");
    ExporterKind kind = writes(described, writeBaked);
    kind.moves = true;
    return kind;
}

}  // namespace

const ExporterKind gltfExporter = instanced();
const ExporterKind bakedGltfExporter = baked();

}  // namespace gswarm
