#include "core/exchange/start_files.h"

#include <map>

#include "core/base/error.h"
#include "core/base/outside_file.h"
#include "core/edit/edit_parts.h"
#include "core/file/start_file.h"
#include "core/provide/bring_in.h"

namespace gswarm {
namespace {

namespace fs = std::filesystem;

/// Puts what `to(typed, numbered)` returns in the place of every path that the scene's parts name.
template <class To>
void renameFiles(Scene& scene, const To& to) {
    std::map<std::string, std::string> renamed;
    const auto objects = scene.objects;
    for (const auto& [id, object] : objects)
        for (std::size_t part = 0; part < object->parts.size(); ++part)
            for (std::size_t i = 0; i < object->parts[part].values.size(); ++i) {
                const Parameter& parameter = object->parts[part].kind->parameters[i];
                if (parameter.type != ParameterType::file) continue;
                const auto& typed = std::get<std::string>(object->parts[part].values[i]);
                if (typed.empty()) continue;
                const auto [entry, fresh] = renamed.try_emplace(typed);
                if (fresh) entry->second = to(typed, parameter.numbered);
                if (entry->second != typed) edits::changed(scene, id).parts[part].values[i] = entry->second;
            }
}

std::string broughtTo(const fs::path& file, const fs::path& folder, bool numbered, FileHashes& hashes) {
    return (numbered ? bringInNumbered : bringIn)(file, folder, hashes);
}

}  // namespace

fs::path filesBesideStart(const fs::path& start) { return start.parent_path() / (start.stem().string() + " files"); }

std::vector<std::string> saveStartWithFiles(KeptStart start, const fs::path& path, const fs::path& projectFolder) {
    std::vector<std::string> missing;
    FileHashes hashes;
    const fs::path beside = filesBesideStart(path);
    renameFiles(start.scene, [&](const std::string& typed, bool numbered) {
        fs::path file;
        try {
            file = pathInProject(typed, projectFolder);
        } catch (const Error& error) {
            missing.push_back(error.what());
            return typed;
        }
        return (beside.filename() / broughtTo(file, beside, numbered, hashes)).generic_string();
    });
    saveStart(start, path);
    return missing;
}

KeptStart loadStartInto(const fs::path& path, const fs::path& projectFolder, FileHashes& hashes) {
    KeptStart start = loadStart(path);
    const fs::path folder = path.parent_path().empty() ? fs::path(".") : path.parent_path();
    std::error_code failed;
    renameFiles(start.scene, [&](const std::string& typed, bool numbered) {
        const bool there = fs::exists(folder / typed, failed);
        return there ? broughtTo(pathInProject(typed, folder), projectFolder, numbered, hashes) : typed;
    });
    return start;
}

}  // namespace gswarm
