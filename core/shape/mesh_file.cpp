// Mesh from an OBJ file in the project's folder.
#include <cmath>
#include <cstring>
#include <glm/geometric.hpp>
#include <map>
#include <sstream>
#include <tuple>

#define TINYOBJLOADER_IMPLEMENTATION
#include <tiny_obj_loader.h>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

constexpr std::uintmax_t mostBytes = 512u << 20;
constexpr std::size_t mostTriangles = 20'000'000;

enum class UpAxis { y, z };

struct MeshFile {
    std::string file;
    float size;
    UpAxis up;
};

/// The sum of the faces around each vertex without a normal of its own.
void addMissingNormals(Mesh& mesh, const std::vector<bool>& missing) {
    std::vector<glm::vec3> sums(mesh.positions.size(), glm::vec3(0));
    for (std::size_t t = 0; t < mesh.triangles.size(); t += 3) {
        const auto* v = &mesh.triangles[t];
        const glm::vec3 face = glm::cross(mesh.positions[v[1]] - mesh.positions[v[0]], mesh.positions[v[2]] - mesh.positions[v[0]]);
        for (int k = 0; k < 3; ++k) sums[v[k]] += face;
    }
    for (std::size_t i = 0; i < sums.size(); ++i) {
        if (!missing[i]) continue;
        const float length = glm::length(sums[i]);
        mesh.normals[i] = length > 0 ? sums[i] / length : glm::vec3(0, 1, 0);
    }
}

/// The reader takes "nan" for 0, which would hide the damage.
bool hasPlaceThatIsNoNumber(std::string_view text) {
    for (std::size_t start = 0; start < text.size();) {
        const std::size_t end = std::min(text.find('\n', start), text.size());
        const std::string_view line = text.substr(start, end - start);
        if (line.starts_with("v ") && line.find_first_of("nNiI") != std::string_view::npos) return true;
        start = end + 1;
    }
    return false;
}

Mesh make(const MeshFile& from, int, const ShapeSource& source) {
    if (from.file.empty()) throw Error("This shape has no file yet; choose an OBJ file in the project's folder.");
    const auto path = pathInProject(from.file, source);
    const std::string text = readFile(path, mostBytes);
    if (hasPlaceThatIsNoNumber(text))
        throw Error("“" + from.file + "” has a corner at a place that is no number; the project is as it was.");
    std::istringstream stream(text);
    tinyobj::attrib_t attributes;
    std::vector<tinyobj::shape_t> shapes;
    std::vector<tinyobj::material_t> materials;
    std::string warning, problem;
    const std::string name = "“" + from.file + "”";
    if (!tinyobj::LoadObj(&attributes, &shapes, &materials, &warning, &problem, &stream, nullptr, true))
        throw Error(name + " is damaged or not an OBJ mesh; the project is as it was.");

    Mesh mesh;
    std::vector<bool> missingNormal;
    std::map<std::tuple<int, int, int>, std::uint32_t> made;
    const auto vertexCount = static_cast<int>(attributes.vertices.size() / 3);
    const auto upright = [&](glm::vec3 v) { return from.up == UpAxis::y ? v : glm::vec3(v.x, v.z, -v.y); };
    for (const auto& shape : shapes) {
        for (const auto& index : shape.mesh.indices) {
            if (index.vertex_index < 0 || index.vertex_index >= vertexCount)
                throw Error(name + " has a face with a corner that does not exist; the project is as it was.");
            const bool hasNormal = index.normal_index >= 0 && index.normal_index < static_cast<int>(attributes.normals.size() / 3);
            const bool hasUv = index.texcoord_index >= 0 && index.texcoord_index < static_cast<int>(attributes.texcoords.size() / 2);
            const auto [entry, fresh] =
                made.try_emplace({index.vertex_index, hasNormal ? index.normal_index : -1, hasUv ? index.texcoord_index : -1},
                                 static_cast<std::uint32_t>(mesh.positions.size()));
            mesh.triangles.push_back(entry->second);
            if (!fresh) continue;
            const float* p = &attributes.vertices[3 * static_cast<std::size_t>(index.vertex_index)];
            if (!std::isfinite(p[0]) || !std::isfinite(p[1]) || !std::isfinite(p[2]))
                throw Error(name + " has a corner at a place that is no number; the project is as it was.");
            mesh.positions.push_back(upright({p[0], p[1], p[2]}) * from.size);
            glm::vec3 normal(0);
            if (hasNormal) {
                const float* n = &attributes.normals[3 * static_cast<std::size_t>(index.normal_index)];
                normal = upright({n[0], n[1], n[2]});
            }
            const float length = glm::length(normal);
            const bool usable = length > 0 && std::isfinite(length);
            mesh.normals.push_back(usable ? normal / length : glm::vec3(0));
            missingNormal.push_back(!usable);
            const float* uv = hasUv ? &attributes.texcoords[2 * static_cast<std::size_t>(index.texcoord_index)] : nullptr;
            mesh.uv.emplace_back(uv ? glm::vec2(uv[0], uv[1]) : glm::vec2(0));
        }
        if (mesh.triangles.size() / 3 > mostTriangles) throw Error(name + " has more than 20 million triangles; make a lighter version.");
    }
    if (mesh.triangles.empty() || mesh.triangles.size() % 3 != 0) throw Error(name + " has no faces; the project is as it was.");
    addMissingNormals(mesh, missingNormal);
    return mesh;
}

}  // namespace

std::filesystem::path pathInProject(const std::string& typed, const ShapeSource& source) {
    namespace fs = std::filesystem;
    const std::string name = "“" + typed + "”";
    const fs::path relative(typed);
    std::error_code failed;
    const fs::path folder = fs::weakly_canonical(source.projectFolder.empty() ? fs::path(".") : source.projectFolder, failed);
    const fs::path whole = fs::weakly_canonical(folder / relative, failed);
    const fs::path inside = whole.lexically_relative(folder);
    if (relative.is_absolute() || inside.empty() || *inside.begin() == "..")
        throw Error(name + " lies outside the project's folder; copy it into the folder and choose it there.");
    if (!fs::is_regular_file(whole, failed))
        throw Error(name + " is missing from the project's folder; put it back or choose another file.");
    return whole;
}

const ShapeKind meshFileShape = makes(DescribeShape<MeshFile>("meshFile", "Mesh file", "A mesh from an OBJ file")
                                          .file("file", &MeshFile::file, "An OBJ file in the project's folder")
                                          .number("size", &MeshFile::size, 1, {0.01, 10}, "Metres for one unit of the file")
                                          .hard(1e-6, 1e6)
                                          .choice("up", &MeshFile::up, {{"y", "Y"}, {"z", "Z"}}, "Which of the file's axes points up"),
                                      make);

}  // namespace gswarm
