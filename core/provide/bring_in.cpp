#include "core/provide/bring_in.h"

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/base/numbered_files.h"
#include "core/base/outside_file.h"

namespace gswarm {
namespace {

namespace fs = std::filesystem;

constexpr std::uintmax_t mostBytes = std::uintmax_t{4} << 30;

void copyWhole(const fs::path& from, const fs::path& to) {
    fs::create_directories(to.parent_path());
    writeFileAtomically(to, readFile(from, mostBytes));
}

/// A file may come from anyone: what it names has to lie beside it or below.
void refuseOutside(const fs::path& file, const std::string& beside) {
    const fs::path plain = fs::path(beside).lexically_normal();
    if (plain.is_absolute() || plain.empty() || *plain.begin() == "..")
        throw Error("“" + file.filename().string() + "” names “" + beside + "”, which lies outside its own folder; nothing was copied.");
}

/// The first of NAME.obj, NAME-2.obj … that is free or has this content.
fs::path placeFor(const fs::path& folder, const fs::path& name, std::uint64_t content, FileHashes& hashes) {
    for (int n = 1;; ++n) {
        fs::path candidate = folder / name;
        if (n > 1) candidate.replace_filename(name.stem().string() + "-" + std::to_string(n) + name.extension().string());
        std::error_code failed;
        if (!fs::exists(candidate, failed) || (fs::is_regular_file(candidate, failed) && hashes.of(candidate).hash == content))
            return candidate;
    }
}

}  // namespace

std::optional<std::string> pathWithin(const fs::path& file, const fs::path& projectFolder) {
    std::error_code failed;
    const fs::path home = fs::canonical(projectFolder.empty() ? fs::path(".") : projectFolder, failed);
    if (failed) return std::nullopt;
    const fs::path whole = fs::canonical(file, failed);
    if (failed) return std::nullopt;
    const std::string relative = whole.lexically_relative(home).generic_string();
    try {
        pathInProject(relative, projectFolder);
    } catch (const Error&) {
        return std::nullopt;
    }
    return relative;
}

std::string bringIn(const fs::path& file, const fs::path& projectFolder, FileHashes& hashes) {
    if (const auto there = pathWithin(file, projectFolder)) return *there;
    const FileHashes::Known known = hashes.of(file);
    const fs::path folder = projectFolder.empty() ? fs::path(".") : projectFolder;
    try {
        if (known.besides.empty()) {
            const fs::path to = placeFor(folder, file.filename(), known.hash, hashes);
            if (!fs::exists(to)) copyWhole(file, to);
            return to.lexically_relative(folder).generic_string();
        }
        fs::path own = folder / file.stem();
        for (int n = 2; fs::exists(own) && !fs::exists(own / file.filename()); ++n)
            own = folder / (file.stem().string() + "-" + std::to_string(n));
        for (int n = 2; fs::exists(own / file.filename()) && hashes.of(own / file.filename()).hash != known.hash; ++n)
            own = folder / (file.stem().string() + "-" + std::to_string(n));
        for (const std::string& beside : known.besides) refuseOutside(file, beside);
        for (const std::string& beside : known.besides) copyWhole(file.parent_path() / beside, own / beside);
        if (!fs::exists(own / file.filename())) copyWhole(file, own / file.filename());
        return (own / file.filename()).lexically_relative(folder).generic_string();
    } catch (const fs::filesystem_error&) {
        throw Error("“" + file.filename().string() + "” can't be copied into the project's folder; nothing was changed.");
    }
}

std::string bringInNumbered(const fs::path& file, const fs::path& projectFolder, FileHashes& hashes) {
    if (const auto there = pathWithin(file, projectFolder)) return *there;
    const auto all = numberedLike(file);
    if (all.size() < 2) return bringIn(file, projectFolder, hashes);
    const fs::path folder = projectFolder.empty() ? fs::path(".") : projectFolder;
    std::string name = file.stem().string();
    name.erase(name.find_last_not_of("0123456789._- ") + 1);
    if (name.empty()) name = "pictures";
    try {
        fs::path own = folder / name;
        for (int n = 2; fs::exists(own); ++n) own = folder / (name + "-" + std::to_string(n));
        for (const NumberedFile& one : all) copyWhole(one.path, own / one.path.filename());
        return (own / file.filename()).lexically_relative(folder).generic_string();
    } catch (const fs::filesystem_error&) {
        throw Error("“" + file.filename().string() + "” can't be copied into the project's folder; nothing was changed.");
    }
}

}  // namespace gswarm
