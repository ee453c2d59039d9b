// submit: a sequence spread over a cluster by Slurm.
#include <CLI/CLI.hpp>

#include <cstdlib>
#include <iostream>
#include <sstream>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/exchange/project_copy.h"
#include "tool/commands.h"
#include "tool/export_options.h"
#include "tool/progress.h"
#include "tool/usage.h"

namespace gswarm::tool {
namespace {

namespace fs = std::filesystem;

struct Asked {
    Source source;
    std::string out, frames, video, camera, size;
    std::vector<std::string> more;  ///< options for sbatch
    int every = 1, tasks = 0, tries = 3;
    bool dry = false;
    Given settings;
};

/// The files of a piece of work, all in the folder that its machines share.
struct Places {
    fs::path folder;      ///< absolute
    std::string picture;  ///< the pictures' name without a number
    std::string project, script, name;
};

Places placesOf(const Asked& asked) {
    const fs::path out = fs::absolute(asked.out);
    const std::string stem = out.stem().string();
    return {out.parent_path(), out.filename().string(), stem + ".gswarm", stem + ".submit.sh", stem};
}

/// Where the program itself is; the machines of a cluster have it there too, or are told by GSWARM.
std::string ownPath() {
    std::error_code failed;
    const fs::path path = fs::read_symlink("/proc/self/exe", failed);
    return failed ? "gswarm" : path.string();
}

std::string numbersOf(const FrameRange& range, int tasks) {
    std::string text;
    for (int k = 0; k < tasks; ++k) {
        const auto frameAt = [&](std::int64_t step) { return range.at(static_cast<int>(step)); };
        const std::int64_t count = range.count();
        const int first = frameAt(k * count / tasks), last = frameAt((k + 1) * count / tasks - 1);
        text += (k ? " " : "") + std::to_string(first) + "-" + std::to_string(last);
    }
    return text;
}

std::string scriptOf(const Asked& asked, const Places& places, const FrameRange& range, int tasks) {
    std::string words = wordsOf(asked.settings);
    if (!asked.size.empty()) words += " --size " + asked.size;
    if (!asked.camera.empty()) words += " --camera " + shellWord(asked.camera);
    if (range.every > 1) words += " --every " + std::to_string(range.every);
    const std::string whole = std::to_string(range.first) + "-" + std::to_string(range.last);
    std::string sbatch;
    for (const std::string& option : asked.more) sbatch += " " + shellWord(option);
    std::ostringstream out;
    out << "#!/usr/bin/env bash\n"
           "# Made by gswarm submit. Started without a word it puts itself into Slurm's queue: an array of tasks that make the pictures, "
           "then one\n"
           "# that makes what they lost, "
        << (asked.video.empty() ? "" : "joins the video ")
        << "and reports. What is whole is never made again, so it may be started as often as wanted.\n"
           "set -uo pipefail\n"
        << "folder=" << shellWord(places.folder.string()) << "\n"
        << "gswarm=\"${GSWARM:-" << ownPath() << "}\"\n"
        << "ranges=(" << numbersOf(range, tasks) << ")\n"
        << "tries=" << asked.tries
        << "\n"
           "cd \"$folder\" || exit 1\n"
           "pictures() {\n"
           "    for ((try = 1; try <= tries; ++try)); do\n"
        << "        \"$gswarm\" render " << shellWord(places.project) << " " << shellWord(places.picture) << " --frames \"$1\"" << words
        << " && return 0\n"
           "        echo \"try $try of $tries failed\" >&2\n"
           "    done\n"
           "    return 1\n"
           "}\n"
           "case \"${1:-submit}\" in\n"
           "submit)\n"
        << "    array=$(sbatch --parsable --requeue --job-name " << shellWord(places.name) << " --array 0-" << tasks - 1 << " --output "
        << shellWord(places.name + ".%a.log") << sbatch << " --chdir \"$folder\" " << shellWord(places.script) << " render) || exit 1\n"
        << "    sbatch --parsable --dependency \"afterany:$array\" --job-name " << shellWord(places.name + " report") << " --output "
        << shellWord(places.name + ".report.log") << sbatch << " --chdir \"$folder\" " << shellWord(places.script)
        << " finish > /dev/null || exit 1\n"
        << "    echo \"Job $array: " << tasks << " tasks; " << places.name << ".report.log tells how it went.\"\n"
        << "    ;;\n"
           "render)\n"
           "    pictures \"${ranges[$SLURM_ARRAY_TASK_ID]}\"\n"
           "    ;;\n"
           "finish)\n"
        << "    pictures " << whole << " || { echo \"Pictures are missing; start this again.\"; exit 1; }\n";
    if (!asked.video.empty())
        out << "    \"$gswarm\" export " << shellWord(places.project) << " " << shellWord(fs::absolute(asked.video).string())
            << " --frames " << whole << (range.every > 1 ? " --every " + std::to_string(range.every) : "") << " --pictures "
            << shellWord(places.picture) << " --replace || exit 1\n";
    out << "    echo \"All " << range.count()
        << " pictures are there.\"\n"
           "    ;;\n"
           "esac\n";
    return out.str();
}

void run(const Asked& asked) {
    const std::string ending = fs::path(asked.out).extension().string();
    const ExporterKind& kind = ending == layeredSequenceExporter.ending ? layeredSequenceExporter : sequenceExporter;
    if (ending != kind.ending) throw UsageError("“" + asked.out + "” must end in .png or .exr.");
    if (!asked.size.empty()) parseSize(asked.size);
    checkSettings(kind, asked.settings);
    const Scene scene = asked.source.load();
    FrameRange range = asked.frames.empty() ? framesOf(scene) : parseFrames(asked.frames);
    range.every = asked.every;
    const int tasks = std::min(range.count(), asked.tasks > 0 ? asked.tasks : (range.count() + 9) / 10);
    const Places places = placesOf(asked);
    const std::string script = scriptOf(asked, places, range, tasks);
    if (asked.dry) {
        std::cout << script;
        return;
    }
    if (fs::exists(places.folder / places.project) && fs::equivalent(places.folder / places.project, asked.source.file))
        throw UsageError("“" + asked.out + "” would put the project over itself; give the pictures another name.");
    withProgress(
        [&](Progress& progress) { copyProject(scene, asked.source.options().projectFolder, places.folder / places.project, progress); });
    writeFileAtomically(places.folder / places.script, script);
    fs::permissions(places.folder / places.script, fs::perms::owner_exec, fs::perm_options::add);
    std::cerr << "gswarm: wrote " << (places.folder / places.script).string() << '\n';
    if (std::system("command -v sbatch > /dev/null 2>&1") != 0)
        throw Error("Slurm's sbatch is not on this machine, so nothing was put into its queue; start the script where it is.");
    if (std::system((shellWord((places.folder / places.script).string())).c_str()) != 0)
        throw Error("Slurm refused the work; the script stays, and can be started again.");
}

}  // namespace

void addSubmit(CLI::App& app) {
    auto* command =
        app.add_subcommand("submit", "A sequence of pictures spread over a cluster by Slurm, from a folder that its machines share");
    auto asked = std::make_shared<Asked>();
    asked->source.addTo(*command);
    command->add_option("OUT", asked->out, "The .png or .exr file before whose ending numbers are put; project and script come beside it")
        ->required();
    command->add_option("--frames", asked->frames, "A-B: which whole frames; all of the project if it is left out");
    command->add_option("--every", asked->every, "Of the frames each so many-th, from the first on")->check(wholeBetween(1, 100000));
    command->add_option("--tasks", asked->tasks, "Into how many tasks; one for ten frames if it is left out")
        ->check(wholeBetween(1, 100000));
    command->add_option("--tries", asked->tries, "How often a range that fails is tried")
        ->check(wholeBetween(1, 100))
        ->capture_default_str();
    command->add_option("--video", asked->video, "The video that is made of the pictures after the last");
    command->add_option("--camera", asked->camera, "Name or id of the camera to look through; else the one that is on");
    command->add_option("--size", asked->size, "WIDTHxHEIGHT in pixels, each 1 to 16384; the project's size if it is left out");
    command->add_option("--sbatch", asked->more, "An option for sbatch, such as --sbatch=--time=2:00:00; again for more")
        ->take_all()
        ->expected(1)
        ->allow_extra_args(false);
    command->add_flag("--dry-run", asked->dry, "Prints the script and does nothing");
    addSettings(*command, {&sequenceExporter, &layeredSequenceExporter}, {"width", "height"}, asked->settings);
    command->callback([asked] { run(*asked); });
}

}  // namespace gswarm::tool
