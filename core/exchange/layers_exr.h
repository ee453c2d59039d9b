#pragma once
#include "core/exchange/exporter_kind.h"
#include "core/exchange/exr_columns.h"
#include "core/picture/after.h"

namespace gswarm {

/// The depth that is written where nothing is, metres: the background is farther than all half floats count.
inline constexpr float farthestDepth = 1e10f;

enum class LayerFiles { one, each };

/// What is written beside the light.
struct LayersWanted {
    bool albedo, normal, depth, position, motion, emission, lights, mattes;
    int ranks;
    ExrPrecision precision;
    ExrCompression compression;
    LayerFiles files;
};

/// Light by what it comes from: the names of the groups in their order, the first that of surfaces that glow. Lights of one
/// group of the scene list count together, and so do those of one name.
struct LightGroups {
    std::vector<std::string> names;
    Layering layering;  ///< with `groupOf`, `lightGroups` and `skyGroup`
};
LightGroups lightGroupsOf(const Scene& scene);

/// The files that layers are written to, the first is `path`, which has the light.
std::vector<std::filesystem::path> layerFiles(const LayersWanted& wanted, const std::filesystem::path& path);

/// Writes linear light before exposure with its coverage (R G B A), and the layers that are wanted: `albedo`, `normal` (X Y Z in the
/// world), `depth.Z` (metres from the lens), `position` (X Y Z, metres), `motion` (X Y, pixels to the right and up until the next frame),
/// `emission`, `light.NAME` of each group, and Cryptomatte of instance, shape and material. What is partly there counts by its part in
/// light, emission and mattes; the others are means of what is there. Positions, depths, motion and mattes are full floats always. A
/// compression that loses something is not used for mattes: they go to a file of their own then. `notes` go into the header of each file.
/// Files are written atomically, the first one last. Throws Error.
void writeLayers(const LayersWanted& wanted, const LinearPicture& picture, const Film& film, const LightGroups& groups, const Scene& scene,
                 const DrawList& list, const std::map<std::string, std::string>& notes, const std::filesystem::path& path);

}  // namespace gswarm
