// info, kinds and validate: what is in a project and what the program knows.
#include <CLI/CLI.hpp>

#include <iostream>
#include <nlohmann/json.hpp>

#include "core/base/error.h"
#include "core/base/text.h"
#include "core/edit/edit.h"
#include "core/evaluate/evaluator.h"
#include "core/exchange/exporter_kind.h"
#include "core/explain/findings.h"
#include "core/file/project_file.h"
#include "core/kinds/registry.h"
#include "core/provide/store.h"
#include "core/read/overlaps.h"
#include "core/scene/frame_range.h"
#include "tool/commands.h"
#include "tool/progress.h"

namespace gswarm::tool {
namespace {

using Json = nlohmann::ordered_json;

/// What evaluating a swarm at the project's first frame tells: counts, notes, overlaps; or what stands in the way.
Json evaluatedJson(const Scene& scene, ObjectId swarm, const PlanOptions& options, Evaluator& evaluator, Progress& progress) {
    try {
        const auto result = evaluator.evaluate(scene, swarm, framesOf(scene).first, options, progress);
        Json json{{"instances", result->count}, {"shown", result->visible}};
        if (result->copies.size() > 1) json["copies"] = result->copies.size();
        if (result->leaves > static_cast<std::uint64_t>(result->count) * result->copies.size()) json["leaves"] = result->leaves;
        if (result->count <= 1'000'000) json["overlapping"] = countOverlaps(*result, progress);
        json["notes"] = result->notes;
        return json;
    } catch (const Error& error) {
        return {{"problem", error.what()}};
    }
}

Json infoJson(const Scene& scene, const Source& source, Progress& progress) {
    const PlanOptions options = source.options();
    const FrameRange range = framesOf(scene);
    const Moment moment = momentAt(scene, range.first);
    Evaluator evaluator;
    source.useBake(evaluator.store());
    Json swarms = Json::array();
    for (const ObjectId id : scene.all(ObjectType::swarm)) {
        Json cards = Json::array();
        for (const ObjectId entry : scene.at(id).list("rail")) {
            const ObjectId gesture = referenceOf(scene.at(entry).part("entry"), "gesture");
            cards.push_back({{"name", nameOfCard(scene, entry)}, {"gesture", toText(gesture)}, {"entry", toText(entry)}});
        }
        Json swarm{{"name", scene.at(id).name}, {"id", toText(id)}};
        swarm.update(evaluatedJson(scene, id, options, evaluator, progress));
        swarm["rail"] = cards;
        swarms.push_back(swarm);
    }
    Json objects = Json::array();
    for (const auto& [id, object] : scene.objects)
        objects.push_back({{"id", toText(id)}, {"type", classOf(id.type()).id}, {"name", object->name}});
    Json findings = Json::array();
    for (const Finding& f : findingsIn(scene, range.first, options, evaluator.store(), progress))
        findings.push_back({{"object", toText(f.object)}, {"told", f.sentence}});
    return {{"firstFrame", range.first}, {"lastFrame", range.last}, {"rate", moment.rate}, {"loopFrames", moment.loopFrames},
            {"swarms", swarms},          {"findings", findings},    {"objects", objects}};
}

Json standardJson(const Parameter& p) {
    if (const auto* numbers = std::get_if<Numbers>(&p.standard)) {
        if (numbers->size() == 1) return numbers->front().value;
        Json list = Json::array();
        for (const Track& t : *numbers) list.push_back(t.value);
        return list;
    }
    if (const auto* on = std::get_if<bool>(&p.standard)) return *on;
    if (const auto* text = std::get_if<std::string>(&p.standard)) return *text;
    if (const auto* ramp = std::get_if<Ramp>(&p.standard)) {
        Json stops = Json::array();
        for (const auto& stop : *ramp) stops.push_back({{"at", stop.at}, {"colour", stop.colour}});
        return stops;
    }
    if (const auto* points = std::get_if<Points>(&p.standard)) return *points;
    if (const auto* formula = std::get_if<Formula>(&p.standard)) return formula->text;
    if (const auto* curve = std::get_if<CurvePoints>(&p.standard)) {
        Json list = Json::array();
        for (const CurvePoint& c : *curve) list.push_back({c.at, c.value, c.in, c.out});
        return list;
    }
    return nullptr;
}

const char* nameOf(ParameterType type) {
    switch (type) {
        case ParameterType::number:
            return "number";
        case ParameterType::whole:
            return "whole";
        case ParameterType::angle:
            return "angle";
        case ParameterType::length:
            return "length";
        case ParameterType::ramp:
            return "ramp";
        case ParameterType::points:
            return "points";
        case ParameterType::curve:
            return "curve";
        case ParameterType::colour:
            return "colour";
        case ParameterType::toggle:
            return "toggle";
        case ParameterType::choice:
            return "choice";
        case ParameterType::text:
            return "text";
        case ParameterType::file:
            return "file";
        case ParameterType::instances:
            return "instances";
        case ParameterType::formula:
            return "formula";
        case ParameterType::reference:
            return "reference";
    }
    return "";
}

Json parameterJson(const Parameter& p) {
    Json json{{"id", p.id}, {"label", p.label}, {"type", nameOf(p.type)}, {"summary", p.summary}, {"default", standardJson(p)}};
    if (p.numeric()) {
        json["components"] = p.components;
        json["unit"] = p.unit;
        json["suggested"] = {p.suggested.low, p.suggested.high};
        json["hard"] = {p.hard.low, p.hard.high};
        json["perInstance"] = p.perInstance;
    }
    if (!p.choices.empty()) {
        json["choices"] = Json::array();
        for (const auto& c : p.choices) json["choices"].push_back({{"id", c.id}, {"label", c.label}});
    }
    for (const auto& condition : p.when) json["when"].push_back({{"parameter", condition.parameter}, {"is", condition.choices}});
    return json;
}

Json kindsJson() {
    Json kinds = Json::array();
    const auto add = [&](const std::string& family, const Kind& kind) {
        Json parameters = Json::array();
        for (const auto& p : kind.parameters) parameters.push_back(parameterJson(p));
        kinds.push_back({{"family", family},
                         {"id", kind.id},
                         {"version", kind.version},
                         {"label", kind.label},
                         {"summary", kind.summary},
                         {"parameters", parameters}});
    };
    for (int f = 0; f <= static_cast<int>(Family::force); ++f)
        for (const Kind* kind : kindsOf(static_cast<Family>(f))) add(toText(kind->family), *kind);
    for (const ExporterKind* kind : exporters()) add("exporter", *kind);
    return kinds;
}

}  // namespace

void addInfo(CLI::App& app) {
    auto* command = app.add_subcommand("info", "What is in a project");
    auto source = std::make_shared<Source>();
    auto json = std::make_shared<bool>();
    source->addTo(*command);
    command->add_flag("--json", *json, "As JSON");
    command->callback([source, json] {
        const Scene scene = source->load();
        Json info;
        withProgress([&](Progress& progress) { info = infoJson(scene, *source, progress); });
        if (*json) {
            std::cout << info.dump(1) << '\n';
            return;
        }
        std::cout << "Frames " << info["firstFrame"] << " to " << info["lastFrame"] << " at " << info["rate"] << " a second, loop of "
                  << info["loopFrames"] << " frames\n";
        for (const auto& swarm : info["swarms"]) {
            std::cout << swarm["name"].get<std::string>() << ": ";
            if (swarm.contains("problem")) {
                std::cout << swarm["problem"].get<std::string>() << '\n';
                continue;
            }
            std::cout << counted(swarm["instances"].get<std::size_t>(), "instance", "instances")
                      << (swarm.contains("copies") ? " × " + swarm["copies"].dump() : "") << ", "
                      << counted(swarm["rail"].size(), "gesture", "gestures");
            if (swarm.contains("leaves")) std::cout << ", " << swarm["leaves"] << " shapes in all";
            if (swarm.contains("overlapping")) std::cout << ", " << swarm["overlapping"] << " overlapping";
            std::cout << '\n';
            for (const auto& note : swarm["notes"]) std::cout << "  " << note.get<std::string>() << '\n';
        }
        for (const auto& finding : info["findings"]) std::cout << "found: " << finding["told"].get<std::string>() << '\n';
    });
}

void addKinds(CLI::App& app) {
    auto* command =
        app.add_subcommand("kinds", "All kinds of shapes, formations, patterns, zones, gestures and exporters with their parameters");
    auto json = std::make_shared<bool>(), schema = std::make_shared<bool>();
    command->add_flag("--json", *json, "As JSON");
    command->add_flag("--schema", *schema, "The JSON Schema of the project file instead");
    command->callback([json, schema] {
        if (*schema) {
            std::cout << projectSchema();
        } else if (*json) {
            std::cout << kindsJson().dump(1) << '\n';
        } else {
            for (const auto& kind : kindsJson())
                std::cout << kind["family"].get<std::string>() << "  " << kind["id"].get<std::string>() << "  "
                          << kind["summary"].get<std::string>() << '\n';
        }
    });
}

void addValidate(CLI::App& app) {
    auto* command = app.add_subcommand("validate", "Checks that a project opens, and that nothing keeps a part of it from being seen");
    auto source = std::make_shared<Source>();
    source->addTo(*command);
    command->callback([source] {
        const Scene scene = source->load();
        Store store;
        std::vector<Finding> findings;
        withProgress([&](Progress& progress) { findings = findingsIn(scene, framesOf(scene).first, source->options(), store, progress); });
        for (const Finding& f : findings) std::cout << f.sentence << '\n';
        if (!findings.empty())
            throw Error("“" + source->file + "” opens, but " + counted(findings.size(), "thing", "things") + " in it must be mended.");
        std::cout << "“" << source->file << "” is a sound project.\n";
    });
}

}  // namespace gswarm::tool
