#include "app/export/export_presets.h"

#include <algorithm>
#include <nlohmann/json.hpp>
#include <QStandardPaths>
#include <QStringList>
#include <QUuid>

#include "app/export/settings_json.h"
#include "core/base/atomic_file.h"

namespace fs = std::filesystem;
using nlohmann::json;

namespace {

fs::path folder() { return fs::path(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation).toStdString()) / "exports"; }

ExportPreset read(const fs::path& file) {
    const json j = json::parse(gswarm::readFile(file, mostSettingsBytes));
    ExportPreset preset;
    preset.name = QString::fromStdString(j.at("name").get<std::string>());
    for (const json& format : j.at("formats")) preset.formats.push_back(settingsFrom(format));
    preset.every = std::clamp(j.at("every").get<int>(), 1, 100000);
    preset.file = file;
    if (preset.formats.empty()) throw std::runtime_error("no formats");
    return preset;
}

}  // namespace

std::vector<ExportPreset> export_presets::all(QStringList& troubles) {
    std::vector<ExportPreset> presets;
    std::error_code failed;
    for (const auto& entry : fs::directory_iterator(folder(), failed)) {
        if (entry.path().extension() != ".json") continue;
        try {
            presets.push_back(read(entry.path()));
        } catch (const std::exception&) {
            troubles << QString("“%1” keeps no export that can be read; the others are listed.")
                            .arg(QString::fromStdString(entry.path().string()));
        }
    }
    std::sort(presets.begin(), presets.end(), [](const ExportPreset& a, const ExportPreset& b) {
        return std::pair(a.name.toCaseFolded(), a.file) < std::pair(b.name.toCaseFolded(), b.file);
    });
    return presets;
}

void export_presets::keep(ExportPreset& preset) {
    if (preset.file.empty()) preset.file = folder() / (QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString() + ".json");
    json j{{"name", preset.name.toStdString()}, {"every", preset.every}, {"formats", json::array()}};
    for (const gswarm::Part& format : preset.formats) j["formats"].push_back(settingsJson(format));
    std::error_code failed;
    fs::create_directories(folder(), failed);
    gswarm::writeFileAtomically(preset.file, j.dump(2));
}
