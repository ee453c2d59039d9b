// Shapes, traced pictures, glTF and CSV.
#include <gtest/gtest.h>

#include <cstring>
#include <filesystem>
#include <fstream>
#include <map>
#include <nlohmann/json.hpp>
#include <sstream>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/edit/rail_edits.h"
#include "core/exchange/csv.h"
#include "core/exchange/exporter_kind.h"
#include "core/file/project_file.h"
#include "core/kinds/registry.h"
#include "core/light/light_kind.h"
#include "core/picture/trace.h"
#include "core/picture/view.h"
#include "core/prepare/prepare.h"
#include "core/provide/store.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;
using making::temporaryFolder;
namespace fs = std::filesystem;

namespace {

Mesh meshOf(const Build& b) { return b.plan().stock.variants[0].meshes->mesh(); }

/// Every edge of a closed mesh is used once in each direction (corners at the same place count as one).
void expectClosed(const Mesh& mesh) {
    std::map<std::tuple<long, long, long>, int> corners;
    std::map<std::pair<int, int>, int> edges;
    const auto corner = [&](std::uint32_t i) {
        const glm::vec3 p = mesh.positions[i] * 1e4f;
        return corners.try_emplace({std::lround(p.x), std::lround(p.y), std::lround(p.z)}, static_cast<int>(corners.size())).first->second;
    };
    for (std::size_t t = 0; t < mesh.triangles.size(); t += 3)
        for (int k = 0; k < 3; ++k)
            ++edges[{corner(mesh.triangles[t + static_cast<std::size_t>(k)]),
                     corner(mesh.triangles[t + static_cast<std::size_t>((k + 1) % 3)])}];
    for (const auto& [edge, count] : edges) {
        EXPECT_EQ(count, 1);
        EXPECT_TRUE(edges.contains({edge.second, edge.first}));
    }
}

double volume(const Mesh& mesh) {
    double sum = 0;
    for (std::size_t t = 0; t < mesh.triangles.size(); t += 3) {
        const glm::dvec3 a = mesh.positions[mesh.triangles[t]], b = mesh.positions[mesh.triangles[t + 1]],
                         c = mesh.positions[mesh.triangles[t + 2]];
        sum += glm::dot(a, glm::cross(b, c)) / 6;
    }
    return sum;
}

nlohmann::json glbJson(const fs::path& path) {
    const std::string bytes = readFile(path, 1 << 28);
    std::uint32_t header[5];
    std::memcpy(header, bytes.data(), sizeof header);
    EXPECT_EQ(header[0], 0x46546C67u);
    EXPECT_EQ(header[2], bytes.size());
    return nlohmann::json::parse(bytes.substr(20, header[3]));
}

DrawList shown(const Build& b) { return drawListOf(std::vector{b.result()}); }

}  // namespace

TEST(Box, RoundedIsClosedAndHasItsVolume) {
    for (const double rounding : {0.0, 0.1, 0.25}) {
        Build b;
        b.set(b.shape, "size", {1, 0.5, 2}).set(b.shape, "rounding", {rounding}).set(b.shape, "steps", {16});
        const Mesh mesh = meshOf(b);
        expectClosed(mesh);
        // Steiner's formula for the rounded box: inner box, plates, quarter tubes, one ball.
        const double r = rounding, x = 1 - 2 * r, y = 0.5 - 2 * r, z = 2 - 2 * r, pi = 3.14159265358979;
        const double wanted = x * y * z + 2 * r * (x * y + y * z + x * z) + pi * r * r * (x + y + z) + 4.0 / 3 * pi * r * r * r;
        EXPECT_NEAR(volume(mesh), wanted, 0.003 * wanted);
        for (const auto& n : mesh.normals) EXPECT_NEAR(glm::length(n), 1, 1e-5f);
        const Bounds bounds = boundsOf(mesh);
        EXPECT_NEAR(glm::distance(bounds.size(), glm::vec3(1, 0.5, 2)), 0, 1e-5f);
    }
}

