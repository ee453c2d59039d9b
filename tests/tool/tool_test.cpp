// The real binary: its numbers, its files and its exit codes.
#include <gtest/gtest.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <map>
#include <nlohmann/json.hpp>
#include <random>
#include <set>
#include <sstream>

#include "tests/tool/running.h"

using namespace running;

namespace {

const std::string tidalFloor = GSWARM_SOURCE "/demo/tidal-floor.gswarm";

std::vector<std::vector<std::string>> table(const std::string& csv) {
    std::vector<std::vector<std::string>> rows;
    std::istringstream lines(csv);
    for (std::string line; std::getline(lines, line);) {
        rows.emplace_back();
        std::istringstream fields(line);
        for (std::string field; std::getline(fields, field, ',');) rows.back().push_back(field);
    }
    return rows;
}

}  // namespace

TEST(Tool, InfoTellsRangeRateAndSwarms) {
    const Outcome run = gswarm("info " + tidalFloor + " --json");
    ASSERT_EQ(run.code, 0) << run.error;
    const Json info = Json::parse(run.out);
    EXPECT_EQ(info["firstFrame"], 0);
    EXPECT_EQ(info["lastFrame"], 149);
    EXPECT_EQ(info["rate"], 25.0);
    EXPECT_EQ(info["loopFrames"], 150.0);
    EXPECT_EQ(info["swarms"][0]["name"], "Floor");
    EXPECT_EQ(info["swarms"][0]["instances"], 1 + 3 * 25 * 26);
}

TEST(Tool, InfoTellsOverlapsNotesAndWhatStandsInTheWay) {
    const std::string sign = GSWARM_SOURCE "/demo/reef-sign.gswarm";
    const auto swarm = [&](const std::string& set) { return Json::parse(gswarm("info " + sign + " --json " + set).out)["swarms"][0]; };
    const Json fitted = swarm("");
    EXPECT_GT(fitted["instances"], 5000);
    EXPECT_EQ(fitted["overlapping"], 0);
    EXPECT_TRUE(fitted["notes"].empty());
    EXPECT_EQ(swarm("--set \"Sign/stock-rule-gap=-10\"")["overlapping"], fitted["instances"]);
    const Json wider = swarm("--set Formation/spacing=0.2");
    EXPECT_LT(wider["instances"], fitted["instances"]);
    const Json other = swarm("--set \"Lettering/font=No Such Font\"");
    EXPECT_EQ(other["instances"], fitted["instances"]);
    EXPECT_NE(other["notes"][0].get<std::string>().find("“No Such Font” is not installed"), std::string::npos);
    EXPECT_NE(swarm("--set Formation/spacing=0.0005")["problem"].get<std::string>().find("more than the limit of 16 000 000"),
              std::string::npos);
    EXPECT_NE(gswarm("info " + sign + " --set Formation/shape=Nowhere").error.find("no object “Nowhere”"), std::string::npos);
}

TEST(Tool, SetsPointsChoicesAndFormations) {
    const std::string kelp = GSWARM_SOURCE "/tests/files/seven-kelps-9.gswarm";
    const auto first =
        table(gswarm("evaluate " + kelp + " --swarm \"Kelp 1\" --set \"Stem 1/points=0,0,0;0,0,4\" --set Sway/strength=0").out);
    EXPECT_EQ(gswarm("evaluate " + kelp + " --swarm \"Kelp 1\" --set \"Stem 1/points=0,0,0\"").code, 1);
    ASSERT_GT(first.size(), 10u);
    const auto column = std::find(first[0].begin(), first[0].end(), "position_z") - first[0].begin();
    double before = 0;
    for (std::size_t row = 1; row < first.size(); ++row) {
        const double z = std::stod(first[row][static_cast<std::size_t>(column)]);
        EXPECT_GT(z, before);
        before = z;
    }
    EXPECT_LE(before, 4);
    EXPECT_EQ(gswarm("evaluate " + kelp + " --swarm \"Kelp 1\" --set \"Kelp 1/stock-rule-by=sometimes\"").code, 1);
}

