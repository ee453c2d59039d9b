// Bodies in the real tool: the same numbers whichever frames are asked for, in tables and in files.
#include <gtest/gtest.h>

#include <sstream>

#include "tests/tool/running.h"

using namespace running;

namespace {

const std::string pearls = GSWARM_SOURCE "/demo/pearls.gswarm";

std::string table(int frame, const std::string& more = {}) {
    const Outcome made = gswarm("evaluate '" + pearls + "' --frame " + std::to_string(frame) + " " + more);
    EXPECT_EQ(made.code, 0) << made.error;
    return made.out;
}

/// Number and place of each line, whose place begins at a column.
std::vector<std::string> placesIn(const std::string& csv, const std::string& begin, std::size_t number) {
    std::vector<std::string> places;
    std::istringstream lines(csv);
    for (std::string line; std::getline(lines, line);) {
        if (!line.starts_with(begin)) continue;
        std::vector<std::string> cells;
        std::istringstream row(line);
        for (std::string cell; std::getline(row, cell, ',');) cells.push_back(cell);
        places.push_back(cells[number] + "," + cells[number + 4] + "," + cells[number + 5] + "," + cells[number + 6]);
    }
    return places;
}

}  // namespace

TEST(BodiesTool, GivesTheSameNumbersByAnyRoute) {
    const std::string first = table(0), stirred = table(60);
    EXPECT_NE(stirred, first);
    EXPECT_EQ(table(249), first) << "all come home within the lap";
    EXPECT_NE(table(60, "--set 'Stir/strive=2'"), stirred);
    // Frame after frame, by one process.
    const fs::path file = folder() / "pearls.csv";
    const Outcome played = gswarm("export '" + pearls + "' '" + file.string() + "' --frames 0-60");
    ASSERT_EQ(played.code, 0) << played.error;
    const auto asked = placesIn(stirred.substr(stirred.find('\n') + 1), "", 0), got = placesIn(contentOf(file), "60,", 1);
    EXPECT_EQ(asked.size(), 635u);
    EXPECT_EQ(asked, got);
}
