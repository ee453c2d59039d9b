#pragma once
#include <cstdint>
#include <nlohmann/json_fwd.hpp>

namespace gswarm {

/// Turns a project file of an earlier format, or with parts of earlier versions of their kinds, into what this program
/// writes, JSON to JSON. Frame by frame first (projectVersion), then kind by kind (Kind::migrations): names, addresses in
/// links and the formulas' texts follow. What is not as it should be is left for the reader to refuse.
void migrateProject(nlohmann::ordered_json& project, std::int64_t version);

}  // namespace gswarm
