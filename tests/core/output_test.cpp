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
#include "core/exchange/csv.h"
#include "core/exchange/export.h"
#include "core/file/project_file.h"
#include "core/kinds/registry.h"
#include "tests/core/making.h"
#include "core/prepare/prepare.h"
#include "core/picture/view.h"
#include "core/provide/store.h"

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

std::vector<std::shared_ptr<const Result>> shown(const Build& b) { return {b.result()}; }

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
    b.set(b.stock, "colour", {0.9, 0.1, 0.1, 1}).set(b.stock, "foot", std::string("base"));
    const ObjectId camera = b.scene.all(ObjectType::camera).front(), light = b.scene.all(ObjectType::light).front();
    b.set(camera, "position", {0, 9, 0.01}).set(camera, "target", {0, 0, 0});
    b.set(light, "sunHeight", {45}).set(light, "sunAround", {90}).set(light, "groundColour", {0.6, 0.6, 0.6, 1});
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
    exportGltfStill(evaluator, b.scene, {}, 0, temporaryFolder() / "a.glb", progress);
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
    exportGltfBaked(evaluator, b.scene, {}, {0, 4}, temporaryFolder() / "b.glb", progress);
    const auto json = glbJson(temporaryFolder() / "b.glb");
    ASSERT_EQ(json["animations"][0]["channels"].size(), 3u);
    for (const auto& channel : json["animations"][0]["channels"]) EXPECT_EQ(channel["target"]["path"], "translation");
    const int input = json["animations"][0]["samplers"][0]["input"];
    EXPECT_EQ(json["accessors"][input]["count"], 5);
    EXPECT_NEAR(json["accessors"][input]["max"][0].get<double>(), 4 / 25.0, 1e-6);
    EXPECT_EQ(json["nodes"].size(), 4u);
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
    EXPECT_EQ(line, "number,id,shape,shown,position_x,position_y,position_z,quaternion_x,quaternion_y,quaternion_z,quaternion_w,"
              "scale_x,scale_y,scale_z,red,green,blue,alpha");
    for (const auto& row : b.rows()) {
        ASSERT_TRUE(std::getline(in, line));
        const std::string start = std::to_string(row.number) + "," + std::to_string(row.id) + ",\"Tile, \"\"large\"\"\",1,";
        ASSERT_EQ(line.substr(0, start.size()), start);
        EXPECT_EQ(std::stof(line.substr(start.size())), row.position.x);
    }
}