TEST(Ball, IsClosedAndRound) {
    Build b;
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "ball")).scene;
    b.set(b.shape, "radius", {2}).set(b.shape, "sides", {128}).set(b.shape, "rings", {64});
    const Mesh mesh = meshOf(b);
    expectClosed(mesh);
    EXPECT_NEAR(volume(mesh), 4.0 / 3 * 3.14159265 * 8, 0.1);
    for (std::size_t i = 0; i < mesh.positions.size(); ++i) EXPECT_LT(glm::distance(mesh.positions[i], mesh.normals[i] * 2.0f), 1e-5f);
}

TEST(Card, LiesFlatAndFacesUp) {
    Build b;
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "card")).scene;
    b.set(b.shape, "columns", {3}).set(b.shape, "rows", {2});
    const Mesh mesh = meshOf(b);
    EXPECT_EQ(mesh.triangles.size(), 3u * 2 * 2 * 3);
    const auto& t = mesh.triangles;
    EXPECT_GT(glm::cross(mesh.positions[t[1]] - mesh.positions[t[0]], mesh.positions[t[2]] - mesh.positions[t[0]]).y, 0);
}

TEST(MeshFile, ReadsObjAndRefusesDamage) {
    Build b;
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "meshFile")).scene;
    b.set(b.shape, "file", std::string("m.obj")).set(b.shape, "size", {2}).set(b.shape, "up", std::string("z"));
    Store store;
    Progress progress;
    const auto load = [&](const std::string& obj) {
        std::ofstream(temporaryFolder() / "m.obj") << obj;
        fs::last_write_time(temporaryFolder() / "m.obj",
                            fs::file_time_type::clock::now() + std::chrono::seconds(static_cast<long>(obj.size())));
        return prepare(b.scene, b.swarm, 0, {{}, temporaryFolder()}, store, progress).stock.variants[0].meshes->mesh();
    };
    const Mesh mesh = load("v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf 1 2 3 4\n");
    EXPECT_EQ(mesh.triangles.size(), 6u);
    EXPECT_EQ(boundsOf(mesh).size(), glm::vec3(2, 0, 2));
    for (const auto& n : mesh.normals) EXPECT_LT(glm::distance(n, glm::vec3(0, 1, 0)), 1e-6f);
    for (const char* bad :
         {"", "hello", "v 0 0 0\nf 1 2 3\n", "v 0 0 0\nv nan 0 0\nv 0 1 0\nf 1 2 3\n", "v 1 2 3\nf -5 -6 -7\n", "f 999999999 1 2\n"})
        EXPECT_THROW(load(bad), Error) << bad;
}

namespace {

/// Mean linear light of the pixels in the middle of a square picture.
double middleOf(const Image& image) {
    double sum = 0;
    int count = 0;
    for (int y = image.height * 2 / 5; y < image.height * 3 / 5; ++y)
        for (int x = image.width * 2 / 5; x < image.width * 3 / 5; ++x, ++count)
            for (int c = 0; c < 3; ++c)
                sum += linearFromSrgb(image.pixels[4 * (static_cast<std::size_t>(y) * static_cast<std::size_t>(image.width) +
                                                        static_cast<std::size_t>(x)) +
                                                   static_cast<std::size_t>(c)] /
                                      255.0) /
                       3;
    return sum / count;
}

/// One card that fills the view from above, under an even white sky without a sun.
struct Lit {
    Build b = Build::grid(1, 1, 1);
    Lit() {
        b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "card")).scene;
        b.set(b.shape, "width", {20}).set(b.shape, "depth", {20});
        const ObjectId camera = b.scene.all(ObjectType::camera).front();
        b.set(b.sun(), "strength", {0}).set(b.sky(), "strength", {1}).set(b.sky(), "ground", false);
        for (const char* sky : {"zenith", "horizon"}) b.set(b.sky(), sky, {1, 1, 1, 1});
        b.set(camera, "position", {0, 5, 0.01}).set(camera, "target", {0, 0, 0});
        b.set(b.scene.project().id, "background", {0, 0, 0, 1});
    }
    double traced() const {
        Progress progress;
        return middleOf(trace(drawListOf(std::vector{b.result()}), settingAt(b.scene, 0, making::store()), {32, 32, 256, 1}, progress));
    }
};

}  // namespace

