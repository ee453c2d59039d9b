// What the tool says and how it ends: wrong words, full devices, closed pipes, units, progress.
#include <gtest/gtest.h>

#include <fstream>

#include "tests/tool/running.h"

using namespace running;

namespace {

const std::string floorPiece = GSWARM_SOURCE "/demo/tidal-floor.gswarm", urchin = GSWARM_SOURCE "/demo/urchin.gswarm";

void expectUsage(const std::string& arguments, const std::string& wanted) {
    const Outcome run = gswarm(arguments);
    EXPECT_EQ(run.code, 2) << arguments;
    EXPECT_NE(run.error.find(wanted), std::string::npos) << arguments << " said: " << run.error;
    EXPECT_EQ(run.out, "") << arguments;
}

/// Every subcommand with words that work.
std::vector<std::string> everySubcommand() {
    return {"info " + urchin,
            "info " + urchin + " --json",
            "evaluate " + urchin,
            "evaluate " + urchin + " --format json",
            "tally " + urchin + " --id 0",
            "loop-check " + urchin,
            "kinds",
            "kinds --json",
            "kinds --schema",
            "validate " + urchin,
            "bench --instances 1000 --runs 3 --threads 1",
            "--help",
            "--version",
            "render --help"};
}

}  // namespace

TEST(ToolWords, WrongUsageEndsWithTwoAndNamesTheMistake) {
    expectUsage("", "a subcommand is missing");
    expectUsage("bogus", "there is no subcommand “bogus”");
    expectUsage("info", "FILE");
    expectUsage("info " + floorPiece + " --bogus", "--bogus");
    expectUsage("info " + floorPiece + " --set Swell", "“Swell”");
    expectUsage("info " + floorPiece + " --set =3", "“=3”");
    for (const char* frame : {"nan", "inf", "-inf", "1e30", "\"\"", "soon", "1,5"}) {
        expectUsage("evaluate " + floorPiece + " --frame " + frame, "--frame");
        expectUsage("tally " + floorPiece + " --id 0 --frame " + frame, "--frame");
        expectUsage("export " + floorPiece + " x.glb --frame " + frame, "--frame");
        expectUsage("render " + floorPiece + " x.png --frame " + frame, "--frame");
    }
    for (const char* range : {"10-0", "5", "a-b", "1-", "-", "0-99999999999", "nan-3"}) {
        expectUsage("render " + floorPiece + " x.png --frames " + range, "--frames");
        expectUsage("export " + floorPiece + " x.glb --baked --frames " + range, "--frames");
    }
    for (const char* size : {"axb", "10", "0x10", "10x-1", "10x10x10", "99999999999x1", "20000x20"})
        expectUsage("render " + floorPiece + " x.png --size " + size, "--size");
    for (const char* samples : {"0", "-1", "4097", "many", "1.5"})
        expectUsage("render " + floorPiece + " x.png --samples " + samples, "--samples");
    for (const char* id : {"-1", "x", "1.5", "99999999999999999999"}) expectUsage("tally " + floorPiece + " --id " + id, "--id");
    expectUsage("render " + floorPiece + " x.png --seed -1", "--seed");
    expectUsage("export " + floorPiece + " x.csv --as csv --frames 0-3", "--frames");
    expectUsage("export " + floorPiece + " x.glb --as gltf --frames 0-3", "--frames");
    expectUsage("export " + floorPiece + " x.glb --as gltf --baked", "--as");
    expectUsage("export " + floorPiece + " x.glb --baked --frame 2", "--frame");
    expectUsage("export " + floorPiece + " x.glb --as film", "film");
    expectUsage("export " + floorPiece + " x.glb --samples 8", "--samples");
    expectUsage("export " + floorPiece + " x.png --samples 5000", "--samples");
    expectUsage("export " + floorPiece + " x.csv --as still", ".png");
    expectUsage("export " + floorPiece + " x.glb --baked --frames 0-3 --frame 2", "--frame");
    expectUsage("render " + floorPiece + " x.png --frames 0-3 --frame 2", "--frame");
    expectUsage("render " + floorPiece + " x.jpg", ".png");
    expectUsage("export " + floorPiece + " x.xyz", ".glb");
    expectUsage("bench --runs 0", "--runs");
}

