// Wavefront OBJ: polygons, with normals, UV and the widespread colours behind a corner's place.
// Read here and not by a library, because those found read what they don't understand as 0.
#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <unordered_map>

#include "core/base/error.h"
#include "core/base/text.h"
#include "core/scene/kind.h"
#include "core/shape/read_mesh.h"

namespace gswarm {
namespace {

/// Which place, UV and normal meet at a corner, from 0; −1 for none.
struct Corner {
    int place = -1, uv = -1, normal = -1;
    bool operator==(const Corner&) const = default;
};
struct CornerHash {
    std::size_t operator()(const Corner& c) const {
        std::uint64_t hash = static_cast<std::uint32_t>(c.place) * 0x9E3779B97F4A7C15ull;
        hash = (hash ^ static_cast<std::uint32_t>(c.uv)) * 0xBF58476D1CE4E5B9ull;
        hash = (hash ^ static_cast<std::uint32_t>(c.normal)) * 0x94D049BB133111EBull;
        return hash ^ hash >> 31;
    }
};

class ObjReader {
  public:
    explicit ObjReader(std::string_view text) : lines_(text) {}

    MeshFileContent read() {
        begin({});
        std::string joined;
        for (std::string_view line; next(line, joined);) {
            const auto words = wordsOf(line.substr(0, line.find('#')));
            if (!words.empty()) take(words, line);
        }
        end();
        for (const auto& [what, count] : leftOut_) content_.leftOut.push_back(counted(count, what, what + "s"));
        if (strange_ > 0)
            content_.leftOut.push_back(counted(strange_, "line", "lines") + " that OBJ does not know (the first is line " +
                                       std::to_string(firstStrange_) + ")");
        return std::move(content_);
    }

  private:
    [[noreturn]] void refuse(const std::string& what) const {
        throw Error("has " + what + " (line " + std::to_string(lines_.number()) + ")");
    }

    /// A line; one that ends in a backslash goes on in the next.
    bool next(std::string_view& line, std::string& joined) {
        if (!lines_.next(line)) return false;
        if (!line.ends_with('\\')) return true;
        joined.clear();
        while (line.ends_with('\\')) {
            joined.append(line.substr(0, line.size() - 1)) += ' ';
            if (!lines_.next(line)) line = {};
        }
        joined += line;
        line = joined;
        return true;
    }

    /// The numbers of a line, `least` to `most` of them; all of them finite.
    std::size_t numbers(const std::vector<std::string_view>& words, std::size_t least, std::size_t most, double* out) const {
        const std::size_t count = words.size() - 1;
        if (count < least || count > most)
            refuse("“" + std::string(words[0]) + "” with " + counted(count, "number", "numbers") + " instead of " + std::to_string(least));
        for (std::size_t k = 0; k < count; ++k) {
            const auto number = numberIn(words[k + 1]);
            if (!number) refuse(quotedPiece(words[k + 1]) + ", which is no number that can be held");
            out[k] = *number;
        }
        return count;
    }

    void place(const std::vector<std::string_view>& words) {
        double n[7] = {};
        const std::size_t count = numbers(words, 3, 7, n);
        if (count == 5) refuse("a corner of five numbers");
        if (places_.size() >= mostFileVertices) throw Error("has more corners than the limit of 20 million; make a lighter version");
        places_.emplace_back(n[0], n[1], n[2]);
        // x y z, with a weight that only free-form surfaces use, with a colour, with a colour and its alpha.
        if (count < 6) return;
        colours_.resize(places_.size(), glm::vec4(1));
        colours_.back() = {linearFromSrgb(n[3]), linearFromSrgb(n[4]), linearFromSrgb(n[5]), count == 7 ? n[6] : 1};
    }

    /// Counted from 1, or from the last one backwards.
    int index(std::string_view text, std::size_t count) const {
        const auto number = wholeNumberIn(text);
        if (!number) refuse("a face with " + quotedPiece(text) + " for a corner");
        const long long from0 = *number > 0 ? *number - 1 : *number + static_cast<long long>(count);
        if (*number == 0 || from0 < 0 || from0 >= static_cast<long long>(count)) refuse("a face with a corner that does not exist");
        return static_cast<int>(from0);
    }

    /// place, place/uv, place//normal or place/uv/normal.
    Corner corner(std::string_view text) const {
        std::array<std::string_view, 3> parts;
        std::size_t count = 0;
        for (std::string_view rest = text;; rest.remove_prefix(rest.find('/') + 1)) {
            if (count == 3) refuse("a face with " + quotedPiece(text) + " for a corner");
            parts[count++] = rest.substr(0, rest.find('/'));
            if (rest.find('/') == std::string_view::npos) break;
        }
        Corner corner{index(parts[0], places_.size())};
        if (!parts[1].empty()) corner.uv = index(parts[1], uv_.size());
        if (!parts[2].empty()) corner.normal = index(parts[2], normals_.size());
        return corner;
    }

