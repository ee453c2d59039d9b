// PLY, as text or binary: the instances of a swarm as points with all their numbers, or everything that is seen as one mesh.
#include <charconv>
#include <cmath>
#include <cstring>
#include <set>

#include "core/base/atomic_file.h"
#include "core/exchange/exporter_kind.h"
#include "core/exchange/realised.h"
#include "core/read/ledger.h"

namespace gswarm {
namespace {

enum class PlyAs { binary, text };

struct Ply {
    PlyAs encoding;
    bool copies = false;  ///< of points
};

/// Numbers of a PLY file in either encoding; rows of at most a thousand.
class PlyNumbers {
  public:
    PlyNumbers(PlyAs as, std::ostream& out) : as_(as), out_(out), bytes_(full + mostOfRow), next_(bytes_.data()) {}
    ~PlyNumbers() { flush(); }

    template <class T>
    void put(T value) {
        if (as_ == PlyAs::binary) {
            std::memcpy(next_, &value, sizeof value);
            next_ += sizeof value;
            return;
        }
        if constexpr (sizeof value == 1)
            next_ = std::to_chars(next_, next_ + 32, static_cast<int>(value)).ptr;
        else
            next_ = std::to_chars(next_, next_ + 32, value).ptr;
        *next_++ = ' ';
    }
    void endRow() {
        if (as_ == PlyAs::text) next_[-1] = '\n';
        if (next_ - bytes_.data() > full) flush();
    }

  private:
    static constexpr std::ptrdiff_t full = 1 << 18, mostOfRow = 1 << 16;
    void flush() {
        out_.write(bytes_.data(), next_ - bytes_.data());
        next_ = bytes_.data();
    }

    PlyAs as_;
    std::ostream& out_;
    std::vector<char> bytes_;
    char* next_;
};

std::string plyHead(PlyAs as) {
    return std::string("ply\nformat ") + (as == PlyAs::binary ? "binary_little_endian" : "ascii") +
           " 1.0\ncomment Gilded Swarm, metres, Y up\n";
}

std::uint8_t inByte(float share) { return static_cast<std::uint8_t>(std::lround(std::clamp(share, 0.0f, 1.0f) * 255)); }

// ---- points

/// Names in the header are words.
std::string wordOf(const std::string& text) {
    std::string word;
    for (const char c : text) word += static_cast<unsigned char>(c) <= ' ' ? '_' : c;
    return word;
}

struct PlyColumn {
    std::string name;
    enum As { number, whole, byte } as = number;
    const std::vector<float>* values;

