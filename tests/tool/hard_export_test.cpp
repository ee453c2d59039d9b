// Exports where something is wrong or unusual: full disks, folders that can't be written, names that are taken, nothing to show.
#include <gtest/gtest.h>

#include <unistd.h>

#include <regex>

#include "tests/tool/running.h"

using namespace running;

namespace {

const std::string urchinPiece = GSWARM_SOURCE "/demo/urchin.gswarm";

struct Way {
    const char *as, *ending, *more;
};
constexpr Way ways[] = {{"still", ".png", " --width 320 --height 180 --live --bits 8"},
                        {"layered", ".exr", " --width 320 --height 180 --samples 1"},
                        {"h264", ".mp4", " --width 320 --height 180 --live --frames 40-44 --quality 100"},
                        {"proRes422", ".mov", " --width 320 --height 180 --live --frames 40-41"},
                        {"gif", ".gif", " --width 320 --height 180 --live --frames 40-44"},
                        {"gltf", ".glb", " --frame 40"},
                        {"baked", ".glb", " --frames 40-44"},
                        {"usd", ".usda", " --frame 40"},
                        {"plyPoints", ".ply", " --frame 40 --encoding text"},
                        {"plyMesh", ".ply", " --frame 40"},
                        {"obj", ".obj", " --frame 40"},
                        {"csv", ".csv", " --frame 40"},
                        {"csvFrames", ".csv", " --frames 40-44"},
                        {"npy", ".npy", " --frames 40-44"}};

Outcome exported(const Way& way, const fs::path& place, const std::string& more = {}) {
    return gswarm("export " + urchinPiece + " '" + (place / ("out" + std::string(way.ending))).string() + "' --as " + way.as + way.more +
                  more);
}

/// A small disk, where this machine lets us have one.
struct Disk {
    fs::path place = folder() / "disk";
    bool mounted = false;

    explicit Disk(const std::string& options) {
        fs::create_directories(place);
        mounted = std::system(("mount -t tmpfs -o " + options + " tmpfs '" + place.string() + "' 2> /dev/null").c_str()) == 0;
    }
    ~Disk() {
        if (mounted) (void)std::system(("umount '" + place.string() + "'").c_str());
    }
};

}  // namespace

TEST(HardExport, AFullDiskIsToldAndLeavesNothingHalfWritten) {
    const Disk disk("size=16k");
    if (!disk.mounted) GTEST_SKIP() << "no small disk can be mounted here";
    for (const Way& way : ways) {
        const Outcome run = exported(way, disk.place);
        EXPECT_EQ(run.code, 1) << way.as;
        EXPECT_FALSE(run.error.empty()) << way.as;
        EXPECT_TRUE(run.error.find("space") != std::string::npos || run.error.find("free") != std::string::npos)
            << way.as << ": " << run.error;
        EXPECT_TRUE(fs::is_empty(disk.place)) << way.as;
    }
}

TEST(HardExport, AFolderThatCantBeWrittenIsTold) {
    if (GSWARM_SANITIZED) GTEST_SKIP() << "the same way out as of a full disk, sanitized there";
    const Disk disk("ro,size=16k");
    if (!disk.mounted) GTEST_SKIP() << "no disk can be mounted here";
    for (const Way& way : ways) {
        const Outcome run = exported(way, disk.place);
        EXPECT_EQ(run.code, 1) << way.as;
        EXPECT_NE(run.error.find("out"), std::string::npos) << way.as << ": " << run.error;
    }
}

TEST(HardExport, ADiskThatIsPulledOutIsTold) {
    if (GSWARM_SANITIZED) GTEST_SKIP() << "the same way out as of a full disk, sanitized there";
    const Disk disk("size=16m");
    if (!disk.mounted) GTEST_SKIP() << "no disk can be mounted here";
    // It goes once the second file is there, in the middle of the work.
    const std::string place = disk.place.string();
    const Outcome run =
        shell("( until [ -e '" + place + "/out-0001.png' ]; do sleep 0.05; done; umount -l '" + place + "' ) & '" GSWARM_TOOL "' export " +
              urchinPiece + " '" + place + "/out.png' --frames 0-20 --width 320 --height 180 --samples 4; code=$?; " + "wait; exit $code");
    EXPECT_EQ(run.code, 0) << "the folder under it is there, so it goes on in it";
    EXPECT_TRUE(fs::exists(disk.place / "out-0020.png"));
    EXPECT_FALSE(fs::exists(disk.place / "out-0000.png")) << "gone with the disk";
    // Asked for again, what went with it is made, and what is whole is kept.
    const Outcome again =
        gswarm("export " + urchinPiece + " '" + place + "/out.png' --frames 0-20 --width 320 --height 180 --samples 4 --json");
    EXPECT_EQ(again.code, 0) << again.error;
    EXPECT_GT(Json::parse(again.out)["kept"], 0);
    EXPECT_LT(Json::parse(again.out)["kept"], 21);
    EXPECT_TRUE(fs::exists(disk.place / "out-0000.png"));
}