TEST(ToolWords, WorkThatFailsEndsWithOneAndSpeaksOfTheTool) {
    for (const std::string arguments : {"info /nowhere.gswarm", "render /nowhere.gswarm x.png", "evaluate /nowhere.gswarm"}) {
        const Outcome run = gswarm(arguments);
        EXPECT_EQ(run.code, 1);
        EXPECT_NE(run.error.find("nowhere.gswarm"), std::string::npos);
        EXPECT_EQ(run.error.find("open project"), std::string::npos) << run.error;
    }
    const fs::path damaged = folder() / "damaged.gswarm";
    std::ofstream(damaged) << contentOf(floorPiece).substr(0, 3000);
    const Outcome run = gswarm("info " + damaged.string());
    EXPECT_EQ(run.code, 1);
    EXPECT_EQ(run.error.find("untouched"), std::string::npos) << run.error;
}

TEST(ToolWords, OutputThatIsLostIsAFailure) {
    for (const std::string& arguments : everySubcommand()) {
        const Outcome full = shell(std::string(GSWARM_TOOL) + " " + arguments + " > /dev/full");
        EXPECT_EQ(full.code, 1) << arguments;
        EXPECT_NE(full.error.find("could not be written"), std::string::npos) << arguments << ": " << full.error;
        // `true` reads nothing and goes; the tool must notice and say so, not be killed.
        const Outcome closed =
            shell("bash -c '" + std::string(GSWARM_TOOL) + " " + arguments + " | (exec 0<&-; sleep 0.01); exit ${PIPESTATUS[0]}'");
        EXPECT_LE(closed.code, 1) << arguments;
    }
    const Outcome closed = shell("bash -c 'set -o pipefail; " + std::string(GSWARM_TOOL) + " kinds --json | true; exit ${PIPESTATUS[0]}'");
    EXPECT_TRUE(closed.code == 1 || closed.code == 0);
    const Outcome certainly =
        shell("bash -c '" + std::string(GSWARM_TOOL) + " evaluate " + floorPiece + " | head -c 10 > /dev/null; exit ${PIPESTATUS[0]}'");
    EXPECT_EQ(certainly.code, 1);
    EXPECT_NE(certainly.error.find("could not be written"), std::string::npos) << certainly.error;
}

TEST(ToolWords, ATableIsWholeOrNotThere) {
    const fs::path table = folder() / "table.csv";
    ASSERT_EQ(gswarm("evaluate " + urchin + " --to " + table.string()).code, 0);
    EXPECT_EQ(contentOf(table), gswarm("evaluate " + urchin).out);
    EXPECT_EQ(gswarm("evaluate " + urchin + " --to /dev/full").code, 1);
    EXPECT_TRUE(fs::is_character_file("/dev/full"));
    EXPECT_EQ(gswarm("evaluate " + urchin + " --to /nowhere/table.csv").code, 1);
    // Stopped in the middle, what was there before is there still and nothing lies beside it.
    std::ofstream(table) << "as it was";
    const std::string heavy = "evaluate " + floorPiece + " --set Formation/radius=900 --to ";
    shell("timeout -s TERM 0.3 " + std::string(GSWARM_TOOL) + " " + heavy + table.string());
    const std::string after = contentOf(table);
    if (after != "as it was") {  // this machine was quicker
        const fs::path whole = folder() / "whole.csv";
        ASSERT_EQ(gswarm(heavy + whole.string()).code, 0);
        EXPECT_TRUE(after == contentOf(whole)) << "neither as it was nor whole";
    }
    for (const auto& entry : fs::directory_iterator(folder())) EXPECT_NE(entry.path().extension(), ".part") << entry.path();
}

