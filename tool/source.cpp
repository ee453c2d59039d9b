#include <CLI/CLI.hpp>

#include <iostream>

#include "core/base/error.h"
#include "core/edit/edit.h"
#include "core/file/project_file.h"
#include "core/provide/listener.h"
#include "core/provide/store.h"
#include "core/resolve/parse_value.h"
#include "core/resolve/soundness.h"
#include "tool/commands.h"
#include "tool/usage.h"

namespace gswarm::tool {

void Source::addTo(CLI::App& command) {
    command.add_option("FILE", file, "A .gswarm project")->required();
    command
        .add_option("--set", sets,
                    "ADDRESS=VALUE in the setting's unit, as typed in the window: Swell/radius=2.5, 50cm, 1/3, 2 turns, 12f, #d9a441, "
                    "=sin(t) for a formula; again for more")
        ->take_all()
        ->expected(1)
        ->allow_extra_args(false);
    command
        .add_option("--bake", bake, "What “gswarm bake” wrote, to be read instead of made; NAME.bake beside the project if it is left out")
        ->check(CLI::ExistingFile);
}

Scene Source::load() const {
    Scene scene = loadProject(file);
    for (const std::string& text : sets) {
        const auto equals = text.find('=');
        if (equals == std::string::npos || equals == 0)
            throw UsageError("--set takes ADDRESS=VALUE, such as Swell/radius=2.5, not “" + text + "”.");
        const Address address = parseAddress(scene, text.substr(0, equals));
        Scene changed = setValue(scene, address, parseValue(scene, address, text.substr(equals + 1))).scene;
        refuseUnsound(changed, scene);
        scene = std::move(changed);
    }
    scene.listening = std::make_shared<const Listener>(options().projectFolder);
    return scene;
}

PlanOptions Source::options() const {
    PlanOptions options;
    options.projectFolder = std::filesystem::path(file).parent_path();
    return options;
}

void Source::useBake(Store& store) const {
    const std::string wrong = store.checkpoints().follow(bake.empty() ? bakeBeside(file) : std::filesystem::path(bake));
    if (!wrong.empty()) std::cerr << "gswarm: " << wrong << '\n';
}

ObjectId swarmNamed(const Scene& scene, const std::string& name) {
    const auto swarms = scene.all(ObjectType::swarm);
    if (swarms.empty()) throw Error("The project has no swarm.");
    if (name.empty() && swarms.size() == 1) return swarms.front();
    std::string names;
    for (const ObjectId id : swarms) {
        if (scene.at(id).name == name || toText(id) == name) return id;
        names += (names.empty() ? "" : ", ") + scene.at(id).name;
    }
    throw Error(name.empty() ? "The project has several swarms; choose one with --swarm: " + names + "."
                             : "There is no swarm “" + name + "”; the project has: " + names + ".");
}

}  // namespace gswarm::tool
