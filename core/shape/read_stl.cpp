// STL, text and binary.
#include <cstring>
#include <sstream>

#include "core/base/error.h"
#include "core/shape/read_mesh.h"

namespace gswarm {
namespace {

void addTriangle(Mesh& mesh, const glm::vec3* corners) {
    const auto first = static_cast<std::uint32_t>(mesh.positions.size());
    for (int k = 0; k < 3; ++k) addVertex(mesh, corners[k], glm::vec3(0), glm::vec2(0));
    addFace(mesh, {first, first + 1, first + 2});
}

std::vector<FileMesh> readBinary(const std::string& bytes) {
    std::uint32_t count = 0;
    std::memcpy(&count, bytes.data() + 80, 4);
    if (count > mostFileTriangles) throw Error("has more than 20 million triangles; make a lighter version");
    if (bytes.size() < 84 + std::size_t{50} * count) throw Error("ends in the middle of its triangles");
    FileMesh out;
    for (std::size_t t = 0; t < count; ++t) {
        float numbers[12];
        std::memcpy(numbers, bytes.data() + 84 + 50 * t, sizeof numbers);
        const glm::vec3 corners[] = {
            {numbers[3], numbers[4], numbers[5]}, {numbers[6], numbers[7], numbers[8]}, {numbers[9], numbers[10], numbers[11]}};
        addTriangle(out.mesh, corners);
    }
    return {std::move(out)};
}

std::vector<FileMesh> readText(const std::string& bytes) {
    std::istringstream in(bytes);
    std::vector<FileMesh> out;
    std::string word;
    glm::vec3 corners[3];
    int corner = 0;
    while (in >> word) {
        if (word == "solid") {
            out.emplace_back();
            std::getline(in, out.back().name);
            out.back().name.erase(0, out.back().name.find_first_not_of(" \t"));
        } else if (word == "vertex") {
            if (out.empty() || corner > 2 || !(in >> corners[corner].x >> corners[corner].y >> corners[corner].z))
                throw Error("has a corner that is not three numbers");
            ++corner;
        } else if (word == "endloop") {
            if (corner != 3) throw Error("has a face without three corners");
            addTriangle(out.back().mesh, corners);
            corner = 0;
        }
    }
    if (corner != 0) throw Error("ends in the middle of a triangle");
    std::erase_if(out, [](const FileMesh& m) { return m.mesh.triangles.empty(); });
    return out;
}

}  // namespace

std::vector<FileMesh> readStl(const std::string& bytes) {
    // Binary files may begin with "solid" too; only their length tells for sure.
    std::uint32_t count = 0;
    if (bytes.size() >= 84) std::memcpy(&count, bytes.data() + 80, 4);
    const bool exact = bytes.size() >= 84 && bytes.size() == 84 + std::size_t{50} * count;
    return exact || !bytes.starts_with("solid") ? bytes.size() < 84 ? throw Error("is damaged or not an STL mesh") : readBinary(bytes)
                                                : readText(bytes);
}

}  // namespace gswarm
