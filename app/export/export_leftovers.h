#pragma once
#include <vector>

#include "app/export/export_job.h"

/// Jobs on disk, so that they survive a crash: each a project file with its settings beside it, in a folder of this run's own.
namespace export_leftovers {

/// Keeps a job until it is forgotten. What can't be written is not kept: a full disk must not disturb the work.
void keep(const ExportJob& job, const std::filesystem::path& folder);
void forget(int id, const std::filesystem::path& folder);
/// The jobs of a folder, in their order; what can't be read is passed over. Takes the folder away.
std::vector<ExportJob> take(const std::filesystem::path& folder);

}  // namespace export_leftovers