TEST(Trace, MetalAndRoughnessAreSeenInNumbers) {
    Lit matt;
    const double grey = srgbFromLinear(0.5);
    matt.b.set(matt.b.material, "colour", {grey, grey, grey, 1}).set(matt.b.material, "roughness", {1});
    // A matt surface under an even sky of 1 gives back its colour; a metal its colour at the head; both a little more at the edge.
    EXPECT_NEAR(matt.traced(), 0.5, 0.03);
    Lit metal;
    metal.b.set(metal.b.material, "colour", {grey, grey, grey, 1})
        .set(metal.b.material, "metal", {1})
        .set(metal.b.material, "roughness", {0.1});
    EXPECT_NEAR(metal.traced(), 0.5, 0.02);
    Lit rough = metal;
    rough.b.set(rough.b.material, "roughness", {1});
    EXPECT_LT(rough.traced(), metal.traced() - 0.02) << "a rough metal shades itself";
    // What is mirrored counts: only a smooth metal sees that the zenith is dark.
    for (Lit* lit : {&matt, &metal}) {
        lit->b.set(lit->b.sky(), "zenith", {0, 0, 0, 1});
    }
    EXPECT_LT(metal.traced(), 0.1);
    EXPECT_GT(matt.traced(), 0.1);
}

TEST(Trace, OpacityIsTheShareThatIsSeen) {
    const double grey = srgbFromLinear(0.5);
    for (const double opacity : {1.0, 0.6, 0.25}) {
        Lit lit;
        lit.b.set(lit.b.material, "colour", {grey, grey, grey, opacity}).set(lit.b.material, "roughness", {1});
        EXPECT_NEAR(lit.traced(), 0.5 * std::round(opacity * 255) / 255, 0.03) << opacity << " over black";
    }
}

TEST(Trace, IsTheSameOnAnyNumberOfThreads) {
    const Build b = Build::grid(5, 2, 5);
    Image one;
    for (const int threads : {1, 2, 4}) {
        Evaluator evaluator(threads);
        Progress progress;
        Image image;
        evaluator.workers().run([&] {
            image = trace(drawListOf(std::vector{b.result()}), settingAt(b.scene, 0, making::store()), {64, 36, 4, 3}, progress);
        });
        if (threads == 1) one = image;
        EXPECT_EQ(image.pixels, one.pixels) << threads;
    }
}

TEST(Trace, IsTheSameForASeedAndDiffersForAnother) {
    const Build b = Build::grid(4, 1, 4);
    Progress progress;
    const Setting setting = settingAt(b.scene, 0, making::store());
    const TraceSize size{48, 27, 4, 1};
    const Image one = trace(shown(b), setting, size, progress), again = trace(shown(b), setting, size, progress);
    EXPECT_EQ(one.pixels, again.pixels);
    EXPECT_NE(one.pixels, trace(shown(b), setting, {48, 27, 4, 2}, progress).pixels);
}

