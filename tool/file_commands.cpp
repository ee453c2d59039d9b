// copy: a project with all its files elsewhere.
#include <CLI/CLI.hpp>

#include <iostream>

#include "core/exchange/project_copy.h"
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

}  // namespace gswarm::tool