TEST(ToolWords, ACopyTakesItsFilesAlongAndIsTheSameProject) {
    const fs::path place = folder() / "copy";
    fs::create_directories(place);
    const Outcome made = gswarm("copy " + std::string(GSWARM_SOURCE) + "/demo/shoal.gswarm " + (place / "shoal.gswarm").string());
    EXPECT_EQ(made.code, 0) << made.error;
    EXPECT_TRUE(fs::exists(place / "fish.svg"));
    EXPECT_EQ(gswarm("evaluate " + (place / "shoal.gswarm").string() + " --frame 40").out,
              gswarm("evaluate " + std::string(GSWARM_SOURCE) + "/demo/shoal.gswarm --frame 40").out);
    EXPECT_EQ(gswarm("copy " + urchin + " " + (place / "urchin.txt").string()).code, 2);
    // Another content at a file's place is not overwritten.
    std::ofstream(place / "fish.svg") << "mine";
    EXPECT_EQ(gswarm("copy " + std::string(GSWARM_SOURCE) + "/demo/shoal.gswarm " + (place / "shoal.gswarm").string()).code, 1);
    EXPECT_EQ(contentOf(place / "fish.svg"), "mine");
}

TEST(ToolWords, HelpTellsExitCodesUnitsAndDefaults) {
    EXPECT_NE(gswarm("--help").out.find("Exit codes: 0"), std::string::npos);
    for (const char* command : {"info", "evaluate", "tally", "loop-check", "kinds", "validate", "export", "render", "copy", "bench"}) {
        const Outcome help = gswarm(std::string(command) + " --help");
        EXPECT_EQ(help.code, 0);
        EXPECT_NE(help.out.find("Exit codes: 0"), std::string::npos) << command;
    }
    const std::string render = gswarm("render --help").out;
    for (const char* wanted : {"the project's size if it is left out", "in pixels", "=64", "1 to 4096", "also between two"})
        EXPECT_NE(render.find(wanted), std::string::npos) << wanted;
    EXPECT_NE(gswarm("bench --help").out.find("=1000000"), std::string::npos);
}

TEST(ToolWords, SequencesTellEachFrameAndTheTimeLeft) {
    const std::string out = (folder() / "frame.png").string();
    const Outcome run = gswarm("render " + urchin + " " + out + " --frames 3-4 --size 32x18 --samples 1");
    ASSERT_EQ(run.code, 0) << run.error;
    EXPECT_NE(run.error.find("wrote " + (folder() / "frame-0003.png").string()), std::string::npos) << run.error;
    EXPECT_NE(run.error.find("left"), std::string::npos) << run.error;
    EXPECT_NE(run.error.find("frame-0004.png"), std::string::npos) << run.error;
    EXPECT_TRUE(fs::exists(folder() / "frame-0004.png"));
    const Outcome one = gswarm("render " + urchin + " " + out + " --frame 3 --size 32x18 --samples 1");
    EXPECT_NE(one.error.find("wrote " + out), std::string::npos) << one.error;
}

TEST(ToolWords, SetTakesWhatFieldsTake) {
    const auto rows = [&](const std::string& set) { return gswarm("evaluate " + urchin + " --set " + set).out; };
    const std::string swarm = "\"Spines/";
    EXPECT_EQ(rows(swarm + "position=50cm,1/4,0\""), rows(swarm + "position=0.5,0.25,0\""));
    EXPECT_EQ(rows(swarm + "rotation=0,1/4 turns,0\""), rows(swarm + "rotation=0,90,0\""));
    EXPECT_NE(rows(swarm + "rotation=0,1/4 turns,0\""), rows(swarm + "rotation=0,0,0\""));
    const Outcome wrong = gswarm("evaluate " + urchin + " --set " + swarm + "position=1kg,0,0\"");
    EXPECT_EQ(wrong.code, 1);
    EXPECT_NE(wrong.error.find("“1kg”"), std::string::npos) << wrong.error;
}

TEST(ToolWords, FindingsAreToldAndEverythingElseWorks) {
    const std::string sets = " --set Formation/shape=none --set \"Spines/position.x==1 / (t - t)\"";
    const Outcome info = gswarm("info " + urchin + sets);
    EXPECT_EQ(info.code, 0) << info.error;
    EXPECT_NE(info.out.find("formula gives no"), std::string::npos) << info.out;
    const Json json = Json::parse(gswarm("info " + urchin + sets + " --json").out);
    EXPECT_GE(json["findings"].size(), 2u);
    const Outcome validate = gswarm("validate " + urchin + sets);
    EXPECT_EQ(validate.code, 1);
    EXPECT_NE(validate.error.find("opens, but"), std::string::npos) << validate.error;
    EXPECT_EQ(gswarm("validate " + urchin).code, 0);
}
