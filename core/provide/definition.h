#pragma once
#include <cstdint>
#include <filesystem>
#include <vector>

#include "core/base/content_hash.h"
#include "core/scene/scene.h"

namespace gswarm {

class Store;

/// Takes in all of a track: its keys or what it follows, not what it is at any one frame.
void addDefinition(ContentHash& hash, const Track& track);

/// Of some objects and all that they depend on, at every frame: what does not change unless one of them is edited, or a file of theirs
/// is written anew. Swarms are taken as they stand unrepeated.
std::uint64_t definitionHash(const Scene& scene, const std::vector<ObjectId>& roots, const std::filesystem::path& projectFolder,
                             Store& store);

}  // namespace gswarm
