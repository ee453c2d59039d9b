// Files of earlier formats, and parts of earlier versions of their kinds, mean what they meant.
#include <gtest/gtest.h>

#include <cmath>
#include <filesystem>
#include <map>
#include <nlohmann/json.hpp>
#include <set>

#include "core/base/atomic_file.h"
#include "core/edit/rail_edits.h"
#include "core/file/project_file.h"
#include "core/formula/bind.h"
#include "core/kinds/registry.h"
#include "core/resolve/resolve.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;

namespace {

using Json = nlohmann::ordered_json;

void eachObject(Json& json, const std::function<void(Json&)>& visit) {
    if (json.is_object()) visit(json);
    if (json.is_structured())
        for (Json& below : json) eachObject(below, visit);
}

void rename(Json& object, const std::string& from, const std::string& to) {
    if (!object.contains(from)) return;
    object[to] = object[from];
    object.erase(from);
}

/// Of a sun and a sky the one light that they once were, with its direction as one.
void sunWithSky(Json& lights) {
    Json both = lights.at(0), sky = lights.at(1)["light"];
    const Json sun = both["light"];
    both["name"] = "Sun and sky";
    both["light"] = {{"kind", "sunAndSky"},
                     {"version", 1},
                     {"sunDirection", {sun["height"], sun["around"], 17}},
                     {"sunStrength", sun["strength"]},
                     {"sunSize", sun["size"]},
                     {"sunColour", sun["colour"]},
                     {"skyStrength", sky["strength"]}};
    for (const char* same : {"zenith", "horizon", "ground", "groundHeight", "groundColour"}) both["light"][same] = sky[same];
    lights = Json::array({both});
}

/// A project as format 4 wrote it, as far as these tests need it.
Json asFormat4(const Scene& scene) {
    Json project = Json::parse(toJson(scene));
    std::map<std::string, Json> materials;
    for (const Json& material : project["materials"]) materials[material["id"]] = material["material"];
    project.erase("materials");
    const auto takeBack = [&](Json& part, const std::vector<std::string>& members, const Json& standard) {
        const Json material = part["material"];
        part.erase("material");
        for (const std::string& member : members) part[member] = material.is_null() ? standard : materials.at(material)[member];
    };
    for (Json& swarm : project["swarms"])
        for (Json& stock : swarm["stock"]) takeBack(stock["entry"], {"colour", "metal", "roughness"}, {});
    for (Json& shape : project["shapes"]) takeBack(shape["display"], {"colour"}, {0.42, 0.39, 0.35, 1});
    for (Json& light : project["lights"]) light.erase("hang");
    sunWithSky(project["lights"]);
    rename(project, "projects", "pieces");
    for (Json& swarm : project["swarms"]) {
        rename(swarm, "stockRule", "stocking");
        rename(swarm, "namedValues", "numbers");
        for (Json& value : swarm["numbers"]) rename(value, "value", "number");
    }
    const std::map<std::string, std::string> kinds = {{"project", "piece"},      {"stockRule", "stocking"}, {"namedValue", "namedNumber"},
                                                      {"hexagons", "honeycomb"}, {"stream", "wrap"},        {"swing", "follow"}};
    eachObject(project, [&](Json& part) {
        if (!part.contains("kind")) return;
        const std::string kind = part["kind"];
        if (kinds.contains(kind)) part["kind"] = kinds.at(kind);
        part["version"] = 1;
        if (kind == "change") rename(part, "value", "number"), rename(part, "valueOf", "numberOf"), rename(part, "valueMode", "numberMode");
        if (kind == "change") rename(part, "valueAmount", "numberAmount");
        if (kind == "namedValue" && part.contains("value")) rename(part, "value", "number");
        if (kind == "ring") rename(part, "unevenness", "variation");
        if (kind == "clipped") {
            part["tilt"] = {part["tiltX"], 3, part["tiltZ"]};
            part.erase("tiltX"), part.erase("tiltZ");
        }
    });
    project["version"] = 4;
    return project;
}

std::string formulaOf(const Scene& scene, ObjectId object, const char* parameter) {
    return std::get<Numbers>(valueOf(scene, addressOf(scene, object, parameter))).front().formula->text;
}

}  // namespace