TEST(Tool, EvaluatePrintsEveryInstanceInOrder) {
    const Outcome run = gswarm("evaluate " + tidalFloor + " --frame 75 --format csv");
    ASSERT_EQ(run.code, 0) << run.error;
    const auto rows = table(run.out);
    ASSERT_EQ(rows.size(), 1952u);
    EXPECT_EQ(run.out.substr(0, run.out.find('\n')),
              "number,id,shape,shown,position_x,position_y,position_z,quaternion_x,quaternion_y,quaternion_z,quaternion_w,"
              "scale_x,scale_y,scale_z,red,green,blue,alpha");
    for (std::size_t i = 1; i < rows.size(); ++i) {
        ASSERT_EQ(rows[i].size(), 18u);
        EXPECT_EQ(rows[i][0], std::to_string(i - 1));
        double length = 0;
        for (std::size_t q = 7; q < 11; ++q) length += std::stod(rows[i][q]) * std::stod(rows[i][q]);
        EXPECT_NEAR(length, 1, 1e-5);
    }
}

TEST(Tool, SetChangesOneNumberAndJsonAgreesWithCsv) {
    const std::string still =
        " --set Murmur/strength=0 --set Swell/on=off --set Lift/strength=0 --set Tilt/strength=0 --set Gild/strength=0";
    const Outcome run = gswarm("evaluate " + tidalFloor + still + " --set Floor/position=1,2,3 --format json");
    ASSERT_EQ(run.code, 0) << run.error;
    const Json rows = Json::parse(run.out);
    ASSERT_EQ(rows.size(), 1951u);
    const auto csv = table(gswarm("evaluate " + tidalFloor + still + " --set Floor/position=1,2,3").out);
    for (std::size_t i = 0; i < rows.size(); ++i) {
        EXPECT_FLOAT_EQ(rows[i]["position"][1], 2);
        EXPECT_FLOAT_EQ(std::stof(csv[i + 1][4]), rows[i]["position"][0]);
    }
}

TEST(Tool, TallyEndsWhereEvaluateStands) {
    const auto rows = table(gswarm("evaluate " + tidalFloor + " --frame 60").out);
    const auto& wanted = rows[1000];
    const Outcome run = gswarm("tally " + tidalFloor + " --frame 60 --json --id " + wanted[1]);
    ASSERT_EQ(run.code, 0) << run.error;
    const Json tally = Json::parse(run.out);
    ASSERT_EQ(tally.size(), 5u);
    EXPECT_EQ(tally[0]["card"], "Home");
    EXPECT_EQ(tally[2]["card"], "Lift");
    for (int c = 0; c < 3; ++c)
        EXPECT_FLOAT_EQ(tally[4]["position"][static_cast<std::size_t>(c)], std::stof(wanted[static_cast<std::size_t>(4 + c)]));
}

TEST(Tool, NamedValuesAreToldInCsvJsonAndTheTally) {
    const std::string sonar = GSWARM_SOURCE "/demo/sonar.gswarm";
    const auto csv = table(gswarm("evaluate " + sonar + " --frame 20").out);
    ASSERT_GT(csv.size(), 100u);
    const auto column = std::find(csv[0].begin(), csv[0].end(), "toCall") - csv[0].begin();
    ASSERT_LT(column, static_cast<std::ptrdiff_t>(csv[0].size()));
    const Json rows = Json::parse(gswarm("evaluate " + sonar + " --frame 20 --format json").out);
    for (const std::size_t i : {std::size_t{0}, std::size_t{77}, std::size_t{4000}})
        EXPECT_FLOAT_EQ(std::stof(csv[i + 1][static_cast<std::size_t>(column)]), rows[i]["named"]["toCall"].get<float>()) << i;
    const Json tally = Json::parse(gswarm("tally " + sonar + " --frame 20 --json --id " + csv[500][1]).out);
    EXPECT_EQ(tally[0]["named"]["toCall"], 0);
    EXPECT_EQ(tally[1]["card"], "Measure call");
    EXPECT_FLOAT_EQ(tally[1]["named"]["toCall"].get<float>(), rows[499]["named"]["toCall"].get<float>());
    // As text, a line for each card with the same numbers.
    std::istringstream lines(gswarm("tally " + sonar + " --frame 20 --id " + csv[500][1]).out);
    std::string line;
    for (std::size_t row = 0; std::getline(lines, line); ++row) {
        ASSERT_LT(row, tally.size());
        EXPECT_TRUE(line.starts_with(tally[row]["card"].get<std::string>() + "  weight ")) << line;
        const auto at = line.find("  toCall ");
        ASSERT_NE(at, std::string::npos) << line;
        EXPECT_NEAR(std::stof(line.substr(at + 9)), tally[row]["named"]["toCall"].get<float>(), 1e-4f);
        EXPECT_NE(line.find("  rotation 0 0 0 °  scale "), std::string::npos) << line;
    }
}