TEST(Trace, ShowsInstanceColourAndShadow) {
    Build b = Build::grid(1, 1, 1);
    b.set(b.material, "colour", {0.9, 0.1, 0.1, 1}).set(b.stock, "foot", std::string("base"));
    const ObjectId camera = b.scene.all(ObjectType::camera).front();
    b.set(camera, "position", {0, 9, 0.01}).set(camera, "target", {0, 0, 0});
    b.set(b.sun(), "height", {45}).set(b.sun(), "around", {90}).set(b.sky(), "groundColour", {0.6, 0.6, 0.6, 1});
    Progress progress;
    const Image image = trace(shown(b), settingAt(b.scene, 0, making::store()), {90, 90, 64, 1}, progress);
    const auto pixel = [&](int x, int y) { return &image.pixels[4 * static_cast<std::size_t>(y * 90 + x)]; };
    EXPECT_GT(pixel(45, 45)[0], 2 * pixel(45, 45)[1]);      // the box is red
    EXPECT_LT(pixel(31, 45)[1] * 3, pixel(60, 45)[1] * 2);  // its shadow falls away from the sun, which stands at +X
}

TEST(Trace, RefusesImpossibleSizesAndCancels) {
    const Build b = Build::grid(2, 1, 2);
    Progress progress;
    for (const TraceSize& size : {TraceSize{0, 10, 1, 1}, TraceSize{10, 99999, 1, 1}, TraceSize{10, 10, 0, 1}})
        EXPECT_THROW(trace(shown(b), settingAt(b.scene, 0, making::store()), size, progress), Error);
    progress.cancel();
    EXPECT_THROW(trace(shown(b), settingAt(b.scene, 0, making::store()), {64, 64, 4, 1}, progress), Cancelled);
}

TEST(Gltf, StillHoldsEveryShownInstance) {
    Build b = Build::grid(5, 1, 5);
    const ObjectId hide = b.gesture();
    b.set(hide, "scale", true).set(hide, "scaleAmount", {0, 0, 0});
    const ObjectId z = b.zone(hide, "box");
    b.set(z, "size", {1.5, 1.5, 1.5}).set(z, "softEdge", {0});
    Evaluator evaluator;
    Progress progress;
    writeExport(standardPart(gltfExporter), {evaluator, b.scene, {}}, temporaryFolder() / "a.glb", progress);
    const auto json = glbJson(temporaryFolder() / "a.glb");
    const auto& attributes = json["nodes"][0]["extensions"]["EXT_mesh_gpu_instancing"]["attributes"];
    EXPECT_EQ(json["accessors"][attributes["TRANSLATION"].get<int>()]["count"], 24);
    EXPECT_EQ(json["accessors"][attributes["_COLOR_0"].get<int>()]["count"], 24);
}

TEST(Gltf, BakedHasKeysOnlyWhereSomethingChanges) {
    Build b = Build::grid(3, 1, 1);
    const ObjectId g = b.gesture();
    b.set(g, "position", true).key(g, "strength", {{0, 0, Ease::linear}, {4, 100, Ease::linear}});
    Evaluator evaluator;
    Progress progress;
    writeExport(standardPart(bakedGltfExporter), {evaluator, b.scene, {}, 0, {0, 4}}, temporaryFolder() / "b.glb", progress);
    const auto json = glbJson(temporaryFolder() / "b.glb");
    ASSERT_EQ(json["animations"][0]["channels"].size(), 3u);
    for (const auto& channel : json["animations"][0]["channels"]) EXPECT_EQ(channel["target"]["path"], "translation");
    const int input = json["animations"][0]["samplers"][0]["input"];
    EXPECT_EQ(json["accessors"][input]["count"], 5);
    EXPECT_NEAR(json["accessors"][input]["max"][0].get<double>(), 4 / 25.0, 1e-6);
    EXPECT_EQ(json["nodes"].size(), 6u) << "three, what carries them, the sun and the camera";
}