TEST(Migration, EveryPastVersionOpensAndIsSavedAsThisOne) {
    std::set<int> versions;
    for (const auto& entry : std::filesystem::directory_iterator(GSWARM_SOURCE "/tests/files")) {
        if (entry.path().extension() != ".gswarm") continue;
        const std::string text = readFile(entry.path(), 1 << 24);
        const int version = Json::parse(text)["version"];
        EXPECT_TRUE(entry.path().stem().string().ends_with(std::to_string(version))) << entry.path();
        versions.insert(version);
        const Scene scene = loadProject(entry.path());
        const std::string now = toJson(scene);
        EXPECT_EQ(Json::parse(now)["version"], projectVersion);
        EXPECT_TRUE(parseProject(now, "again") == scene) << entry.path();
        EXPECT_EQ(toJson(parseProject(now, "again")), now);
    }
    for (int version = 1; version < projectVersion; ++version) EXPECT_TRUE(versions.contains(version)) << version;
}

TEST(Migration, AFormat4FileOpensAsTheSameProject) {
    EXPECT_TRUE(loadProject(GSWARM_SOURCE "/tests/files/shoal-4.gswarm") == loadProject(GSWARM_SOURCE "/tests/files/shoal-8.gswarm"));
}

TEST(Migration, WhatIsWrittenAsFormat4OpensAsItIs) {
    for (const auto& entry : std::filesystem::directory_iterator(GSWARM_SOURCE "/tests/files")) {
        if (entry.path().extension() != ".gswarm") continue;
        // Later ones say of materials what such a file knows nothing of.
        if (Json::parse(readFile(entry.path(), 1 << 24))["version"] > 5) continue;
        const Scene scene = loadProject(entry.path());
        EXPECT_TRUE(parseProject(asFormat4(scene).dump(), "old") == scene) << entry.path();
    }
}

TEST(Migration, BeforeFormat7NothingComesAfter) {
    const Scene old = loadProject(GSWARM_SOURCE "/tests/files/kelp-6.gswarm");
    const Part& after = old.project().part("after");
    for (std::size_t i = 0; i < after.values.size(); ++i) EXPECT_EQ(after.values[i], afterKind.parameters[i].standard);
    EXPECT_EQ(choiceOf(after, "background"), "colour");
    EXPECT_EQ(choiceOf(after, "lines"), "none");
    EXPECT_EQ(numberAt(old, after, "bloom", 0), 0);
}

TEST(Migration, WhatIsBrighterThanAScreenIsCutInOldProjectsAndBentInNewOnes) {
    const auto display = [](const Scene& scene) { return choiceOf(scene.project().part("settings"), "display"); };
    EXPECT_EQ(display(loadProject(GSWARM_SOURCE "/tests/files/shoal-4.gswarm")), "plain");
    EXPECT_EQ(display(emptyScene()), "soft");
}

