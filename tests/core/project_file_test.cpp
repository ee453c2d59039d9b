// Saving, loading, and files that mean no good.
#include <gtest/gtest.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>
#include <random>
#include <thread>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/explain/findings.h"
#include "core/file/project_file.h"
#include "core/kinds/registry.h"
#include "core/provide/store.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;
namespace fs = std::filesystem;

namespace {

/// A project with something of everything.
Scene fullScene() {
    Build b = Build::grid(3, 2, 3);
    for (const auto& start : gestureStarts()) b.scene = addGesture(b.scene, b.swarm, start.make()).scene;
    const ObjectId g = b.gesture("noise");
    for (const Kind* zone : kindsOf(Family::zone))
        b.key(b.zone(g, zone->id), "position", {{-5, 0.1, Ease::hold}, {3.5, 1.0 / 3, Ease::eased}, {8, 7, Ease::linear}});
    for (const Kind* shape : kindsOf(Family::shape)) b.scene = addShape(b.scene, *shape).scene;
    return b.scene;
}

struct Folder {
    fs::path path =
        fs::temp_directory_path() / ("gswarm-test-" + std::to_string(::getpid()) + "-" + std::to_string(std::random_device()()));
    Folder() { fs::create_directories(path); }
    ~Folder() { fs::remove_all(path); }
};

/// What opening the text says; empty if it opens.
std::string projectRefusal(const std::string& json) {
    try {
        parseProject(json, "test.gswarm");
        return {};
    } catch (const Error& error) {
        return error.what();
    }
}

std::string changedJson(const std::function<void(nlohmann::ordered_json&)>& change) {
    auto json = nlohmann::ordered_json::parse(toJson(fullScene()));
    change(json);
    return json.dump();
}

}  // namespace

TEST(ProjectFile, SavingWhatWasLoadedGivesTheSameBytes) {
    const std::string first = toJson(fullScene());
    const std::string second = toJson(parseProject(first, "a"));
    EXPECT_EQ(first, second);
    EXPECT_EQ(toJson(parseProject(second, "a")), second);
}

TEST(ProjectFile, LoadingGivesAnEqualScene) {
    const Scene scene = parseProject(toJson(fullScene()), "a");
    EXPECT_TRUE(scene == parseProject(toJson(scene), "a"));
}

TEST(ProjectFile, KeepsMembersItDoesNotKnow) {
    const std::string json = changedJson([](auto& j) {
        j["later"] = {{"a", 1}};
        j["swarms"][0]["mood"] = "calm";
        j["gestures"][0]["pattern"]["depth"] = 3.5;
    });
    const auto saved = nlohmann::json::parse(toJson(parseProject(json, "a")));
    EXPECT_EQ(saved["later"]["a"], 1);
    EXPECT_EQ(saved["swarms"][0]["mood"], "calm");
    EXPECT_EQ(saved["gestures"][0]["pattern"]["depth"], 3.5);
}

TEST(ProjectFile, AVersionOneFileOpensAsTheSameProject) {
    const Scene old = loadProject(GSWARM_SOURCE "/tests/files/tidal-floor-1.gswarm");
    EXPECT_TRUE(old == loadProject(GSWARM_SOURCE "/tests/files/tidal-floor-8.gswarm"));
    EXPECT_NE(toJson(old).find("\"version\": " + std::to_string(projectVersion)), std::string::npos);
}

TEST(ProjectFile, AVersionTwoFileOpensAsTheSameProject) {
    const Scene old = loadProject(GSWARM_SOURCE "/tests/files/urchin-2.gswarm");
    EXPECT_TRUE(parseProject(toJson(old), "again") == old);
    const ObjectId swarm = old.all(ObjectType::swarm).front();
    EXPECT_TRUE(old.at(swarm).list("namedValues").empty());
}

TEST(ProjectFile, AVersionThreeFileOpensAsTheSameProject) {
    const Scene old = loadProject(GSWARM_SOURCE "/tests/files/coral-bell-3.gswarm");
    EXPECT_TRUE(parseProject(toJson(old), "again") == old);
    for (const ObjectId gesture : old.all(ObjectType::gesture)) EXPECT_EQ(choiceOf(old.at(gesture).part("follow"), "weight"), "none");
    for (const ObjectId camera : old.all(ObjectType::camera)) EXPECT_EQ(choiceOf(old.at(camera).part("hang"), "by"), "none");
}

