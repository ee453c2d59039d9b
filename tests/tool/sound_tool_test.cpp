// Sounds in the real tool: the chorus follows its piece, numbers follow a band, videos are heard, and damaged files are told.
#include <gtest/gtest.h>

#include <fstream>

#include "tests/tool/running.h"

using namespace running;

namespace {

const std::string chorus = GSWARM_SOURCE "/demo/chorus.gswarm";

std::string table(const std::string& project, int frame, const std::string& more = {}) {
    const Outcome made = gswarm("evaluate '" + project + "' --swarm Choir --frame " + std::to_string(frame) + " " + more);
    EXPECT_EQ(made.code, 0) << made.error;
    return made.out;
}

/// The chorus with another file in the place of its piece.
std::string listeningTo(const std::string& file) {
    Json project = Json::parse(contentOf(chorus));
    project["sounds"][0]["sound"]["file"] = file;
    const fs::path to = folder() / "listening.gswarm";
    std::ofstream(to) << project.dump();
    return to.string();
}

}  // namespace

TEST(SoundTool, TheDemoFollowsItsPiece) {
    const std::string first = table(chorus, 40);
    EXPECT_EQ(first, table(chorus, 40));
    EXPECT_NE(first, table(chorus, 48));
    EXPECT_EQ(first, table(chorus, 290)) << "a lap later: the piece closes on itself";
    // A project elsewhere without its sound waits, and says so.
    const Outcome info = gswarm("info '" + listeningTo("gone.wav") + "'");
    EXPECT_EQ(info.code, 0);
    EXPECT_NE((info.out + info.error).find("gone.wav"), std::string::npos) << info.out << info.error;
    std::ofstream(folder() / "damaged.wav") << "no sound";
    const Outcome damaged = gswarm("info '" + listeningTo("damaged.wav") + "'");
    EXPECT_NE((damaged.out + damaged.error).find("“damaged.wav” is damaged, or no sound that can be read"), std::string::npos)
        << damaged.out << damaged.error;
}

TEST(SoundTool, ANumberFollowsABand) {
    const std::string follows = "--set \"Bands/strength==100 * 'Song of the pipes'.'heard-bass'\"";
    const std::string loud = table(chorus, 0, follows), soft = table(chorus, 60, follows);
    EXPECT_NE(loud, soft);
    EXPECT_NE(loud, table(chorus, 0));
    const Outcome set = gswarm("evaluate '" + chorus + "' --swarm Choir --set \"Song of the pipes/heard-bass=1\"");
    EXPECT_EQ(set.code, 1);
    EXPECT_NE(set.error.find("is what is heard, and can't be set"), std::string::npos) << set.error;
}

TEST(SoundTool, AVideoIsHeard) {
    const fs::path video = folder() / "heard.mp4";
    const Outcome made = gswarm("export '" + chorus + "' '" + video.string() + "' --frames 0-4 --width 64 --height 36 --samples 1");
    ASSERT_EQ(made.code, 0) << made.error;
    const Outcome streams = shell("ffprobe -v error -show_entries stream=codec_type -of csv=p=0 '" + video.string() + "'");
    if (streams.code == 127) GTEST_SKIP() << "ffprobe is not installed";
    EXPECT_NE(streams.out.find("video"), std::string::npos);
    EXPECT_NE(streams.out.find("audio"), std::string::npos);
    // A copy of the project takes its sound along.
    const fs::path copy = folder() / "copied" / "chorus.gswarm";
    fs::create_directories(copy.parent_path());
    ASSERT_EQ(gswarm("copy '" + chorus + "' '" + copy.string() + "'").code, 0);
    EXPECT_EQ(contentOf(copy.parent_path() / "chorus.wav"), contentOf(GSWARM_SOURCE "/demo/chorus.wav"));
    EXPECT_EQ(table(copy.string(), 40), table(chorus, 40));
}