TEST(Gltf, CarriesMaterialsLightsAndTheCamera) {
    Build b = Build::grid(2, 1, 1);
    b.set(b.material, "glows", true).set(b.material, "emission", {5}).set(b.material, "emissionColour", {1, 0, 0, 1});
    b.set(b.material, "coated", true).set(b.material, "coat", {0.75}).set(b.material, "ior", {1.8});
    b.choose(b.material, "body", "solid").set(b.material, "attenuationDistance", {2});
    const Edit spot = addLight(b.scene, spotLight);
    b.scene = spot.scene;
    b.set(spot.made, "strength", {120}).set(spot.made, "position", {1, 7, 2}).set(spot.made, "rotation", {0, 0, 90});
    b.set(b.scene.all(ObjectType::camera).front(), "position", {0, 2, 9}).set(b.scene.all(ObjectType::camera).front(), "target", {0, 2, 0});
    Evaluator evaluator;
    Progress progress;
    writeExport(standardPart(gltfExporter), {evaluator, b.scene, {}}, temporaryFolder() / "looks.glb", progress);
    const auto json = glbJson(temporaryFolder() / "looks.glb");
    const auto& material = json["materials"][0];
    EXPECT_EQ(material["emissiveFactor"], nlohmann::json({1.0, 0.0, 0.0}));
    const auto& extensions = material["extensions"];
    EXPECT_EQ(extensions["KHR_materials_emissive_strength"]["emissiveStrength"], 5);
    EXPECT_EQ(extensions["KHR_materials_clearcoat"]["clearcoatFactor"], 0.75);
    EXPECT_NEAR(extensions["KHR_materials_ior"]["ior"].get<double>(), 1.8, 1e-6);
    EXPECT_EQ(extensions["KHR_materials_volume"]["attenuationDistance"], 2);
    EXPECT_TRUE(extensions.contains("KHR_materials_transmission"));
    const auto& lights = json["extensions"]["KHR_lights_punctual"]["lights"];
    ASSERT_EQ(lights.size(), 2u);
    EXPECT_EQ(lights[0]["type"], "directional");
    EXPECT_EQ(lights[1]["type"], "spot");
    EXPECT_EQ(lights[1]["intensity"], 120);
    // Turned by 90 degrees about Z it shines along +X: its node turns -Z there.
    const auto spotNode =
        std::find_if(json["nodes"].begin(), json["nodes"].end(), [](const auto& node) { return node.value("name", "") == "Lamp 1"; });
    ASSERT_NE(spotNode, json["nodes"].end());
    const auto& q = (*spotNode)["rotation"];
    const glm::quat turn(q[3].get<float>(), q[0].get<float>(), q[1].get<float>(), q[2].get<float>());
    making::expectNear(turn * glm::vec3(0, 0, -1), {1, 0, 0}, 1e-5f);
    EXPECT_EQ((*spotNode)["translation"], nlohmann::json({1.0, 7.0, 2.0}));
    ASSERT_EQ(json["cameras"].size(), 1u);
    EXPECT_NEAR(json["cameras"][0]["perspective"]["yfov"].get<double>(), 2 * std::atan(18.0 / 45 * 9 / 16), 1e-5);
    for (const auto& used : json["extensionsUsed"])
        EXPECT_TRUE(used.get<std::string>().starts_with("KHR_") || used == "EXT_mesh_gpu_instancing");
}

namespace {

/// The numbers of an accessor of a binary glTF.
std::vector<float> floatsOf(const fs::path& path, const nlohmann::json& json, int accessor) {
    const std::string bytes = readFile(path, 1 << 28);
    std::uint32_t jsonLength = 0;
    std::memcpy(&jsonLength, bytes.data() + 12, 4);
    const auto& a = json["accessors"][accessor];
    const auto& view = json["bufferViews"][a["bufferView"].get<int>()];
    const std::map<std::string, std::size_t> widths = {{"SCALAR", 1}, {"VEC3", 3}, {"VEC4", 4}};
    std::vector<float> out(a["count"].get<std::size_t>() * widths.at(a["type"]));
    std::memcpy(out.data(), bytes.data() + 20 + jsonLength + 8 + view.value("byteOffset", 0u), out.size() * 4);
    return out;
}

/// The keys of a node's channel; empty where it has none.
std::vector<float> keysOf(const fs::path& path, const nlohmann::json& json, int node, const std::string& channel) {
    for (const auto& animation : json.value("animations", nlohmann::json::array()))
        for (const auto& c : animation["channels"])
            if (c["target"]["node"] == node && c["target"]["path"] == channel)
                return floatsOf(path, json, animation["samplers"][c["sampler"].get<int>()]["output"]);
    return {};
}

}  // namespace