TEST(HardExport, AFolderThatGoesIsTold) {
    const fs::path place = folder() / "pulled";
    fs::create_directories(place);
    const Outcome run = shell("( until [ -e '" + place.string() + "/out-0001.png' ]; do sleep 0.05; done; mv '" + place.string() + "' '" +
                              place.string() + "-gone' ) & '" GSWARM_TOOL "' export " + urchinPiece + " '" + place.string() +
                              "/out.png' --frames 0-60 --width 320 --height 180 --samples 4; "
                              "code=$?; wait; exit $code");
    EXPECT_EQ(run.code, 1);
    EXPECT_NE(run.error.find("out-"), std::string::npos) << run.error;
}

TEST(HardExport, AFolderOfThatNameStays) {
    if (GSWARM_SANITIZED) GTEST_SKIP() << "the same way out as of a full disk, sanitized there";
    for (const Way& way : ways) {
        const fs::path place = folder() / ("taken " + std::string(way.as));
        fs::create_directories(place / ("out" + std::string(way.ending)) / "mine");
        const Outcome run = exported(way, place, " --replace");
        EXPECT_EQ(run.code, 1) << way.as;
        EXPECT_FALSE(run.error.empty()) << way.as;
        EXPECT_TRUE(fs::exists(place / ("out" + std::string(way.ending)) / "mine")) << way.as;
    }
}

TEST(HardExport, ASwarmThatShowsNothingIsWrittenOrToldPlainly) {
    const fs::path place = folder() / "nothing";
    fs::create_directories(place);
    for (const Way& way : ways) {
        const Outcome run = exported(way, place, " --replace --set Spines/shown=off --set Dome/display-as=hidden");
        EXPECT_TRUE(run.code == 0 || run.code == 1) << way.as << ": " << run.error;
        EXPECT_TRUE(run.code == 0 || run.error.find("Nothing is shown") != std::string::npos) << way.as << ": " << run.error;
        const fs::path file = place / ("out" + std::string(way.ending));
        if (run.code == 0) {
            const std::string content = contentOf(file);
            EXPECT_FALSE(content.empty()) << way.as;
            EXPECT_FALSE(std::regex_search(content, std::regex("[ ,(\\[]-?(nan|inf)[ ,)\\]\n]"))) << way.as;
        }
        fs::remove(file);
    }
}

TEST(HardExport, TenThousandFramesAreOneFile) {
    if (GSWARM_SANITIZED) GTEST_SKIP() << "two minutes of the same, sanitized";
    const fs::path place = folder() / "long";
    fs::create_directories(place);
    const std::string few = " --set Formation/rings=1 --frames 0-9999";
    const std::string tiles = GSWARM_SOURCE "/demo/tidal-floor.gswarm";
    ASSERT_EQ(gswarm("export " + tiles + " " + (place / "long.npy").string() + few).code, 0);
    ASSERT_EQ(gswarm("export " + tiles + " " + (place / "long.usda").string() + " --as usdAnimation" + few).code, 0);
    EXPECT_NE(contentOf(place / "long.npy").find("(70000,)"), std::string::npos);
    const std::string stage = contentOf(place / "long.usda");
    EXPECT_NE(stage.find("endTimeCode = 9999"), std::string::npos);
    EXPECT_NE(stage.find("\n            9999: ["), std::string::npos);
}

TEST(HardExport, WhatDoesNotFitIsRefusedBeforeItIsBegun) {
    const Disk disk("size=16k");
    if (!disk.mounted) GTEST_SKIP() << "no small disk can be mounted here";
    const Outcome run = gswarm("export " + urchinPiece + " '" + (disk.place / "out.ply").string() + "' --as plyMesh --frame 40");
    EXPECT_EQ(run.code, 1);
    EXPECT_NE(run.error.find("That takes about"), std::string::npos) << run.error;
    EXPECT_NE(run.error.find("are free in that folder; nothing was written"), std::string::npos) << run.error;
}
