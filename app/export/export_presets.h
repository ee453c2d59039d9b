#pragma once
#include <filesystem>
#include <QString>
#include <vector>

#include "core/exchange/exporter_kind.h"

/// What a person exports again and again: one or several formats with their settings, in every project.
struct ExportPreset {
    QString name;
    std::vector<gswarm::Part> formats;  ///< at least one
    int every = 1;
    std::filesystem::path file{};  ///< where it is kept
};

namespace export_presets {

/// All that were kept, by their names. What can't be read is passed over, told in `troubles`.
std::vector<ExportPreset> all(QStringList& troubles);
/// Writes it to its file, a new one where it has none. Throws Error.
void keep(ExportPreset& preset);

}  // namespace export_presets
