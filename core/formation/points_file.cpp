// Points from a CSV or PLY file in the project's folder. The id is the row.
#include <cmath>
#include <glm/geometric.hpp>
#include <new>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/base/outside_file.h"
#include "core/formation/formation_kind.h"
#include "core/formation/points_csv.h"
#include "core/shape/homes.h"
#include "core/shape/read_mesh.h"

namespace gswarm {
namespace {

constexpr std::uintmax_t mostBytes = 1u << 30;

struct PointsFile {
    std::string file;
    float size;
};

Homes readPoints(const std::string& bytes) {
    const FileMesh file = readPlyPoints(bytes);
    if (static_cast<double>(file.mesh.positions.size()) > mostInstances)
        throw Error("has more points than the limit of 16 million; make a lighter file");
    Homes homes;
    for (std::size_t i = 0; i < file.mesh.positions.size(); ++i) {
        const glm::vec3 p = file.mesh.positions[i], n = file.mesh.normals[i];
        if (!std::isfinite(p.x + p.y + p.z)) throw Error("has a place that is not a valid number (point " + std::to_string(i + 1) + ")");
        const float length = glm::length(n);
        homes.add(p, file.hasNormals && length > 0 ? standingOn(n / length, {0, 0, 1}) : glm::quat(1, 0, 0, 0), i);
    }
    return homes;
}

Homes read(const PointsFile& points, const FormationSource& source) {
    if (points.file.empty()) throw Error("This formation has no file yet; choose a CSV or PLY file in the project's folder.");
    const std::string bytes = readFile(pathInProject(points.file, source.projectFolder), mostBytes);
    try {
        Homes homes = bytes.starts_with("ply") ? readPoints(bytes) : readPointsCsv(bytes);
        if (homes.count() == 0) throw Error("has no points");
        for (std::size_t i = 0; i < homes.count(); ++i) homes.setPlace(i, homes.placeOf(i) * points.size);
        return homes;
    } catch (const Error& error) {
        throw Error("“" + points.file + "” " + error.what() + ".");
    } catch (const std::bad_alloc&) {
        throw Error("“" + points.file + "” needs more memory than there is; make it shorter.");
    }
}

double count(const PointsFile& points, const FormationSource& source) { return static_cast<double>(read(points, source).count()); }

}  // namespace

const FormationKind pointsFileFormation =
    stores(DescribeFormation<PointsFile>("pointsFile", "Points from a file", "Where a CSV or PLY file says")
               .found("import csv ply cloud scan data table")
               .file("file", &PointsFile::file, {".csv", ".ply"},
                     "A CSV (columns by name, or x, y, z and perhaps a normal) or PLY file in the project's folder")
               .number("size", &PointsFile::size, 1, {0.01, 10}, "Metres for one unit of the file")
               .hard(-1e6, 1e6),
           count, read);

}  // namespace gswarm
