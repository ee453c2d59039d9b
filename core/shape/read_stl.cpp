// STL, text and binary.
#include <cstring>

#include "core/base/error.h"
#include "core/base/text.h"
#include "core/shape/read_mesh.h"

namespace gswarm {
namespace {

constexpr std::size_t headBytes = 84, triangleBytes = 50;

void addTriangle(Mesh& mesh, const glm::vec3* corners) {
    if (mesh.triangleCount() >= mostFileTriangles) throw Error("has more triangles than the limit of 20 million; make a lighter version");
    const auto first = static_cast<std::uint32_t>(mesh.positions.size());
    for (int k = 0; k < 3; ++k) addVertex(mesh, corners[k], glm::vec3(0), glm::vec2(0));
    addFace(mesh, {first, first + 1, first + 2});
}

std::size_t binaryCount(std::string_view bytes) {
    std::uint32_t count = 0;
    if (bytes.size() >= headBytes) std::memcpy(&count, bytes.data() + 80, 4);
    return count;
}

MeshFileContent readBinary(std::string_view bytes) {
    if (bytes.size() < headBytes) throw Error("is damaged or not an STL mesh");
    const std::size_t count = binaryCount(bytes), end = headBytes + triangleBytes * count;
    if (count > mostFileTriangles) throw Error("has more triangles than the limit of 20 million; make a lighter version");
    if (bytes.size() < end) throw Error("ends in the middle of its triangles");
    MeshFileContent content;
    FileMesh out;
    for (std::size_t t = 0; t < count; ++t) {
        float numbers[12];
        std::memcpy(numbers, bytes.data() + headBytes + triangleBytes * t, sizeof numbers);
        const glm::vec3 corners[] = {
            {numbers[3], numbers[4], numbers[5]}, {numbers[6], numbers[7], numbers[8]}, {numbers[9], numbers[10], numbers[11]}};
        addTriangle(out.mesh, corners);
    }
    if (bytes.size() > end) content.leftOut.push_back(counted(bytes.size() - end, "byte", "bytes") + " after its triangles");
    if (count > 0) content.meshes.push_back(std::move(out));
    return content;
}

/// solid NAME { facet normal x y z  outer loop  3 × vertex x y z  endloop  endfacet } endsolid NAME, again for more.
class TextReader {
  public:
    explicit TextReader(std::string_view text) : lines_(text) {}

    MeshFileContent read() {
        MeshFileContent content;
        while (next()) {
            expect("solid");
            content.meshes.emplace_back();
            content.meshes.back().name = std::string(trimmed(trimmed(line_).substr(5)));
            if (!solid(content.meshes.back().mesh)) content.meshes.pop_back();
        }
        return content;
    }

  private:
    [[noreturn]] void refuse(const std::string& what) const { throw Error(what + " (line " + std::to_string(lines_.number()) + ")"); }

    /// The words of the next line that has some.
    bool next() {
        while (lines_.next(line_))
            if (words_ = wordsOf(line_); !words_.empty()) return true;
        return false;
    }
    bool is(std::string_view what) const { return lowered(words_[0]) == what; }
    void expect(std::string_view what) const {
        if (!is(what)) refuse("has " + quotedPiece(words_[0]) + " where “" + std::string(what) + "” belongs");
    }
    void go(std::string_view what) {
        if (!next()) throw Error("ends before “" + std::string(what) + "”; it was cut off");
        expect(what);
    }

    /// False if it has no triangle.
    bool solid(Mesh& mesh) {
        for (;;) {
            if (!next()) throw Error("ends before “endsolid”; it was cut off");
            if (is("endsolid")) return !mesh.triangles.empty();
            expect("facet");
            go("outer");
            glm::vec3 corners[3];
            for (glm::vec3& corner : corners) {
                go("vertex");
                if (words_.size() != 4) refuse("has a corner that is not three numbers");
                for (int c = 0; c < 3; ++c) {
                    const auto number = numberIn(words_[static_cast<std::size_t>(c) + 1]);
                    if (!number)
                        refuse("has " + quotedPiece(words_[static_cast<std::size_t>(c) + 1]) + ", which is no number that can be held");
                    corner[c] = static_cast<float>(*number);
                }
            }
            go("endloop");
            go("endfacet");
            addTriangle(mesh, corners);
        }
    }

    Lines lines_;
    std::string_view line_;
    std::vector<std::string_view> words_;
};

/// Text begins with "solid", but so do some binary files: the next word that text must have tells.
bool isText(std::string_view bytes) {
    const std::string start = lowered(trimmed(withoutMark(bytes.substr(0, 4096))));
    return start.starts_with("solid") && (start.find("facet") != std::string::npos || start.find("endsolid") != std::string::npos);
}

}  // namespace

MeshFileContent readStl(std::string_view bytes) {
    const bool exact = bytes.size() >= headBytes && bytes.size() == headBytes + triangleBytes * binaryCount(bytes);
    return exact || !isText(bytes) ? readBinary(bytes) : TextReader(bytes).read();
}

}  // namespace gswarm
