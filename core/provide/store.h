#pragma once
#include <atomic>
#include <cstdint>
#include <functional>
#include <list>
#include <memory>
#include <mutex>
#include <unordered_map>

#include "core/flow/flow_spaces.h"
#include "core/provide/checkpoints.h"
#include "core/provide/decoders.h"
#include "core/provide/file_hash.h"

namespace gswarm {

/// What was slow to make, kept by a hash of what it was made from. Bounded by bytes; what was used least recently
/// goes first. Safe from any thread; things are made outside the lock.
class Store {
  public:
    explicit Store(std::size_t mostBytes = std::size_t{1} << 30) : mostBytes_(mostBytes) {}

    /// The thing under `key`, or what `make` gives. `bytesOf` says how much memory it holds.
    template <class T>
    std::shared_ptr<const T> get(std::uint64_t key, const std::function<std::shared_ptr<const T>()>& make,
                                 const std::function<std::size_t(const T&)>& bytesOf) {
        if (auto found = find(key)) return std::static_pointer_cast<const T>(found);
        auto made = make();
        insert(key, made, bytesOf(*made));
        return made;
    }
    /// The same of things whose kind only those who ask know.
    std::shared_ptr<const void> keep(std::uint64_t key, const std::function<std::shared_ptr<const void>()>& make,
                                     const std::function<std::size_t(const void*)>& bytesOf) {
        if (auto found = find(key)) return found;
        auto made = make();
        insert(key, made, bytesOf(made.get()));
        return made;
    }
    std::size_t bytes() const;
    /// How much is kept from now on, and how much one picture, or the decoder of one clip, may take.
    void limit(std::size_t mostBytes);
    void limitPictures(std::size_t mostBytes);
    std::size_t mostPictureBytes() const { return mostPictureBytes_; }
    /// What rails with a memory remember.
    Checkpoints& checkpoints() { return checkpoints_; }
    FileHashes& fileHashes() { return fileHashes_; }
    Decoders& decoders() { return decoders_; }
    /// What threads run blocks in.
    FlowSpaces& spaces() { return spaces_; }

  private:
    struct Entry {
        std::uint64_t key;
        std::shared_ptr<const void> value;
        std::size_t bytes;
    };
    std::shared_ptr<const void> find(std::uint64_t key);
    void insert(std::uint64_t key, std::shared_ptr<const void> value, std::size_t bytes);

    void dropOldest();

    std::size_t mostBytes_, bytes_ = 0;
    std::atomic<std::size_t> mostPictureBytes_{std::size_t{4} << 30};
    std::list<Entry> entries_;  // most recent first
    std::unordered_map<std::uint64_t, std::list<Entry>::iterator> byKey_;
    mutable std::mutex mutex_;
    Checkpoints checkpoints_;
    FileHashes fileHashes_;
    Decoders decoders_;
    FlowSpaces spaces_;
};

}  // namespace gswarm
