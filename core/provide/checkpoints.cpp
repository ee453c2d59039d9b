#include "core/provide/checkpoints.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <fstream>
#include <limits>
#include <system_error>

#include "core/base/error.h"
#include "core/provide/baked_states.h"
#include "core/provide/state_file.h"

namespace gswarm {
namespace {

namespace fs = std::filesystem;

bool kept(const MemoryState& state) { return std::fmod(state.frame, Checkpoints::every) == 0; }

bool write(const MemoryState& state, const fs::path& path) {
    std::ofstream file(path, std::ios::binary);
    writeState(state, file);
    file.close();
    return static_cast<bool>(file);
}

std::shared_ptr<const MemoryState> read(const fs::path& path) {
    std::error_code wrong;
    const std::uint64_t bytes = fs::file_size(path, wrong);
    if (wrong) return nullptr;
    std::ifstream file(path, std::ios::binary);
    return readState(file, bytes);
}

}  // namespace

std::size_t MemoryState::bytes() const {
    std::size_t sum = sizeof *this;
    for (const auto& card : cards)
        for (const Column& column : card) sum += column.size() * sizeof(float);
    for (const auto& one : loose) sum += one.size() * sizeof(float);
    return sum;
}

void MemoryState::forget(int first, int count) {
    for (auto& card : cards)
        for (Column& column : card)
            if (!column.empty()) std::fill_n(column.begin() + first, count, std::numeric_limits<float>::quiet_NaN());
}

Checkpoints::~Checkpoints() {
    std::error_code ignored;
    for (const auto& [key, bytes] : spilled_) fs::remove(fileOf(key), ignored);
}

void Checkpoints::limit(std::size_t mostBytes, const fs::path& folder, std::size_t mostOnDisk) {
    const std::lock_guard lock(mutex_);
    mostBytes_ = mostBytes;
    mostOnDisk_ = mostOnDisk;
    if (!folder.empty() && folder != folder_) {
        std::error_code wrong;
        fs::create_directories(folder, wrong);
        folder_ = wrong ? fs::path() : folder;
    }
    makeRoom();
}

std::string Checkpoints::follow(const fs::path& file) {
    std::error_code none;
    const auto written = fs::last_write_time(file, none);
    const std::uintmax_t bytes = none ? 0 : fs::file_size(file, none);
    const std::lock_guard lock(mutex_);
    const Followed now{file, none ? fs::file_time_type{} : written, none ? 0 : bytes};
    if (now == followed_) return {};
    followed_ = now;
    baked_.reset();
    if (none) return {};
    try {
        baked_ = std::make_shared<BakedStates>(file);
    } catch (const Error& error) {
        return error.what();
    }
    return {};
}

fs::path Checkpoints::fileOf(std::uint64_t key) const {
    char name[40];
    std::snprintf(name, sizeof name, "%016llx.checkpoint", static_cast<unsigned long long>(key));
    return folder_ / name;
}

bool Checkpoints::has(std::uint64_t key) const {
    const std::lock_guard lock(mutex_);
    return byKey_.contains(key) || spilled_.contains(key) || (baked_ && baked_->has(key));
}

std::shared_ptr<const MemoryState> Checkpoints::find(std::uint64_t key) {
    const std::lock_guard lock(mutex_);
    if (const auto found = byKey_.find(key); found != byKey_.end()) {
        entries_.splice(entries_.begin(), entries_, found->second);
        return found->second->state;
    }
    const auto spilled = spilled_.find(key);
    if (spilled == spilled_.end()) return baked_ ? baked_->find(key) : nullptr;
    auto state = read(fileOf(key));
    if (state) return state;
    std::error_code ignored;
    fs::remove(fileOf(key), ignored);
    onDisk_ -= spilled->second;
    spilled_.erase(spilled);
    return nullptr;
}

void Checkpoints::keep(std::uint64_t key, std::shared_ptr<const MemoryState> state) {
    const std::lock_guard lock(mutex_);
    if (byKey_.contains(key)) return;
    const std::size_t bytes = state->bytes();
    entries_.push_front({key, std::move(state), bytes});
    byKey_[key] = entries_.begin();
    bytes_ += bytes;
    makeRoom();
}

/// States between checkpoints go first, the oldest before the others; then checkpoints go to disk.
void Checkpoints::makeRoom() {
    for (const bool between : {true, false})
        for (auto at = entries_.end(); bytes_ > mostBytes_ && at != entries_.begin();) {
            --at;
            if (at == entries_.begin()) break;  // what was used last is used next
            if (between == kept(*at->state)) continue;
            if (!between) spill(*at);
            bytes_ -= at->bytes;
            byKey_.erase(at->key);
            at = entries_.erase(at);
        }
}

void Checkpoints::spill(const Entry& entry) {
    if (folder_.empty() || spilled_.contains(entry.key) || onDisk_ + entry.bytes > mostOnDisk_) return;
    if (write(*entry.state, fileOf(entry.key))) {
        spilled_[entry.key] = entry.bytes;
        onDisk_ += entry.bytes;
    } else {
        std::error_code ignored;
        fs::remove(fileOf(entry.key), ignored);
    }
}

std::size_t Checkpoints::bytes() const {
    const std::lock_guard lock(mutex_);
    return bytes_;
}
std::size_t Checkpoints::bytesOnDisk() const {
    const std::lock_guard lock(mutex_);
    return onDisk_;
}

fs::path bakeBeside(const fs::path& project) { return project.empty() ? project : fs::path(project).replace_extension(".bake"); }

}  // namespace gswarm
