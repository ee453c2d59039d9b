// bake: the same numbers with baked frames as without, wherever they lie.
#include <gtest/gtest.h>

#include <fstream>

#include "tests/tool/running.h"

using namespace running;

namespace {

const std::string demos = GSWARM_SOURCE "/demo/";

/// A copy of a demo in a folder of its own.
std::string copied(const char* where, const char* demo) {
    fs::create_directories(folder() / where);
    const fs::path file = folder() / where / (std::string(demo) + ".gswarm");
    fs::copy_file(demos + demo + ".gswarm", file);
    return file.string();
}

}  // namespace

TEST(BakeTool, GivesTheSameNumbersHereAndElsewhere) {
    const std::string here = copied("bake-here", "pearls"), there = copied("bake-there", "pearls");
    const Outcome plain = gswarm("evaluate '" + here + "' --frame 40");
    ASSERT_EQ(plain.code, 0) << plain.error;
    const Outcome baked = gswarm("bake '" + here + "' --frames 0-40");
    ASSERT_EQ(baked.code, 0) << baked.error;
    const std::string file = (folder() / "bake-here/pearls.bake").string();
    EXPECT_TRUE(fs::exists(file));
    EXPECT_EQ(gswarm("evaluate '" + here + "' --frame 40").out, plain.out);
    // Another machine has the project in another place, and is told where the file is.
    EXPECT_EQ(gswarm("evaluate '" + there + "' --frame 40 --bake '" + file + "'").out, plain.out);
    // A damaged one is told, and does without.
    std::ofstream(folder() / "bake-there/pearls.bake") << "not that";
    const Outcome damaged = gswarm("evaluate '" + there + "' --frame 40");
    EXPECT_EQ(damaged.code, 0);
    EXPECT_EQ(damaged.out, plain.out);
    EXPECT_NE(damaged.error.find("“pearls.bake” holds no baked frames; it is passed over."), std::string::npos) << damaged.error;
    EXPECT_EQ(gswarm("evaluate '" + there + "' --bake nowhere.bake").code, 2);
}

TEST(BakeTool, SaysWhereThereIsNothingToBake) {
    const std::string grotto = copied("bake-nothing", "grotto");
    const Outcome nothing = gswarm("bake '" + grotto + "'");
    EXPECT_EQ(nothing.code, 1);
    EXPECT_NE(nothing.error.find("there is nothing to bake"), std::string::npos) << nothing.error;
    EXPECT_FALSE(fs::exists(folder() / "bake-nothing/grotto.bake"));
}
