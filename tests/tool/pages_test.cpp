// What README, CONTRIBUTING and the guide say to type works: every command of theirs is run.
#include <gtest/gtest.h>

#include <algorithm>
#include <fstream>
#include <nlohmann/json.hpp>
#include <regex>
#include <set>
#include <sstream>

#include "tests/tool/running.h"

using namespace running;

namespace {

const fs::path source = GSWARM_SOURCE;

struct Command {
    std::string page, line;
};

/// The lines of code blocks, without what is said behind them in columns.
std::vector<Command> commands() {
    std::vector<fs::path> pages{source / "README.md", source / "CONTRIBUTING.md"};
    for (const auto& entry : fs::directory_iterator(source / "docs/guide")) pages.push_back(entry.path());
    std::vector<Command> out;
    for (const fs::path& page : pages) {
        std::ifstream text(page);
        bool code = false;
        for (std::string line; std::getline(text, line);) {
            if (line.starts_with("```"))
                code = !code;
            else if (code && !line.empty() && line[0] != ' ')
                out.push_back({page.filename().string(), std::regex_replace(line, std::regex("   +.*"), "")});
        }
    }
    return out;
}

/// Small pictures and few frames, so that a test can wait for them.
std::string quick(std::string line) {
    if (line.starts_with("gswarm render")) {
        line = std::regex_replace(line, std::regex("--size [0-9x]+"), "") + " --size 48x27";
        line = std::regex_replace(line, std::regex("--samples [0-9]+"), "") + " --samples 1";
        line = std::regex_replace(line, std::regex("--frames ([0-9]+)-[0-9]+"), "--frames $1-$1");
    }
    if (line.starts_with("gswarm export")) line = std::regex_replace(line, std::regex("--frames ([0-9]+)-[0-9]+"), "--frames $1-$1");
    if (line.starts_with("gswarm bench")) line += " --instances 2000 --runs 3";
    if (line.starts_with("gswarm export") && line.find("--baked") != std::string::npos) line += " --frames 3-5";
    return line;
}

/// Pages that name commands of the tool; each is a test of its own, so that all cores work.
std::vector<std::string> pagesWithCommands() {
    std::set<std::string> pages;
    for (const Command& command : commands())
        if (command.line.starts_with("gswarm ")) pages.insert(command.page);
    return {pages.begin(), pages.end()};
}

/// A folder in which the page's paths mean what they mean at the root of the project.
fs::path workplace(const std::string& page) {
    const fs::path place = folder() / "pages" / page;
    fs::create_directories(place / "docs");
    if (!fs::exists(place / "demo")) fs::create_directory_symlink(source / "demo", place / "demo");
    fs::create_directories(place / "docs/schema");
    return place;
}

}  // namespace

TEST(Pages, NameManyCommands) { EXPECT_GE(pagesWithCommands().size(), 3u); }

class Page : public testing::TestWithParam<std::string> {};

TEST_P(Page, EveryCommandOfTheToolWorksAndWritesWhatItNames) {
    const fs::path place = workplace(GetParam());
    for (const Command& command : commands()) {
        if (command.page != GetParam() || !command.line.starts_with("gswarm ")) continue;
        const std::string line = quick(command.line);
        const Outcome outcome = shell("cd " + place.string() + " && " + std::string(GSWARM_TOOL) + line.substr(6));
        EXPECT_EQ(outcome.code, 0) << command.page << ": " << command.line << "\n" << outcome.error;
        const bool toFile = line.find('>') != std::string::npos;
        std::smatch file;
        if (std::regex_search(line, file,
                              std::regex("(?:render|export|copy|record|bake) \\S+ (?:\"[^\"]*\" |--to "
                                         ")?(\\S+)\\.(png|exr|mp4|webm|glb|usda|ply|obj|csv|npy|gswarm|bake)"))) {
            const bool sequence = line.find("--frames") != std::string::npos && file[2] == "png";
            bool there = !sequence && fs::exists(place / (file[1].str() + "." + file[2].str()));
            for (const auto& entry : fs::directory_iterator(place))
                there = there || (sequence && entry.path().filename().string().starts_with(file[1].str() + "-"));
            EXPECT_TRUE(there) << command.line;
        } else {
            EXPECT_TRUE(toFile || !outcome.out.empty()) << command.page << ": " << command.line;
        }
        if (line.find("--json") != std::string::npos && !toFile) {
            EXPECT_FALSE(Json::parse(outcome.out, nullptr, false).is_discarded()) << command.line;
        }
        if (line.find("instances.csv") != std::string::npos) {
            EXPECT_TRUE(contentOf(place / "instances.csv").starts_with("number,id"));
        }
    }
}
INSTANTIATE_TEST_SUITE_P(Pages, Page, testing::ValuesIn(pagesWithCommands()));

