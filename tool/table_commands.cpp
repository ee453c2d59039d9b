// evaluate and tally: numbers of instances.
#include <CLI/CLI.hpp>

#include <algorithm>
#include <charconv>
#include <iostream>
#include <nlohmann/json.hpp>
#include <optional>

#include "core/base/atomic_file.h"
#include "core/base/text.h"
#include "core/base/turns.h"
#include "core/exchange/csv.h"
#include "core/prepare/prepare.h"
#include "core/provide/store.h"
#include "core/read/ledger.h"
#include "core/read/table.h"
#include "tool/commands.h"
#include "tool/progress.h"
#include "tool/usage.h"

namespace gswarm::tool {
namespace {

using Json = nlohmann::ordered_json;

struct At {
    Source source;
    double frame = 0;
    std::string swarm;

    void addTo(CLI::App& command) {
        source.addTo(command);
        command.add_option("--frame", frame, "Which frame, also between two")->check(frameNumber())->capture_default_str();
        command.add_option("--swarm", swarm, "Name or id of the swarm, where there are several");
    }
    Plan plan(const Scene& scene, Store& store, Progress& progress) const {
        source.useBake(store);
        return prepare(scene, swarmNamed(scene, swarm), frame, source.options(), store, progress);
    }
};

/// Ids go up to 64 bits.
CLI::Validator instanceId() {
    return CLI::Validator(
        [](const std::string& text) {
            std::uint64_t id = 0;
            const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), id);
            return error == std::errc() && end == text.data() + text.size() ? std::string()
                                                                            : quotedPiece(text) + " is no id of an instance";
        },
        "ID");
}

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

void write(const std::string& format, bool copies, const Plan& plan, const Scene& scene, std::ostream& out, Progress& progress) {
    if (format == "csv") return writeCsv(plan, scene, out, {false, copies}, &progress);
    bool first = true;
    out << '[';
    readInstances(
        plan, scene,
        [&](const InstanceRow& row) {
            Json json = rowJson(row, plan, scene);
            if (copies) json["copy"] = row.copy;
            out << (first ? "" : ",\n") << json.dump();
            first = false;
            return !progress.cancelled() && static_cast<bool>(out);
        },
        copies);
    progress.check();
    out << "]\n";
}

}  // namespace

void addEvaluate(CLI::App& app) {
    auto* command = app.add_subcommand("evaluate", "The instances of a swarm at a frame, in world space");
    auto at = std::make_shared<At>();
    auto format = std::make_shared<std::string>("csv");
    auto to = std::make_shared<std::string>();
    auto copies = std::make_shared<bool>();
    at->addTo(*command);
    command->add_flag("--copies", *copies, "Each instance's copies by symmetry too");
    command->add_option("--format", *format, "csv or json")->check(CLI::IsMember({"csv", "json"}))->capture_default_str();
    command->add_option("--to", *to, "A file instead of standard output");
    command->callback([at, format, to, copies] {
        const Scene scene = at->source.load();
        withProgress([&](Progress& progress) {
            Store store;
            const Plan plan = at->plan(scene, store, progress);
            if (to->empty()) return write(*format, *copies, plan, scene, std::cout, progress);
            AtomicFile file(*to);
            write(*format, *copies, plan, scene, file.stream(), progress);
            file.commit();
        });
    });
}

void addTally(CLI::App& app) {
    auto* command = app.add_subcommand("tally", "How one instance got where it is, card by card");
    auto at = std::make_shared<At>();
    auto id = std::make_shared<std::uint64_t>();
    auto json = std::make_shared<bool>();
    at->addTo(*command);
    command->add_option("--id", *id, "The instance's id, as evaluate lists it")->required()->check(instanceId());
    command->add_flag("--json", *json, "As JSON");
    command->callback([at, id, json] {
        const Scene scene = at->source.load();
        Store store;
        std::optional<Plan> planned;
        withProgress([&](Progress& progress) { planned = at->plan(scene, store, progress); });
        const Plan& plan = *planned;
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
            const glm::vec3 turns = degreesOf(i.rotation);
            std::cout << row.card << "  weight " << row.weight << "  position " << i.position.x << ' ' << i.position.y << ' '
                      << i.position.z << " m  rotation " << turns.x << ' ' << turns.y << ' ' << turns.z << " °  scale " << i.scale.x << ' '
                      << i.scale.y << ' ' << i.scale.z << "  colour " << i.colour.x << ' ' << i.colour.y << ' ' << i.colour.z;
            const auto& numbers = scene.at(plan.swarm).list("namedValues");
            for (std::size_t k = 0; k < std::min(numbers.size(), i.named.size()); ++k)
                std::cout << "  " << scene.at(numbers[k]).name << ' ' << i.named[k];
            std::cout << (i.shown ? "\n" : "  not shown\n");
        }
    });
}

}  // namespace gswarm::tool
