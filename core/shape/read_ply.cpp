// PLY, text and binary (little and big endian), after G. Turk's description of the format (1994).
#include <algorithm>
#include <cmath>
#include <cstring>
#include <map>

#include "core/base/error.h"
#include "core/base/text.h"
#include "core/scene/kind.h"
#include "core/shape/read_mesh.h"

namespace gswarm {
namespace {

constexpr double mostRows = 60e6;

enum class Form { text, little, big };

struct Property {
    std::string name;
    char type = 'f', countType = 0;  ///< countType is not 0 for lists
};
struct Element {
    std::string name;
    std::size_t count = 0;
    std::vector<Property> properties;
};

/// b B h H i I f d as in many languages' packing; 0 if the name is no type.
char typeOf(std::string_view name) {
    static const std::map<std::string_view, char> types = {{"char", 'b'},  {"int8", 'b'},    {"uchar", 'B'},  {"uint8", 'B'},
                                                           {"short", 'h'}, {"int16", 'h'},   {"ushort", 'H'}, {"uint16", 'H'},
                                                           {"int", 'i'},   {"int32", 'i'},   {"uint", 'I'},   {"uint32", 'I'},
                                                           {"float", 'f'}, {"float32", 'f'}, {"double", 'd'}, {"float64", 'd'}};
    const auto found = types.find(name);
    return found == types.end() ? 0 : found->second;
}
std::size_t sizeOf(char type) { return type == 'b' || type == 'B' ? 1 : type == 'h' || type == 'H' ? 2 : type == 'd' ? 8 : 4; }

struct PlyReader {
    std::string_view data;
    Form form = Form::text;
    std::vector<Element> elements;

    /// A line of the header, which may end in CR, LF or both.
    std::string_view line() {
        const auto end = data.find_first_of("\r\n");
        if (end == std::string_view::npos) throw Error("is damaged or not a PLY mesh");
        std::string_view out = data.substr(0, end);
        data.remove_prefix(end + (data.substr(end, 2) == "\r\n" ? 2 : 1));
        return out;
    }

    void header() {
        if (trimmed(line()) != "ply") throw Error("is damaged or not a PLY mesh");
        bool formed = false;
        for (;;) {
            const auto w = wordsOf(line());
            if (w.empty() || w[0] == "comment" || w[0] == "obj_info") continue;
            if (w[0] == "end_header") break;
            if (w[0] == "format" && w.size() >= 2) {
                if (w[1] != "ascii" && w[1] != "binary_big_endian" && w[1] != "binary_little_endian")
                    throw Error("is in the form " + quotedPiece(w[1]) + ", which is not read; save it as ascii or binary_little_endian");
                form = w[1] == "ascii" ? Form::text : w[1] == "binary_big_endian" ? Form::big : Form::little;
                formed = true;
            } else if (w[0] == "element" && w.size() == 3) {
                const auto count = wholeNumberIn(w[2]);
                if (!count || *count < 0 || static_cast<double>(*count) > mostRows)
                    throw Error("names a count of " + quotedPiece(w[1]) + " that is none or too large");
                elements.push_back({std::string(w[1]), static_cast<std::size_t>(*count), {}});
            } else if (w[0] == "property" && !elements.empty() && (w.size() == 3 || (w.size() == 5 && w[1] == "list"))) {
                Property p{std::string(w.back()), typeOf(w[w.size() - 2]), w.size() == 5 ? typeOf(w[2]) : char(0)};
                if (p.type == 0 || (w.size() == 5 && p.countType == 0))
                    throw Error("has a property of the unknown type " + quotedPiece(w[w.size() - 2]));
                elements.back().properties.push_back(std::move(p));
            } else {
                throw Error("has a header line that makes no sense: " + quotedPiece(w[0]));
            }
            if (elements.size() > 64 || (!elements.empty() && elements.back().properties.size() > 256))
                throw Error("has a header without end");
        }
        if (!formed) throw Error("does not say in which form its numbers are");
    }