TEST(ProjectFile, ThingsThatStandOnThemselvesAreRefused) {
    Edit edit = addShape(emptyScene(), *findKind(Family::shape, "dual"));
    const ObjectId first = edit.made;
    edit = addShape(edit.scene, *findKind(Family::shape, "clipped"));
    edit.scene = setValue(edit.scene, addressOf(edit.scene, first, "of"), edit.made).scene;
    std::string json = toJson(edit.scene);
    parseProject(json, "sound");
    const auto clipped = json.find("\"kind\": \"clipped\""), of = json.find("null", clipped);
    json.replace(of, 4, "\"" + toText(first) + "\"");
    try {
        parseProject(json, "circle");
        FAIL();
    } catch (const Error& error) {
        const std::string said = error.what();  // the circle may be told from either of them
        EXPECT_TRUE(said.find("Dual → Cut shape → Dual") != std::string::npos ||
                    said.find("Cut shape → Dual → Cut shape") != std::string::npos)
            << said;
    }
}

namespace {

std::vector<std::string> demoFiles() {
    std::vector<std::string> names;
    for (const auto& entry : std::filesystem::directory_iterator(GSWARM_SOURCE "/demo"))
        if (entry.path().extension() == ".gswarm") names.push_back(entry.path().stem());
    std::sort(names.begin(), names.end());
    return names;
}

class DemoFile : public testing::TestWithParam<std::string> {};

}  // namespace

TEST_P(DemoFile, IsSoundByteStableAndCanBeEvaluated) {
    const std::filesystem::path file = std::filesystem::path(GSWARM_SOURCE "/demo") / (GetParam() + ".gswarm");
    Scene scene = loadProject(file);
    EXPECT_TRUE(toJson(scene) == readFile(file, 1 << 24));
    // What remembers begins a lap before its loop: sanitized, which takes twenty times as long, the laps are short.
    if (making::sanitized) scene = setNumber(scene, addressOf(scene, scene.project().id, "loopFrames"), 6, 0).scene;
    Evaluator evaluator(2);
    Progress progress;
    for (const ObjectId swarm : scene.all(ObjectType::swarm))
        EXPECT_GT(evaluator.evaluate(scene, swarm, making::sanitized ? 6 : 30, {{}, file.parent_path()}, progress)->visible, 0);
}

INSTANTIATE_TEST_SUITE_P(Demos, DemoFile, testing::ValuesIn(demoFiles()));

TEST(ProjectFile, HostileFilesGetOneClearSentence) {
    using J = nlohmann::ordered_json;
    const std::vector<std::pair<std::string, std::string>> cases = {
        {"", "damaged"},
        {"{", "damaged"},
        {"[]", "not an object"},
        {"{\"format\":\"other\",\"version\":1}", "not a Gilded Swarm project"},
        {std::string(100000, '['), "nested too deeply"},
        {changedJson([](J& j) { j["version"] = 99; }), "newer Gilded Swarm"},
        {changedJson([](J& j) { j["version"] = "one"; }), "version is not a whole number"},
        {changedJson([](J& j) { j["swarms"][0]["place"]["scale"] = nullptr; }), "is not an object"},
        {changedJson([](J& j) { j["swarms"][0]["place"]["scale"] = "big"; }), "is not an object"},
        {changedJson([](J& j) {
             j["swarms"][0]["place"]["position"] = {1, 2};
         }),
         "not a list of 3 numbers"},
        {changedJson([](J& j) { j["swarms"][0]["place"]["shown"] = 1; }), "not true or false"},
        {changedJson([](J& j) {
             j["swarms"][0]["formations"][0]["formation"]["count"] = {4e9, 1, 1};
         }),
         "must lie between"},
        {changedJson([](J& j) { j["swarms"][0]["formations"][0]["formation"]["kind"] = "spaghetti"; }), "does not know"},
        {changedJson([](J& j) { j["swarms"][0]["formations"][0]["formation"]["version"] = 7; }), "does not know"},
        {changedJson([](J& j) { j["swarms"][0]["place"]["formation"] = nullptr; }), "no formation of its own that is on"},
        {changedJson([](J& j) { j["swarms"][0]["id"] = "s123"; }), "id that is none"},
        {changedJson([](J& j) { j["swarms"].push_back(j["swarms"][0]); }), "used twice"},
        {changedJson([](J& j) { j["swarms"][0]["place"].erase("scale"); }), "has no “scale”"},
        {changedJson([](J& j) { j["zones"][0]["place"]["position"][0]["colour"] = 1; }), "unknown “colour”"},
        {changedJson([&](J& j) { j["swarms"][0]["name"] = std::string(longestName + 1, 'x'); }), "no proper name"},
        {"{\"format\":\"gilded-swarm\",\"version\":5,\"format\":\"x\"}", "“format” stands twice"},
        {changedJson([](J& j) { j["swarms"][0]["rail"][0]["entry"]["gesture"] = j["zones"][0]["id"]; }), "can't refer"},
        {changedJson([](J& j) {
             j["zones"][0]["place"]["position"][0]["keys"] = {{5, 0, "eased", 0, 0}, {5, 1, "eased", 0, 0}};
         }),
         "ascending"},
        {changedJson([](J& j) { j["zones"][0]["place"]["position"][0]["keys"] = J::array(); }), "list of keys"},
        {changedJson([](J& j) { j["zones"][0]["place"]["position"][0]["keys"][0][2] = "bouncy"; }), "unknown ease"},
        {changedJson([](J& j) { j["projects"][0]["settings"]["rate"] = "0"; }), "frame rate"},
        {changedJson([](J& j) { j["projects"] = J::array(); }), "exactly one project"},
    };
    for (const auto& [json, wanted] : cases) {
        const std::string said = projectRefusal(json);
        EXPECT_NE(said.find(wanted), std::string::npos) << "wanted “" << wanted << "”, it said: " << said;
    }
    std::string text = toJson(fullScene());
    const auto at = text.find("\"scale\": 1");
    EXPECT_FALSE(projectRefusal(text.replace(at, 10, "\"scale\": NaN")).empty());
    EXPECT_FALSE(projectRefusal(text.replace(at, 12, "\"scale\": 1e999")).empty());
}

