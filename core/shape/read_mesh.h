#pragma once
#include <string>
#include <vector>

#include "core/shape/mesh.h"

namespace gswarm {

/// A mesh as it stands in a file: its units and axes, polygons as faces, normals where the file has them.
struct FileMesh {
    std::string name;
    Mesh mesh;
    bool hasNormals = false;
};

/// More than this is refused before memory is taken.
inline constexpr std::size_t mostFileTriangles = 20'000'000;

/// Each reads all meshes of a file's bytes. They may come from anyone: sizes are checked before memory is taken and
/// indices before use. Throws Error with what is wrong as the end of a sentence that begins with the file's name.
std::vector<FileMesh> readObj(const std::string& bytes);
std::vector<FileMesh> readPly(const std::string& bytes);
std::vector<FileMesh> readStl(const std::string& bytes);
/// glTF 2.0, text or binary; buffers inside the file only. Nodes' transforms are applied.
std::vector<FileMesh> readGltf(const std::string& bytes);

/// Appends a polygon of three or more vertices that are there already as one face; concave ones right too.
void addPolygon(Mesh& mesh, const std::vector<std::uint32_t>& corners);

/// A PLY file's points that no face needs, with their normals and colours where it has them: for loose points.
FileMesh readPlyPoints(const std::string& bytes);

}  // namespace gswarm
