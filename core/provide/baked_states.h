#pragma once
#include <cstdint>
#include <filesystem>
#include <fstream>
#include <memory>
#include <mutex>
#include <ostream>
#include <unordered_map>
#include <vector>

#include "core/flow/memory_plan.h"

namespace gswarm {

/// Reads states from a file that was baked, each when it is asked for. Safe from any thread.
class BakedStates {
  public:
    /// Reads where each lies. Throws Error with a sentence if it is no such file, or a damaged one.
    explicit BakedStates(const std::filesystem::path& file);
    bool has(std::uint64_t key) const { return entries_.contains(key); }
    std::size_t count() const { return entries_.size(); }
    /// Null if it is not there, or damaged.
    std::shared_ptr<const MemoryState> find(std::uint64_t key);

  private:
    struct Entry {
        std::uint64_t at, bytes, hash;
    };
    std::unordered_map<std::uint64_t, Entry> entries_;
    std::ifstream file_;
    std::mutex mutex_;
};

/// Writes such a file: a line that says what it is, the states, and at its end where each lies under its key, with a hash of both.
class BakeWriter {
  public:
    explicit BakeWriter(std::ostream& to);
    void add(std::uint64_t key, const MemoryState& state);
    /// After the last.
    void finish();
    std::size_t count() const { return entries_.size() / 4; }

  private:
    std::ostream& to_;
    std::uint64_t at_ = 0;
    std::vector<std::uint64_t> entries_;  ///< key, place, bytes and hash of each
};

}  // namespace gswarm