    double number(char type) {
        if (form == Form::text) {
            data.remove_prefix(std::min(data.find_first_not_of(" \t\r\n"), data.size()));
            if (data.empty()) throw Error("ends in the middle of its numbers");
            const std::string_view word = data.substr(0, std::min(data.find_first_of(" \t\r\n"), data.size()));
            const auto v = numberIn(word);
            if (!v) throw Error("has " + quotedPiece(word) + ", which is no number that can be held");
            if (type != 'f' && type != 'd' && *v != std::floor(*v))
                throw Error("has " + quotedPiece(word) + " where a whole number belongs");
            data.remove_prefix(word.size());
            return *v;
        }
        const std::size_t size = sizeOf(type);
        if (data.size() < size) throw Error("ends in the middle of its numbers");
        unsigned char raw[8];
        std::memcpy(raw, data.data(), size);
        data.remove_prefix(size);
        if (form == Form::big) std::reverse(raw, raw + size);
        const auto as = [&]<class T>(T v) {
            std::memcpy(&v, raw, sizeof v);
            return static_cast<double>(v);
        };
        switch (type) {
            case 'b':
                return as(std::int8_t{});
            case 'B':
                return as(std::uint8_t{});
            case 'h':
                return as(std::int16_t{});
            case 'H':
                return as(std::uint16_t{});
            case 'i':
                return as(std::int32_t{});
            case 'I':
                return as(std::uint32_t{});
            case 'f':
                return as(float{});
            default:
                return as(double{});
        }
    }

    /// In text an element is a line: what is too much in one must not slip into the next.
    void endRow(const Element& e, std::size_t row) {
        if (form != Form::text) return;
        data.remove_prefix(std::min(data.find_first_not_of(" \t"), data.size()));
        if (!data.empty() && data[0] != '\r' && data[0] != '\n')
            throw Error("has more numbers in a row of “" + e.name + "” than its header says (row " + std::to_string(row + 1) + ")");
    }

    /// Each element needs at least one byte a property, so a count that can't be there is seen before memory is taken.
    void checkCount(const Element& e) const {
        std::size_t least = 0;
        for (const Property& p : e.properties) least += form == Form::text ? 2 : sizeOf(p.countType ? p.countType : p.type);
        if (e.count > 0 && least > 0 && data.size() + 1 < e.count * least) throw Error("ends before all of its elements");
    }

    void vertices(const Element& e, FileMesh& out) {
        if (e.count > mostFileVertices) throw Error("has more corners than the limit of 20 million; make a lighter version");
        std::map<std::string, int> column;
        for (std::size_t i = 0; i < e.properties.size(); ++i) column[e.properties[i].name] = static_cast<int>(i);
        const auto find = [&](std::initializer_list<const char*> names) {
            for (const char* n : names)
                if (const auto found = column.find(n); found != column.end()) return found->second;
            return -1;
        };
        const int at[] = {find({"x"}), find({"y"}), find({"z"})}, normal[] = {find({"nx"}), find({"ny"}), find({"nz"})};
        const int uv[] = {find({"u", "s", "texture_u"}), find({"v", "t", "texture_v"})};
        const int colour[] = {find({"red", "r"}), find({"green", "g"}), find({"blue", "b"}), find({"alpha", "a"})};
        if (at[0] < 0 || at[1] < 0 || at[2] < 0) throw Error("has vertices without x, y and z");
        out.hasNormals = normal[0] >= 0 && normal[1] >= 0 && normal[2] >= 0;
        const bool coloured = colour[0] >= 0 && colour[1] >= 0 && colour[2] >= 0;
        std::vector<double> row(e.properties.size());
        const auto value = [&](int c) { return c < 0 ? 0 : row[static_cast<std::size_t>(c)]; };
        const auto shade = [&](int c) {
            if (c < 0) return 1.0;
            const char type = e.properties[static_cast<std::size_t>(c)].type;
            return value(c) / (type == 'B' ? 255 : type == 'H' ? 65535 : 1);
        };
        for (std::size_t i = 0; i < e.count; ++i) {
            for (std::size_t c = 0; c < row.size(); ++c) row[c] = readOne(e.properties[c]);
            endRow(e, i);
            addVertex(out.mesh, {value(at[0]), value(at[1]), value(at[2])}, {value(normal[0]), value(normal[1]), value(normal[2])},
                      {value(uv[0]), value(uv[1])});
            if (coloured)
                out.mesh.colours.emplace_back(linearFromSrgb(shade(colour[0])), linearFromSrgb(shade(colour[1])),
                                              linearFromSrgb(shade(colour[2])), shade(colour[3]));
        }
    }

    /// A plain number, or the first of a list.
    double readOne(const Property& p) {
        if (!p.countType) return number(p.type);
        const double n = number(p.countType);
        double first = 0;
        for (double k = 0; k < n; ++k) {
            const double v = number(p.type);
            if (k == 0) first = v;
        }
        return first;
    }

