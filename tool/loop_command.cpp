// loop-check: the seam of the loop, what breaks it, and what would mend it.
#include <CLI/CLI.hpp>

#include <iostream>
#include <nlohmann/json.hpp>

#include "core/explain/loop_check.h"
#include "core/file/project_file.h"
#include "tool/commands.h"
#include "tool/progress.h"

namespace gswarm::tool {
namespace {

using Json = nlohmann::ordered_json;

Json loopJson(const Scene& scene, const LoopCheck& check) {
    Json swarms = Json::array(), mends = Json::array();
    for (const SwarmLoop& loop : check.swarms) {
        const Object* breaks = scene.find(loop.breaks);
        if (breaks && breaks->id.type() == ObjectType::rail) breaks = scene.find(referenceOf(breaks->part("entry"), "gesture"));
        swarms.push_back({{"swarm", scene.at(loop.swarm).name},
                          {"closed", loop.closed},
                          {"size", loop.size},
                          {"seam",
                           {{"position", loop.seam.position},
                            {"rotation", loop.seam.rotation},
                            {"scale", loop.seam.scale},
                            {"colour", loop.seam.colour},
                            {"shown", loop.seam.shown},
                            {"shape", loop.seam.shape}}},
                          {"speedJump", loop.speedJump},
                          {"breaks", breaks ? Json(breaks->name) : Json(nullptr)},
                          {"told", loop.told}});
    }
    for (const LoopMend& mend : check.mends) mends.push_back(mend.label);
    return {{"first", check.first}, {"last", check.last}, {"closed", check.closed},
            {"swarms", swarms},     {"told", check.told}, {"mends", mends}};
}

}  // namespace

void addLoopCheck(CLI::App& app) {
    auto* command = app.add_subcommand("loop-check", "The seam between the first frame and the one a loop later");
    auto source = std::make_shared<Source>();
    auto json = std::make_shared<bool>();
    auto mend = std::make_shared<std::string>();
    source->addTo(*command);
    command->add_flag("--json", *json, "As JSON");
    command->add_option("--mend", *mend, "FILE: write a copy of the project with everything mended that can be");
    command->callback([source, json, mend] {
        const Scene scene = source->load();
        Evaluator evaluator;
        source->useBake(evaluator.store());
        LoopCheck check;
        withProgress([&](Progress& progress) { check = checkLoop(scene, source->options(), evaluator, progress); });
        if (!mend->empty()) saveProject(makeLoop(scene, {}).scene, *mend);
        if (*json) {
            std::cout << loopJson(scene, check).dump(1) << '\n';
            return;
        }
        for (const SwarmLoop& loop : check.swarms)
            std::cout << loop.told << "  The speed changes by " << loop.speedJump << " m a frame at the seam.\n";
        for (const std::string& told : check.told) std::cout << told << '\n';
        for (const LoopMend& one : check.mends) std::cout << "can be mended: " << one.label << '\n';
    });
}

}  // namespace gswarm::tool
