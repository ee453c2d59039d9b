// What the tool writes, loaded by readers that we did not write and compared with `gswarm evaluate`. They come from the npm registry
// (scripts/test installs them); where they or Node are not there, the tests say so and are skipped.
#include <gtest/gtest.h>

#include <fstream>
#include <set>

#include "tests/tool/running.h"

using namespace running;

namespace {

const fs::path modules = GSWARM_SOURCE "/build/validator/node_modules";

bool haveReaders() {
    return fs::exists(modules / "three") && fs::exists(modules / "tinyusdz") && std::system("node --version > /dev/null 2>&1") == 0;
}

Json read(const fs::path& file) {
    const Outcome run = shell("node " GSWARM_SOURCE "/tests/tool/check_readers.mjs " + modules.string() + " " + file.string());
    EXPECT_EQ(run.code, 0) << run.error.substr(0, 2000);
    return run.code == 0 ? Json::parse(run.out)[file.filename().string()] : Json{};
}

struct Place {
    double x, y, z;
    bool shown;
};

/// What `gswarm evaluate` says, in number order.
std::vector<Place> evaluated(const std::string& project, int frame) {
    const Json rows = Json::parse(gswarm("evaluate " + project + " --format json --frame " + std::to_string(frame)).out);
    std::vector<Place> places;
    for (const Json& row : rows) places.push_back({row["position"][0], row["position"][1], row["position"][2], row["shown"]});
    return places;
}

/// A small wavy piece whose shapes are placed by their own origin, so that a thing's place is its instance's.
std::string piece() {
    const fs::path to = folder() / "piece.gswarm";
    const Json project = Json::parse(contentOf(GSWARM_SOURCE "/demo/tidal-floor.gswarm"));
    const std::string stock = project["swarms"][0]["stock"][0]["id"];
    const Outcome made = gswarm("copy " GSWARM_SOURCE "/demo/tidal-floor.gswarm " + to.string() + " --set " + stock + "/foot=point --set " +
                                stock + "/footPoint=0,0,0 --set Formation/rings=4");
    EXPECT_EQ(made.code, 0) << made.error;
    return to.string();
}

std::string written(const std::string& name, const std::string& more) {
    const Outcome run = gswarm("export " + piece() + " " + (folder() / name).string() + " --replace " + more);
    EXPECT_EQ(run.code, 0) << run.error;
    return (folder() / name).string();
}

void expectPlaces(const std::vector<double>& flat, const std::vector<Place>& places, double tolerance) {
    ASSERT_EQ(flat.size(), 3 * places.size());
    for (std::size_t i = 0; i < places.size(); ++i) {
        if (!places[i].shown) continue;
        EXPECT_NEAR(flat[3 * i], places[i].x, tolerance);
        EXPECT_NEAR(flat[3 * i + 1], places[i].y, tolerance);
        EXPECT_NEAR(flat[3 * i + 2], places[i].z, tolerance);
    }
}

}  // namespace

#define NEEDS_READERS \
    if (!haveReaders()) GTEST_SKIP() << "NOT READ: node or the packages three and tinyusdz are not here."

TEST(Readers, GltfInstancesStandWhereEvaluateSays) {
    NEEDS_READERS;
    const Json told = read(written("r.glb", "--frame 75"));
    std::vector<double> flat;
    for (const Json& place : told["instances"])
        for (const Json& number : place) flat.push_back(number);
    expectPlaces(flat, evaluated(piece(), 75), 1e-4);
    EXPECT_GE(told["lights"], 1);
    EXPECT_EQ(told["cameras"], 1);
    const Json baked = read(written("r-baked.glb", "--as baked --frames 70-80"));
    ASSERT_EQ(baked["clips"].size(), 1u);
    EXPECT_NEAR(baked["clips"][0]["seconds"], 0.4, 1e-6);
    EXPECT_GT(baked["clips"][0]["tracks"], 60);
}

TEST(Readers, UsdHasTheSamplesThatEvaluateGives) {
    NEEDS_READERS;
    const Json told = read(written("r.usda", "--as usdAnimation --frames 74-76"));
    const Json& positions = told["web"]["attributes"]["/Scene/Floor.positions"];
    ASSERT_EQ(positions["times"], Json({74, 75, 76})) << told.dump().substr(0, 600);
    EXPECT_EQ(told["tiny"]["loaded"], true) << told["tiny"]["error"];
    for (std::size_t k = 0; k < 3; ++k) {
        const auto places = evaluated(piece(), 74 + static_cast<int>(k));
        ASSERT_EQ(places.size(), 61u);
        expectPlaces(positions["values"][k].get<std::vector<double>>(), places, 1e-5);
        expectPlaces(told["tiny"]["positions"][std::to_string(74 + k)].get<std::vector<double>>(), places, 1e-4);
    }
    EXPECT_EQ(told["web"]["attributes"]["/Scene/Floor.ids"]["values"][0].size(), 61u);
    EXPECT_EQ(told["web"]["attributes"]["/Scene/Floor.ids"]["times"].size(), 0u) << "what never changes is not sampled";
    std::set<std::string> types;
    for (const Json& prim : told["web"]["prims"]) types.insert(prim[1]);
    for (const char* type : {"PointInstancer", "Mesh", "Material", "Shader", "Camera", "DistantLight", "DomeLight"})
        EXPECT_TRUE(types.contains(type)) << type;
}

