// Mesh files and drawings, sound and hostile.
#include <gtest/gtest.h>

#include <rapidcheck.h>
#include <rapidcheck/gtest.h>
#include <chrono>
#include <nlohmann/json.hpp>
#include <numbers>

#include <cmath>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <glm/geometric.hpp>
#include <set>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/edit/edit.h"
#include "core/exchange/exporter_kind.h"
#include "core/kinds/registry.h"
#include "core/provide/file_hash.h"
#include "core/shape/inside.h"
#include "core/shape/read_mesh.h"
#include "core/shape/shape_kind.h"
#include "core/shape/svg.h"
#include "tests/core/making.h"
#include "tests/core/meshes.h"

using namespace gswarm;

namespace {

using std::numbers::pi;

ShapeMeshes fromFile(const std::string& name, const std::string& bytes, const making::Numbered& numbers = {}, making::Chosen choices = {}) {
    std::ofstream(making::temporaryFolder() / name, std::ios::binary) << bytes;
    choices.push_back({"file", name});
    ShapeSource source;
    source.projectFolder = making::temporaryFolder();
    return making::shape(name.ends_with(".svg") ? "artwork" : "meshFile", numbers, choices, source);
}

template <class T>
void put(std::string& bytes, T value, bool big = false) {
    char raw[sizeof(T)];
    std::memcpy(raw, &value, sizeof(T));
    if (big) std::reverse(raw, raw + sizeof(T));
    bytes.append(raw, sizeof(T));
}

/// A unit cube of six quads with red, green, blue corners, in every form of PLY.
std::string plyCube(const std::string& form) {
    const int quads[6][4] = {{0, 2, 3, 1}, {4, 5, 7, 6}, {0, 1, 5, 4}, {2, 6, 7, 3}, {0, 4, 6, 2}, {1, 3, 7, 5}};
    std::string out = "ply\nformat " + form +
                      " 1.0\ncomment a cube\nelement vertex 8\nproperty float x\nproperty float y\nproperty double z\n"
                      "property uchar red\nproperty uchar green\nproperty uchar blue\nelement face 6\nproperty list uchar int "
                      "vertex_indices\nend_header\n";
    const bool big = form == "binary_big_endian";
    for (int v = 0; v < 8; ++v) {
        const int x = v & 1, y = v >> 1 & 1, z = v >> 2;
        if (form == "ascii") {
            out += std::to_string(x) + " " + std::to_string(y) + " " + std::to_string(z) + " " + std::to_string(x * 255) + " 0 128\n";
            continue;
        }
        put(out, float(x), big), put(out, float(y), big), put(out, double(z), big);
        put(out, static_cast<std::uint8_t>(x * 255)), put(out, std::uint8_t{0}), put(out, std::uint8_t{128});
    }
    for (const auto& quad : quads) {
        if (form == "ascii") {
            out += "4 " + std::to_string(quad[0]) + " " + std::to_string(quad[1]) + " " + std::to_string(quad[2]) + " " +
                   std::to_string(quad[3]) + "\n";
            continue;
        }
        put(out, std::uint8_t{4});
        for (const int corner : quad) put(out, corner, big);
    }
    return out;
}

std::string stlOf(const Mesh& mesh, bool text) {
    std::string out = text ? "solid thing\n" : std::string(80, ' ');
    if (!text) put(out, static_cast<std::uint32_t>(mesh.triangleCount()));
    for (std::size_t t = 0; t < mesh.triangles.size(); t += 3) {
        if (text) out += "facet normal 0 0 0\nouter loop\n";
        if (!text) out.append(12, '\0');
        for (std::size_t k = 0; k < 3; ++k) {
            const glm::vec3& p = mesh.positions[mesh.triangles[t + k]];
            if (text)
                out += "vertex " + std::to_string(p.x) + " " + std::to_string(p.y) + " " + std::to_string(p.z) + "\n";
            else
                put(out, p.x), put(out, p.y), put(out, p.z);
        }
        out += text ? "endloop\nendfacet\n" : std::string(2, '\0');
    }
    return out + (text ? "endsolid\n" : "");
}

const char* const objTwo =
    "o one\nv 0 0 0 1 0 0\nv 1 0 0 0 1 0\nv 1 1 0 0 0 1\nv 0 1 0 1 1 1\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nf 1/1 2/2 3/3 4/4\n"
    "o two\nv 0 0 5\nv 2 0 5\nv 0 2 5\nf 5 6 7\n";

std::string svg(const std::string& body) { return "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 100 100'>" + body + "</svg>"; }

}  // namespace

