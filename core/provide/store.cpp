#include "core/provide/store.h"

namespace gswarm {

std::shared_ptr<const void> Store::find(std::uint64_t key) {
    const std::lock_guard lock(mutex_);
    const auto found = byKey_.find(key);
    if (found == byKey_.end()) return nullptr;
    entries_.splice(entries_.begin(), entries_, found->second);
    return found->second->value;
}

void Store::insert(std::uint64_t key, std::shared_ptr<const void> value, std::size_t bytes) {
    const std::lock_guard lock(mutex_);
    if (byKey_.contains(key)) return;
    entries_.push_front({key, std::move(value), bytes});
    byKey_[key] = entries_.begin();
    bytes_ += bytes;
    dropOldest();
}

void Store::dropOldest() {
    while (bytes_ > mostBytes_ && entries_.size() > 1) {
        bytes_ -= entries_.back().bytes;
        byKey_.erase(entries_.back().key);
        entries_.pop_back();
    }
}

void Store::limit(std::size_t mostBytes) {
    limitPictures(mostBytes);
    const std::lock_guard lock(mutex_);
    mostBytes_ = mostBytes;
    dropOldest();
}

void Store::limitPictures(std::size_t mostBytes) {
    mostPictureBytes_ = mostBytes;
    decoders_.limit(mostBytes);
}

std::size_t Store::bytes() const {
    const std::lock_guard lock(mutex_);
    return bytes_;
}

}  // namespace gswarm
