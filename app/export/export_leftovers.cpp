#include "app/export/export_leftovers.h"

#include <algorithm>
#include <nlohmann/json.hpp>

#include "app/export/settings_json.h"
#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/file/project_file.h"

namespace fs = std::filesystem;
using nlohmann::json;

namespace {

fs::path fileOf(int id, const fs::path& folder, const char* ending) { return folder / (std::to_string(id) + ending); }

ExportJob read(const fs::path& about) {
    const json j = json::parse(gswarm::readFile(about, mostSettingsBytes));
    ExportJob job;
    job.settings = settingsFrom(j);
    job.scene = gswarm::loadProject(fs::path(about).replace_extension(".gswarm"));
    job.folder = j.at("folder").get<std::string>();
    job.swarm = gswarm::parseObjectId(j.at("swarm").get<std::string>());
    for (const json& swarm : j.at("only")) job.only.push_back(gswarm::parseObjectId(swarm.get<std::string>()));
    job.camera = gswarm::parseObjectId(j.at("camera").get<std::string>());
    job.frame = j.at("frame").get<double>();
    job.range = {j.at("first").get<int>(), j.at("last").get<int>(), std::max(1, j.at("every").get<int>())};
    job.file = j.at("file").get<std::string>();
    job.project = QString::fromStdString(j.at("project").get<std::string>());
    job.replaces = j.at("replaces").get<bool>();
    return job;
}

}  // namespace

void export_leftovers::keep(const ExportJob& job, const fs::path& folder) {
    json j = settingsJson(job.settings);
    j.update({{"folder", job.folder.string()},
              {"swarm", gswarm::toText(job.swarm)},
              {"only", json::array()},
              {"camera", gswarm::toText(job.camera)},
              {"frame", job.frame},
              {"first", job.range.first},
              {"last", job.range.last},
              {"every", job.range.every},
              {"file", job.file.string()},
              {"project", job.project.toStdString()},
              {"replaces", job.replaces}});
    for (const gswarm::ObjectId swarm : job.only) j["only"].push_back(gswarm::toText(swarm));
    try {
        fs::create_directories(folder);
        gswarm::saveProject(job.scene, fileOf(job.id, folder, ".gswarm"));
        gswarm::writeFileAtomically(fileOf(job.id, folder, ".json"), j.dump());
    } catch (const std::exception&) {
        forget(job.id, folder);
    }
}

void export_leftovers::forget(int id, const fs::path& folder) {
    std::error_code ignored;
    for (const char* ending : {".json", ".gswarm"}) fs::remove(fileOf(id, folder, ending), ignored);
    fs::remove(folder, ignored);  // where nothing else is in it
}

std::vector<ExportJob> export_leftovers::take(const fs::path& folder) {
    std::error_code failed;
    std::vector<std::pair<int, fs::path>> found;
    for (const auto& entry : fs::directory_iterator(folder, failed))
        if (entry.path().extension() == ".json") found.push_back({std::atoi(entry.path().stem().c_str()), entry.path()});
    std::sort(found.begin(), found.end());
    std::vector<ExportJob> jobs;
    for (const auto& [id, path] : found) {
        try {
            jobs.push_back(read(path));
        } catch (const std::exception&) {
            continue;
        }
    }
    fs::remove_all(folder, failed);
    return jobs;
}