    const char* type() const { return as == byte ? "uchar" : as == whole ? "int" : "float"; }
};

const std::vector<float>& columnOf(const Ledger& ledger, std::string_view id) {
    std::size_t at = 0;
    while (ledger.columns[at].id != id) ++at;
    return ledger.values[at];
}

/// What every reader looks for has the names that they know.
std::vector<PlyColumn> columnsOf(const Ledger& ledger) {
    const std::map<std::string, std::string> known{{"position_x", "x"}, {"position_y", "y"}, {"position_z", "z"}};
    const std::set<std::string> bytes{"red", "green", "blue", "alpha"};
    std::vector<PlyColumn> columns;
    std::set<std::string> taken;
    for (std::size_t c = 0; c < ledger.columns.size(); ++c) {
        const auto& [id, label, unit, summary] = ledger.columns[c];
        if (id == "id" || id == "shown") continue;
        const auto found = known.find(id);
        std::string name = found != known.end() ? found->second : wordOf(parseObjectId(id) ? label : id);
        while (!taken.insert(name).second) name += "_";
        const auto as = bytes.contains(id)                                ? PlyColumn::byte
                        : id == "number" || id == "copy" || id == "shape" ? PlyColumn::whole
                                                                          : PlyColumn::number;
        columns.push_back({name, as, &ledger.values[c]});
    }
    return columns;
}

void writePoints(const Ply& ply, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    LedgerQuery query;
    query.copies = ply.copies;
    for (const LedgerColumn& column : ledgerColumns(frames.scene, frames.swarm)) query.columns.push_back(column.id);
    const auto plan = frames.evaluator.plan(frames.scene, frames.swarm, frames.moment, frames.options, progress);
    const auto ledger = readLedger(frames.evaluator, plan, frames.scene, query, progress);
    AtomicFile file(path);
    std::ostream& out = file.stream();
    const auto columns = columnsOf(*ledger);
    const std::vector<float>& shown = columnOf(*ledger, "shown");
    out << plyHead(ply.encoding);
    for (std::size_t k = 0; k < ledger->shapes.size(); ++k) out << "comment shape " << k << " " << wordOf(ledger->shapes[k]) << '\n';
    out << "element vertex " << std::count_if(shown.begin(), shown.end(), [](float is) { return is > 0; }) << '\n';
    for (const PlyColumn& column : columns) out << "property " << column.type() << " " << column.name << '\n';
    out << "end_header\n";
    {
        PlyNumbers numbers(ply.encoding, out);
        for (std::size_t i = 0; i < shown.size(); ++i) {
            if (shown[i] <= 0) continue;
            for (const PlyColumn& column : columns) {
                const float value = (*column.values)[i];
                if (column.as == PlyColumn::byte)
                    numbers.put(inByte(value));
                else if (column.as == PlyColumn::whole)
                    numbers.put(static_cast<std::int32_t>(value));
                else
                    numbers.put(value);
            }
            numbers.endRow();
        }
    }
    file.commit();
    progress.report(1);
}

// ---- mesh

/// The named values that vertices of any mesh have, each once, and what they are called in the file.
std::vector<std::pair<std::string, std::string>> vertexValues(const DrawList& list) {
    std::map<std::string, std::string> known;
    std::set<std::string> taken{"x", "y", "z", "nx", "ny", "nz", "s", "t", "red", "green", "blue", "alpha"};
    for (const Surface& surface : list.surfaces)
        for (const NamedNumbers& named : surface.meshes->mesh().numbers) {
            if (known.contains(named.name)) continue;
            std::string word = wordOf(named.name);
            while (!taken.insert(word).second) word += "_";
            known[named.name] = word;
        }
    return {known.begin(), known.end()};
}

float vertexValue(const Mesh& mesh, const std::string& name, std::size_t vertex) {
    for (const NamedNumbers& named : mesh.numbers)
        if (named.name == name) return named.numbers[vertex];
    return 0;
}

void writeMesh(const Ply& ply, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    const DrawList list = frames.at(frames.moment, progress);
    const RealisedCount count = realisedCount(list);
    checkRealised(count);
    const auto values = vertexValues(list);
    AtomicFile file(path);
    std::ostream& out = file.stream();
    out << plyHead(ply.encoding) << "element vertex " << static_cast<std::int64_t>(count.vertices)
        << "\nproperty float x\nproperty float y\nproperty float z\nproperty float nx\nproperty float ny\nproperty float nz\n"
           "property float s\nproperty float t\nproperty uchar red\nproperty uchar green\nproperty uchar blue\nproperty uchar alpha\n";
    for (const auto& [name, word] : values) out << "property float " << word << '\n';
    out << "element face " << static_cast<std::int64_t>(count.triangles) << "\nproperty list uchar int vertex_indices\nend_header\n";
    {
        PlyNumbers numbers(ply.encoding, out);
        realise(list, progress, [&](const RealisedThing& thing) {
            for (std::size_t i = 0; i < thing.positions.size(); ++i) {
                for (const glm::vec3& v : {thing.positions[i], thing.normals[i]})
                    for (int c = 0; c < 3; ++c) numbers.put(v[c]);
                numbers.put(thing.mesh.uv[i].x), numbers.put(thing.mesh.uv[i].y);
                const glm::vec4 colour = thing.mesh.colours.empty() ? thing.colour : thing.colour * thing.mesh.colours[i];
                for (int c = 0; c < 3; ++c) numbers.put(inByte(static_cast<float>(srgbFromLinear(std::max(0.0f, colour[c])))));
                numbers.put(inByte(colour.w));
                for (const auto& [name, word] : values) numbers.put(vertexValue(thing.mesh, name, i));
                numbers.endRow();
            }
        });
        std::int32_t first = 0;
        realise(list, progress, [&](const RealisedThing& thing) {
            for (std::size_t t = 0; t + 2 < thing.triangles.size(); t += 3) {
                numbers.put(std::uint8_t{3});
                for (std::size_t c = 0; c < 3; ++c) numbers.put(first + static_cast<std::int32_t>(thing.triangles[t + c]));
                numbers.endRow();
            }
            first += static_cast<std::int32_t>(thing.positions.size());
        });
    }
    file.commit();
    progress.report(1);
}

double meshBytes(const void* settings, const ExportFrames& frames, Progress& progress) {
    const DrawList list = frames.at(frames.moment, progress);
    const RealisedCount count = realisedCount(list);
    const bool text = static_cast<const Ply*>(settings)->encoding == PlyAs::text;
    const auto values = static_cast<double>(vertexValues(list).size());
    return count.vertices * (text ? 90 + 9 * values : 36 + 4 * values) + count.triangles * (text ? 24 : 13);
}

DescribeExporter<Ply> describedPly(const char* id, const char* label, const char* summary) {
    DescribeExporter<Ply> kind(ExportGroup::geometry, id, label, ".ply", summary);
    kind.choice("encoding", &Ply::encoding, {{"binary", "Binary"}, {"text", "Text"}},
                "Text is three times as large and can be read by people");
    return kind;
}

ExporterKind points() {
    auto described = describedPly("plyPoints", "Points (PLY)",
                                  "The instances of the selected swarm that are seen, each a point with every number of the ledger.");
    described.toggle("copies", &Ply::copies, true, copiesInTables).label("Copies by symmetry");
    described.found("point cloud particles");
    ExporterKind kind = writes(described, writePoints);
    kind.ofSwarm = true;
    return kind;
}

ExporterKind mesh() {
    auto described = describedPly("plyMesh", "Meshes (PLY)", "Everything that is seen as one mesh in the world, with colours.");
    described.found("mesh model geometry scan print");
    ExporterKind kind = writes(described, writeMesh);
    kind.bytes = meshBytes;
    return kind;
}

}  // namespace

const ExporterKind plyPointsExporter = points();
const ExporterKind plyPointsSequenceExporter = sequenceOf(points(), "plyPointsSequence", "Frames of points (PLY)");
const ExporterKind plyMeshExporter = mesh();
const ExporterKind plyMeshSequenceExporter = sequenceOf(mesh(), "plyMeshSequence", "Frames of meshes (PLY)");

}  // namespace gswarm
