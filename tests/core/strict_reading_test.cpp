// What ordinary and hostile mesh files say is read rightly, refused with its place, or told as left out.
#include <gtest/gtest.h>

#include <cmath>
#include <cstring>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/shape/monotone_fill.h"
#include "core/shape/read_mesh.h"
#include "tests/core/making.h"
#include "tests/core/meshes.h"

using namespace gswarm;

namespace {

std::string corpus(const std::string& file) { return readFile(std::string(GSWARM_SOURCE "/tests/files/corpus/") + file, 1 << 20); }

/// What a reader says when it refuses; empty if it reads.
std::string readerRefusal(MeshFileContent (*reader)(std::string_view), const std::string& bytes) {
    try {
        reader(bytes);
        return {};
    } catch (const Error& error) {
        return error.what();
    }
}
void expectRefused(MeshFileContent (*reader)(std::string_view), const std::string& bytes, const std::string& wanted) {
    const std::string said = readerRefusal(reader, bytes);
    EXPECT_NE(said.find(wanted), std::string::npos) << "wanted “" << wanted << "”, it said: “" << said << "”";
}

const Mesh& only(const MeshFileContent& content) {
    EXPECT_EQ(content.meshes.size(), 1u);
    return content.meshes.at(0).mesh;
}

const std::string triangle = "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n";

/// A ring of spikes: simple, concave, all corners far apart along any sweep.
std::vector<glm::dvec2> star(std::size_t corners) {
    std::vector<glm::dvec2> out;
    for (std::size_t i = 0; i < corners; ++i) {
        const double turn = 2 * 3.14159265358979 * static_cast<double>(i) / static_cast<double>(corners), r = i % 2 ? 1 : 0.2;
        out.emplace_back(r * std::cos(turn), r * std::sin(turn));
    }
    return out;
}

double area(const std::vector<glm::dvec2>& p) {
    double sum = 0;
    for (std::size_t i = 0; i < p.size(); ++i) {
        const auto &a = p[i], &b = p[(i + 1) % p.size()];
        sum += a.x * b.y - a.y * b.x;
    }
    return sum / 2;
}

MeshFileContent readGltfAlone(std::string_view bytes) { return readGltf(bytes); }

}  // namespace

TEST(Obj, FacesOfMoreThan255CornersStayWhole) {
    const Mesh face = only(readObj(corpus("obj/face-of-300.obj")));
    ASSERT_EQ(face.faceCount(), 2u);
    EXPECT_EQ(face.triangleCount(), 298u + 1u);
    EXPECT_EQ(face.positions.size(), 300u);
}

TEST(Obj, WhatIsNoNumberIsRefusedWithItsLine) {
    expectRefused(readObj, corpus("obj/word-for-a-number.obj"), "“abc”");
    expectRefused(readObj, corpus("obj/word-for-a-number.obj"), "line 1");
    expectRefused(readObj, corpus("obj/one-number.obj"), "1 number instead of 3");
    expectRefused(readObj, corpus("obj/decimal-commas.obj"), "“0,5”");
    expectRefused(readObj, corpus("obj/nan-behind-tab.obj"), "“nan”");
    expectRefused(readObj, corpus("obj/huge-number.obj"), "1e999");
    expectRefused(readObj, triangle + "f 1 2 9\n", "does not exist (line 5)");
    expectRefused(readObj, triangle + "f 1 2 0\n", "does not exist");
    expectRefused(readObj, triangle + "f 1 2\n", "fewer than three corners");
    expectRefused(readObj, triangle + "f 1/1 2 3\n", "does not exist");
    expectRefused(readObj, triangle + "f 1//x 2 3\n", "“x”");
    expectRefused(readObj, "v 1 2 3 4 5\n" + triangle, "five numbers");
}

TEST(Obj, CommentsLineEndsMarksAndContinuationsMeanWhatTheyMean) {
    for (const char* file : {"obj/comment-behind.obj", "obj/cr-alone.obj", "obj/mark-and-continuation.obj"}) {
        const Mesh mesh = only(readObj(corpus(file)));
        ASSERT_EQ(mesh.triangleCount(), 1u) << file;
        EXPECT_EQ(mesh.positions[1], glm::vec3(1, 0, 0)) << file;
    }
}

TEST(Obj, LeftOutThingsAreTold) {
    const auto told = readObj(corpus("obj/lines-points-surfaces.obj")).leftOut;
    EXPECT_EQ(told, (std::vector<std::string>{"1 free-form curve", "1 free-form surface", "1 line", "1 point",
                                              "1 line that OBJ does not know (the first is line 10)"}));
    EXPECT_TRUE(readObj(triangle).leftOut.empty());
}