TEST(MeshFile, PlyInEveryFormGivesTheSameCubeWithItsColours) {
    for (const char* form : {"ascii", "binary_little_endian", "binary_big_endian"}) {
        const ShapeMeshes cube = fromFile("cube.ply", plyCube(form));
        making::expectClosed(cube.mesh(), form);
        making::expectSound(cube.mesh(), form);
        EXPECT_NEAR(making::signedVolume(cube.mesh()), 1, 1e-5) << form;
        EXPECT_EQ(cube.mesh().faceCount(), 6u) << form;
        for (std::size_t v = 0; v < cube.mesh().positions.size(); ++v) {
            EXPECT_NEAR(cube.mesh().colours[v].x, cube.mesh().positions[v].x, 1e-5) << form;
            EXPECT_NEAR(cube.mesh().colours[v].z, 0.2158605, 1e-5) << form;  // 128 / 255, decoded
        }
    }
}

TEST(MeshFile, StlTextAndBinaryAndUnitsAndUp) {
    const Mesh ball = making::mesh("ball", {{"radius", {2}}});
    for (const bool text : {false, true}) {
        const ShapeMeshes read = fromFile("ball.stl", stlOf(ball, text));
        making::expectClosed(read.mesh(), "ball");
        EXPECT_NEAR(making::signedVolume(read.mesh()), making::signedVolume(ball), 1e-2);
    }
    const Mesh box = making::mesh("box", {{"size", {1, 2, 3}}, {"rounding", {0}}});
    const auto size = [&](making::Chosen choices) { return fromFile("box.stl", stlOf(box, false), {}, std::move(choices)).bounds.size(); };
    EXPECT_LT(glm::distance(size({}), glm::vec3(1, 2, 3)), 1e-5f);
    EXPECT_LT(glm::distance(size({{"up", "z"}}), glm::vec3(1, 3, 2)), 1e-5f);
    EXPECT_LT(glm::distance(size({{"up", "x"}}), glm::vec3(2, 1, 3)), 1e-5f);
    EXPECT_LT(glm::distance(size({{"unit", "centimetres"}}), glm::vec3(1, 2, 3) / 100.0f), 1e-6f);
    EXPECT_LT(glm::distance(size({{"unit", "inches"}}), glm::vec3(1, 2, 3) * 0.0254f), 1e-6f);
    for (const char* up : {"x", "y", "z"}) making::expectClosed(fromFile("box.stl", stlOf(box, false), {}, {{"up", up}}).mesh(), up);
}

TEST(MeshFile, ObjKeepsQuadsUvColoursAndSeveralMeshes) {
    const ShapeMeshes both = fromFile("two.obj", objTwo);
    EXPECT_EQ(both.mesh().faceCount(), 2u);
    EXPECT_NE(both.note.find("2 meshes"), std::string::npos) << both.note;
    const Mesh quad = fromFile("two.obj", objTwo, {{"only", {1}}}).mesh();
    EXPECT_EQ(quad.faceCount(), 1u);
    EXPECT_EQ(quad.triangleCount(), 2u);
    for (std::size_t v = 0; v < quad.positions.size(); ++v) EXPECT_EQ(quad.uv[v], glm::vec2(quad.positions[v]));
    EXPECT_EQ(quad.colours[0], glm::vec4(1, 0, 0, 1));
    EXPECT_EQ(fromFile("two.obj", objTwo, {{"only", {2}}}).mesh().triangleCount(), 1u);
    EXPECT_THROW(fromFile("two.obj", objTwo, {{"only", {3}}}), Error);
}

TEST(MeshFile, ConcavePolygonsAreFilledRightly) {
    // An arrow head of four corners: a fan from any but one corner would spill out of it.
    const Mesh arrow = fromFile("arrow.obj", "v 0 0 0\nv 2 1 0\nv 0 2 0\nv 0.5 1 0\nf 1 2 3 4\n").mesh();
    EXPECT_NEAR(areaOf(arrow), 1.5, 1e-5);
}