TEST(Migration, FormulasSayTheNewNames) {
    Build b = Build::grid(4, 1, 1);
    const ObjectId g = b.gesture("number");
    b.set(g, "position", true).set(g, "positionAmount", Value(Numbers{Track{1}, Track{0}, Track{0}}));
    Json project = asFormat4(b.scene);
    const auto opened = [&](const std::string& text) {
        Json changed = project;
        changed["gestures"][0]["change"]["positionAmount"][0] = {{"formula", text}, {"names", Json::object()}, {"value", 1}};
        return formulaOf(parseProject(changed.dump(), "old"), g, "positionAmount");
    };
    const std::map<std::string, std::string> names = {{"u", "share"}, {"w", "weight"}, {"px", "xNow"}, {"sx", "xSize"},
                                                      {"py", "yNow"}, {"sy", "ySize"}, {"pz", "zNow"}, {"sz", "zSize"}};
    for (const auto& [old, now] : names) EXPECT_EQ(opened("2*" + old + " - x"), "2*" + now + " - x");
    EXPECT_EQ(opened("u + px / (w * rnd( 3 ))"), "share + xNow / (weight * chance( 3 ))");
    EXPECT_EQ(opened("sin(x) + i + n + frame"), "sin(x) + i + n + frame");
    EXPECT_EQ(opened("u + ("), "share + (") << "names are told from signs even where it can't be understood";
    EXPECT_EQ(opened("u # 2"), "u # 2") << "what can't be read is kept as it was typed";
}

TEST(Migration, AValueThatIsCalledLikeANewNameGoesOnMeaningItself) {
    Build b = Build::grid(4, 1, 1);
    b.scene = addNamedValue(b.scene, b.swarm, "share").scene;
    const ObjectId share = b.scene.at(b.swarm).list("namedValues").front();
    b.set(share, "standard", {5});
    const ObjectId g = b.gesture("steady");
    b.set(g, "position", true);
    Json project = asFormat4(b.scene);
    project["gestures"][0]["change"]["positionAmount"][0] = {
        {"formula", "share + u"}, {"names", {{"share", toText(share) + "/standard"}}}, {"value", 1}};
    b.scene = parseProject(project.dump(), "old");
    EXPECT_EQ(formulaOf(b.scene, g, "positionAmount"), "'share' + share");
    const Build flat = Build::grid(4, 1, 1);
    EXPECT_NEAR(b.rows()[3].position.x - flat.rows()[3].position.x, 5 + 1, 1e-5);
    EXPECT_EQ(inFormula("share"), "'share'");
}

TEST(Migration, AddressesOfRenamedNumbersFollow) {
    Build b;
    b.formationKind("ring").set(b.formation, "unevenness", {12});
    const ObjectId g = b.gesture("steady"), light = b.sun();
    b.set(g, "position", true);
    Json project = asFormat4(b.scene);
    const auto amount = [&](int component, const std::string& address, const std::string& name) {
        project["gestures"][0]["change"]["positionAmount"][component] = {
            {"formula", name + " * 2"}, {"names", {{name, address}}}, {"value", 1}};
    };
    amount(0, toText(light) + "/sunDirection.x", "'Sun and sky'.sunDirection.x");
    amount(1, toText(b.formation) + "/variation", "Formation.variation");
    amount(2, toText(b.swarm) + "/stocking-gap", "Swarm.'stocking-gap'");
    Json& strength = project["gestures"][0]["change"]["strength"];
    strength = {{"link", toText(light) + "/sunDirection.y"},
                {"from", {0, 1}},
                {"onto", {0, 1}},
                {"curve", Json::array()},
                {"clip", false},
                {"step", 0},
                {"delay", 0},
                {"value", 1}};
    const Scene scene = parseProject(project.dump(), "old");
    const auto& numbers = std::get<Numbers>(valueOf(scene, addressOf(scene, g, "positionAmount")));
    EXPECT_EQ(numbers[0].formula->text, "Sun.height * 2");
    EXPECT_EQ(numbers[1].formula->text, "Formation.unevenness * 2");
    EXPECT_EQ(numbers[2].formula->text, "Swarm.'stock-rule-gap' * 2");
    EXPECT_NEAR(valueAt(scene, numbers[0], 0), 2 * 38, 1e-9);
    EXPECT_NEAR(valueAt(scene, numbers[1], 0), 2 * 12, 1e-9);
    EXPECT_EQ(std::get<Numbers>(valueOf(scene, addressOf(scene, g, "strength"))).front().link->to, toText(light) + "/around");
}

