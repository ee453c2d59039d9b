#include "core/file/start_file.h"

#include <algorithm>
#include <nlohmann/json.hpp>

#include "core/base/error.h"
#include "core/base/json_text.h"
#include "core/file/project_file.h"

namespace gswarm {
namespace {

using Json = nlohmann::ordered_json;
namespace fs = std::filesystem;

/// What the project says besides, which reading a project keeps as it is.
Json besides(const Scene& scene) { return scene.unknown.empty() ? Json::object() : parsedJson(scene.unknown); }

}  // namespace

void saveStart(const KeptStart& start, const fs::path& path) {
    Scene scene = start.scene;
    scene.unknown =
        jsonText({{"start", {{"of", startOfNames[static_cast<int>(start.of)]}, {"id", toText(start.id)}, {"name", start.name}}}});
    saveProject(scene, path);
}

KeptStart loadStart(const fs::path& path) {
    KeptStart start;
    start.scene = loadProject(path);
    const Error none("“" + path.filename().string() + "” keeps no start: it is a project; open it, or keep one of its things.");
    const Json all = besides(start.scene);
    const auto said = all.find("start");
    if (said == all.end() || !said->is_object()) throw none;
    const auto text = [&](const char* member) {
        const auto found = said->find(member);
        if (found == said->end() || !found->is_string()) throw none;
        return found->get<std::string>();
    };
    const auto of = std::find(std::begin(startOfNames), std::end(startOfNames), text("of"));
    if (of == std::end(startOfNames)) throw none;
    start.of = static_cast<StartOf>(of - std::begin(startOfNames));
    start.id = parseObjectId(text("id"));
    start.name = text("name");
    const bool whole = start.of == StartOf::rail || start.of == StartOf::swarm;
    const ObjectType type = whole                           ? ObjectType::swarm
                            : start.of == StartOf::gesture  ? ObjectType::gesture
                            : start.of == StartOf::zone     ? ObjectType::zone
                            : start.of == StartOf::material ? ObjectType::material
                                                            : ObjectType::formation;
    const bool shown = start.of == StartOf::material || start.scene.all(ObjectType::swarm).size() == 1;
    if (!start.scene.find(start.id) || start.id.type() != type || !shown) throw none;
    return start;
}

}  // namespace gswarm
