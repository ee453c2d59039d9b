// Files beside a project and whole files: links, devices, pipes, modes.
#include <gtest/gtest.h>
#include <sys/stat.h>
#include <unistd.h>

#include <filesystem>
#include <fstream>
#include <thread>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/base/outside_file.h"
#include "tests/core/making.h"

using namespace gswarm;
namespace fs = std::filesystem;

namespace {

/// A project's folder with a file in it, and a file outside.
struct Place {
    fs::path outer = making::temporaryFolder() / "outside", folder = outer / "project";
    Place() {
        fs::remove_all(outer);
        fs::create_directories(folder / "inner");
        std::ofstream(folder / "in.obj") << "in";
        std::ofstream(outer / "secret.obj") << "secret";
    }
};

std::string linkRefusal(const std::string& typed, const fs::path& folder) {
    try {
        pathInProject(typed, folder);
        return {};
    } catch (const Error& error) {
        return error.what();
    }
}

}  // namespace

TEST(OutsideFile, LinksThatLeadOutOfTheFolderAreRefusedByWhateverWay) {
    const Place p;
    fs::create_symlink(p.outer / "secret.obj", p.folder / "link.obj");
    fs::create_directory_symlink(p.outer, p.folder / "up");
    fs::create_symlink(p.folder / "in.obj", p.folder / "near.obj");
    for (const char* typed : {"link.obj", "nope/../link.obj", "inner/../link.obj", "up/secret.obj", "../secret.obj",
                              "inner/../../secret.obj", "nope/../../secret.obj", "/etc/passwd"})
        EXPECT_FALSE(linkRefusal(typed, p.folder).empty()) << typed;
    for (const char* typed : {"link.obj", "up/secret.obj", "../secret.obj", "/etc/passwd"})
        EXPECT_NE(linkRefusal(typed, p.folder).find("outside"), std::string::npos) << typed << ": " << linkRefusal(typed, p.folder);
    EXPECT_NE(linkRefusal("gone.obj", p.folder).find("missing"), std::string::npos);
    EXPECT_NE(linkRefusal(std::string("in.obj") + std::string(1, 0) + "x", p.folder).find("outside"), std::string::npos);
    EXPECT_EQ(linkRefusal("in.obj", p.folder), "");
    EXPECT_EQ(linkRefusal("near.obj", p.folder), "");
    EXPECT_EQ(linkRefusal("inner/../in.obj", p.folder), "");
}

TEST(OutsideFile, TheFolderItselfMayBeALink) {
    const Place p;
    fs::create_directory_symlink(p.folder, p.outer / "alias");
    fs::create_symlink(p.outer / "secret.obj", p.folder / "link.obj");
    EXPECT_EQ(linkRefusal("in.obj", p.outer / "alias"), "");
    EXPECT_NE(linkRefusal("link.obj", p.outer / "alias").find("outside"), std::string::npos);
    EXPECT_NE(linkRefusal("../secret.obj", p.outer / "alias").find("outside"), std::string::npos);
}

TEST(AtomicFile, KeepsModeAndFollowsLinks) {
    const Place p;
    ::chmod((p.folder / "in.obj").c_str(), 0600);
    fs::create_symlink("in.obj", p.folder / "link.obj");
    writeFileAtomically(p.folder / "link.obj", "new");
    EXPECT_TRUE(fs::is_symlink(p.folder / "link.obj"));
    EXPECT_EQ(readFile(p.folder / "in.obj", 100), "new");
    struct stat now {};
    ASSERT_EQ(::stat((p.folder / "in.obj").c_str(), &now), 0);
    EXPECT_EQ(now.st_mode & 0777, 0600u);
    // A link whose end is not there yet gets its end.
    fs::create_symlink("later.obj", p.folder / "dangling.obj");
    writeFileAtomically(p.folder / "dangling.obj", "made");
    EXPECT_TRUE(fs::is_symlink(p.folder / "dangling.obj"));
    EXPECT_EQ(readFile(p.folder / "later.obj", 100), "made");
}

TEST(AtomicFile, PipesAndDevicesStayWhatTheyAre) {
    const Place p;
    const fs::path pipe = p.folder / "pipe";
    ASSERT_EQ(::mkfifo(pipe.c_str(), 0600), 0);
    std::string read;
    std::thread reader([&] {
        std::ifstream in(pipe);
        std::getline(in, read, '\0');
    });
    writeFileAtomically(pipe, "through");
    reader.join();
    EXPECT_EQ(read, "through");
    EXPECT_TRUE(fs::is_fifo(pipe));
    EXPECT_THROW(writeFileAtomically("/dev/full", "x"), Error);
    EXPECT_TRUE(fs::is_character_file("/dev/full"));
    writeFileAtomically("/dev/null", "x");
    EXPECT_TRUE(fs::is_character_file("/dev/null"));
    EXPECT_THROW(writeFileAtomically(p.folder, "x"), Error);
}

TEST(AtomicFile, WhatIsNotCommittedLeavesEverythingAsItWas) {
    const Place p;
    {
        AtomicFile file(p.folder / "in.obj");
        file.stream() << std::string(200'000, 'x');
    }
    EXPECT_EQ(readFile(p.folder / "in.obj", 100), "in");
    int files = 0;
    for (const auto& entry : fs::directory_iterator(p.folder)) files += entry.is_regular_file();
    EXPECT_EQ(files, 1);
    AtomicFile file(p.folder / "in.obj");
    file.stream() << std::string(200'000, 'y') << "end";
    file.commit();
    EXPECT_EQ(readFile(p.folder / "in.obj", 1 << 20).size(), 200'003u);
}