TEST(Readers, CopiesBySymmetryStandWhereEvaluateSays) {
    NEEDS_READERS;
    const fs::path project = folder() / "turned.gswarm", glb = folder() / "turned.glb", stage = folder() / "turned.usda";
    Json json = Json::parse(contentOf(piece()));
    json["swarms"][0]["symmetries"] = {{{"id", "y00000000001"},
                                        {"name", "Ring"},
                                        {"symmetry",
                                         {{"kind", "turned"},
                                          {"version", 1},
                                          {"on", true},
                                          {"centre", {6, 0, 1}},
                                          {"axis", "y"},
                                          {"rotation", {10, 0, 0}},
                                          {"times", 3},
                                          {"over", "round"},
                                          {"step", 30},
                                          {"rise", 0.5},
                                          {"growth", 90},
                                          {"mirrored", true},
                                          {"mirrorAt", 20}}}}};
    std::ofstream(project) << json.dump();
    const Json rows = Json::parse(gswarm("evaluate " + project.string() + " --copies --format json --frame 75").out);
    ASSERT_EQ(rows.size(), 61u * 6);
    ASSERT_EQ(gswarm("export " + project.string() + " " + glb.string() + " --frame 75 --replace").code, 0);
    const Json told = read(glb);
    // Copy by copy there, instance by instance here.
    ASSERT_EQ(told["instances"].size(), rows.size());
    for (std::size_t copy = 0; copy < 6; ++copy)
        for (std::size_t i = 0; i < 61; ++i)
            for (int c = 0; c < 3; ++c)
                EXPECT_NEAR(told["instances"][copy * 61 + i][c].get<double>(), rows[i * 6 + copy]["position"][c].get<double>(), 1e-3);
    ASSERT_EQ(gswarm("export " + project.string() + " " + stage.string() + " --frame 75 --replace").code, 0);
    const Json usd = read(stage);
    EXPECT_EQ(usd["tiny"]["loaded"], true) << usd["tiny"]["error"];
    EXPECT_EQ(usd["web"]["attributes"]["/Scene/Floor.positions"]["values"][0].size(), 3u * 6);
    EXPECT_EQ(usd["web"]["attributes"]["/Scene/Floor/Original.positions"]["values"][0].size(), 3u * 61);
}

TEST(Readers, PlyAndObjHaveEveryTriangle) {
    NEEDS_READERS;
    const Json points = read(written("points.ply", "--as plyPoints --frame 75"));
    EXPECT_EQ(points["vertices"], 61);
    std::vector<double> flat = points["positions"].get<std::vector<double>>();
    expectPlaces(flat, evaluated(piece(), 75), 1e-5);
    for (const char* encoding : {"text", "binary"}) {
        const Json mesh = read(written("mesh.ply", std::string("--as plyMesh --frame 75 --encoding ") + encoding));
        const Json obj = read(written("mesh.obj", "--frame 75"));
        EXPECT_GT(mesh["triangles"], 61 * 12);
        // The OBJ reader gives every triangle corners of its own.
        EXPECT_EQ(obj["objects"][0]["vertices"], mesh["triangles"].get<int>() * 3);
    }
}

TEST(Readers, LayersOpen) {
    NEEDS_READERS;
    const Outcome run = gswarm("render " + piece() + " " + (folder() / "r.exr").string() + " --size 48x27 --samples 1 --replace");
    ASSERT_EQ(run.code, 0) << run.error;
    const Json told = read(folder() / "r.exr");
    EXPECT_EQ(told["width"], 48);
    EXPECT_EQ(told["height"], 27);
}

TEST(Readers, NumpyLoadsTheNumbers) {
    if (std::system("/usr/bin/python3 -c 'import numpy' > /dev/null 2>&1") != 0) GTEST_SKIP() << "NOT READ: numpy is not here.";
    const std::string file = written("r.npy", "--frames 74-75");
    const Outcome run = shell("/usr/bin/python3 -c \"import numpy; a = numpy.load('" + file +
                              "'); print(len(a), list(a['position_y'][a['frame'] == 75]))\"");
    ASSERT_EQ(run.code, 0) << run.error;
    const auto places = evaluated(piece(), 75);
    std::string numbers = run.out.substr(run.out.find('['));
    EXPECT_TRUE(run.out.starts_with("122 ")) << run.out;
    const Json values = Json::parse(numbers);
    ASSERT_EQ(values.size(), places.size());
    for (std::size_t i = 0; i < places.size(); ++i) EXPECT_NEAR(values[i], places[i].y, 1e-6);
}
