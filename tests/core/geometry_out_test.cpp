// PLY, OBJ, USD and tables of several frames: what stands in the files against what the instances are.
#include <gtest/gtest.h>

#include <cstring>
#include <fstream>
#include <sstream>

#include "core/base/atomic_file.h"
#include "core/edit/rail_edits.h"
#include "core/exchange/exporter_kind.h"
#include "core/exchange/realised.h"
#include "core/kinds/registry.h"
#include "core/read/ledger.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build, making::expectNear, making::temporaryFolder;

namespace {

/// A wavy grid of boxes of which one shape's worth is mirrored, in a swarm that stands elsewhere.
Build piece() {
    Build b = Build::grid(4, 1, 3);
    const ObjectId g = b.gesture("noise");
    b.set(g, "position", true).set(g, "positionAmount", {0.3, 0.3, 0.3}).set(b.swarm, "position", {1, 2, 3}).set(b.swarm, "scale", {2});
    return b;
}

std::string written(const Build& b, const ExporterKind& kind, const std::string& name, FrameRange range = {0, 0},
                    const std::vector<std::pair<std::string, Value>>& settings = {}) {
    Evaluator evaluator;
    Progress progress;
    Part part = standardPart(kind);
    for (const auto& [id, value] : settings) part.values[static_cast<std::size_t>(kind.indexOf(id))] = value;
    writeExport(part, {evaluator, b.scene, {}, 0, range, b.swarm}, temporaryFolder() / name, progress);
    return readFile(kind.numbered ? numbered(temporaryFolder() / name, range.first) : temporaryFolder() / name, 1 << 28);
}

std::vector<std::string> words(const std::string& line, char between = ' ') {
    std::vector<std::string> out;
    std::istringstream in(line);
    for (std::string word; std::getline(in, word, between);) out.push_back(word);
    return out;
}

std::vector<std::string> linesOf(const std::string& text) { return words(text, '\n'); }

float floatAt(const std::string& bytes, std::size_t at) {
    float value = 0;
    std::memcpy(&value, bytes.data() + at, 4);
    return value;
}

}  // namespace

TEST(Ply, PointsHaveEveryNumberInBothEncodings) {
    const Build b = piece();
    const auto rows = b.rows();
    const auto lines = linesOf(written(b, plyPointsExporter, "points.ply", {}, {{"encoding", std::string("text")}}));
    std::size_t head = 0;
    std::vector<std::string> properties;
    for (; lines[head] != "end_header"; ++head)
        if (lines[head].starts_with("property")) properties.push_back(words(lines[head])[2]);
    EXPECT_EQ(lines[0], "ply");
    EXPECT_EQ(properties.size(), 16u) << "number, shape, place, turns, scale, colour and the weight of the gesture";
    ASSERT_EQ(lines.size(), head + 1 + rows.size());
    const auto column = [&](const char* name) {
        return static_cast<std::size_t>(std::find(properties.begin(), properties.end(), name) - properties.begin());
    };
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const auto values = words(lines[head + 1 + i]);
        ASSERT_EQ(values.size(), properties.size());
        expectNear({std::stof(values[column("x")]), std::stof(values[column("y")]), std::stof(values[column("z")])}, rows[i].position);
        EXPECT_NEAR(std::stof(values[column("scale_x")]), rows[i].scale.x, 1e-6);
        EXPECT_EQ(std::stoi(values[column("red")]), std::lround(rows[i].colour.x * 255));
    }
    const std::string binary = written(b, plyPointsExporter, "binary.ply");
    const std::size_t from = binary.find("end_header\n") + 11, size = 4 + 4 + 9 * 4 + 4 + 4;
    ASSERT_EQ(binary.size(), from + size * rows.size());
    for (std::size_t i = 0; i < rows.size(); ++i) EXPECT_EQ(floatAt(binary, from + i * size + 8), rows[i].position.x);
}

TEST(Ply, MeshesStandWhereTheInstancesAre) {
    Build b = piece();
    b.set(b.shape, "size", {0.2, 0.2, 0.2});
    const std::string bytes = written(b, plyMeshExporter, "mesh.ply");
    const std::size_t from = bytes.find("end_header\n") + 11;
    const auto shown = b.result();
    const Mesh& box = shown->variants[0].meshes->mesh();
    const std::size_t vertices = 12 * box.positions.size(), triangles = 12 * box.triangleCount();
    EXPECT_NE(bytes.find("element vertex " + std::to_string(vertices) + "\n"), std::string::npos);
    EXPECT_NE(bytes.find("element face " + std::to_string(triangles) + "\n"), std::string::npos);
    ASSERT_EQ(bytes.size(), from + vertices * 36 + triangles * 13);
    // The mean of each instance's corners is its place: a box about its middle.
    const auto rows = b.rows();
    const glm::vec3 middle = boundsOf(box).centre();
    for (std::size_t k = 0; k < rows.size(); ++k) {
        Bounds bounds;
        for (std::size_t v = k * box.positions.size(); v < (k + 1) * box.positions.size(); ++v)
            bounds.add({floatAt(bytes, from + v * 36), floatAt(bytes, from + v * 36 + 4), floatAt(bytes, from + v * 36 + 8)});
        const glm::vec3 foot = shown->variants[0].foot - middle;
        expectNear(bounds.centre(), rows[k].position - rows[k].rotation * (foot * rows[k].scale), 1e-4f);
        expectNear(bounds.size(), glm::vec3(0.4f), 1e-4f);
    }
}