TEST(ProjectFile, HostileWeavesCurvesAndFormulasAreRefusedOrWait) {
    using J = nlohmann::ordered_json;
    const auto formulaGesture = [](J& j) -> J& {
        for (J& gesture : j["gestures"])
            if (gesture["pattern"]["kind"] == "formula") return gesture;
        throw std::logic_error("no formula");
    };
    const std::vector<std::pair<std::string, std::string>> refusals = {
        {changedJson([](J& j) {
             j["gestures"][0]["where"]["points"] = {{0, 0, 1, 1}};
         }),
         "points"},
        {changedJson([](J& j) {
             j["gestures"][0]["where"]["points"] = {{0.9, 0, 1, 1}, {0.1, 1, 1, 1}};
         }),
         "points"},
        {changedJson([](J& j) {
             j["gestures"][0]["where"]["points"] = {{0, 0, 1}, {1, 1, 1}};
         }),
         "curve"},
        {changedJson([](J& j) { j["gestures"][0]["where"]["points"] = "steep"; }), "curve"},
        {changedJson([&](J& j) { formulaGesture(j)["pattern"]["value"] = 3; }), "not an object"},
        {changedJson([&](J& j) { formulaGesture(j)["pattern"]["value"]["formula"] = std::string(longestFormula + 1, '1'); }), "characters"},
        {changedJson([&](J& j) {
             formulaGesture(j)["pattern"]["value"]["names"] = {{"x", 5}};
         }),
         "without an address"},
        {changedJson([](J& j) { j["gestures"].back()["weave"][0]["group"] = {j["gestures"].back()["weave"][1]}; }), "used twice"},
    };
    for (const auto& [json, wanted] : refusals) {
        const std::string said = projectRefusal(json);
        EXPECT_NE(said.find(wanted), std::string::npos) << "wanted “" << wanted << "”, it said: " << said;
    }
    // What can be read but not worked out waits with a sentence; the rest of the rail goes on.
    const auto waits = [](const std::string& json, const std::string& gesture) {
        const Scene scene = parseProject(json, "waits");
        Evaluator evaluator(1);
        Progress progress;
        const auto result = evaluator.evaluate(scene, scene.all(ObjectType::swarm).front(), 0, {}, progress);
        for (const Census& census : result->cards)
            if (scene.at(referenceOf(scene.at(census.entry).part("entry"), "gesture")).name == gesture) return census.waits;
        return std::string("no such card");
    };
    for (const char* formula : {"sin(", "x > 1", "wobble", "((((", "1 +", "\xFF\xFE"}) {
        std::string json = changedJson([&](J& j) { formulaGesture(j)["pattern"]["value"]["formula"] = "@@"; });
        json.replace(json.find("@@"), 2, formula);
        EXPECT_TRUE(!projectRefusal(json).empty() || !waits(json, "Formula").empty()) << formula;
    }
    EXPECT_NE(waits(changedJson([&](J& j) {
                        formulaGesture(j)["pattern"]["value"] = {{"formula", "gone"}, {"names", {{"gone", "z00000000000/radius"}}}};
                    }),
                    "Formula")
                  .find("deleted"),
              std::string::npos);
    const std::string deep = changedJson([](J& j) {
        J& gesture = j["gestures"].back();
        J entry = gesture["weave"][0];
        for (int k = 0; k < 8; ++k) {
            J group = entry;
            group["id"] = "w0000000000" + std::to_string(k);
            group["entry"]["zone"] = nullptr;
            group["group"] = {entry};
            entry = group;
        }
        gesture["weave"] = {entry};
    });
    EXPECT_NE(waits(deep, "Gesture").find("deeper"), std::string::npos) << waits(deep, "Gesture");
}

