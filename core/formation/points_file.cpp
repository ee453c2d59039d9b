// Points from a CSV or PLY file in the project's folder. The id is the row.
#include <algorithm>
#include <charconv>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/formation/formation_kind.h"
#include "core/shape/read_mesh.h"

namespace gswarm {
namespace {

constexpr std::uintmax_t mostBytes = 1u << 30;

struct PointsFile {
    std::string file;
    float size;
};

std::vector<double> numbersOf(std::string_view line) {
    std::vector<double> out;
    while (!line.empty()) {
        const auto start = line.find_first_not_of(" \t");
        if (start == std::string_view::npos) break;
        line.remove_prefix(start);
        double v = 0;
        const auto [end, error] = std::from_chars(line.data(), line.data() + line.size(), v);
        if (error != std::errc()) return {};
        out.push_back(v);
        line.remove_prefix(static_cast<std::size_t>(end - line.data()));
        if (const auto next = line.find_first_of(",;\t "); next == 0)
            line.remove_prefix(1);
        else if (next != std::string_view::npos || !line.empty())
            return {};
    }
    return out;
}

/// x, y, z and perhaps a normal's three; a first line of names is passed over.
Homes readCsv(std::string_view text) {
    Homes homes;
    std::size_t row = 0;
    for (std::size_t start = 0; start < text.size();) {
        const std::size_t end = std::min(text.find('\n', start), text.size());
        std::string_view line = text.substr(start, end - start);
        if (line.ends_with('\r')) line.remove_suffix(1);
        start = end + 1;
        if (line.find_first_not_of(" \t") == std::string_view::npos || line.starts_with('#')) continue;
        const auto n = numbersOf(line);
        if (n.size() < 3) {
            if (row == 0 && homes.count() == 0 && line.find_first_of("xX") != std::string_view::npos) continue;
            throw Error("has a row that is not x, y, z (row " + std::to_string(row + 1) + ")");
        }
        if (!std::isfinite(n[0] + n[1] + n[2])) throw Error("has a place that is no number (row " + std::to_string(row + 1) + ")");
        const glm::vec3 normal = n.size() >= 6 ? glm::vec3(n[3], n[4], n[5]) : glm::vec3(0, 1, 0);
        const float length = glm::length(normal);
        homes.add({n[0], n[1], n[2]}, length > 0 && n.size() >= 6 ? standingOn(normal / length, {0, 0, 1}) : glm::quat(1, 0, 0, 0), row++);
        if (static_cast<double>(row) > mostInstances) throw Error("has more than 16 million points; make a shorter file");
    }
    return homes;
}

Homes readPoints(const std::string& bytes) {
    const FileMesh file = readPlyPoints(bytes);
    if (static_cast<double>(file.mesh.positions.size()) > mostInstances)
        throw Error("has more than 16 million points; make a lighter file");
    Homes homes;
    for (std::size_t i = 0; i < file.mesh.positions.size(); ++i) {
        const glm::vec3 p = file.mesh.positions[i], n = file.mesh.normals[i];
        if (!std::isfinite(p.x + p.y + p.z)) throw Error("has a place that is no number (point " + std::to_string(i + 1) + ")");
        const float length = glm::length(n);
        homes.add(p, file.hasNormals && length > 0 ? standingOn(n / length, {0, 0, 1}) : glm::quat(1, 0, 0, 0), i);
    }
    return homes;
}

Homes read(const PointsFile& points, const FormationSource& source) {
    if (points.file.empty()) throw Error("This formation has no file yet; choose a CSV or PLY file in the project's folder.");
    const std::string bytes = readFile(pathInProject(points.file, {source.projectFolder, {}, nullptr}), mostBytes);
    try {
        Homes homes = bytes.starts_with("ply") ? readPoints(bytes) : readCsv(bytes);
        if (homes.count() == 0) throw Error("has no points");
        for (auto& p : homes.position) p *= points.size;
        return homes;
    } catch (const Error& error) {
        throw Error("“" + points.file + "” " + error.what() + ". The project is as it was.");
    }
}

double count(const PointsFile& points, const FormationSource& source) { return static_cast<double>(read(points, source).count()); }

}  // namespace

const FormationKind pointsFileFormation =
    stores(DescribeFormation<PointsFile>("pointsFile", "Points from a file", "Where a CSV or PLY file says")
               .file("file", &PointsFile::file, "A CSV (x, y, z and perhaps a normal) or PLY file in the project's folder")
               .number("size", &PointsFile::size, 1, {0.01, 10}, "Metres for one unit of the file")
               .hard(-1e6, 1e6),
           count, read);

}  // namespace gswarm