TEST(Tool, SetTakesAFormulaAndPointsAtItsMistakes) {
    const std::string sonar = GSWARM_SOURCE "/demo/sonar.gswarm";
    const auto plain = table(gswarm("evaluate " + sonar + " --set Rings/pattern-value='0'").out);
    const auto twice = table(gswarm("evaluate " + sonar + " --set Rings/pattern-value='i * 0 + 1'").out);
    EXPECT_EQ(plain[9][12], "1");
    EXPECT_EQ(twice[9][12], "3.4");
    const Outcome wrong = gswarm("evaluate " + sonar + " --set Rings/pattern-value='1 + wobble'");
    EXPECT_EQ(wrong.code, 1);
    EXPECT_NE(wrong.error.find("wobble"), std::string::npos);
    EXPECT_NE(wrong.error.find("character 5"), std::string::npos) << wrong.error;
}

TEST(Tool, LoopCheckNamesWhatBreaksAndMendsIt) {
    const Outcome closed = gswarm("loop-check " GSWARM_SOURCE "/tests/files/seven-kelps-9.gswarm --json");
    ASSERT_EQ(closed.code, 0) << closed.error;
    const Json fine = Json::parse(closed.out);
    EXPECT_EQ(fine["closed"], true);
    EXPECT_TRUE(fine["mends"].empty());
    const fs::path mended = folder() / "mended.gswarm";
    const Outcome open = gswarm("loop-check " + tidalFloor + " --set Murmur/pattern-motion=speed --json --mend " + mended.string());
    ASSERT_EQ(open.code, 0) << open.error;
    const Json broken = Json::parse(open.out);
    EXPECT_EQ(broken["closed"], false);
    EXPECT_EQ(broken["swarms"][0]["breaks"], "Murmur");
    EXPECT_GT(broken["swarms"][0]["seam"]["position"], 1e-4 * broken["swarms"][0]["size"].get<double>());
    const Json after = Json::parse(gswarm("loop-check " + mended.string() + " --json").out);
    EXPECT_EQ(after["closed"], true);
}

TEST(Tool, SetTakesAFormulaForANumber) {
    const std::string at = "evaluate " + tidalFloor + " --frame 50 --format json --set Lift/strength=0 --set Murmur/strength=0 --set ";
    const Json plain = Json::parse(gswarm(at + "Floor/position.y=3").out);
    const Json moved = Json::parse(gswarm(at + "\"Floor/position.y==t + 1\"").out);
    EXPECT_NEAR(moved[7]["position"][1].get<double>(), plain[7]["position"][1].get<double>(), 1e-6) << "t is 2 at frame 50";
    const Outcome wrong = gswarm(at + "\"Floor/position.y==t +\"");
    EXPECT_EQ(wrong.code, 1);
    EXPECT_NE(wrong.error.find("character"), std::string::npos) << wrong.error;
}

TEST(Tool, KindsTellAllParameters) {
    const Json kinds = Json::parse(gswarm("kinds --json").out);
    std::map<std::string, std::set<std::string>> families;
    for (const auto& kind : kinds) {
        EXPECT_TRUE(families[kind["family"]].insert(kind["id"]).second) << kind["id"];
        for (const auto& p : kind["parameters"]) {
            EXPECT_FALSE(p["label"].get<std::string>().empty());
            EXPECT_FALSE(p["summary"].get<std::string>().empty()) << kind["id"] << " " << p["id"];
            EXPECT_TRUE(p.contains("default"));
        }
    }
    EXPECT_TRUE(families["shape"].contains("revolved"));
    EXPECT_TRUE(families["formation"].contains("grid"));
    EXPECT_TRUE(families["pattern"].contains("noise"));
    EXPECT_TRUE(families["zone"].contains("nearSwarm"));
    EXPECT_TRUE(families["gesture"].contains("bend"));
}

