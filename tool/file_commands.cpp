// copy: a project with all its files elsewhere. record: a clip of media.
#include <CLI/CLI.hpp>

#include <iostream>

#include "core/base/error.h"
#include "core/exchange/project_copy.h"
#include "core/exchange/record_media.h"
#include "core/exchange/record_sound.h"
#include "core/provide/store.h"
#include "tool/commands.h"
#include "tool/progress.h"
#include "tool/usage.h"

namespace gswarm::tool {

void addCopy(CLI::App& app) {
    struct Options {
        Source source;
        std::string out;
    };
    auto* command = app.add_subcommand("copy", "The project, with --set, as a file elsewhere, with all files it reads beside it");
    auto options = std::make_shared<Options>();
    options->source.addTo(*command);
    command->add_option("OUT", options->out, "The .gswarm file; its files come to the same places beside it")->required();
    command->callback([options] {
        if (std::filesystem::path(options->out).extension() != ".gswarm") throw UsageError("“" + options->out + "” must end in .gswarm.");
        const Scene scene = options->source.load();
        std::vector<std::string> missing;
        withProgress(
            [&](Progress& progress) { missing = copyProject(scene, options->source.options().projectFolder, options->out, progress); });
        for (const std::string& sentence : missing) std::cerr << "gswarm: " << sentence << '\n';
        std::cerr << "gswarm: wrote " << options->out << '\n';
    });
}

void addRecord(CLI::App& app) {
    struct Options {
        Source source;
        std::string media, out, frames;
    };
    auto* command = app.add_subcommand(
        "record", "A file of what a simulated camera or microphone, or other media or sound, gives at the frames of the project");
    auto options = std::make_shared<Options>();
    options->source.addTo(*command);
    command->add_option("MEDIA", options->media, "Its name or id")->required();
    command->add_option("OUT", options->out, "The file: .mp4 for H.264, .mov for ProRes 4444; of a sound .flac or .wav")->required();
    command->add_option("--frames", options->frames, "A-B: which whole frames; all of the project if not given");
    command->callback([options] {
        const Scene scene = options->source.load();
        ObjectId media;
        for (const ObjectType type : {ObjectType::sound, ObjectType::media})
            for (const ObjectId id : scene.all(type))
                if (scene.at(id).name == options->media || toText(id) == options->media) media = id;
        if (!media) throw Error("There are no media “" + options->media + "” in the project.");
        const FrameRange range = options->frames.empty() ? framesOf(scene) : parseFrames(options->frames);
        Store store;
        withProgress([&](Progress& progress) {
            const auto record = media.type() == ObjectType::sound ? recordSound : recordMedia;
            record(scene, media, range, options->source.options().projectFolder, store, options->out, progress);
        });
        std::cerr << "gswarm: wrote " << options->out << '\n';
    });
}

}  // namespace gswarm::tool