TEST(Realised, FacesOfMirroredThingsStillFaceOut) {
    const auto mirrored = std::make_shared<Result>(*Build::grid(2, 1, 1).result());
    mirrored->pose.scale = -1;
    const std::vector<std::shared_ptr<const Result>> swarms{mirrored};
    Progress progress;
    int things = 0;
    realise(drawListOf(swarms), progress, [&](const RealisedThing& thing) {
        ++things;
        for (std::size_t t = 0; t + 2 < thing.triangles.size(); t += 3) {
            const auto at = [&](std::size_t k) { return thing.positions[thing.triangles[t + k]]; };
            const glm::vec3 out = glm::cross(at(1) - at(0), at(2) - at(0));
            EXPECT_GT(glm::dot(out, thing.normals[thing.triangles[t]]), 0);
        }
    });
    EXPECT_EQ(things, 2);
}

TEST(Realised, TooMuchIsRefusedWithItsFigure) {
    try {
        checkRealised({3e9, 1e9});
        FAIL();
    } catch (const Error& error) {
        EXPECT_NE(std::string(error.what()).find("3 000 000 000 vertices"), std::string::npos) << error.what();
    }
    EXPECT_NO_THROW(checkRealised({1e9, 1e9}));
}

TEST(Obj, HasCornersFacesAndMaterialsOfEverything) {
    const Build b = piece();
    const std::string text = written(b, objExporter, "mesh.obj");
    const auto shown = b.result();
    const Mesh& box = shown->variants[0].meshes->mesh();
    std::size_t corners = 0, faces = 0, objects = 0, largest = 0;
    std::set<std::string> used, made;
    for (const std::string& line : linesOf(text)) {
        corners += line.starts_with("v ");
        objects += line.starts_with("o ");
        if (line.starts_with("usemtl ")) used.insert(line.substr(7));
        if (!line.starts_with("f ")) continue;
        ++faces;
        for (const std::string& corner : words(line.substr(2))) largest = std::max<std::size_t>(largest, std::stoul(corner));
    }
    EXPECT_EQ(corners, 12 * box.positions.size());
    EXPECT_EQ(faces, 12 * box.triangleCount());
    EXPECT_EQ(largest, corners);
    EXPECT_EQ(objects, 1u);
    EXPECT_NE(text.find("mtllib mesh.mtl\n"), std::string::npos);
    for (const std::string& line : linesOf(readFile(temporaryFolder() / "mesh.mtl", 1 << 20)))
        if (line.starts_with("newmtl ")) made.insert(line.substr(7));
    EXPECT_EQ(used, made);
    const auto split = linesOf(written(b, objExporter, "split.obj", {}, {{"split", true}}));
    EXPECT_EQ(std::count_if(split.begin(), split.end(), [](const std::string& line) { return line.starts_with("o "); }), 12);
}

TEST(Usd, SamplesOnlyWhatChangesAndBothSidesOfAChange) {
    Build b = Build::grid(2, 1, 1);
    // Rises from frame 3 to 4; before and after it stands.
    b.key(b.swarm, "position", {{0, 0, Ease::linear}, {3, 0, Ease::linear}, {4, 5, Ease::linear}, {8, 5, Ease::linear}}, 1);
    const std::string text = written(b, usdAnimationExporter, "rises.usda", {0, 8});
    EXPECT_TRUE(text.starts_with("#usda 1.0\n"));
    EXPECT_EQ(text.find("point3f[] positions.timeSamples"), std::string::npos) << "they stand still in their swarm";
    const std::size_t at = text.find("double3 xformOp:translate.timeSamples = {");
    ASSERT_NE(at, std::string::npos);
    std::string samples = text.substr(at, text.find('}', at) - at);
    samples.erase(std::remove(samples.begin(), samples.end(), ' '), samples.end());
    EXPECT_EQ(samples, "double3xformOp:translate.timeSamples={\n0:(0,0,0),\n3:(0,0,0),\n4:(0,5,0),\n8:(0,5,0),\n");
    for (const char* part : {"def PointInstancer ", "metersPerUnit = 1", "upAxis = \"Y\"", "timeCodesPerSecond = 25", "def DistantLight ",
                             "def DomeLight ", "def Camera \"Shot\"", "UsdPreviewSurface"})
        EXPECT_NE(text.find(part), std::string::npos) << part;
    const auto rows = b.rows();
    EXPECT_NE(text.find("int64[] ids = [" + std::to_string(rows[0].id) + ", " + std::to_string(rows[1].id) + "]"), std::string::npos);
    // One frame has no samples at all.
    EXPECT_EQ(written(b, usdExporter, "still.usda").find("timeSamples"), std::string::npos);
}

