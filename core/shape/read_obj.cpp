// Wavefront OBJ, by tinyobjloader.
#include <algorithm>
#include <cmath>
#include <map>
#include <sstream>
#include <tuple>

#define TINYOBJLOADER_IMPLEMENTATION
#include <tiny_obj_loader.h>

#include "core/base/error.h"
#include "core/scene/kind.h"
#include "core/shape/read_mesh.h"

namespace gswarm {
namespace {

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

struct ObjBuilder {
    const tinyobj::attrib_t& attributes;
    bool coloured;
    FileMesh out;
    std::map<std::tuple<int, int, int>, std::uint32_t> made;

    std::uint32_t vertex(const tinyobj::index_t& index) {
        if (index.vertex_index < 0 || static_cast<std::size_t>(index.vertex_index) >= attributes.vertices.size() / 3)
            throw Error("has a face with a corner that does not exist");
        const bool hasNormal = index.normal_index >= 0 && static_cast<std::size_t>(index.normal_index) < attributes.normals.size() / 3;
        const bool hasUv = index.texcoord_index >= 0 && static_cast<std::size_t>(index.texcoord_index) < attributes.texcoords.size() / 2;
        const auto [entry, fresh] =
            made.try_emplace({index.vertex_index, hasNormal ? index.normal_index : -1, hasUv ? index.texcoord_index : -1},
                             static_cast<std::uint32_t>(out.mesh.positions.size()));
        if (!fresh) return entry->second;
        const float* p = &attributes.vertices[3 * static_cast<std::size_t>(index.vertex_index)];
        const float* n = hasNormal ? &attributes.normals[3 * static_cast<std::size_t>(index.normal_index)] : nullptr;
        const float* uv = hasUv ? &attributes.texcoords[2 * static_cast<std::size_t>(index.texcoord_index)] : nullptr;
        addVertex(out.mesh, {p[0], p[1], p[2]}, n ? glm::vec3(n[0], n[1], n[2]) : glm::vec3(0),
                  uv ? glm::vec2(uv[0], uv[1]) : glm::vec2(0));
        out.hasNormals = out.hasNormals && hasNormal;
        if (coloured) {
            const float* c = &attributes.colors[3 * static_cast<std::size_t>(index.vertex_index)];
            out.mesh.colours.emplace_back(linearFromSrgb(c[0]), linearFromSrgb(c[1]), linearFromSrgb(c[2]), 1);
        }
        return entry->second;
    }
};

}  // namespace

std::vector<FileMesh> readObj(const std::string& bytes) {
    if (hasPlaceThatIsNoNumber(bytes)) throw Error("has a corner at a place that is no number");
    std::istringstream stream(bytes);
    tinyobj::attrib_t attributes;
    std::vector<tinyobj::shape_t> shapes;
    std::vector<tinyobj::material_t> materials;
    std::string warning, problem;
    if (!tinyobj::LoadObj(&attributes, &shapes, &materials, &warning, &problem, &stream, nullptr, false, true))
        throw Error("is damaged or not an OBJ mesh");
    // Vertices without a colour are given white, so a file without any has nothing else.
    const bool coloured = attributes.colors.size() == attributes.vertices.size() &&
                          std::any_of(attributes.colors.begin(), attributes.colors.end(), [](float c) { return c != 1; });
    std::vector<FileMesh> out;
    std::size_t triangles = 0;
    for (const auto& shape : shapes) {
        ObjBuilder builder{attributes, coloured, {shape.name, {}, true}, {}};
        std::size_t next = 0;
        for (const unsigned count : shape.mesh.num_face_vertices) {
            std::vector<std::uint32_t> polygon;
            for (unsigned k = 0; k < count && next < shape.mesh.indices.size(); ++k)
                polygon.push_back(builder.vertex(shape.mesh.indices[next++]));
            addPolygon(builder.out.mesh, polygon);
        }
        triangles += builder.out.mesh.triangleCount();
        if (triangles > mostFileTriangles) throw Error("has more than 20 million triangles; make a lighter version");
        if (!builder.out.mesh.triangles.empty()) out.push_back(std::move(builder.out));
    }
    return out;
}

}  // namespace gswarm