    std::uint32_t vertex(const Corner& corner) {
        Mesh& mesh = content_.meshes.back().mesh;
        const auto [entry, fresh] = made_.try_emplace(corner, static_cast<std::uint32_t>(mesh.positions.size()));
        if (!fresh) return entry->second;
        if (++vertices_ > mostFileVertices) throw Error("has more corners than the limit of 20 million; make a lighter version");
        content_.meshes.back().hasNormals = content_.meshes.back().hasNormals && corner.normal >= 0;
        const auto at = [](const auto& list, int i) { return list[static_cast<std::size_t>(i)]; };
        addVertex(mesh, at(places_, corner.place), corner.normal < 0 ? glm::vec3(0) : at(normals_, corner.normal),
                  corner.uv < 0 ? glm::vec2(0) : at(uv_, corner.uv));
        const bool coloured = static_cast<std::size_t>(corner.place) < colours_.size();
        if (coloured || !mesh.colours.empty()) {
            mesh.colours.resize(mesh.positions.size(), glm::vec4(1));
            if (coloured) mesh.colours.back() = at(colours_, corner.place);
        }
        return entry->second;
    }

    void face(const std::vector<std::string_view>& words) {
        if (words.size() < 4) refuse("a face of fewer than three corners");
        if (words.size() - 1 > mostFaceCorners) refuse("a face of more corners than the limit of a million");
        polygon_.clear();
        for (std::size_t k = 1; k < words.size(); ++k) polygon_.push_back(vertex(corner(words[k])));
        triangles_ += polygon_.size() - 2;
        if (triangles_ > mostFileTriangles) throw Error("has more triangles than the limit of 20 million; make a lighter version");
        addPolygon(content_.meshes.back().mesh, polygon_);
    }

    void begin(std::string_view name) { content_.meshes.push_back({std::string(name), {}, true}); }
    void end() {
        if (content_.meshes.back().mesh.triangles.empty()) content_.meshes.pop_back();
        made_.clear();
    }

    void take(const std::vector<std::string_view>& words, std::string_view line) {
        const std::string_view what = words[0];
        double n[3] = {};
        if (what == "v") {
            place(words);
        } else if (what == "vn") {
            numbers(words, 3, 3, n);
            normals_.emplace_back(n[0], n[1], n[2]);
        } else if (what == "vt") {
            numbers(words, 1, 3, n);
            uv_.emplace_back(n[0], n[1]);
        } else if (what == "f" || what == "fo") {
            face(words);
        } else if (what == "o" || what == "g") {
            end();
            begin(trimmed(trimmed(line).substr(1)));
        } else if (what == "l") {
            ++leftOut_["line"];
        } else if (what == "p") {
            ++leftOut_["point"];
        } else if (what == "curv" || what == "curv2") {
            ++leftOut_["free-form curve"];
        } else if (what == "surf") {
            ++leftOut_["free-form surface"];
        } else if (!known(what)) {
            if (strange_++ == 0) firstStrange_ = lines_.number();
        }
    }

    /// What says nothing about where corners and faces are, or belongs to free-form geometry.
    static bool known(std::string_view what) {
        static constexpr std::string_view words[] = {"s",      "usemtl",     "mtllib",    "vp",       "cstype",   "deg", "bmat",
                                                     "step",   "parm",       "trim",      "hole",     "scrv",     "sp",  "end",
                                                     "con",    "mg",         "bevel",     "c_interp", "d_interp", "lod", "usemap",
                                                     "maplib", "shadow_obj", "trace_obj", "ctech",    "stech"};
        return std::find(std::begin(words), std::end(words), what) != std::end(words);
    }

    Lines lines_;
    MeshFileContent content_;
    std::vector<glm::vec3> places_, normals_;
    std::vector<glm::vec2> uv_;
    std::vector<glm::vec4> colours_;  ///< of the first places, as many as have come up to the last one with a colour
    std::unordered_map<Corner, std::uint32_t, CornerHash> made_;
    std::vector<std::uint32_t> polygon_;
    std::map<std::string, std::size_t> leftOut_;
    std::size_t vertices_ = 0, triangles_ = 0, strange_ = 0, firstStrange_ = 0;
};

}  // namespace

MeshFileContent readObj(std::string_view bytes) { return ObjReader(bytes).read(); }

}  // namespace gswarm