TEST(Usd, KeepsTheColoursOfAMeshBesideThoseOfInstances) {
    Build b = Build::grid(2, 1, 1);
    std::ofstream(temporaryFolder() / "painted.ply") << "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\n"
                                                        "property float z\nproperty uchar red\nproperty uchar green\nproperty uchar blue\n"
                                                        "element face 1\nproperty list uchar int vertex_indices\nend_header\n"
                                                        "0 0 0 255 0 0\n1 0 0 0 255 0\n0 1 0 0 0 255\n3 0 1 2\n";
    EXPECT_EQ(written(b, usdExporter, "plain.usda").find("vertexColor"), std::string::npos);
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "meshFile")).scene;
    b.set(b.shape, "file", std::string("painted.ply"));
    Evaluator evaluator;
    Progress progress;
    writeExport(standardPart(usdExporter), {evaluator, b.scene, {{}, temporaryFolder()}}, temporaryFolder() / "painted.usda", progress);
    const std::string text = readFile(temporaryFolder() / "painted.usda", 1 << 20);
    EXPECT_NE(text.find("float4[] primvars:vertexColor = [(1, 0, 0, 1), (0, 1, 0, 1), (0, 0, 1, 1)]"), std::string::npos) << text;
    EXPECT_NE(text.find("color3f[] primvars:displayColor"), std::string::npos);
}

TEST(Exports, OfSomeSwarmsShowNoOthers) {
    Build b = Build::grid(2, 1, 1);
    const Edit second = addSwarmOf(b.scene, b.shape);
    b.scene = second.scene;
    Evaluator evaluator;
    Progress progress;
    const auto swarmsIn = [&](const Scene& scene) {
        std::set<ObjectId> found;
        const ExportFrames frames{evaluator, scene, {}};
        for (const Surface& surface : frames.at(0, progress).surfaces)
            if (surface.swarm) found.insert(surface.swarm->swarm);
        return found;
    };
    EXPECT_EQ(swarmsIn(b.scene), (std::set{b.swarm, second.made}));
    EXPECT_EQ(swarmsIn(showingOnly(b.scene, {second.made})), std::set{second.made});
    EXPECT_EQ(swarmsIn(showingOnly(b.scene, {b.swarm, second.made})), (std::set{b.swarm, second.made}));
}

TEST(Tables, HaveEveryColumnOfTheLedgerWithUnitsOverAllFrames) {
    Build b = piece();
    b.scene = addNamedValue(b.scene, b.swarm, "glow").scene;
    const auto lines = linesOf(written(b, framesCsvExporter, "frames.csv", {2, 4}));
    const auto columns = ledgerColumns(b.scene, b.swarm);
    const auto head = words(lines[0], ',');
    ASSERT_EQ(head.size(), columns.size() + 1);
    EXPECT_EQ(head[0], "frame");
    EXPECT_EQ(head[5], "position_x [m]");
    EXPECT_EQ(head[8], "rotation_x [°]");
    EXPECT_EQ(std::count(head.begin(), head.end(), "glow"), 1);
    ASSERT_EQ(lines.size(), 1 + 3 * 12u);
    for (int frame = 2; frame <= 4; ++frame) {
        const auto rows = b.rows(frame);
        for (std::size_t i = 0; i < rows.size(); ++i) {
            const auto values = words(lines[1 + static_cast<std::size_t>(frame - 2) * 12 + i], ',');
            EXPECT_EQ(values[0], std::to_string(frame));
            EXPECT_EQ(values[2], std::to_string(rows[i].id));
            EXPECT_EQ(std::stof(values[5]), rows[i].position.x);
            EXPECT_EQ(std::stof(values[6]), rows[i].position.y);
        }
    }
}

TEST(Tables, NumpysArrayHasTheSameNumbers) {
    const Build b = piece();
    const std::string bytes = written(b, npyExporter, "frames.npy", {0, 2});
    ASSERT_EQ(bytes.substr(0, 8), std::string("\x93NUMPY\x03\x00", 8));
    std::uint32_t length = 0;
    std::memcpy(&length, bytes.data() + 8, 4);
    EXPECT_EQ((12 + length) % 64, 0u);
    const std::string head = bytes.substr(12, length);
    EXPECT_NE(head.find("'shape': (36,)"), std::string::npos) << head;
    EXPECT_NE(head.find("(('position_x [m]', 'position_x'), '<f4')"), std::string::npos) << head;
    const std::size_t from = 12 + length, size = (bytes.size() - from) / 36;
    ASSERT_EQ(bytes.size(), from + 36 * size);
    for (int frame = 0; frame < 3; ++frame) {
        const auto rows = b.rows(frame);
        for (std::size_t i = 0; i < rows.size(); ++i) {
            const std::size_t at = from + (static_cast<std::size_t>(frame) * 12 + i) * size;
            std::int32_t written = -1;
            std::memcpy(&written, bytes.data() + at, 4);
            EXPECT_EQ(written, frame);
            // frame, number, id, shape and shown come first.
            EXPECT_EQ(floatAt(bytes, at + 21), rows[i].position.x);
        }
    }
}
