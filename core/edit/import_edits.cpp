#include "core/edit/import_edits.h"

#include <algorithm>
#include <filesystem>

#include "core/edit/edit_parts.h"
#include "core/kinds/registry.h"

namespace gswarm {

using namespace edits;

namespace {

std::string stemOf(const std::string& file) { return std::filesystem::path(file).stem().string(); }

void readFrom(Object& object, std::string_view slot, const std::string& file) {
    Part& part = object.part(slot);
    part.values[static_cast<std::size_t>(fileParameter(*part.kind))] = file;
}

/// What was added reads the file, and is called like it.
Edit imported(const Scene& scene, Edit added, std::string_view slot, const std::string& file) {
    Object& object = changed(added.scene, added.made);
    readFrom(object, slot, file);
    object.name = freeName(scene, stemOf(file));
    added.label = "Import " + object.name;
    return added;
}

}  // namespace

int fileParameter(const Kind& kind) {
    const auto found =
        std::find_if(kind.parameters.begin(), kind.parameters.end(), [](const Parameter& p) { return p.type == ParameterType::file; });
    return found == kind.parameters.end() ? -1 : static_cast<int>(found - kind.parameters.begin());
}

std::vector<const Kind*> kindsReading(const std::string& ending) {
    std::vector<const Kind*> kinds;
    for (const Family family : {Family::shape, Family::formation, Family::media, Family::sound})
        for (const Kind* kind : kindsOf(family))
            if (const int file = fileParameter(*kind); file >= 0) {
                const auto& endings = kind->parameters[static_cast<std::size_t>(file)].endings;
                if (std::find(endings.begin(), endings.end(), ending) != endings.end()) kinds.push_back(kind);
            }
    return kinds;
}

Edit importShape(const Scene& scene, const Kind& kind, const std::string& file) {
    return imported(scene, addShape(scene, kind), "maker", file);
}

Edit importSwarm(const Scene& scene, const Kind& kind, const std::string& file) {
    const Edit shape = importShape(scene, kind, file);
    Edit edit = addSwarmOf(shape.scene, shape.made);
    edit.scene = setValue(edit.scene, addressOf(edit.scene, edit.made, "stock-rule-fit"), true).scene;
    edit.label = shape.label;
    return edit;
}

Edit importMedia(const Scene& scene, const Kind& kind, const std::string& file) {
    return imported(scene, addMedia(scene, kind), "media", file);
}

Edit importSound(const Scene& scene, const Kind& kind, const std::string& file) {
    return imported(scene, addSound(scene, kind), "sound", file);
}

Edit importPoints(const Scene& scene, const Kind& formation, const std::string& file) {
    Edit edit = addSwarm(scene);
    Object& swarm = changed(edit.scene, edit.made);
    swarm.name = freeName(scene, stemOf(file));
    edit.label = "Import " + swarm.name;
    const ObjectId stands = swarm.list("formations").front(), made = edit.made;
    edit.scene = setFormation(edit.scene, stands, formation).scene;
    readFrom(changed(edit.scene, stands), "formation", file);
    edit.made = made;
    return edit;
}

}  // namespace gswarm