TEST(Migration, SunAndSkyBecomeTwoLights) {
    const Scene scene = loadProject(GSWARM_SOURCE "/tests/files/gullet-7.gswarm");
    EXPECT_TRUE(scene == loadProject(GSWARM_SOURCE "/demo/gullet.gswarm"));
    // What read a number of the sky reads it there.
    Json project = Json::parse(readFile(GSWARM_SOURCE "/tests/files/gullet-7.gswarm", 1 << 24));
    const std::string old = project["lights"][0]["id"];
    Json& exposure = project["projects"][0]["settings"]["exposure"];
    exposure = {{"formula", "'Sun and sky'.skyStrength + 'Sun and sky'.sunSize"},
                {"names", {{"'Sun and sky'.skyStrength", old + "/skyStrength"}, {"'Sun and sky'.sunSize", old + "/sunSize"}}},
                {"value", 1}};
    const Scene moved = parseProject(project.dump(), "old");
    const Track& track = std::get<Numbers>(moved.project().part("settings")["exposure"]).front();
    const ObjectId sun = moved.named(ObjectType::light, "Sun"), sky = moved.named(ObjectType::light, "Sky");
    EXPECT_EQ(toText(sun), old);
    EXPECT_EQ(track.formula->text, "Sky.strength + Sun.size");
    std::set<std::string> read;
    for (const auto& [name, address] : track.formula->names) read.insert(address);
    EXPECT_EQ(read, (std::set<std::string>{toText(sky) + "/strength", toText(sun) + "/size"}));
    const double strength = project["lights"][0]["light"]["skyStrength"], size = project["lights"][0]["light"]["sunSize"];
    EXPECT_NEAR(valueAt(moved, track, 0), strength + size, 1e-6);
}

TEST(Migration, TheGoldenSpiralStandsWhereItStood) {
    const double old = 0.5;
    for (const bool keyed : {false, true}) {
        Build b;
        b.formationKind("goldenSpiral").set(b.formation, "count", {500});
        if (keyed) b.key(b.formation, "spacing", {{0, old, Ease::linear}, {10, 2 * old, Ease::linear}});
        Json project = asFormat4(b.scene);
        if (!keyed) project["swarms"][0]["formations"][0]["formation"]["spacing"] = old;
        b.scene = parseProject(project.dump(), "old");
        const double frame = keyed ? 5 : 0, growth = keyed ? 1.5 * old : old;
        const auto rows = b.rows(frame);
        for (std::size_t i = 0; i < rows.size(); ++i)
            EXPECT_NEAR(glm::length(rows[i].position), growth * std::sqrt(static_cast<double>(i) + 0.5), 2e-6 * (1 + growth * 23)) << i;
    }
}

TEST(Migration, APartOfALaterVersionIsRefused) {
    Build b;
    Json project = Json::parse(toJson(b.scene));
    project["swarms"][0]["formations"][0]["formation"]["version"] = 99;
    EXPECT_THROW(parseProject(project.dump(), "new"), Error);
    project["swarms"][0]["formations"][0]["formation"]["version"] = 0;
    EXPECT_THROW(parseProject(project.dump(), "strange"), Error);
}

TEST(GoldenSpiral, SpacingIsTheDistanceOfNeighbours) {
    Build b;
    b.formationKind("goldenSpiral").set(b.formation, "count", {2000}).set(b.formation, "spacing", {0.8});
    const auto rows = b.rows();
    double sum = 0;
    const std::size_t inner = 1700;  // the outermost have neighbours on one side alone
    for (std::size_t i = 0; i < inner; ++i) {
        float nearest = 1e9f;
        for (std::size_t k = 0; k < rows.size(); ++k)
            if (k != i) nearest = std::min(nearest, glm::distance(rows[i].position, rows[k].position));
        sum += nearest;
        EXPECT_NEAR(nearest, 0.8f, i < 20 ? 0.08f : 0.04f) << i;
    }
    EXPECT_NEAR(sum / static_cast<double>(inner), 0.8, 0.008);
}
