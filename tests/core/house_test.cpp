// The house has one direction of knowledge: a folder includes only from itself and from folders before it in these lists.
#include <gtest/gtest.h>
#include <unistd.h>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <regex>
#include <string>
#include <vector>

namespace fs = std::filesystem;

namespace {

using Order = std::vector<std::string>;

/// From what knows nothing to what knows most. A new folder gets its place here.
const Order core = {
    "base",    "scene",                           // values
    "time",    "response", "formula", "resolve",  // what a number is
    "shape",   "material", "media",   "sound",    "light",    "physics", "formation", "pattern",
    "zone",    "force",    "gesture", "symmetry", "kinds",                                        // kinds
    "edit",    "file",                                                                            // scenes
    "flow",    "provide",  "memory",  "prepare",  "evaluate", "read",    "explain",   "arrange",  // evaluation
    "picture", "exchange", "measure",                                                             // what comes out
};
const Order app = {"theme", "document", "fields",  "finder", "help", "export",   "scene",  "ledger",
                   "sound", "time",     "picture", "look",   "rail", "settings", "window", "tour"};

/// "file -> folder it must not know" for every include that goes the wrong way.
std::vector<std::string> wrongWays(const fs::path& root, const std::string& part, const Order& order) {
    const std::regex include("#include \"" + part + "/([a-z_]+)/[^\"]+\"");
    std::vector<std::string> wrong;
    const auto rank = [&](const std::string& folder) {
        const auto found = std::find(order.begin(), order.end(), folder);
        if (found == order.end()) wrong.push_back(part + "/" + folder + " has no place in the order");
        return found - order.begin();
    };
    for (const auto& entry : fs::recursive_directory_iterator(root / part)) {
        const std::string ending = entry.path().extension().string();
        if ((ending != ".h" && ending != ".cpp") || entry.path().parent_path() == root / part) continue;
        const std::string file = fs::relative(entry.path(), root / part).string();
        const auto mine = rank(file.substr(0, file.find('/')));
        std::ifstream in(entry.path());
        std::smatch match;
        for (std::string line; std::getline(in, line);)
            if (std::regex_search(line, match, include) && rank(match[1]) > mine) wrong.push_back(file + " -> " + match[1].str());
    }
    return wrong;
}

std::string joined(const std::vector<std::string>& lines) {
    std::string all;
    for (const auto& line : lines) all += line + "\n";
    return all;
}

}  // namespace

TEST(House, TheCoreKnowsOneDirection) { EXPECT_EQ(joined(wrongWays(GSWARM_SOURCE, "core", core)), ""); }

TEST(House, TheWindowKnowsOneDirection) { EXPECT_EQ(joined(wrongWays(GSWARM_SOURCE, "app", app)), ""); }

TEST(House, TheLiveViewKnowsNeitherWindowNorTool) {
    const std::regex outside("#include [\"<](app/|tool/|Q[A-Z])");
    for (const auto& entry : fs::directory_iterator(GSWARM_SOURCE "/live")) {
        std::ifstream in(entry.path());
        for (std::string line; std::getline(in, line);) EXPECT_FALSE(std::regex_search(line, outside)) << entry.path() << ": " << line;
    }
}

TEST(House, TheCoreKnowsNeitherWindowNorTool) {
    const std::regex outside("#include [\"<](app/|tool/|live/|epoxy/|Q[A-Z]|GL/)");
    for (const auto& entry : fs::recursive_directory_iterator(GSWARM_SOURCE "/core")) {
        const std::string ending = entry.path().extension().string();
        if (ending != ".h" && ending != ".cpp") continue;
        std::ifstream in(entry.path());
        // The tessellator of GLU is a library of geometry; nothing of OpenGL comes with it.
        for (std::string line; std::getline(in, line);)
            EXPECT_FALSE(std::regex_search(line, outside) && line.find("GL/glu.h") == std::string::npos) << entry.path() << ": " << line;
    }
}

TEST(House, AnArrowTheWrongWayIsFound) {
    const fs::path root = fs::temp_directory_path() / ("gswarm-house-" + std::to_string(::getpid()));
    fs::create_directories(root / "core/base");
    std::ofstream(root / "core/base/wrong.cpp") << "#include \"core/scene/scene.h\"\n";
    EXPECT_EQ(wrongWays(root, "core", core), std::vector<std::string>{"base/wrong.cpp -> scene"});
    fs::create_directories(root / "core/strange");
    std::ofstream(root / "core/strange/new.cpp") << "int x;\n";
    EXPECT_EQ(wrongWays(root, "core", core).size(), 2u);
    fs::remove_all(root);
}
