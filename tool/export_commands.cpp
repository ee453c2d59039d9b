// export and render: whatever the exporters write.
#include <CLI/CLI.hpp>

#include <chrono>
#include <iostream>
#include <nlohmann/json.hpp>

#include "core/base/error.h"
#include "core/exchange/exporter_kind.h"
#include "live/live_still.h"
#include "tool/commands.h"
#include "tool/export_options.h"
#include "tool/progress.h"
#include "tool/usage.h"

namespace gswarm::tool {
namespace {

double secondsSince(std::chrono::steady_clock::time_point start) {
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

/// Which moment or frames, of which swarm, to where.
struct Asked {
    Source source;
    std::string out, frames, swarm, camera;
    std::vector<std::string> only;
    double frame = 0;
    int every = 1;
    bool replace = false, json = false;
};

void run(const Asked& asked, const ExporterKind& kind, const Given& given) {
    if (std::filesystem::path(asked.out).extension() != kind.ending)
        throw UsageError("“" + asked.out + "” must end in " + kind.ending + ".");
    Scene scene = asked.source.load();
    if (!asked.only.empty()) {
        std::vector<ObjectId> swarms;
        for (const std::string& name : asked.only) swarms.push_back(swarmNamed(scene, name));
        scene = showingOnly(scene, swarms);
    }
    FrameRange range = asked.frames.empty() ? framesOf(scene) : parseFrames(asked.frames);
    range.every = asked.every;
    Part settings = settingsFor(kind, scene);
    for (const auto& [id, value] : given) settings.values[static_cast<std::size_t>(kind.indexOf(id))] = value;
    Evaluator evaluator;
    asked.source.useBake(evaluator.store());
    ExportFrames frames{evaluator, scene, asked.source.options(), asked.frame, range};
    frames.live = live::liveStill();
    if (kind.ofSwarm) frames.swarm = swarmNamed(scene, asked.swarm);
    if (!asked.camera.empty()) {
        frames.camera = objectNamed(scene, asked.camera);
        if (frames.camera.type() != ObjectType::camera) throw UsageError("--camera: “" + asked.camera + "” is no camera of this project.");
    }
    frames.replaces = asked.replace;
    frames.told = [](const std::string& sentence) { std::cerr << "gswarm: " << sentence << '\n'; };
    const auto started = std::chrono::steady_clock::now();
    auto before = started;
    int kept = 0, wrote = 0;
    frames.kept = [&](int, const std::filesystem::path&) {
        ++kept;
        before = std::chrono::steady_clock::now();
    };
    frames.wrote = [&](int, const std::filesystem::path& path) {
        const double done = ++wrote, left = frames.range.count() - kept - wrote;
        std::cerr << "gswarm: wrote " << path.string() << " in " << clock(secondsSince(before));
        if (left > 0) std::cerr << ", " << clock(secondsSince(started) / done * left) << " left";
        std::cerr << '\n';
        before = std::chrono::steady_clock::now();
    };
    withProgress([&](Progress& progress) { writeExport(settings, frames, asked.out, progress); });
    if (asked.json) {
        nlohmann::ordered_json files = nlohmann::ordered_json::array();
        for (const auto& file : filesWritten(settings, scene, range, asked.out))
            if (std::error_code failed; std::filesystem::exists(file, failed)) files.push_back(file.string());
        std::cout << nlohmann::ordered_json{{"as", kind.id}, {"files", files}, {"kept", kept}, {"seconds", secondsSince(started)}}.dump(2)
                  << '\n';
    }
    if (kind.numbered && kept > 0)
        std::cerr << "gswarm: kept " << kept << (kept == 1 ? " file that was" : " files that were") << " there already\n";
    else if (kept > 0)
        std::cerr << "gswarm: " << asked.out << " is there already, just as it would be written\n";
    else if (!kind.numbered)
        std::cerr << "gswarm: wrote " << asked.out << " in " << clock(secondsSince(started)) << '\n';
}

/// The exporter that was named, or the first whose files end like that and that writes several frames if some were named.
const ExporterKind& exporterFor(const std::string& id, const std::string& out, bool several) {
    if (!id.empty()) return *findExporter(id);
    std::string endings;
    const ExporterKind* otherwise = nullptr;
    for (const ExporterKind* kind : exporters()) {
        if (endings.find(kind->ending) == std::string::npos) endings += (endings.empty() ? "" : " or ") + kind->ending;
        if (std::filesystem::path(out).extension() != kind->ending) continue;
        if (kind->moves == several) return *kind;
        if (!otherwise) otherwise = kind;
    }
    if (otherwise) return *otherwise;
    throw UsageError("“" + out + "” must end in " + endings + "; or name what to write with --as.");
}

std::vector<std::string> exporterIds() {
    std::vector<std::string> ids;
    for (const ExporterKind* kind : exporters()) ids.push_back(kind->id);
    return ids;
}

void addWhich(CLI::App& command, Asked& asked) {
    command.add_option("--only", asked.only, "Name or id of a swarm: no others are shown; given again, several are");
    command.add_flag("--json", asked.json, "Says as JSON which files there are now, and how many of them were kept");
    command.add_option("--every", asked.every, "Of the frames each so many-th, from the first on")->check(wholeBetween(1, 100000));
    command.add_flag("--replace", asked.replace,
                     "Writes over files that are there; without it only those are kept that are just as they would be written");
}

}  // namespace

void addExport(CLI::App& app) {
    struct Options : Asked {
        std::string as;
        bool baked = false;
        Given settings;
    };
    auto* command = app.add_subcommand("export", "Pictures, glTF and tables: what the window's export writes");
    auto options = std::make_shared<Options>();
    options->source.addTo(*command);
    command->add_option("OUT", options->out, "The file; its ending tells what is written where --as does not")->required();
    auto* as = command->add_option("--as", options->as, "What is written; “gswarm kinds” lists them")->check(CLI::IsMember(exporterIds()));
    auto* frame = command->add_option("--frame", options->frame, "Which frame, also between two, of what writes one")
                      ->check(frameNumber())
                      ->capture_default_str();
    command->add_flag("--baked", options->baked, "The same as --as baked")->excludes(as);
    command
        ->add_option("--frames", options->frames, "A-B: which whole frames, of what writes several; all of the project if neither is given")
        ->excludes(frame);
    command->add_option("--camera", options->camera,
                        "Name or id of the camera to look through, for pictures and glTF; else the one that is on");
    command->add_option("--swarm", options->swarm, "Name or id of the swarm, for a table where there are several");
    addWhich(*command, *options);
    addSettings(*command, exporters(), {}, options->settings);
    command->callback([options, frame] {
        const ExporterKind& kind = exporterFor(options->baked ? "baked" : options->as, options->out, !options->frames.empty());
        if (!kind.moves && !options->frames.empty())
            throw UsageError("--frames: “" + kind.id + "” writes one moment; name it with --frame.");
        if (kind.moves && frame->count() > 0) throw UsageError("--frame: “" + kind.id + "” writes several; name them with --frames.");
        checkSettings(kind, options->settings);
        run(*options, kind, options->settings);
    });
}

void addRender(CLI::App& app) {
    struct Options : Asked {
        std::string size;
        Given settings;
    };
    auto* command = app.add_subcommand("render", "Pictures as PNG or OpenEXR: “export” with what pictures are made with most often");
    auto options = std::make_shared<Options>();
    options->source.addTo(*command);
    command->add_option("OUT", options->out, "The .png or .exr file; with --frames a number is put before the ending")->required();
    auto* frame =
        command->add_option("--frame", options->frame, "Which frame, also between two")->check(frameNumber())->capture_default_str();
    command->add_option("--frames", options->frames, "A-B: a numbered sequence of whole frames")->excludes(frame);
    command->add_option("--camera", options->camera, "Name or id of the camera to look through; else the one that is on");
    command->add_option("--size", options->size, "WIDTHxHEIGHT in pixels, each 1 to 16384; the project's size if it is left out");
    addWhich(*command, *options);
    addSettings(*command, {&stillExporter, &layeredExporter}, {"width", "height"}, options->settings);
    command->callback([options] {
        Given settings = options->settings;
        if (!options->size.empty()) {
            const TraceSize size = parseSize(options->size);
            settings["width"] = fixedNumbers({double(size.width)}), settings["height"] = fixedNumbers({double(size.height)});
        }
        const bool several = !options->frames.empty();
        const ExporterKind& kind = std::filesystem::path(options->out).extension() == layeredExporter.ending
                                       ? several ? layeredSequenceExporter : layeredExporter
                                   : several ? sequenceExporter
                                             : stillExporter;
        checkSettings(kind, settings);
        run(*options, kind, settings);
    });
}

void addBake(CLI::App& app) {
    auto* command = app.add_subcommand("bake", "Makes what bodies and follow-through remember of each frame and keeps it in a file");
    auto asked = std::make_shared<Asked>();
    asked->source.addTo(*command);
    command->add_option("--to", asked->out,
                        "The .bake file; NAME.bake beside the project, where it is found again by itself, if it is left out");
    command->add_option("--frames", asked->frames, "A-B: which whole frames; all of the project if it is left out");
    command->callback([asked] {
        if (asked->out.empty()) asked->out = bakeBeside(asked->source.file).string();
        asked->replace = true;  // what is valid of it is taken over
        run(*asked, bakeExporter, {});
    });
}

}  // namespace gswarm::tool
