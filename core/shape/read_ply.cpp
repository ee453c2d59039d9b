// PLY, text and binary (little and big endian), after G. Turk's description of the format (1994).
#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstring>
#include <map>

#include "core/base/error.h"
#include "core/scene/kind.h"
#include "core/shape/read_mesh.h"

namespace gswarm {
namespace {

constexpr double mostElements = 60e6;

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

    std::string_view line() {
        const auto end = data.find('\n');
        if (end == std::string_view::npos) throw Error("is damaged or not a PLY mesh");
        std::string_view out = data.substr(0, end);
        data.remove_prefix(end + 1);
        if (out.ends_with('\r')) out.remove_suffix(1);
        return out;
    }
    static std::vector<std::string_view> words(std::string_view text) {
        std::vector<std::string_view> out;
        for (std::size_t at = 0; (at = text.find_first_not_of(" \t", at)) != std::string_view::npos;) {
            const auto end = std::min(text.find_first_of(" \t", at), text.size());
            out.push_back(text.substr(at, end - at));
            at = end;
        }
        return out;
    }

    void header() {
        if (line() != "ply") throw Error("is damaged or not a PLY mesh");
        for (;;) {
            const auto w = words(line());
            if (w.empty() || w[0] == "comment" || w[0] == "obj_info") continue;
            if (w[0] == "end_header") return;
            if (w[0] == "format" && w.size() >= 2) {
                form = w[1] == "ascii" ? Form::text : w[1] == "binary_big_endian" ? Form::big : Form::little;
            } else if (w[0] == "element" && w.size() == 3) {
                Element e{std::string(w[1]), 0, {}};
                if (std::from_chars(w[2].data(), w[2].data() + w[2].size(), e.count).ec != std::errc() ||
                    static_cast<double>(e.count) > mostElements)
                    throw Error("names a count of “" + e.name + "” that is none or too large");
                elements.push_back(std::move(e));
            } else if (w[0] == "property" && !elements.empty() && (w.size() == 3 || (w.size() == 5 && w[1] == "list"))) {
                Property p{std::string(w.back()), typeOf(w[w.size() - 2]), w.size() == 5 ? typeOf(w[2]) : char(0)};
                if (p.type == 0 || (w.size() == 5 && p.countType == 0)) throw Error("has a property of an unknown type");
                elements.back().properties.push_back(std::move(p));
            } else {
                throw Error("has a header line that makes no sense");
            }
            if (elements.size() > 64 || (!elements.empty() && elements.back().properties.size() > 256))
                throw Error("has a header without end");
        }
    }

    double number(char type) {
        if (form == Form::text) {
            data.remove_prefix(std::min(data.find_first_not_of(" \t\r\n"), data.size()));
            double v = 0;
            const auto [end, error] = std::from_chars(data.data(), data.data() + data.size(), v);
            if (error != std::errc()) throw Error("ends early or has a number that is none");
            data.remove_prefix(static_cast<std::size_t>(end - data.data()));
            return v;
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

    /// Each element needs at least one byte a property, so a count that can't be there is seen before memory is taken.
    void checkCount(const Element& e) const {
        std::size_t least = 0;
        for (const Property& p : e.properties) least += form == Form::text ? 2 : sizeOf(p.countType ? p.countType : p.type);
        if (e.count > 0 && least > 0 && data.size() + 1 < e.count * least) throw Error("ends before all of its elements");
    }

    void vertices(const Element& e, FileMesh& out) {
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

    void faces(const Element& e, FileMesh& out) {
        std::vector<std::uint32_t> polygon;
        for (std::size_t i = 0; i < e.count; ++i)
            for (const Property& p : e.properties) {
                if (!p.countType || (p.name != "vertex_indices" && p.name != "vertex_index")) {
                    readOne(p);
                    continue;
                }
                const double n = number(p.countType);
                if (!(n >= 0 && n <= 100'000)) throw Error("has a face with an impossible number of corners");
                polygon.clear();
                for (double k = 0; k < n; ++k) {
                    const double v = number(p.type);
                    if (!(v >= 0 && v < static_cast<double>(out.mesh.positions.size())))
                        throw Error("has a face with a corner that does not exist");
                    polygon.push_back(static_cast<std::uint32_t>(v));
                }
                addPolygon(out.mesh, polygon);
                if (out.mesh.triangleCount() > mostFileTriangles) throw Error("has more than 20 million triangles; make a lighter version");
            }
    }

    FileMesh read() {
        header();
        FileMesh out;
        for (const Element& e : elements) {
            checkCount(e);
            if (e.name == "vertex")
                vertices(e, out);
            else if (e.name == "face")
                faces(e, out);
            else
                for (std::size_t i = 0; i < e.count; ++i)
                    for (const Property& p : e.properties) readOne(p);
        }
        return out;
    }
};

}  // namespace

FileMesh readPlyPoints(const std::string& bytes) { return PlyReader{bytes, Form::text, {}}.read(); }

std::vector<FileMesh> readPly(const std::string& bytes) {
    FileMesh mesh = PlyReader{bytes, Form::text, {}}.read();
    std::vector<FileMesh> out;
    if (!mesh.mesh.triangles.empty()) out.push_back(std::move(mesh));
    return out;
}

}  // namespace gswarm
