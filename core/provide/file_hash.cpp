#include "core/provide/file_hash.h"

#include <sys/stat.h>
#include <xxhash.h>

#include <fstream>
#include <memory>
#include <vector>

#include "core/base/atomic_file.h"
#include "core/base/content_hash.h"
#include "core/base/error.h"
#include "core/base/outside_file.h"
#include "core/base/text.h"
#include "core/shape/read_mesh.h"

namespace gswarm {
namespace {

std::uint64_t contentOf(const std::filesystem::path& path) {
    std::ifstream in(path, std::ios::binary);
    const std::unique_ptr<XXH3_state_t, decltype(&XXH3_freeState)> state(XXH3_createState(), XXH3_freeState);
    XXH3_64bits_reset(state.get());
    std::vector<char> part(std::size_t{1} << 20);
    while (in) {
        in.read(part.data(), static_cast<std::streamsize>(part.size()));
        XXH3_64bits_update(state.get(), part.data(), static_cast<std::size_t>(in.gcount()));
    }
    if (!in.eof()) throw Error("“" + path.filename().string() + "” can't be read; check that you may open it.");
    return XXH3_64bits_digest(state.get());
}

std::uint64_t stampOf(const std::filesystem::path& path) {
    struct stat told {};
    if (stat(path.c_str(), &told) != 0) throw Error("“" + path.filename().string() + "” can't be read; check that you may open it.");
    ContentHash hash;
    for (const auto number :
         {static_cast<std::uint64_t>(told.st_size), static_cast<std::uint64_t>(told.st_ino), static_cast<std::uint64_t>(told.st_dev),
          static_cast<std::uint64_t>(told.st_mtim.tv_sec), static_cast<std::uint64_t>(told.st_mtim.tv_nsec),
          static_cast<std::uint64_t>(told.st_ctim.tv_sec), static_cast<std::uint64_t>(told.st_ctim.tv_nsec)})
        hash.add(number);
    return hash.value();
}

}  // namespace

FileHashes::Known FileHashes::of(const std::filesystem::path& path) {
    const std::uint64_t stamp = stampOf(path);
    {
        const std::lock_guard lock(mutex_);
        if (const auto found = known_.find(path); found != known_.end() && found->second.stamp == stamp) return found->second;
    }
    Known known{stamp, contentOf(path), {}};
    const std::string ending = lowered(path.extension().string());
    if (ending == ".gltf" || ending == ".glb") known.besides = buffersBeside(readFile(path, mostMeshFileBytes));
    const std::lock_guard lock(mutex_);
    return known_[path] = known;
}

std::uint64_t filesHash(const Part& part, const std::filesystem::path& projectFolder, FileHashes& hashes) {
    ContentHash hash;
    for (std::size_t i = 0; i < part.values.size(); ++i) {
        if (part.kind->parameters[i].type != ParameterType::file) continue;
        const auto& typed = std::get<std::string>(part.values[i]);
        if (typed.empty()) continue;
        const auto path = pathInProject(typed, projectFolder);
        hash.add(path.extension().string());  // it says how the content is read
        const FileHashes::Known known = hashes.of(path);
        hash.add(known.hash);
        for (const std::string& other : known.besides) {
            const auto beside = (std::filesystem::path(typed).parent_path() / other).string();
            hash.add(hashes.of(pathInProject(beside, projectFolder)).hash);
        }
    }
    return hash.value();
}

}  // namespace gswarm
