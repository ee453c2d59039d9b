#include "core/base/numbered_files.h"

#include <algorithm>
#include <map>
#include <mutex>

#include "core/base/error.h"
#include "core/base/text.h"

namespace gswarm {
namespace {

namespace fs = std::filesystem;
constexpr std::size_t most = 100'000;
constexpr long long greatest = 1'000'000'000'000;  // beyond, digits are a name

/// What stands before the number of a name's stem; its whole where it ends with none.
std::string beforeNumber(const std::string& stem) {
    const auto last = stem.find_last_not_of("0123456789");
    return stem.substr(0, last == std::string::npos ? 0 : last + 1);
}

std::vector<NumberedFile> readFolder(const fs::path& file) {
    const std::string before = beforeNumber(file.stem().string()), ending = file.extension().string();
    std::vector<NumberedFile> found;
    for (const auto& entry : fs::directory_iterator(file.parent_path())) {
        const fs::path& other = entry.path();
        const std::string stem = other.stem().string();
        if (other.extension().string() != ending || !stem.starts_with(before) || beforeNumber(stem) != before) continue;
        const auto number = wholeNumberIn(stem.substr(before.size()));
        if (!number || *number > greatest || !entry.is_regular_file()) continue;
        found.push_back({*number, other});
        if (found.size() > most) throw Error("There are more than 100 000 numbered files like “" + file.filename().string() + "”.");
    }
    std::sort(found.begin(), found.end(),
              [](const NumberedFile& a, const NumberedFile& b) { return a.number != b.number ? a.number < b.number : a.path < b.path; });
    return found;
}

}  // namespace

std::vector<NumberedFile> numberedLike(const fs::path& file) {
    if (beforeNumber(file.stem().string()) == file.stem().string()) return {{0, file}};
    struct Known {
        fs::file_time_type changed;
        std::vector<NumberedFile> files;
    };
    static std::mutex mutex;
    static std::map<fs::path, Known> known;
    try {
        const auto changed = fs::last_write_time(file.parent_path());
        const fs::path key = file.parent_path() / (beforeNumber(file.stem().string()) + "#" + file.extension().string());
        const std::lock_guard lock(mutex);
        if (known.size() > 64) known.clear();
        const auto [at, isNew] = known.try_emplace(key);
        if (isNew || at->second.changed != changed) at->second = {changed, readFolder(file)};
        if (!at->second.files.empty()) return at->second.files;
        return {{0, file}};
    } catch (const fs::filesystem_error&) {
        throw Error("The folder of “" + file.filename().string() + "” can't be read.");
    }
}

}  // namespace gswarm