TEST(Gltf, BakedHidesWhatAGestureHidesAtThoseFrames) {
    Build b = Build::grid(2, 1, 1);
    const ObjectId hide = b.gesture();
    b.set(hide, "showing", true).key(hide, "strength", {{0, 0, Ease::hold}, {2, 100, Ease::hold}, {3, 0, Ease::hold}});
    b.scene = addChosenZone(b.scene, hide, {b.rows()[0].id}).scene;
    const ObjectId moves = b.gesture();
    b.set(moves, "position", true).key(moves, "strength", {{0, 0, Ease::linear}, {4, 100, Ease::linear}});
    Evaluator evaluator;
    Progress progress;
    const fs::path path = temporaryFolder() / "hidden.glb";
    writeExport(standardPart(bakedGltfExporter), {evaluator, b.scene, {}, 0, {0, 4}}, path, progress);
    const auto json = glbJson(path);
    ASSERT_EQ(json["nodes"].size(), 6u) << "one node, one that comes and goes with its part, the swarm, the sun and the camera";
    int parts = 0;
    for (int n = 0; n < 4; ++n) {
        const auto& node = json["nodes"][n];
        if (!node.contains("mesh") || !keysOf(path, json, n, "translation").empty()) continue;
        ++parts;
        const auto scale = keysOf(path, json, n, "scale");
        ASSERT_EQ(scale.size(), 15u);
        for (int frame = 0; frame < 5; ++frame) EXPECT_EQ(scale[3 * static_cast<std::size_t>(frame)], frame == 2 ? 0 : 1) << frame;
    }
    EXPECT_EQ(parts, 1);
    for (const auto& sampler : json["animations"][0]["samplers"])
        EXPECT_TRUE(sampler["interpolation"] == "LINEAR" || sampler["interpolation"] == "STEP");
}

TEST(Gltf, BakedFollowsWhenAnotherShapeIsTaken) {
    Build b = Build::grid(1, 1, 1);
    const Edit ball = addShape(b.scene, *findKind(Family::shape, "ball"));
    const Edit stock = addStock(ball.scene, b.swarm, ball.made);
    b.scene = stock.scene;
    const ObjectId g = b.gesture();
    b.set(g, "shape", true).choose(g, "shapeBy", "one").set(g, "shapeEntry", Value(stock.made));
    b.key(g, "strength", {{0, 0, Ease::hold}, {3, 100, Ease::hold}});
    Evaluator evaluator;
    Progress progress;
    const fs::path path = temporaryFolder() / "shapes.glb";
    writeExport(standardPart(bakedGltfExporter), {evaluator, b.scene, {}, 0, {0, 4}}, path, progress);
    const auto json = glbJson(path);
    std::map<std::string, std::vector<float>> scales;
    for (int n = 0; n < static_cast<int>(json["nodes"].size()); ++n)
        if (json["nodes"][n].contains("mesh")) {
            const auto& mesh = json["meshes"][json["nodes"][n]["mesh"].get<int>()];
            for (const auto keys = keysOf(path, json, n, "scale"); std::size_t f : {0, 1, 2, 3, 4})
                scales[mesh["name"]].push_back(keys[3 * f]);
        }
    ASSERT_EQ(scales.size(), 2u);
    EXPECT_EQ(scales[b.scene.at(ball.made).name], (std::vector<float>{0, 0, 0, 1, 1}));
    EXPECT_EQ(scales[b.scene.at(b.shape).name], (std::vector<float>{1, 1, 1, 0, 0}));
}

