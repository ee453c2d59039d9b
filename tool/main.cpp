// gswarm: everything the window computes, without a window.
// Exit codes: 0 fine, 1 the work failed, 2 wrong usage.
#include <CLI/CLI.hpp>

#include <csignal>
#include <iostream>
#include <new>

#include "core/base/error.h"
#include "tool/commands.h"
#include "tool/usage.h"

namespace {

int refused(const std::string& sentence, int code) {
    std::cerr << "gswarm: " << sentence << '\n';
    return code;
}

/// What the library says of wrong words, with the words themselves.
int wrongUsage(const CLI::App& app, const CLI::ParseError& error, int argc, char** argv) {
    const std::string first = argc > 1 ? argv[1] : "";
    const bool command = !first.empty() && first[0] != '-';
    std::string names;
    bool known = false;
    for (const auto* sub : app.get_subcommands([](const CLI::App*) { return true; })) {
        names += (names.empty() ? "" : ", ") + sub->get_name();
        known = known || sub->get_name() == first;
    }
    if (command && !known) return refused("there is no subcommand “" + first + "”; there are " + names + ".", 2);
    if (!command && error.get_name() == "RequiredError") return refused("a subcommand is missing; gswarm --help lists them.", 2);
    return refused(error.what() + std::string(" (gswarm ") + (command ? first + " " : "") + "--help tells what may stand there).", 2);
}

int run(int argc, char** argv) {
    CLI::App app{"Gilded Swarm's command line: everything the window computes, without a window"};
    app.require_subcommand(1);
    app.set_version_flag("--version", "gswarm 0.1.0");
    app.footer(
        "Values go to standard output, progress and problems to standard error.\n"
        "Exit codes: 0 fine, 1 the work failed or what it gives could not be written, 2 wrong usage.");
    using namespace gswarm::tool;
    for (const auto add : {addInfo, addEvaluate, addTally, addLoopCheck, addKinds, addValidate, addExport, addRender, addBake, addCopy,
                           addRecord, addSubmit, addBench})
        add(app);
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        return error.get_exit_code() == 0 ? app.exit(error) : wrongUsage(app, error, argc, argv);
    } catch (const UsageError& error) {
        return refused(error.what(), 2);
    } catch (const gswarm::Error& error) {
        return refused(error.what(), 1);
    } catch (const std::bad_alloc&) {
        return refused("there is not enough memory for this; nothing was written. Lower counts or sizes.", 1);
    } catch (const std::exception& error) {
        return refused("the work could not be finished (" + std::string(error.what()) + ").", 1);
    }
    return 0;
}

}  // namespace

int main(int argc, char** argv) {
    // A closed pipe is an error of writing like a full device, and told as one.
    std::signal(SIGPIPE, SIG_IGN);
    const int code = run(argc, argv);
    if (!std::cout.flush())
        return refused("what it gives could not be written whole to standard output; free some space or keep the pipe open.", 1);
    return code;
}
