// evaluate and tally: numbers of instances.
#include <CLI/CLI.hpp>

#include <algorithm>
#include <fstream>
#include <iostream>
#include <nlohmann/json.hpp>

#include "core/base/error.h"
#include "core/evaluate/ledger.h"
#include "core/evaluate/store.h"
#include "core/evaluate/table.h"
#include "core/exchange/csv.h"
#include "tool/commands.h"

namespace gswarm::tool {
namespace {

using Json = nlohmann::ordered_json;

struct At {
    Source source;
    double frame = 0;
    std::string swarm;

    void addTo(CLI::App& command) {
        source.addTo(command);
        command.add_option("--frame", frame, "Which frame, also between two");
        command.add_option("--swarm", swarm, "Which swarm, where there are several");
    }
    Plan plan(const Scene& scene) const {
        Store store;
        Progress progress;
        return prepare(scene, swarmNamed(scene, swarm), frame, {{}, {std::filesystem::path(source.file).parent_path()}}, store, progress);
    }
};

Json rowJson(const InstanceRow& r, const Plan& plan, const Scene& scene) {
    Json named = Json::object();
    for (std::size_t k = 0; k < r.named.size(); ++k) named[scene.at(plan.named[k].first).name] = r.named[k];
    return {{"number", r.number},
            {"id", r.id},
            {"shape", r.shape},
            {"shown", r.shown},
            {"position", {r.position.x, r.position.y, r.position.z}},
            {"rotation", {r.rotation.x, r.rotation.y, r.rotation.z, r.rotation.w}},
            {"scale", {r.scale.x, r.scale.y, r.scale.z}},
            {"colour", {r.colour.x, r.colour.y, r.colour.z, r.colour.w}},
            {"named", named}};
}

}  // namespace

void addEvaluate(CLI::App& app) {
    auto* command = app.add_subcommand("evaluate", "The instances of a swarm at a frame, in world space");
    auto at = std::make_shared<At>();
    auto format = std::make_shared<std::string>("csv");
    auto to = std::make_shared<std::string>();
    at->addTo(*command);
    command->add_option("--format", *format, "csv or json")->check(CLI::IsMember({"csv", "json"}));
    command->add_option("--to", *to, "A file instead of standard output");
    command->callback([at, format, to] {
        const Scene scene = at->source.load();
        const Plan plan = at->plan(scene);
        std::ofstream file;
        if (!to->empty()) {
            file.open(*to, std::ios::binary);
            if (!file) throw Error("“" + *to + "” could not be written; choose another place.");
        }
        std::ostream& out = to->empty() ? std::cout : file;
        if (*format == "csv") {
            writeCsv(plan, scene, out);
        } else {
            Json rows = Json::array();
            readInstances(plan, scene, [&](const InstanceRow& row) {
                rows.push_back(rowJson(row, plan, scene));
                return true;
            });
            out << rows.dump() << '\n';
        }
        if (!out.flush()) throw Error("The table could not be written whole; free some space.");
    });
}

void addTally(CLI::App& app) {
    auto* command = app.add_subcommand("tally", "How one instance got where it is, card by card");
    auto at = std::make_shared<At>();
    auto id = std::make_shared<std::uint64_t>();
    auto json = std::make_shared<bool>();
    at->addTo(*command);
    command->add_option("--id", *id, "The instance's id, as evaluate lists it")->required();
    command->add_flag("--json", *json, "As JSON");
    command->callback([at, id, json] {
        const Scene scene = at->source.load();
        const Plan plan = at->plan(scene);
        const auto rows = tally(plan, scene, *id);
        if (*json) {
            Json list = Json::array();
            for (const auto& row : rows) {
                Json entry{{"card", row.card}, {"weight", row.weight}};
                entry.update(rowJson(row.instance, plan, scene));
                list.push_back(entry);
            }
            std::cout << list.dump(1) << '\n';
            return;
        }
        for (const auto& row : rows) {
            const auto& i = row.instance;
            const glm::vec3 turns = turnsOf(i.rotation);
            std::cout << row.card << "  weight " << row.weight << "  position " << i.position.x << ' ' << i.position.y << ' '
                      << i.position.z << "  rotation " << turns.x << ' ' << turns.y << ' ' << turns.z << "  scale " << i.scale.x << ' '
                      << i.scale.y << ' ' << i.scale.z << "  colour " << i.colour.x << ' ' << i.colour.y << ' ' << i.colour.z;
            const auto& numbers = scene.at(plan.swarm).list("numbers");
            for (std::size_t k = 0; k < std::min(numbers.size(), i.named.size()); ++k)
                std::cout << "  " << scene.at(numbers[k]).name << ' ' << i.named[k];
            std::cout << (i.shown ? "\n" : "  not shown\n");
        }
    });
}

}  // namespace gswarm::tool
