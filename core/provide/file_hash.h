#pragma once
#include <cstdint>
#include <filesystem>
#include <map>
#include <mutex>
#include <string>
#include <vector>

#include "core/scene/kind.h"

namespace gswarm {

/// Hashes of files by what is in them (xxHash's XXH3, 64 bits): the same content is the same wherever it lies and whenever it
/// was written. A file is read again only when the system says that it was changed. Safe from any thread.
class FileHashes {
  public:
    struct Known {
        std::uint64_t stamp, hash;         ///< the stamp is of size, node and the times that the system itself keeps
        std::vector<std::string> besides;  ///< files that it names, by their paths beside it
    };
    /// Throws Error if the file can't be read.
    Known of(const std::filesystem::path& path);

  private:
    std::map<std::filesystem::path, Known> known_;
    std::mutex mutex_;
};

/// Of the outside files that a part reads, those that a glTF file names too. Throws Error where one is missing.
std::uint64_t filesHash(const Part& part, const std::filesystem::path& projectFolder, FileHashes& hashes);

}  // namespace gswarm