TEST(Gltf, WhatIsNotOpaqueIsBlended) {
    for (const double alpha : {1.0, 0.4}) {
        Build b = Build::grid(2, 1, 1);
        b.set(b.material, "colour", {0.5, 0.5, 0.5, alpha});
        Evaluator evaluator;
        Progress progress;
        writeExport(standardPart(gltfExporter), {evaluator, b.scene, {}}, temporaryFolder() / "alpha.glb", progress);
        const auto still = glbJson(temporaryFolder() / "alpha.glb");
        writeExport(standardPart(bakedGltfExporter), {evaluator, b.scene, {}, 0, {0, 1}}, temporaryFolder() / "alpha.glb", progress);
        const auto baked = glbJson(temporaryFolder() / "alpha.glb");
        for (const auto& json : {still, baked})
            EXPECT_EQ(json["materials"][0].value("alphaMode", "OPAQUE"), alpha < 1 ? "BLEND" : "OPAQUE");
        EXPECT_NEAR(still["materials"][0]["pbrMetallicRoughness"]["baseColorFactor"][3].get<double>(), alpha, 1e-6);
    }
}

TEST(Gltf, PositionRotationAndScaleAreTheRailsOwn) {
    // Sizes that differ by a million leave nothing of a rotation in a float matrix's small rows to be decomposed.
    Build b = Build::grid(3, 1, 1);
    const ObjectId g = b.gesture();
    b.set(g, "rotation", true).set(g, "rotationAmount", {30, 40, 50}).set(g, "scale", true).set(g, "scaleAmount", {1e-3, 1, 1e3});
    Evaluator evaluator;
    Progress progress;
    const fs::path path = temporaryFolder() / "rail.glb";
    writeExport(standardPart(gltfExporter), {evaluator, b.scene, {}}, path, progress);
    const auto json = glbJson(path);
    const auto& attributes = json["nodes"][0]["extensions"]["EXT_mesh_gpu_instancing"]["attributes"];
    const auto rotations = floatsOf(path, json, attributes["ROTATION"]), scales = floatsOf(path, json, attributes["SCALE"]);
    const auto rows = b.rows();
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const glm::quat& q = rows[i].rotation;
        EXPECT_EQ(rotations[4 * i], q.x);
        EXPECT_EQ(rotations[4 * i + 3], q.w);
        EXPECT_EQ(scales[3 * i], rows[i].scale.x);
        EXPECT_EQ(scales[3 * i + 2], rows[i].scale.z);
    }
}

TEST(Csv, NumbersReadBackTheSame) {
    Build b = Build::grid(3, 1, 3);
    const ObjectId g = b.gesture("noise");
    b.set(g, "position", true);
    b.scene = rename(b.scene, b.shape, "Tile, \"large\"").scene;
    std::ostringstream out;
    writeCsv(b.plan(), b.scene, out);
    std::istringstream in(out.str());
    std::string line;
    std::getline(in, line);
    EXPECT_EQ(line,
              "number,id,shape,shown,position_x,position_y,position_z,quaternion_x,quaternion_y,quaternion_z,quaternion_w,"
              "scale_x,scale_y,scale_z,red,green,blue,alpha");
    for (const auto& row : b.rows()) {
        ASSERT_TRUE(std::getline(in, line));
        const std::string start = std::to_string(row.number) + "," + std::to_string(row.id) + ",\"Tile, \"\"large\"\"\",1,";
        ASSERT_EQ(line.substr(0, start.size()), start);
        EXPECT_EQ(std::stof(line.substr(start.size())), row.position.x);
    }
    std::ostringstream withUnits;
    writeCsv(b.plan(), b.scene, withUnits, {true, false});
    EXPECT_NE(withUnits.str().find(",shown,position_x [m],position_y [m],position_z [m],quaternion_x,"), std::string::npos);
}