TEST(Tool, ValidateRefusesDamageInOneSentence) {
    EXPECT_EQ(gswarm("validate " + tidalFloor).code, 0);
    const fs::path bad = folder() / "bad.gswarm";
    std::ofstream(bad) << contentOf(tidalFloor).substr(0, 3000);
    const Outcome run = gswarm("validate " + bad.string());
    EXPECT_EQ(run.code, 1);
    EXPECT_NE(run.error.find("bad.gswarm"), std::string::npos);
    EXPECT_EQ(std::count(run.error.begin(), run.error.end(), '\n'), 1);
}

TEST(Tool, ExitCodesTellFailureFromWrongUse) {
    EXPECT_EQ(gswarm("").code, 2);
    EXPECT_EQ(gswarm("dance").code, 2);
    EXPECT_EQ(gswarm("render " + tidalFloor).code, 2);
    EXPECT_EQ(gswarm("--help").code, 0);
    for (const std::string& arguments :
         {std::string("info nothing.gswarm"), "evaluate " + tidalFloor + " --set Nobody/x=1",
          "evaluate " + tidalFloor + " --set Floor/scale=0", "evaluate " + tidalFloor + " --swarm Shoal",
          "tally " + tidalFloor + " --id 18446744073709551615", "render " + tidalFloor + " /nowhere/a.png --size 8x8 --samples 1"}) {
        const Outcome run = gswarm(arguments);
        EXPECT_EQ(run.code, 1) << arguments;
        EXPECT_FALSE(run.error.empty()) << arguments;
    }
}

TEST(Tool, RenderWritesTheSameStillTwiceAndANumberedSequence) {
    const auto render = [](const std::string& name, const std::string& more) {
        return gswarm("render " + tidalFloor + " " + (folder() / name).string() + " --size 64x36 --samples 2 " + more).code;
    };
    ASSERT_EQ(render("a.png", "--frame 40"), 0);
    ASSERT_EQ(render("b.png", "--frame 40"), 0);
    EXPECT_EQ(contentOf(folder() / "a.png"), contentOf(folder() / "b.png"));
    EXPECT_EQ(contentOf(folder() / "a.png").substr(1, 3), "PNG");
    for (const char* other : {"--filter", "--transparent", "--seed 2"}) {
        ASSERT_EQ(render("c.png", std::string("--frame 40 --replace ") + other), 0);
        EXPECT_NE(contentOf(folder() / "a.png"), contentOf(folder() / "c.png")) << other;
    }
    // Noise that is good enough at once ends it there.
    ASSERT_EQ(gswarm("render " + tidalFloor + " " + (folder() / "e.png").string() + " --size 64x36 --samples 16 --frame 40").code, 0);
    ASSERT_EQ(
        gswarm("render " + tidalFloor + " " + (folder() / "d.png").string() + " --size 64x36 --samples 64 --noise 100 --frame 40").code, 0);
    // But for the mark, which tells the settings, they are the same.
    const auto pixels = [](const char* name) {
        const std::string content = contentOf(folder() / name);
        return content.substr(content.find("IDAT"));
    };
    EXPECT_EQ(pixels("d.png"), pixels("e.png"));
    ASSERT_EQ(render("s.png", "--frames 3-5"), 0);
    for (const char* name : {"s-0003.png", "s-0004.png", "s-0005.png"}) EXPECT_TRUE(fs::exists(folder() / name)) << name;
}

TEST(Tool, ExportsGoOnAndReplaceOnlyWhatTheyAreToldTo) {
    const std::string sequence =
        "render " + tidalFloor + " \"" + (folder() / "a piece “π”.png").string() + "\" --size 32x18 --samples 1 --frames 0-5 --every 2";
    ASSERT_EQ(gswarm(sequence).code, 0);
    const auto file = [](const char* number) { return folder() / ("a piece “π”-" + std::string(number) + ".png"); };
    EXPECT_TRUE(fs::exists(file("0000")) && fs::exists(file("0002")) && fs::exists(file("0004")) && !fs::exists(file("0001")));
    fs::remove(file("0002"));
    const Outcome again = gswarm(sequence);
    EXPECT_EQ(again.code, 0);
    EXPECT_NE(again.error.find("0002.png"), std::string::npos) << again.error;
    EXPECT_NE(again.error.find("kept 2 files"), std::string::npos) << again.error;
    const Outcome other = gswarm(sequence + " --seed 9");
    EXPECT_EQ(other.code, 1);
    EXPECT_NE(other.error.find("is there already, and 2 more; nothing was written"), std::string::npos) << other.error;
    EXPECT_EQ(gswarm(sequence + " --seed 9 --replace").code, 0);
    // Another's file is never written over unasked.
    std::ofstream(folder() / "mine.obj") << "mine";
    EXPECT_EQ(gswarm("export " + tidalFloor + " " + (folder() / "mine.obj").string()).code, 1);
    EXPECT_EQ(contentOf(folder() / "mine.obj"), "mine");
    EXPECT_EQ(gswarm("export " + tidalFloor + " " + (folder() / "mine.obj").string() + " --replace").code, 0);
    EXPECT_NE(contentOf(folder() / "mine.obj"), "mine");
}

