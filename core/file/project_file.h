#pragma once
#include <filesystem>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <string_view>

#include "core/scene/scene.h"

namespace gswarm {

/// Version of the .gswarm format that this program writes. It reads all versions up to this one.
inline constexpr int projectVersion = 9;

/// The project as UTF-8 JSON: fixed member order, every parameter, shortest numbers that read back the same. Saving
/// what was loaded unchanged gives the same bytes. The schema is docs/schema/gswarm-9.schema.json.
std::string toJson(const Scene& scene);

/// Reads a project that may come from anyone. Throws Error with one sentence naming the place: not JSON, not this
/// format, newer than this program, members that are missing, stand twice or are not kept, wrong types, numbers that are
/// not finite or out of range, unknown kinds, objects that own each other or follow each other in circles, too many objects.
/// Whatever can be made in the window opens: more than can be evaluated, files that have gone and references to what was
/// deleted are told by evaluation and by `findingsIn`.
Scene parseProject(std::string_view json, const std::string& fileName);

/// Members of the file for one part and one value, as toJson writes them.
nlohmann::ordered_json partJson(const Part& part);
nlohmann::ordered_json valueJson(const Value& value);

Scene loadProject(const std::filesystem::path& path);
void saveProject(const Scene& scene, const std::filesystem::path& path);

/// JSON Schema (draft 7) of the format, made from the tables of all kinds.
std::string projectSchema();

}  // namespace gswarm
