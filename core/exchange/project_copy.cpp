#include "core/exchange/project_copy.h"

#include <algorithm>
#include <set>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/base/numbered_files.h"
#include "core/base/outside_file.h"
#include "core/file/project_file.h"
#include "core/provide/file_hash.h"

namespace gswarm {
namespace {

namespace fs = std::filesystem;

constexpr std::uintmax_t mostBytes = std::uintmax_t{4} << 30;

/// Calls `take` with every path that the scene's parts name, and whether those numbered like it belong to it.
template <class Take>
void eachTypedFile(const Scene& scene, const Take& take) {
    std::set<std::string> seen;
    for (const auto& [id, object] : scene.objects)
        for (const Part& part : object->parts)
            for (std::size_t i = 0; i < part.values.size(); ++i) {
                if (part.kind->parameters[i].type != ParameterType::file) continue;
                const auto& typed = std::get<std::string>(part.values[i]);
                if (!typed.empty() && seen.insert(typed).second) take(typed, part.kind->parameters[i].numbered);
            }
}

}  // namespace

std::vector<std::string> filesOf(const Scene& scene, const fs::path& folder) {
    FileHashes hashes;
    std::set<std::string> files;
    eachTypedFile(scene, [&](const std::string& typed, bool numbered) {
        try {
            const auto known = hashes.of(pathInProject(typed, folder));
            files.insert(typed);
            if (numbered)
                for (const NumberedFile& other : numberedLike(pathInProject(typed, folder)))
                    files.insert((fs::path(typed).parent_path() / other.path.filename()).generic_string());
            for (const std::string& beside : known.besides) {
                const std::string other = (fs::path(typed).parent_path() / beside).lexically_normal().generic_string();
                pathInProject(other, folder);
                files.insert(other);
            }
        } catch (const Error&) {
            // What is not there can't be copied; copyProject() tells it.
        }
    });
    return {files.begin(), files.end()};
}

std::vector<std::string> copyProject(const Scene& scene, const fs::path& folder, const fs::path& to, Progress& progress) {
    std::vector<std::string> missing;
    eachTypedFile(scene, [&](const std::string& typed, bool) {
        try {
            pathInProject(typed, folder);
        } catch (const Error& error) {
            missing.push_back(error.what());
        }
    });
    FileHashes hashes;
    const fs::path home = to.parent_path().empty() ? fs::path(".") : to.parent_path();
    const auto files = filesOf(scene, folder);
    std::vector<std::string> wanted;
    for (const std::string& file : files) {
        std::error_code failed;
        if (!fs::exists(home / file, failed))
            wanted.push_back(file);
        else if (!fs::is_regular_file(home / file, failed) || hashes.of(home / file).hash != hashes.of(pathInProject(file, folder)).hash)
            throw Error("“" + file + "” lies there already with another content; nothing was copied. Choose an empty folder.");
    }
    double done = 0;
    for (const std::string& file : wanted) {
        progress.check();
        std::error_code failed;
        fs::create_directories((home / file).parent_path(), failed);
        if (failed) throw Error("The folder of “" + file + "” can't be made; files copied before stay.");
        writeFileAtomically(home / file, readFile(pathInProject(file, folder), mostBytes));
        progress.report(++done / static_cast<double>(wanted.size() + 1));
    }
    saveProject(scene, to);
    return missing;
}

}  // namespace gswarm