TEST(Tool, ALayeredPictureIsToldByItsEnding) {
    const std::string out = (folder() / "layers.exr").string();
    ASSERT_EQ(gswarm("render " + tidalFloor + " " + out + " --size 32x18 --samples 2 --mattes --compression piz --png").code, 0);
    EXPECT_TRUE(fs::exists(out) && fs::exists(folder() / "layers.png"));
    EXPECT_EQ(contentOf(out).substr(0, 4), std::string("\x76\x2f\x31\x01", 4));
    EXPECT_EQ(gswarm("render " + tidalFloor + " " + out + " --compression tight").code, 2);
    EXPECT_EQ(gswarm("render " + tidalFloor + " " + out + " --live").code, 2) << "layers are traced";
    EXPECT_EQ(gswarm("render " + tidalFloor + " " + (folder() / "x.png").string() + " --mattes").code, 2);
}

TEST(Tool, SomeSwarmsAreExportedAlone) {
    const auto shown = [&](const std::string& only) {
        const fs::path to = folder() / "only.usda";
        const Outcome run =
            gswarm("export " GSWARM_SOURCE "/tests/files/seven-kelps-9.gswarm " + to.string() + " --as usd --replace" + only);
        EXPECT_EQ(run.code, 0) << run.error;
        const std::string text = contentOf(to);
        std::size_t count = 0;
        for (auto at = text.find("token visibility = \"inherited\""); at != text.npos;
             at = text.find("token visibility = \"inherited\"", at + 1))
            ++count;
        return count;
    };
    const Json swarms = Json::parse(contentOf(GSWARM_SOURCE "/tests/files/seven-kelps-9.gswarm"))["swarms"];
    ASSERT_GT(swarms.size(), 2u);
    const std::string first = swarms[0]["id"], second = swarms[1]["id"];
    const std::size_t all = shown("");
    EXPECT_GE(all, swarms.size());
    const std::size_t one = shown(" --only " + first);
    EXPECT_LT(one, all);
    EXPECT_GT(shown(" --only " + first + " --only " + second), one);
    EXPECT_EQ(gswarm("export " GSWARM_SOURCE "/tests/files/seven-kelps-9.gswarm x.usda --only Nobody").code, 1);
}

TEST(Tool, RenderDrawsLiveWithoutADisplay) {
    const auto render = [](const std::string& name, const std::string& more) {
        return gswarm("render " + tidalFloor + " " + (folder() / name).string() + " --size 160x90 --live " + more);
    };
    ASSERT_EQ(render("live.png", "--frame 40").code, 0);
    ASSERT_EQ(render("again.png", "--frame 40").code, 0);
    EXPECT_EQ(contentOf(folder() / "live.png"), contentOf(folder() / "again.png"));
    ASSERT_EQ(render("clear.png", "--frame 40 --transparent").code, 0);
    EXPECT_NE(contentOf(folder() / "live.png"), contentOf(folder() / "clear.png"));
    ASSERT_EQ(render("fine.png", "--frame 40 --bits 16").code, 0);
    EXPECT_EQ(contentOf(folder() / "fine.png")[24], 16) << "the depth that the head of a PNG names";
    ASSERT_EQ(render("l.png", "--frames 3-4").code, 0);
    EXPECT_TRUE(fs::exists(folder() / "l-0003.png") && fs::exists(folder() / "l-0004.png"));
    const auto large = gswarm("render " + tidalFloor + " " + (folder() / "large.png").string() + " --size 9000x10 --live");
    EXPECT_EQ(large.code, 1);
    EXPECT_NE(large.error.find("9000"), std::string::npos) << large.error;
}