TEST(MeshFile, IsTheSameByItsContentAndNotByItsTime) {
    const auto write = [](const std::string& name, const std::string& text) { std::ofstream(making::temporaryFolder() / name) << text; };
    const std::string one = "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", other = "v 0 0 0\nv 2 0 0\nv 0 1 0\nf 1 2 3\n";
    const auto path = making::temporaryFolder() / "content.obj";
    FileHashes hashes;
    write("content.obj", one);
    const auto first = hashes.of(path).hash;
    const auto written = std::filesystem::last_write_time(path);
    write("elsewhere.obj", one);
    EXPECT_EQ(hashes.of(making::temporaryFolder() / "elsewhere.obj").hash, first) << "the same content elsewhere";
    std::filesystem::last_write_time(path, written + std::chrono::hours(1));
    EXPECT_EQ(hashes.of(path).hash, first) << "touched, but the same";
    write("content.obj", other);
    std::filesystem::last_write_time(path, written);
    EXPECT_NE(hashes.of(path).hash, first) << "as long and as old, but another";
    EXPECT_THROW(hashes.of(making::temporaryFolder() / "gone.obj"), Error);
}

TEST(MeshFile, ASecondFileOfAGltfBelongsToItsContent) {
    using Json = nlohmann::json;
    const auto folder = making::temporaryFolder();
    std::filesystem::create_directories(folder / "kept here");
    const auto writeBuffer = [&](float x) {
        const float corners[] = {0, 0, 0, x, 0, 0, 0, 1, 0};
        std::ofstream(folder / "kept here" / "my corners.bin", std::ios::binary)
            .write(reinterpret_cast<const char*>(corners), sizeof corners);
    };
    const Json document = {{"asset", {{"version", "2.0"}}},
                           {"buffers", {{{"byteLength", 36}, {"uri", "my%20corners.bin"}}}},
                           {"bufferViews", {{{"buffer", 0}, {"byteLength", 36}}}},
                           {"accessors", {{{"bufferView", 0}, {"componentType", 5126}, {"count", 3}, {"type", "VEC3"}}}},
                           {"meshes", {{{"primitives", {{{"attributes", {{"POSITION", 0}}}}}}}}},
                           {"nodes", {{{"mesh", 0}}}},
                           {"scenes", {{{"nodes", {0}}}}},
                           {"scene", 0}};
    std::ofstream(folder / "kept here" / "two.gltf") << document.dump();
    making::Build b;
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "meshFile")).scene;
    b.set(b.shape, "file", std::string("kept here/two.gltf"));
    Evaluator evaluator(1);
    Progress progress;
    const auto width = [&] {
        return evaluator.plan(b.scene, b.swarm, 0, {{}, folder}, progress).stock.variants[0].meshes->bounds.size().x;
    };
    writeBuffer(1);
    EXPECT_FLOAT_EQ(width(), 1);
    writeBuffer(3);
    EXPECT_FLOAT_EQ(width(), 3);
}

TEST(MeshFile, GltfThatWeWroteComesBack) {
    making::Build b = making::Build::grid(2, 1, 1);
    Evaluator evaluator(1);
    Progress progress;
    writeExport(standardPart(gltfExporter), {evaluator, b.scene, {}}, making::temporaryFolder() / "boxes.glb", progress);
    // Both instances come back, with their smooth normals.
    const ShapeMeshes read = fromFile("copy.glb", readFile(making::temporaryFolder() / "boxes.glb", 1 << 24));
    EXPECT_NEAR(making::signedVolume(read.mesh()), 2 * making::signedVolume(making::mesh("box")), 1e-4);
    making::expectSound(read.mesh(), "glb");
}

