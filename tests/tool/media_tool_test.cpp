// Clips in the real tool: recorded, read again in a project, and read by the tool where it is installed.
#include <gtest/gtest.h>

#include <cmath>
#include <fstream>
#include <sstream>

#include "tests/tool/running.h"

using namespace running;

namespace {

const std::string porthole = GSWARM_SOURCE "/demo/porthole.gswarm";

/// The porthole with a clip in the place of its camera.
std::string withClip(const std::string& clip) {
    Json project = Json::parse(contentOf(porthole));
    Json& media = project["media"][0]["media"];
    media = {{"kind", "clip"}, {"version", 1}, {"file", clip}, {"colours", "light"}, {"start", 0},
             {"speed", 100},   {"from", 0},    {"to", 0},      {"beyond", "hold"}};
    const fs::path file = folder() / ("with-" + clip + ".gswarm");
    std::ofstream(file) << project.dump();
    return file.string();
}

/// One column of the table of a frame.
std::vector<double> column(const std::string& tool, const std::string& project, int frame) {
    const Outcome table = shell(tool + " evaluate '" + project + "' --swarm Glass --frame " + std::to_string(frame));
    EXPECT_EQ(table.code, 0) << table.error;
    std::vector<double> values;
    std::istringstream lines(table.out);
    std::string line, cell;
    std::getline(lines, line);
    std::size_t which = 0;
    std::istringstream header(line);
    for (std::size_t k = 0; std::getline(header, cell, ','); ++k)
        if (cell.find("position_z") == 0) which = k;
    while (std::getline(lines, line)) {
        std::istringstream cells(line);
        for (std::size_t k = 0; k <= which; ++k) std::getline(cells, cell, ',');
        values.push_back(std::stod(cell));
    }
    return values;
}

}  // namespace

TEST(MediaTool, ARecordingMovesInstancesAsTheCameraDid) {
    const std::string clip = (folder() / "glass.mp4").string();
    const Outcome made = gswarm("record '" + porthole + "' 'Beyond the glass' '" + clip + "' --frames 0-20");
    ASSERT_EQ(made.code, 0) << made.error;
    const std::string project = withClip("glass.mp4"), tool = "'" GSWARM_TOOL "'";
    for (const int frame : {0, 13, 20}) {
        const auto camera = column(tool, porthole, frame), read = column(tool, project, frame);
        ASSERT_EQ(camera.size(), read.size());
        ASSERT_GT(camera.size(), 500u);
        double apart = 0, most = 0;
        for (std::size_t i = 0; i < camera.size(); ++i) apart += std::abs(camera[i] - read[i]), most = std::max(most, camera[i]);
        EXPECT_GT(most, 0.1);
        EXPECT_LT(apart / static_cast<double>(camera.size()), 0.03 * most) << frame;
    }
    // The decoder lies where the installed tool finds it.
    const fs::path prefix = folder() / "media-installed";
    ASSERT_EQ(shell("cmake --install " GSWARM_BUILD " --prefix '" + prefix.string() + "'").code, 0);
    EXPECT_EQ(column("cd / && '" + (prefix / "bin/gswarm").string() + "'", project, 13), column(tool, project, 13));
}

TEST(MediaTool, WhatCantBeRecordedIsTold) {
    const Outcome unknown = gswarm("record '" + porthole + "' Nobody '" + (folder() / "no.mp4").string() + "'");
    EXPECT_EQ(unknown.code, 1);
    EXPECT_NE(unknown.error.find("There are no media “Nobody”"), std::string::npos) << unknown.error;
    const Outcome ending = gswarm("record '" + porthole + "' 'Beyond the glass' '" + (folder() / "no.txt").string() + "'");
    EXPECT_EQ(ending.code, 1);
    EXPECT_NE(ending.error.find("its ending must be .mp4 (H.264) or .mov (ProRes 4444)"), std::string::npos) << ending.error;
    EXPECT_EQ(gswarm("record '" + porthole + "' 'Beyond the glass' x.mp4 --frames 5").code, 2);
    // A damaged clip is told beside the instances, which stay.
    std::ofstream(folder() / "damaged.mp4") << "no clip";
    const Outcome damaged = gswarm("info '" + withClip("damaged.mp4") + "'");
    EXPECT_EQ(damaged.code, 0);
    EXPECT_FALSE(column("'" GSWARM_TOOL "'", withClip("damaged.mp4"), 3).empty());
}