TEST(Tool, GltfPassesTheKhronosValidator) {
    ASSERT_EQ(gswarm("export " + tidalFloor + " " + (folder() / "still.glb").string() + " --frame 75").code, 0);
    ASSERT_EQ(gswarm("export " + tidalFloor + " " + (folder() / "baked.glb").string() + " --baked --frames 70-80").code, 0);
    std::string looks;
    for (const char* setting : {"glows=on", "body=solid", "ior=1.7", "attenuationDistance=2", "dispersion=0.3", "coated=on", "velvety=on",
                                "pictured=on", "bumpPicture=sea-bed.png", "repeats=3"})
        looks += " --set \"Tile material/" + std::string(setting) + "\"";
    ASSERT_EQ(gswarm("export " + tidalFloor + " " + (folder() / "looks.glb").string() + looks).code, 0);
    const std::string coil = GSWARM_SOURCE "/demo/nautilus.gswarm ";
    ASSERT_EQ(gswarm("export " + coil + (folder() / "coil.glb").string()).code, 0);
    ASSERT_EQ(gswarm("export " + coil + (folder() / "coil-baked.glb").string() + " --baked --frames 70-72 --set Coil/times=3").code, 0);
    const std::vector<std::string> written{"still.glb", "baked.glb", "looks.glb", "coil.glb", "coil-baked.glb"};
    const fs::path validator = GSWARM_SOURCE "/build/validator/node_modules/gltf-validator";
    if (!fs::exists(validator) || std::system("node --version > /dev/null 2>&1") != 0) {
        for (const std::string& name : written) EXPECT_EQ(contentOf(folder() / name).substr(0, 4), "glTF");
        GTEST_SKIP() << "NOT VALIDATED: node or its package gltf-validator is not here; only the files' headers were checked.";
    }
    const fs::path script = folder() / "check.js";
    std::ofstream(script)
        << "const v = require('" << validator.string() << "'), fs = require('fs');\n"
        << "(async () => { for (const f of process.argv.slice(2)) { const r = await v.validateBytes(new Uint8Array(fs.readFileSync(f)));\n"
        << "console.log(JSON.stringify(r.issues)); } })();\n";
    std::string command = "node " + script.string();
    for (const std::string& name : written) command += " " + (folder() / name).string();
    FILE* pipe = ::popen(command.c_str(), "r");
    std::string out;
    std::array<char, 4096> chunk{};
    while (const std::size_t n = std::fread(chunk.data(), 1, chunk.size(), pipe)) out.append(chunk.data(), n);
    ::pclose(pipe);
    std::istringstream lines(out);
    int files = 0;
    for (std::string line; std::getline(lines, line); ++files) {
        const Json issues = Json::parse(line);
        EXPECT_EQ(issues["numErrors"], 0) << line.substr(0, 2000);
        EXPECT_EQ(issues["numWarnings"], 0) << line.substr(0, 2000);
    }
    EXPECT_EQ(files, static_cast<int>(written.size()));
}

TEST(Tool, DamagedProjectsEndInOneSentenceNeverInACrash) {
    const std::string whole = contentOf(tidalFloor);
    const fs::path file = folder() / "damaged.gswarm";
    std::mt19937 chance(11);
    int refused = 0, opened = 0;
    for (int k = 0; k < 48; ++k) {
        std::string text = whole;
        // A few places are struck: bytes changed, pieces taken out or doubled, numbers made monstrous.
        for (int strike = 0; strike < 1 + k % 4; ++strike) {
            const std::size_t at = chance() % text.size();
            switch (chance() % 5) {
                case 4:  // a number becomes another one: still a project
                    if (const std::size_t digit = text.find_first_of("23456789", at); digit != std::string::npos) text[digit] = '1';
                    break;
                case 0:
                    text[at] = static_cast<char>(chance() % 256);
                    break;
                case 1:
                    text.erase(at, chance() % 200);
                    break;
                case 2:
                    text.insert(at, text.substr(at, chance() % 200));
                    break;
                default:
                    if (const std::size_t digit = text.find_first_of("0123456789", at); digit != std::string::npos)
                        text.insert(digit, "1e3" + std::to_string(chance() % 90) + "0");
            }
        }
        std::ofstream(file, std::ios::binary) << text;
        const Outcome run = gswarm("evaluate " + file.string() + " --frame 3 --to " + (folder() / "out.csv").string());
        ASSERT_LE(run.code, 1) << "damage " << k;
        if (run.code == 0) {
            ++opened;
            continue;
        }
        ++refused;
        EXPECT_EQ(std::count(run.error.begin(), run.error.end(), '\n'), 1) << run.error;
        EXPECT_GT(run.error.size(), 20u) << "damage " << k;
    }
    EXPECT_GT(refused, 20);
    EXPECT_GT(opened, 0);  // a changed letter in a name is no damage
}

