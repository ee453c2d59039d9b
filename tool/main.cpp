// gswarm: everything the window computes, without a window.
// Exit codes: 0 fine, 1 the work failed, 2 wrong usage.
#include <CLI/CLI.hpp>

#include <iostream>

#include "core/base/error.h"
#include "tool/commands.h"

int main(int argc, char** argv) {
    CLI::App app{"Gilded Swarm's command line"};
    app.require_subcommand(1);
    app.set_version_flag("--version", "gswarm 0.1.0");
    using namespace gswarm::tool;
    for (const auto add : {addInfo, addEvaluate, addTally, addLoopCheck, addKinds, addValidate, addExport, addRender, addBench}) add(app);
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        return app.exit(error) == 0 ? 0 : 2;
    } catch (const gswarm::Error& error) {
        std::cerr << "gswarm: " << error.what() << '\n';
        return 1;
    } catch (const std::exception& error) {
        std::cerr << "gswarm: the work could not be finished (" << error.what() << ").\n";
        return 1;
    }
    return 0;
}
