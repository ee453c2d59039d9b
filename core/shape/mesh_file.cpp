// Mesh from an OBJ, PLY, STL or glTF file in the project's folder.
#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <map>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/base/outside_file.h"
#include "core/base/text.h"
#include "core/shape/read_mesh.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

enum class UpAxis { y, z, x };
enum class FileUnit { metres, centimetres, millimetres, inches, feet };

struct MeshFile {
    std::string file;
    FileUnit unit;
    float size;
    UpAxis up;
    int only;
    float crease;  // radians
};

glm::vec3 upright(const glm::vec3& v, UpAxis up) {
    if (up == UpAxis::z) return {v.x, v.z, -v.y};
    if (up == UpAxis::x) return {-v.y, v.x, v.z};
    return v;
}

MeshFileContent readAny(const std::string& file, std::string_view bytes, const ReadBeside& beside) {
    const std::string ending = lowered(std::filesystem::path(file).extension().string());
    static const std::map<std::string, MeshFileContent (*)(std::string_view)> readers = {
        {".obj", readObj}, {".ply", readPly}, {".stl", readStl}};
    if (ending == ".gltf" || ending == ".glb") return readGltf(bytes, beside);
    const auto reader = readers.find(ending);
    if (reader == readers.end()) throw Error("is no OBJ, PLY, STL, GLTF or GLB file");
    return reader->second(bytes);
}

void checkFinite(const Mesh& mesh) {
    for (const auto& p : mesh.positions)
        if (!std::isfinite(p.x) || !std::isfinite(p.y) || !std::isfinite(p.z))
            throw Error("has a corner at a place that is not a valid number");
}

std::string noteOf(const MeshFile& from, const MeshFileContent& content) {
    std::string note;
    if (!content.leftOut.empty()) note = "Left out of “" + from.file + "”: " + listed(content.leftOut) + ".";
    const auto& meshes = content.meshes;
    if (meshes.size() < 2 || from.only != 0) return note;
    note += (note.empty() ? "“" : " “") + from.file + "” has " + std::to_string(meshes.size()) + " meshes, all of them taken:";
    for (std::size_t m = 0; m < meshes.size() && m < 12; ++m)
        note += (m ? ", " : " ") + std::to_string(m + 1) + (meshes[m].name.empty() ? "" : " " + meshes[m].name);
    return note + (meshes.size() > 12 ? " …" : ".");
}

ShapeForm read(const MeshFile& from, std::string_view bytes, const ReadBeside& beside) {
    static const float metres[] = {1, 0.01f, 0.001f, 0.0254f, 0.3048f};
    MeshFileContent content = readAny(from.file, bytes, beside);
    std::vector<FileMesh>& meshes = content.meshes;
    if (meshes.empty()) throw Error("has no faces");
    ShapeForm form;
    if (from.only > static_cast<int>(meshes.size()))
        throw Error("has only " + counted(meshes.size(), "mesh", "meshes") + "; choose one of them, or 0 for all");
    form.note = noteOf(from, content);
    const float scale = from.size * metres[static_cast<std::size_t>(from.unit)];
    for (std::size_t m = 0; m < meshes.size(); ++m) {
        if (from.only > 0 && m + 1 != static_cast<std::size_t>(from.only)) continue;
        Mesh mesh = std::move(meshes[m].mesh);
        for (auto& p : mesh.positions) p = upright(p, from.up) * scale;
        checkFinite(mesh);
        bool usable = meshes[m].hasNormals;
        for (auto& n : mesh.normals) {
            const float length = glm::length(n);
            usable = usable && length > 0 && std::isfinite(length);
            n = usable ? upright(n, from.up) / length : glm::vec3(0, 1, 0);
        }
        if (!usable) mesh = withNormals(mesh, from.crease * 57.2957795f);
        if (form.mesh.positions.empty())
            form.mesh = std::move(mesh);
        else
            append(form.mesh, mesh);
    }
    return form;
}

ShapeForm make(const MeshFile& from, const ShapeSource& source) {
    if (from.file.empty()) throw Error("This shape has no file yet; choose an OBJ, PLY, STL or glTF file in the project's folder.");
    const std::string bytes = readFile(pathInProject(from.file, source.projectFolder), mostMeshFileBytes);
    const ReadBeside beside = [&](const std::string& path) {
        const std::string typed = (std::filesystem::path(from.file).parent_path() / path).string();
        try {
            return readFile(pathInProject(typed, source.projectFolder), mostMeshFileBytes);
        } catch (const Error& error) {
            throw Error("keeps its numbers in a second file: " + std::string(error.what()));
        }
    };
    try {
        return read(from, bytes, beside);
    } catch (const Error& error) {
        std::string what = error.what();
        if (what.ends_with('.')) what.pop_back();
        throw Error("“" + from.file + "” " + what + ".");
    }
}

}  // namespace

const ShapeKind meshFileShape = makes(
    DescribeShape<MeshFile>("meshFile", "Mesh file", "A mesh from an OBJ, PLY, STL or glTF file")
        .found("import model obj stl ply gltf glb scan file")
        .file("file", &MeshFile::file, {".obj", ".ply", ".stl", ".gltf", ".glb"}, "A mesh file in the project's folder")
        .choice(
            "unit", &MeshFile::unit,
            {{"metres", "Metres"}, {"centimetres", "Centimetres"}, {"millimetres", "Millimetres"}, {"inches", "Inches"}, {"feet", "Feet"}},
            "What the file's numbers count")
        .number("size", &MeshFile::size, 1, {0.01, 10}, "Factor on the file's own size")
        .hard(1e-6, 1e6)
        .choice("up", &MeshFile::up, {{"y", "Y"}, {"z", "Z"}, {"x", "X"}}, "Which of the file's axes points up")
        .whole("only", &MeshFile::only, 0, {0, 20}, "0 takes all meshes of the file, 1 only the first, and so on")
        .label("Which mesh")
        .hard(0, 100000)
        .angle("crease", &MeshFile::crease, 40, {0, 180}, "Faces that meet at less are smooth, where the file has no normals")
        .hard(0, 180),
    make);

}  // namespace gswarm