TEST(Tool, FilesThatAreNoProjectsAreRefused) {
    const fs::path file = folder() / "strange.gswarm";
    const auto refused = [&](const std::string& content) {
        std::ofstream(file, std::ios::binary) << content;
        const Outcome run = gswarm("validate " + file.string());
        EXPECT_EQ(std::count(run.error.begin(), run.error.end(), '\n'), 1) << run.error;
        return run.code == 1;
    };
    EXPECT_TRUE(refused(""));
    EXPECT_TRUE(refused("{}"));
    EXPECT_TRUE(refused("[1, 2, 3]"));
    EXPECT_TRUE(refused(std::string(100000, '[')));  // deep, not long
    EXPECT_TRUE(refused(std::string(1000, '\0')));
    EXPECT_TRUE(refused(R"({"format": "gilded-swarm", "version": 9999})"));
    EXPECT_TRUE(refused(R"({"format": "gilded-swarm", "version": -1})"));
    EXPECT_TRUE(refused(R"({"format": "another", "version": 1})"));
    EXPECT_EQ(gswarm("validate " + folder().string()).code, 1);  // a folder
}

TEST(Tool, WhatIsWrittenIsWholeOrNotThere) {
    const fs::path table = folder() / "kept.csv";
    std::ofstream(table) << "as it was";
    // A mistake in the project leaves the old file; a right one replaces it.
    EXPECT_EQ(gswarm("evaluate " + tidalFloor + " --set Nobody/x=1 --to " + table.string()).code, 1);
    EXPECT_EQ(contentOf(table), "as it was");
    ASSERT_EQ(gswarm("evaluate " + tidalFloor + " --to " + table.string()).code, 0);
    EXPECT_EQ(contentOf(table), gswarm("evaluate " + tidalFloor).out);
    for (const auto& entry : fs::directory_iterator(folder())) EXPECT_EQ(entry.path().filename().string().find(".part"), std::string::npos);
    const Outcome nowhere = gswarm("evaluate " + tidalFloor + " --to " + (folder() / "no" / "where.csv").string());
    EXPECT_EQ(nowhere.code, 1);
    EXPECT_NE(nowhere.error.find("where.csv"), std::string::npos) << nowhere.error;
}

TEST(Tool, FramesBetweenTwoAreComputedAndOutOfRangeToo) {
    const auto first = [](const std::string& more) { return table(gswarm("evaluate " + tidalFloor + " " + more).out); };
    const auto whole = first("--frame 20"), half = first("--frame 20.5"), next = first("--frame 21");
    ASSERT_EQ(whole.size(), half.size());
    int between = 0, moved = 0;
    const auto y = std::find(whole[0].begin(), whole[0].end(), "position_y") - whole[0].begin();
    ASSERT_LT(static_cast<std::size_t>(y), whole[0].size());
    for (std::size_t r = 1; r < whole.size(); ++r) {
        const auto at = [&](const auto& rows) { return std::stod(rows[r][static_cast<std::size_t>(y)]); };
        if (at(whole) == at(next)) continue;
        ++moved;
        between += (at(half) - at(whole)) * (at(half) - at(next)) <= 0;
    }
    ASSERT_GT(moved, 50);
    EXPECT_GT(between, moved * 9 / 10);  // smooth ways, but for a few turning points
    // The piece loops: the frame behind its last is its first.
    const Json info = Json::parse(gswarm("info " + tidalFloor + " --json").out);
    const std::string after = std::to_string(info["loopFrames"].get<int>());
    EXPECT_EQ(info["loopFrames"], info["lastFrame"].get<int>() - info["firstFrame"].get<int>() + 1);
    EXPECT_TRUE(gswarm("evaluate " + tidalFloor + " --frame " + after).out == gswarm("evaluate " + tidalFloor + " --frame 0").out);
    EXPECT_EQ(gswarm("evaluate " + tidalFloor + " --frame soon").code, 2);
}