TEST(Pages, EveryScriptProgramAndPresetIsThere) {
    const std::string presets = contentOf(source / "CMakePresets.json");
    int seen = 0;
    for (const Command& command : commands()) {
        std::istringstream words(command.line);
        std::string first;
        words >> first;
        if (first.starts_with("scripts/") || first == ".ci/run") {
            ++seen;
            ASSERT_TRUE(fs::exists(source / first)) << command.page << ": " << command.line;
            EXPECT_EQ(shell("bash -n " + (source / first).string()).code, 0) << first;
            EXPECT_NE(fs::status(source / first).permissions() & fs::perms::owner_exec, fs::perms::none) << first;
        } else if (first.starts_with("build/release/bench/")) {
            ++seen;
            EXPECT_NE(contentOf(source / "bench/CMakeLists.txt").find(fs::path(first).filename().string()), std::string::npos) << first;
        } else if (first == "cmake") {
            ++seen;
            std::smatch names;
            ASSERT_TRUE(std::regex_search(command.line, names, std::regex("--preset (\\S+)"))) << command.line;
            std::istringstream each(names[1].str());
            for (std::string name; std::getline(each, name, '|');)
                EXPECT_NE(presets.find("\"name\": \"" + name + "\""), std::string::npos) << name;
        } else {
            EXPECT_TRUE(first == "gswarm" || command.line.find('/') != std::string::npos || command.line.find("CMake") != std::string::npos)
                << command.page << ": what is “" << command.line << "”?";
        }
    }
    EXPECT_GT(seen, 8);
}

TEST(Pages, NamesOfExportsAreThoseOfTheMenu) {
    const std::string guide = contentOf(source / "docs/guide/export.md");
    int names = 0;
    for (const auto& kind : nlohmann::json::parse(gswarm("kinds --json").out)) {
        if (kind["family"] != "exporter") continue;
        ++names;
        for (const char* word : {"label", "id"}) EXPECT_NE(guide.find(kind[word].get<std::string>()), std::string::npos) << kind[word];
    }
    EXPECT_GE(names, 5);
}

TEST(Pages, TheManPageNamesEveryCommandAndOption) {
    const std::string page = std::regex_replace(contentOf(source / "docs/man/gswarm.1"), std::regex(R"(\\-)"), "-");
    const auto wordsIn = [](const std::string& help, const std::regex& word) {
        std::vector<std::string> words;
        for (std::sregex_iterator at(help.begin(), help.end(), word), end; at != end; ++at) words.push_back((*at)[1]);
        return words;
    };
    const std::string help = gswarm("--help").out;
    const auto commands = wordsIn(help.substr(help.find("Subcommands:")), std::regex("\n  ([a-z-]+) "));
    EXPECT_GE(commands.size(), 9u);
    for (const std::string& command : commands) {
        EXPECT_NE(page.find(command), std::string::npos) << command;
        for (const std::string& option : wordsIn(gswarm(command + " --help").out, std::regex("\n  (?:-[a-z],)?(--[a-z]+)")))
            EXPECT_NE(page.find(option), std::string::npos) << command << ' ' << option;
    }
}
