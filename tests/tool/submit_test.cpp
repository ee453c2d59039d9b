// A sequence spread over a cluster: the script by itself, and a real Slurm of one node where Debian's packages are.
#include <gtest/gtest.h>

#include <unistd.h>

#include <chrono>
#include <fstream>
#include <functional>
#include <thread>

#include "tests/tool/running.h"

using namespace running;

namespace {

const std::string sonar = GSWARM_SOURCE "/demo/sonar.gswarm";
// Sanitized, everything takes ten times as long.
const std::string settings = GSWARM_SANITIZED ? " --size 32x18 --samples 1 --frames 0-23" : " --size 96x54 --samples 16 --frames 0-23";

fs::path shared(const std::string& name) {
    const fs::path made = folder() / ("submit " + name);
    fs::create_directories(made);
    return made;
}

std::string word(const fs::path& path) { return "'" + path.string() + "'"; }

void expectWholeSequence(const fs::path& made, const fs::path& local) {
    for (int frame = 0; frame < 24; ++frame) {
        char name[32];
        std::snprintf(name, sizeof name, "reef-%04d.png", frame);
        EXPECT_TRUE(fs::exists(made / name)) << name;
        EXPECT_TRUE(contentOf(made / name) == contentOf(local / name)) << name;
    }
}

/// Slurm on this machine as long as it lives.
struct Slurm {
    fs::path place = fs::temp_directory_path() / ("gswarm-slurm-" + std::to_string(::getpid()));
    bool runs = false;

    Slurm() {
        runs = std::system(("bash " GSWARM_SOURCE "/tests/tool/one_node_slurm start " + word(place) + " > /dev/null 2>&1").c_str()) == 0;
        ::setenv("SLURM_CONF", (place / "slurm.conf").c_str(), 1);
    }
    ~Slurm() {
        (void)std::system(("bash " GSWARM_SOURCE "/tests/tool/one_node_slurm stop " + word(place) + " > /dev/null 2>&1").c_str());
        ::unsetenv("SLURM_CONF");
        std::this_thread::sleep_for(std::chrono::milliseconds(300));
        std::error_code ignored;
        fs::remove_all(place, ignored);
    }
};

bool comes(const std::function<bool()>& what, int seconds) {
    for (int tenths = 0; tenths < 10 * seconds; ++tenths) {
        if (what()) return true;
        std::this_thread::sleep_for(std::chrono::milliseconds(100));
    }
    return false;
}

}  // namespace

TEST(Submit, ADryRunPrintsTheScriptAndDoesNothing) {
    const fs::path place = shared("dry");
    const Outcome run = gswarm("submit " + sonar + " " + word(place / "reef.png") + settings + " --every 2 --tasks 4 --dry-run");
    EXPECT_EQ(run.code, 0) << run.error;
    EXPECT_TRUE(fs::is_empty(place));
    EXPECT_NE(run.out.find("ranges=(0-4 6-10 12-16 18-22)"), std::string::npos) << run.out;
    EXPECT_NE(run.out.find("--array 0-3"), std::string::npos) << run.out;
    std::ofstream(folder() / "dry.sh") << run.out;
    EXPECT_EQ(shell("bash -n " + (folder() / "dry.sh").string()).code, 0);
    EXPECT_EQ(gswarm("submit " + sonar + " " + word(place / "reef.mp4")).code, 2);
    EXPECT_EQ(gswarm("submit " + sonar + " " + word(place / "reef.png") + " --mattes --dry-run").code, 2);
}

TEST(Submit, SixTasksOfWhichOneIsKilledGiveTheSameBytesAsOneRun) {
    const Slurm slurm;
    if (!slurm.runs) GTEST_SKIP() << "NOT SUBMITTED: Slurm of Debian's packages can't be started here.";
    const fs::path place = shared("“reef”"), local = shared("local");
    const Outcome run =
        gswarm("submit " + sonar + " " + word(place / "reef.png") + settings + " --tasks 6 --video " + word(place / "reef.mp4"));
    ASSERT_EQ(run.code, 0) << run.error;
    const auto job = run.out.find("Job ");
    ASSERT_NE(job, std::string::npos) << run.out << run.error;
    const std::string number = std::to_string(std::stoi(run.out.substr(job + 4)));
    // The third task is killed in the middle of its four frames.
    ASSERT_TRUE(comes([&] { return fs::exists(place / "reef-0008.png"); }, 60));
    EXPECT_EQ(shell("scancel --signal KILL --full " + number + "_2; scancel " + number + "_2").code, 0);
    ASSERT_TRUE(comes([&] { return contentOf(place / "reef.report.log").find("All 24 pictures are there.") != std::string::npos; }, 120))
        << contentOf(place / "reef.report.log");
    ASSERT_EQ(gswarm("render " + word(place / "reef.gswarm") + " " + word(local / "reef.png") + settings).code, 0);
    expectWholeSequence(place, local);
    EXPECT_GT(fs::file_size(place / "reef.mp4"), 1000u);
}

TEST(Submit, WithoutSlurmTheScriptIsThereToBeStartedElsewhere) {
    const fs::path place = shared("elsewhere"), local = shared("local");
    // A path without sbatch.
    const std::string bare = "PATH=" + (folder() / "bin").string() + " ";
    fs::create_directories(folder() / "bin");
    for (const char* program : {"/bin/sh", "/usr/bin/env"})
        if (!fs::exists(folder() / "bin" / fs::path(program).filename()))
            fs::create_symlink(program, folder() / "bin" / fs::path(program).filename());
    const Outcome run = shell(bare + GSWARM_TOOL + " submit " + sonar + " " + word(place / "reef.png") + settings + " --tasks 6");
    EXPECT_EQ(run.code, 1);
    EXPECT_NE(run.error.find("sbatch is not on this machine"), std::string::npos) << run.error;
    // What Slurm does with it: each task with its number, then the last.
    const std::string script = "bash " + word(place / "reef.submit.sh");
    for (const char* task : {"0", "1", "3", "5"})
        EXPECT_EQ(shell(std::string("SLURM_ARRAY_TASK_ID=") + task + " " + script + " render").code, 0);
    EXPECT_FALSE(fs::exists(place / "reef-0008.png")) << "a range that was lost";
    const Outcome finish = shell(script + " finish");
    EXPECT_NE(finish.out.find("All 24 pictures are there."), std::string::npos) << finish.out << finish.error;
    ASSERT_EQ(gswarm("render " + word(place / "reef.gswarm") + " " + word(local / "reef.png") + settings).code, 0);
    expectWholeSequence(place, local);
}