TEST(Obj, IndicesBackwardsAndColoursOfSomeCorners) {
    const Mesh mesh = only(readObj("v 0 0 0 1 0 0\nv 1 0 0\nv 0 1 0 0 0 1\nf -3 -2 -1\n"));
    ASSERT_EQ(mesh.colours.size(), 3u);
    EXPECT_EQ(mesh.colours[0], glm::vec4(1, 0, 0, 1));
    EXPECT_EQ(mesh.colours[1], glm::vec4(1));
    EXPECT_EQ(mesh.colours[2], glm::vec4(0, 0, 1, 1));
}

TEST(Polygon, LargeConcaveFacesAreFilledWholly) {
    for (const std::size_t corners : {8u, 50u, 1000u, 20'000u}) {
        const auto polygon = star(corners);
        const auto triangles = monotoneFill(polygon);
        ASSERT_EQ(triangles.size(), 3 * (corners - 2)) << corners;
        double sum = 0;
        for (std::size_t t = 0; t < triangles.size(); t += 3) {
            const double one = area({polygon[triangles[t]], polygon[triangles[t + 1]], polygon[triangles[t + 2]]});
            EXPECT_GE(one, -1e-12);
            sum += one;
        }
        EXPECT_NEAR(sum, area(polygon), 1e-9);
    }
    // A comb: one edge side by side with all others.
    std::vector<glm::dvec2> comb{{0, -1}, {2000, -1}};
    for (int tooth = 1000; tooth-- > 0;) comb.insert(comb.end(), {{2 * tooth + 2, 0}, {2 * tooth + 1, 5}, {2 * tooth + 0.5, 0}});
    const auto triangles = monotoneFill(comb);
    EXPECT_EQ(triangles.size(), 3 * (comb.size() - 2));
}

TEST(Polygon, OneThatCrossesItselfIsNotGuessed) {
    EXPECT_TRUE(monotoneFill(std::vector<glm::dvec2>{{0, 0}, {2, 2}, {2, 0}, {0, 2}}).empty());
    std::string obj;
    const std::size_t corners = 5000;
    for (std::size_t i = 0; i < corners; ++i)
        obj += "v " + std::to_string(std::cos(2.4 * static_cast<double>(i))) + " " +
               std::to_string(std::sin(2.4 * static_cast<double>(i))) + " 0\n";
    obj += "f";
    for (std::size_t i = 0; i < corners; ++i) obj += " " + std::to_string(i + 1);
    expectRefused(readObj, obj + "\n", "5000 corners that crosses");
}

TEST(Stl, TextIsKnownByMoreThanItsFirstByte) {
    for (const char* file : {"stl/text.stl", "stl/blank-first-line.stl", "stl/capitals.stl", "stl/mark.stl"}) {
        const Mesh mesh = only(readStl(corpus(file)));
        ASSERT_EQ(mesh.triangleCount(), 1u) << file;
        EXPECT_EQ(mesh.positions[1], glm::vec3(1, 0, 0)) << file;
    }
    expectRefused(readStl, corpus("stl/cut-between-facets.stl"), "cut off");
    expectRefused(readStl, "solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 zero\n", "“zero”");
    expectRefused(readStl, "solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nendloop\n", "“endloop” where “vertex” belongs (line 5)");
}

TEST(Stl, BinaryFilesMayBeginWithSolidAndGoOnBehindTheirTriangles) {
    const MeshFileContent content = readStl(corpus("stl/binary-solid-trailing.stl"));
    EXPECT_EQ(only(content).triangleCount(), 1u);
    EXPECT_EQ(content.leftOut, std::vector<std::string>{"8 bytes after its triangles"});
    EXPECT_EQ(only(readStl(corpus("stl/binary.stl"))).positions[2], glm::vec3(0, 1, 0));
}

TEST(Ply, SignsStripsAndFormsAreRead) {
    EXPECT_EQ(only(readPly(corpus("ply/plus-sign.ply"))).triangleCount(), 1u);
    const Mesh strips = only(readPly(corpus("ply/strips.ply")));
    ASSERT_EQ(strips.triangleCount(), 3u);
    // Every second triangle of a strip runs the other way, so that all face the same side.
    EXPECT_EQ(strips.triangles, (std::vector<std::uint32_t>{0, 1, 2, 2, 1, 3, 2, 3, 4}));
    for (const char* file : {"ply/binary_little_endian.ply", "ply/binary_big_endian.ply"})
        EXPECT_EQ(only(readPly(corpus(file))).positions[1], glm::vec3(1, 0, 0)) << file;
    const std::string ply = corpus("ply/face.ply");
    EXPECT_EQ(only(readPly(ply)).triangleCount(), 1u);
    std::string odd = ply;
    odd.replace(odd.find("ascii"), 5, "morse");
    expectRefused(readPly, odd, "form “morse”");
    std::string longer = ply;
    longer.insert(longer.find("\n1 0 0"), " 7");
    expectRefused(readPly, longer, "more numbers in a row");
    std::string half = ply;
    half.replace(half.find("3 0 1 2"), 7, "3 0 1 1.5");
    expectRefused(readPly, half, "“1.5” where a whole number belongs");
    EXPECT_EQ(readPly(corpus("ply/edges.ply")).leftOut, std::vector<std::string>{"1 element “edge”"});
}

TEST(Gltf, OtherVersionsAndUnknownExtensionsAreRefusedByName) {
    expectRefused(readGltfAlone, corpus("gltf/version-1.gltf"), "version “1.0”");
    expectRefused(readGltfAlone, corpus("gltf/draco.gltf"), "Draco");
    expectRefused(readGltfAlone, corpus("gltf/meshopt.gltf"), "meshopt");
    expectRefused(readGltfAlone, corpus("gltf/unknown-extension.gltf"), "“ACME_x”");
    expectRefused(readGltfAlone, corpus("gltf/second-file.gltf"), "second file");
    expectRefused(readGltfAlone, corpus("gltf/deep-extras.gltf"), "nested too deeply");
    expectRefused(readGltfAlone, "{\"asset\":{\"version\":\"2.0\"},\"extras\":" + std::string(20'000, '[') + std::string(20'000, ']') + "}",
                  "nested too deeply");
}

TEST(Gltf, StripsFansInstancesAndChildrenWithoutScenes) {
    const MeshFileContent strips = readGltf(corpus("gltf/strip.gltf"));
    EXPECT_EQ(only(strips).triangleCount(), 2u);
    EXPECT_EQ(strips.leftOut, std::vector<std::string>{"points and lines of 1 mesh"});
    const Mesh child = only(readGltf(corpus("gltf/child-without-scene.gltf")));
    EXPECT_EQ(child.triangleCount(), 1u);
    EXPECT_EQ(child.positions[0], glm::vec3(1, 2, 3));
    const Mesh copies = only(readGltf(corpus("gltf/instanced.gltf")));
    EXPECT_EQ(copies.triangleCount(), 3u);
    EXPECT_EQ(copies.positions[3], glm::vec3(1, 0, 0));  // the second copy stands at the second corner
}

TEST(Gltf, BuffersInSecondFilesComeFromBesideIt) {
    std::string asked;
    const ReadBeside beside = [&](const std::string& path) {
        asked = path;
        std::string bytes(44, '\0');
        const float corners[] = {0, 0, 0, 1, 0, 0, 0, 1, 0};
        const std::uint16_t indices[] = {0, 1, 2};
        std::memcpy(bytes.data(), corners, sizeof corners);
        std::memcpy(bytes.data() + sizeof corners, indices, sizeof indices);
        return bytes;
    };
    EXPECT_EQ(only(readGltf(corpus("gltf/second-file.gltf"), beside)).positions[1], glm::vec3(1, 0, 0));
    EXPECT_NE(asked.find("second.bin"), std::string::npos) << asked;
}

TEST(Gltf, RepeatedMeshesAreCountedBeforeTheyAreMade) {
    std::string nodes, children;
    for (int n = 0; n < 50'000; ++n) {
        nodes += ",{\"mesh\":0}";
        children += (n ? "," : "") + std::to_string(n + 1);
    }
    // A mesh of 20 000 corners whose numbers all are one and the same.
    const std::string json =
        R"({"asset":{"version":"2.0"},"buffers":[{"byteLength":12,"uri":"data:application/octet-stream;base64,AAAAAAAAAAAAAAAA"}],)"
        R"("bufferViews":[{"buffer":0,"byteLength":12,"byteStride":4}],"accessors":[{"bufferView":0,"componentType":5121,"count":3,"type":"SCALAR"}],)"
        R"("meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],"scenes":[{"nodes":[0]}],"nodes":[{"children":[)" +
        children + "]}" + nodes + "]}";
    std::string heavy = json;
    heavy.replace(heavy.find("AAAAAAAAAAAAAAAA"), 16, std::string(80'000 / 3 * 4, 'A'));
    heavy.replace(heavy.find("\"byteLength\":12,\"uri\""), 21, "\"byteLength\":79998,\"uri\"");
    heavy.replace(heavy.find("\"byteLength\":12,\"byteStride\":4"), 30, "\"byteLength\":79998,\"byteStride\":4");
    heavy.replace(heavy.find("\"count\":3"), 9, "\"count\":19000");
    expectRefused(readGltfAlone, heavy, "repeats its meshes");
    EXPECT_EQ(readGltf(json).meshes.size(), 50'000u);
}