TEST(ProjectFile, TruncatedFilesAreRefused) {
    const std::string whole = toJson(fullScene());
    for (std::size_t length = 0; length + 2 < whole.size(); length += 977)
        EXPECT_FALSE(projectRefusal(whole.substr(0, length)).empty()) << length;
}

TEST(ProjectFile, DamagedBytesNeverCrash) {
    const std::string whole = toJson(fullScene());
    std::mt19937 dice(7);
    for (int round = 0; round < 400; ++round) {
        std::string damaged = whole;
        for (int k = 0; k < 4; ++k) damaged[dice() % damaged.size()] = static_cast<char>(dice() % 256);
        projectRefusal(damaged);  // refused or opened, but no more than an Error
    }
}

TEST(ProjectFile, OpensWithFilesThatAreOutsideOrGoneAndTellsThem) {
    Folder folder;
    Build b;
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "meshFile")).scene;
    const auto findings = [&] {
        Store store;
        Progress progress;
        PlanOptions options;
        options.projectFolder = folder.path;
        std::string all;
        for (const Finding& finding : findingsIn(loadProject(folder.path / "a.gswarm"), 0, options, store, progress))
            all += finding.sentence;
        return all;
    };
    for (const auto& [file, wanted] : {std::pair{"../secret.obj", "outside the project's folder"},
                                       {"/etc/passwd", "outside the project's folder"},
                                       {"gone.obj", "missing"}}) {
        b.set(b.shape, "file", std::string(file));
        saveProject(b.scene, folder.path / "a.gswarm");
        EXPECT_TRUE(loadProject(folder.path / "a.gswarm") == b.scene) << file;
        EXPECT_NE(findings().find(wanted), std::string::npos) << findings();
    }
    std::ofstream(folder.path / "here.obj") << "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n";
    b.set(b.shape, "file", std::string("here.obj"));
    saveProject(b.scene, folder.path / "a.gswarm");
    EXPECT_EQ(findings(), "");
}

TEST(ProjectFile, AWriteThatCantBeDoneLeavesTheOldFile) {
    EXPECT_THROW(saveProject(fullScene(), "/proc/none/a.gswarm"), Error);
    Folder folder;
    saveProject(fullScene(), folder.path / "a.gswarm");
    const std::string before = readFile(folder.path / "a.gswarm", 1 << 24);
    fs::create_directory(folder.path / ("a.gswarm." + std::to_string(::getpid()) + ".part"));  // stands where the new one would
    EXPECT_THROW(saveProject(emptyScene(), folder.path / "a.gswarm"), Error);
    EXPECT_EQ(readFile(folder.path / "a.gswarm", 1 << 24), before);
}

TEST(ProjectFile, KilledFiftyTimesWhileSavingAlwaysOpens) {
    Folder folder;
    const fs::path path = folder.path / "a.gswarm";
    Build small = Build::grid(1, 1, 1), large = Build::grid(2, 1, 1);
    for (int k = 0; k < 60; ++k) large.gesture("noise");
    const std::string one = toJson(small.scene), other = toJson(large.scene);
    saveProject(small.scene, path);
    std::mt19937 dice(3);
    int interrupted = 0;
    for (int round = 0; round < 50; ++round) {
        const pid_t child = ::fork();
        if (child == 0) {
            for (;;) {  // what saving does once the text is made, so that most kills fall into a write
                writeFileAtomically(path, other);
                writeFileAtomically(path, one);
            }
        }
        std::this_thread::sleep_for(std::chrono::microseconds(300 + dice() % 9000));
        ::kill(child, SIGKILL);
        ::waitpid(child, nullptr, 0);
        const std::string now = readFile(path, 1 << 24);
        EXPECT_TRUE(now == one || now == other) << round;
        EXPECT_NO_THROW(loadProject(path)) << round;
        for (const auto& entry : fs::directory_iterator(folder.path)) interrupted += entry.path().extension() == ".part";
        for (const auto& entry : fs::directory_iterator(folder.path))
            if (entry.path().extension() == ".part") fs::remove(entry.path());
    }
    EXPECT_GT(interrupted, 0) << "no kill fell into a write: the test proves nothing";
}