    /// The whole numbers of a list: corners of a face, or strips of them that −1 divides.
    void indices(const Property& p, std::size_t most, std::vector<std::int64_t>& out) {
        const double n = number(p.countType);
        if (!(n >= 0 && n <= static_cast<double>(most))) throw Error("has a face with an impossible number of corners");
        out.clear();
        for (double k = 0; k < n; ++k) {
            const double v = number(p.type);
            if (v != std::floor(v) || !(std::abs(v) < 1e15)) throw Error("has a face with a corner that is no whole number");
            out.push_back(static_cast<std::int64_t>(v));
        }
    }
    std::uint32_t corner(std::int64_t index, const Mesh& mesh) const {
        if (index < 0 || index >= static_cast<std::int64_t>(mesh.positions.size()))
            throw Error("has a face with a corner that does not exist");
        return static_cast<std::uint32_t>(index);
    }

    void faces(const Element& e, FileMesh& out) {
        std::vector<std::int64_t> list;
        std::vector<std::uint32_t> polygon;
        for (std::size_t i = 0; i < e.count; ++i) {
            for (const Property& p : e.properties) {
                if (!p.countType || (p.name != "vertex_indices" && p.name != "vertex_index")) {
                    readOne(p);
                    continue;
                }
                indices(p, mostFaceCorners, list);
                polygon.clear();
                for (const std::int64_t index : list) polygon.push_back(corner(index, out.mesh));
                addPolygon(out.mesh, polygon);
                if (out.mesh.triangleCount() > mostFileTriangles)
                    throw Error("has more triangles than the limit of 20 million; make a lighter version");
            }
            endRow(e, i);
        }
    }

    /// Every further corner makes a triangle with the two before it, turned over at every second one.
    void strips(const Element& e, FileMesh& out) {
        std::vector<std::int64_t> list;
        for (std::size_t i = 0; i < e.count; ++i) {
            for (const Property& p : e.properties) {
                if (!p.countType || (p.name != "vertex_indices" && p.name != "vertex_index")) {
                    readOne(p);
                    continue;
                }
                indices(p, 3 * mostFileTriangles, list);
                std::size_t start = 0;
                for (std::size_t k = 0; k < list.size(); ++k) {
                    if (list[k] == -1) {
                        start = k + 1;
                        continue;
                    }
                    corner(list[k], out.mesh);
                    if (k < start + 2) continue;
                    const std::uint32_t a = corner(list[k - 2], out.mesh), b = corner(list[k - 1], out.mesh), c = corner(list[k], out.mesh);
                    if (a == b || b == c || a == c) continue;  // joins two strips
                    if ((k - start) % 2 == 0)
                        addFace(out.mesh, {a, b, c});
                    else
                        addFace(out.mesh, {b, a, c});
                    if (out.mesh.triangleCount() > mostFileTriangles)
                        throw Error("has more triangles than the limit of 20 million; make a lighter version");
                }
            }
            endRow(e, i);
        }
    }

    FileMesh read(std::vector<std::string>& leftOut) {
        header();
        FileMesh out;
        for (const Element& e : elements) {
            checkCount(e);
            if (e.name == "vertex") {
                vertices(e, out);
            } else if (e.name == "face") {
                faces(e, out);
            } else if (e.name == "tristrips") {
                strips(e, out);
            } else {
                for (std::size_t i = 0; i < e.count; ++i) {
                    for (const Property& p : e.properties) readOne(p);
                    endRow(e, i);
                }
                if (e.count > 0) leftOut.push_back(counted(e.count, "element", "elements") + " “" + e.name + "”");
            }
        }
        if (const auto rest = trimmed(data); form == Form::text ? !rest.empty() : !data.empty())
            leftOut.push_back(counted(form == Form::text ? rest.size() : data.size(), "byte", "bytes") + " after its last element");
        return out;
    }
};

}  // namespace

FileMesh readPlyPoints(std::string_view bytes) {
    std::vector<std::string> leftOut;
    return PlyReader{bytes, Form::text, {}}.read(leftOut);
}

MeshFileContent readPly(std::string_view bytes) {
    MeshFileContent content;
    FileMesh mesh = PlyReader{bytes, Form::text, {}}.read(content.leftOut);
    if (!mesh.mesh.triangles.empty()) content.meshes.push_back(std::move(mesh));
    return content;
}

}  // namespace gswarm