TEST(MeshFile, DamagedOrHostileFilesGiveOneClearSentence) {
    const std::string ply = plyCube("binary_little_endian"), stl = stlOf(making::mesh("box", {{"rounding", {0}}}), false);
    std::string hugeStl = stl;
    const std::uint32_t many = 4'000'000'000u;
    std::memcpy(hugeStl.data() + 80, &many, 4);
    std::string nanStl = stl;
    const float nan = NAN;
    std::memcpy(nanStl.data() + 84 + 12, &nan, 4);
    const std::vector<std::pair<std::string, std::string>> bad = {
        {"a.ply", ""},
        {"a.ply", "ply\n"},
        {"a.ply", ply.substr(0, ply.size() - 7)},
        {"a.ply", "ply\nformat ascii 1.0\nelement vertex 99999999999999999999\nend_header\n"},
        {"a.ply",
         "ply\nformat ascii 1.0\nelement vertex 50000000\nproperty float x\nproperty float y\nproperty float z\nend_header\n0 0 0\n"},
        {"a.ply",
         "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\nproperty list "
         "uchar int "
         "vertex_indices\nend_header\n0 0 0\n1 0 0\n0 1 0\n3 0 1 7\n"},
        {"a.ply",
         "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\nproperty list "
         "uchar int "
         "vertex_indices\nend_header\n0 0 0\n1 nan 0\n0 1 0\n3 0 1 2\n"},
        {"a.stl", "solid"},
        {"a.stl", "solid x\nfacet\nouter loop\nvertex 1 2\nendloop"},
        {"a.stl", stl.substr(0, 200)},
        {"a.stl", hugeStl},
        {"a.stl", nanStl},
        {"a.obj", "v 0 0 0\nf 1 2 3\n"},
        {"a.obj", "hello"},
        {"a.glb", "glTF"},
        {"a.gltf", "{}"},
        {"a.gltf",
         R"({"asset":{"version":"2.0"},"meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],"nodes":[{"mesh":0}],"scenes":[{"nodes":[0]}],)"
         R"("accessors":[{"bufferView":0,"componentType":5126,"count":1000000,"type":"VEC3"}],"bufferViews":[{"buffer":0,"byteLength":12}],)"
         R"("buffers":[{"byteLength":12,"uri":"data:application/octet-stream;base64,AAAAAAAAAAAAAAAA"}]})"},
        {"a.gltf", R"({"asset":{"version":"2.0"},"nodes":[{"children":[0]}],"scenes":[{"nodes":[0]}]})"},
        {"a.gltf", R"({"asset":{"version":"2.0"},"buffers":[{"byteLength":12,"uri":"gone.bin"}]})"},
        {"a.gltf", R"({"asset":{"version":"2.0"},"buffers":[{"byteLength":12,"uri":"../../etc/passwd"}]})"},
        {"a.xyz", "1 2 3"},
        {"a.svg", "<svg"},
        {"a.svg", "hello"},
        {"a.svg", svg("<text>Reef</text>")},
        {"a.svg", svg("<path d='M 0 0 L nan 3'/>")},
    };
    for (const auto& [name, bytes] : bad) {
        try {
            fromFile(name, bytes);
            ADD_FAILURE() << name << ": " << bytes.substr(0, 60) << " was taken";
        } catch (const Error& error) {
            EXPECT_NE(std::string(error.what()).find(name), std::string::npos) << error.what();
        }
    }
}

RC_GTEST_PROP(MeshFile, AnyDamageIsAnErrorOrASoundMesh, ()) {
    static const std::vector<std::pair<std::string, std::string>> good = [] {
        making::Build b;
        Evaluator evaluator(1);
        Progress progress;
        writeExport(standardPart(gltfExporter), {evaluator, b.scene, {}}, making::temporaryFolder() / "one.glb", progress);
        return std::vector<std::pair<std::string, std::string>>{
            {"d.ply", plyCube("ascii")},
            {"d.ply", plyCube("binary_little_endian")},
            {"d.stl", stlOf(making::mesh("box", {{"rounding", {0}}}), false)},
            {"d.stl", stlOf(making::mesh("box", {{"rounding", {0}}}), true)},
            {"d.obj", objTwo},
            {"d.glb", readFile(making::temporaryFolder() / "one.glb", 1 << 24)},
            {"d.svg", svg("<g transform='rotate(20) scale(2)'><path d='M1 1 C 5 5 9 1 9 9 A 3 4 20 1 0 2 8 Z' stroke='#f00'/></g>")}};
    }();
    auto [name, bytes] = *rc::gen::elementOf(good);
    const int hits = *rc::gen::inRange(1, 6);
    for (int h = 0; h < hits; ++h)
        bytes[static_cast<std::size_t>(*rc::gen::inRange(0, static_cast<int>(bytes.size())))] =
            static_cast<char>(*rc::gen::inRange(0, 256));
    if (*rc::gen::arbitrary<bool>()) bytes.resize(static_cast<std::size_t>(*rc::gen::inRange(0, static_cast<int>(bytes.size()))));
    try {
        const ShapeMeshes read = fromFile(name, bytes);
        for (const std::uint32_t v : read.mesh().triangles) RC_ASSERT(v < read.mesh().positions.size());
    } catch (const Error&) {
    }
}

