#pragma once
#include <cstdint>
#include <filesystem>
#include <list>
#include <memory>
#include <mutex>
#include <unordered_map>
#include <vector>

#include "core/flow/memory_plan.h"

namespace gswarm {

class BakedStates;

/// States by a key of all that they depend on. Those of every eighth frame are kept longest; what memory does not hold goes
/// to a folder, if there is one, and is read back. Safe from any thread.
class Checkpoints {
  public:
    static constexpr int every = 8;  ///< frames

    explicit Checkpoints(std::size_t mostBytes = std::size_t{512} << 20) : mostBytes_(mostBytes) {}
    ~Checkpoints();
    Checkpoints(const Checkpoints&) = delete;
    Checkpoints& operator=(const Checkpoints&) = delete;

    /// Bytes in memory, and where and how much may lie on disk. The folder is made; its checkpoints are removed at the end.
    void limit(std::size_t mostBytes, const std::filesystem::path& folder = {}, std::size_t mostOnDisk = std::size_t{4} << 30);
    bool has(std::uint64_t key) const;
    /// Null if it is not there or its file can't be read.
    std::shared_ptr<const MemoryState> find(std::uint64_t key);
    void keep(std::uint64_t key, std::shared_ptr<const MemoryState> state);
    /// What was baked into this file counts as kept, as long as it lies there; none where it does not. Looks again whether it was
    /// written anew. Returns what is wrong with it, one sentence, empty for nothing new; what is wrong is not read.
    std::string follow(const std::filesystem::path& file);
    std::size_t bytes() const;
    std::size_t bytesOnDisk() const;

  private:
    struct Entry {
        std::uint64_t key;
        std::shared_ptr<const MemoryState> state;
        std::size_t bytes;
    };
    struct Followed {
        std::filesystem::path file;
        std::filesystem::file_time_type written{};
        std::uintmax_t bytes = 0;
        bool operator==(const Followed&) const = default;
    };
    using Entries = std::list<Entry>;
    void makeRoom();
    void spill(const Entry& entry);
    std::filesystem::path fileOf(std::uint64_t key) const;

    std::size_t mostBytes_, bytes_ = 0, mostOnDisk_ = 0, onDisk_ = 0;
    std::filesystem::path folder_;
    std::shared_ptr<BakedStates> baked_;  // null for none
    Followed followed_;
    Entries entries_;  // most recent first
    std::unordered_map<std::uint64_t, Entries::iterator> byKey_;
    std::unordered_map<std::uint64_t, std::size_t> spilled_;
    mutable std::mutex mutex_;
};

/// Where baked frames lie beside a project file, if there are some; empty for none.
std::filesystem::path bakeBeside(const std::filesystem::path& project);

}  // namespace gswarm
