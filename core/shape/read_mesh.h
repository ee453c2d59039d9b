#pragma once
#include <cstdint>
#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "core/shape/mesh.h"

namespace gswarm {

/// A mesh as it stands in a file: its units and axes, polygons as faces, normals where the file has them.
struct FileMesh {
    std::string name;
    Mesh mesh;
    bool hasNormals = false;
};

/// All meshes of a file, and what of the file was not read, as people say it: "2 lines", "the skin".
struct MeshFileContent {
    std::vector<FileMesh> meshes;
    std::vector<std::string> leftOut;
};

/// More than this is refused before memory is taken.
inline constexpr std::size_t mostFileTriangles = 20'000'000, mostFileVertices = 20'000'000;
/// A larger file is not read.
inline constexpr std::uintmax_t mostMeshFileBytes = std::uintmax_t{512} << 20;
/// A face with more corners is refused.
inline constexpr std::size_t mostFaceCorners = 1'000'000;

/// Each reads all meshes of a file's bytes. They may come from anyone: sizes are checked before memory is taken and
/// indices before use. What can't be read as it is meant is refused or told as left out, never guessed. Throws Error with
/// what is wrong as the end of a sentence that begins with the file's name, and the line where the file has lines.
MeshFileContent readObj(std::string_view bytes);
MeshFileContent readPly(std::string_view bytes);
MeshFileContent readStl(std::string_view bytes);

/// The bytes of a file that another one names, by its path beside it. Throws Error.
using ReadBeside = std::function<std::string(const std::string& path)>;
/// glTF 2.0, text or binary, with its transforms and with instances (EXT_mesh_gpu_instancing) as copies. `beside` reads
/// buffers that stand in files of their own; without it they are refused.
MeshFileContent readGltf(std::string_view bytes, const ReadBeside& beside = {});

/// The paths of buffers that a glTF file keeps in files of their own, as it writes them; none where it can't be read.
std::vector<std::string> buffersBeside(std::string_view bytes);

/// Appends a polygon of three or more vertices that are there already as one face; concave ones right too. Time grows
/// with n log n. Throws Error for one of thousands of corners that crosses itself.
void addPolygon(Mesh& mesh, const std::vector<std::uint32_t>& corners);

/// A PLY file's points that no face needs, with their normals and colours where it has them: for loose points.
FileMesh readPlyPoints(std::string_view bytes);

}  // namespace gswarm