TEST(Artwork, ShapesFillRulesTransformsAndStrokesHaveTheirAreas) {
    const auto area = [](const std::string& body) {  // of the front, with a drawing 100 units wide made one metre
        const SvgDrawing drawing = readSvg(svg(body), 32);
        double sum = 0;
        for (const SvgItem& item : drawing.items) {
            const auto volume = [](const Outline& o) { return making::signedVolume(extrude(o, {1, 0, BevelForm::rounded, 1})); };
            if (!item.area.contours.empty()) sum += volume(filled(item.area.contours, item.area.rule, 1e-4));
            if (!item.stroke.lines.empty()) sum += volume(stroked(item.stroke.lines, item.stroke.closed, item.stroke.stroke, 1e-4));
        }
        return sum;
    };
    EXPECT_NEAR(area("<rect x='10' y='10' width='30' height='20'/>"), 600, 0.1);
    EXPECT_NEAR(area("<circle cx='50' cy='50' r='10'/>"), pi * 100, 0.5);
    EXPECT_NEAR(area("<ellipse cx='50' cy='50' rx='10' ry='20'/>"), pi * 200, 1);
    EXPECT_NEAR(area("<polygon points='0,0 10,0 10,10 0,10'/>"), 100, 0.1);
    EXPECT_NEAR(area("<path d='M0 0h20v20h-20z m5 5h10v10h-10z'/>"), 400, 0.1);
    EXPECT_NEAR(area("<path fill-rule='evenodd' d='M0 0h20v20h-20z m5 5h10v10h-10z'/>"), 300, 0.1);
    EXPECT_NEAR(area("<g transform='scale(2)'><rect transform='rotate(30)' width='10' height='10'/></g>"), 400, 0.1);
    EXPECT_NEAR(area("<path fill='none' stroke='black' stroke-width='4' d='M0 0 H 50'/>"), 200, 0.1);
    EXPECT_NEAR(area("<path fill='none' stroke='black' stroke-width='4' stroke-linecap='square' d='M0 0 H 50'/>"), 216, 0.1);
    EXPECT_NEAR(area("<rect width='10' height='10' rx='3'/>"), 100 - (4 - pi) * 9, 0.2);
    EXPECT_NEAR(area("<g style='fill: none'><rect width='10' height='10'/><rect width='5' height='5' style='fill:#123'/></g>"), 25, 0.1);
    EXPECT_NEAR(area("<rect width='10' height='10' display='none'/><rect width='2' height='2'/>"), 4, 0.1);
    EXPECT_NEAR(area("<path d='M 0 0 Q 10 0 10 10 T 20 20 L 0 20 Z'/>"), 200, 4);
}

TEST(Artwork, KeepsEachFillsColourAndTellsWhatItLeavesOut) {
    const ShapeMeshes made =
        fromFile("reef.svg", svg("<rect width='50' height='50' fill='#ff0000'/><circle cx='70' cy='70' r='20' fill='rgb(0,128,0)'/>"
                                 "<text x='1'>Reef</text><text>sign</text><image href='a.png'/>"));
    making::expectClosed(made.mesh(), "artwork");
    making::expectSound(made.mesh(), "artwork");
    std::set<std::tuple<float, float, float>> colours;
    for (const auto& c : made.mesh().colours) colours.insert({c.x, c.y, c.z});
    EXPECT_EQ(colours.size(), 2u);
    EXPECT_TRUE(colours.contains({1, 0, 0}));
    EXPECT_NE(made.note.find("2 texts"), std::string::npos) << made.note;
    EXPECT_NE(made.note.find("1 picture"), std::string::npos) << made.note;
    EXPECT_NEAR(made.bounds.size().x, 3, 1e-3);
}
