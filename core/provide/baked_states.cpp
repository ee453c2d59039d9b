#include "core/provide/baked_states.h"

#include <xxhash.h>

#include <sstream>
#include <string>

#include "core/base/error.h"
#include "core/provide/state_file.h"

namespace gswarm {
namespace {

constexpr char firstLine[] = "gilded-swarm bake 1\n";
constexpr std::size_t firstBytes = sizeof firstLine - 1, wordsOfEntry = 4;
constexpr std::uint64_t lastWord = 0x676573627361676eull;

/// What stands at the very end.
struct End {
    std::uint64_t count, hash, mark;
};

}  // namespace

BakedStates::BakedStates(const std::filesystem::path& path) : file_(path, std::ios::binary) {
    const std::string name = "“" + path.filename().string() + "”";
    std::error_code wrong;
    const std::uint64_t bytes = std::filesystem::file_size(path, wrong);
    if (wrong || !file_) throw Error(name + " can't be read; its frames are made anew.");
    char first[firstBytes];
    file_.read(first, firstBytes);
    if (!file_ || std::string_view(first, firstBytes) != firstLine) throw Error(name + " holds no baked frames; it is passed over.");
    const Error damaged(name + " is damaged; its frames are made anew. Bake it once more.");
    if (bytes < firstBytes + sizeof(End)) throw damaged;
    End end{};
    file_.seekg(static_cast<std::streamoff>(bytes - sizeof end));
    file_.read(reinterpret_cast<char*>(&end), sizeof end);
    const std::uint64_t most = (bytes - firstBytes - sizeof end) / (wordsOfEntry * sizeof(std::uint64_t));
    if (!file_ || end.mark != lastWord || end.count > most) throw damaged;
    std::vector<std::uint64_t> words(end.count * wordsOfEntry);
    const std::uint64_t index = bytes - sizeof end - words.size() * sizeof words[0];
    file_.seekg(static_cast<std::streamoff>(index));
    file_.read(reinterpret_cast<char*>(words.data()), static_cast<std::streamsize>(words.size() * sizeof words[0]));
    if (!file_ || XXH3_64bits(words.data(), words.size() * sizeof words[0]) != end.hash) throw damaged;
    for (std::size_t k = 0; k < words.size(); k += wordsOfEntry) {
        const Entry entry{words[k + 1], words[k + 2], words[k + 3]};
        if (entry.at < firstBytes || entry.at > index || entry.bytes > index - entry.at) throw damaged;
        entries_[words[k]] = entry;
    }
}

std::shared_ptr<const MemoryState> BakedStates::find(std::uint64_t key) {
    const auto found = entries_.find(key);
    if (found == entries_.end()) return nullptr;
    const Entry& entry = found->second;
    std::string state(entry.bytes, '\0');
    {
        const std::lock_guard lock(mutex_);
        file_.clear();
        file_.seekg(static_cast<std::streamoff>(entry.at));
        file_.read(state.data(), static_cast<std::streamsize>(state.size()));
        if (!file_) return nullptr;
    }
    if (XXH3_64bits(state.data(), state.size()) != entry.hash) return nullptr;
    std::istringstream in(std::move(state));
    return readState(in, entry.bytes);
}

BakeWriter::BakeWriter(std::ostream& to) : to_(to) {
    to_.write(firstLine, firstBytes);
    at_ = firstBytes;
}

void BakeWriter::add(std::uint64_t key, const MemoryState& state) {
    std::ostringstream out;
    writeState(state, out);
    const std::string bytes = std::move(out).str();
    entries_.insert(entries_.end(), {key, at_, bytes.size(), XXH3_64bits(bytes.data(), bytes.size())});
    to_.write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
    at_ += bytes.size();
}

void BakeWriter::finish() {
    const std::size_t bytes = entries_.size() * sizeof entries_[0];
    to_.write(reinterpret_cast<const char*>(entries_.data()), static_cast<std::streamsize>(bytes));
    const End end{count(), XXH3_64bits(entries_.data(), bytes), lastWord};
    to_.write(reinterpret_cast<const char*>(&end), sizeof end);
}

}  // namespace gswarm
