// What the real tool measures: every kind, and the yardstick.
#include <gtest/gtest.h>

#include <set>

#include "tests/tool/running.h"

using namespace running;

TEST(Tool, BenchMeasuresEveryKind) {
    const Json bench = Json::parse(gswarm("bench --json --kinds --instances 4000 --runs 3").out);
    std::set<std::pair<std::string, std::string>> measured;
    for (const Json& figure : bench["kinds"]) {
        measured.emplace(figure["family"], figure["kind"]);
        EXPECT_GE(figure["ns_per_instance"].get<double>(), 0) << figure["kind"];
    }
    for (const Json& figure : bench["neighbours"]) measured.emplace("gesture", figure["kind"]);
    for (const Json& kind : Json::parse(gswarm("kinds --json").out))
        for (const char* family : {"pattern", "zone", "gesture"})
            if (kind["family"] == family) {
                EXPECT_TRUE(measured.contains({family, kind["id"]})) << kind["id"];
            }
    EXPECT_EQ(bench["followThrough"]["frame"], 500);
    EXPECT_GT(bench["followThrough"]["cold_ms"], bench["followThrough"]["play_ms"]);
    ASSERT_EQ(bench["neighbours"].size(), 2u);
    EXPECT_GT(bench["neighbours"][0]["frame_ms"], 0);
}

TEST(Tool, BenchPrintsTheYardstick) {
    const Json bench = Json::parse(gswarm("bench --json --instances 20000").out)["yardstick"];
    EXPECT_EQ(bench["threads"], 2);
    EXPECT_NEAR(bench["instances"].get<double>(), 20000, 1000);
    EXPECT_GT(bench["least_ms"], 0);
    EXPECT_GE(bench["frame_ms"], bench["least_ms"]);
    EXPECT_GT(bench["copy_ms"], 0);
    EXPECT_LE(bench["bytes_per_instance"], 64);
    EXPECT_FALSE(bench["target"].get<std::string>().empty());
}
