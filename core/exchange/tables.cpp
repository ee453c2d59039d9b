// All columns of the ledger over several frames in one file: as CSV, and as NumPy's array of records.
#include <bit>
#include <charconv>
#include <cstring>
#include <set>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/exchange/csv.h"
#include "core/exchange/exporter_kind.h"
#include "core/read/ledger.h"

namespace gswarm {
namespace {

struct Table {
    bool copies;
};

std::shared_ptr<const Ledger> ledgerAt(const ExportFrames& frames, const Table& table, double frame, Progress& progress) {
    LedgerQuery query;
    query.copies = table.copies;
    for (const LedgerColumn& column : ledgerColumns(frames.scene, frames.swarm)) query.columns.push_back(column.id);
    const auto plan = frames.evaluator.plan(frames.scene, frames.swarm, frame, frames.options, progress);
    return readLedger(frames.evaluator, plan, frames.scene, query, progress);
}

/// Names are those of people, each once: columns of named values and weights have no other that tells anything.
std::vector<std::string> namesOf(const std::vector<LedgerColumn>& columns) {
    std::vector<std::string> names;
    std::set<std::string> taken;
    for (const LedgerColumn& column : columns) {
        const bool own = column.id.size() == 12 && parseObjectId(column.id);
        const std::string name = own ? column.label : column.id;
        std::string once = name;
        for (int copy = 2; !taken.insert(once).second; ++copy) once = name + " " + std::to_string(copy);
        names.push_back(once);
    }
    return names;
}

void forFrames(const ExportFrames& frames, const Table& table, Progress& progress,
               const std::function<void(int frame, const Ledger&)>& take) {
    eachFrame(frames.range, progress, [&](int frame) { take(frame, *ledgerAt(frames, table, frame, progress)); });
}

void writeCsvFrames(const Table& table, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    AtomicFile file(path);
    std::ostream& out = file.stream();
    const auto columns = ledgerColumns(frames.scene, frames.swarm);
    const auto names = namesOf(columns);
    out << "frame";
    for (std::size_t c = 0; c < columns.size(); ++c)
        out << ',' << csvField(names[c] + (columns[c].unit.empty() ? "" : " [" + columns[c].unit + "]"));
    out << '\n';
    std::string line;
    forFrames(frames, table, progress, [&](int frame, const Ledger& ledger) {
        for (int row = 0; row < ledger.count && out; ++row) {
            const auto i = static_cast<std::size_t>(row);
            line = std::to_string(frame);
            for (std::size_t c = 0; c < ledger.columns.size(); ++c) {
                const std::string& id = ledger.columns[c].id;
                line += ',';
                if (id == "id") {
                    line += std::to_string(ledger.ids[i]);
                } else if (id == "shape") {
                    line += csvField(ledger.shapes[static_cast<std::size_t>(ledger.values[c][i])]);
                } else if (id == "number" || id == "copy" || id == "shown") {
                    line += std::to_string(static_cast<int>(ledger.values[c][i]));
                } else {
                    char text[32];
                    line.append(text, std::to_chars(text, text + sizeof text, ledger.values[c][i]).ptr);
                }
            }
            out << line << '\n';
        }
    });
    file.commit();
}

// ---- NPY (NumPy enhancement proposal 1)

static_assert(std::endian::native == std::endian::little, "written as it lies in memory");

/// Fields between quotes as Python reads them.
std::string inPython(const std::string& text) {
    std::string out = "'";
    for (const char c : text) {
        if (c == '\'' || c == '\\') out += '\\';
        out += static_cast<unsigned char>(c) < 32 ? ' ' : c;
    }
    return out + "'";
}

std::string recordOf(const std::vector<LedgerColumn>& columns) {
    const auto names = namesOf(columns);
    std::string record = "[('frame', '<i4')";
    for (std::size_t c = 0; c < columns.size(); ++c) {
        const LedgerColumn& column = columns[c];
        const char* type = column.id == "id"                                                      ? "<u8"
                           : column.id == "number" || column.id == "copy" || column.id == "shape" ? "<i4"
                           : column.id == "shown"                                                 ? "|b1"
                                                                                                  : "<f4";
        // The unit stands in the field's title: names are what programs ask for.
        const std::string name = column.unit.empty()
                                     ? inPython(names[c])
                                     : "(" + inPython(names[c] + " [" + column.unit + "]") + ", " + inPython(names[c]) + ")";
        record += ", (" + name + ", '" + type + "')";
    }
    return record + "]";
}

/// With room for any number of rows, so that it can be written again in its place.
std::string npyHead(const std::string& record, std::int64_t rows) {
    std::string text = "{'descr': " + record + ", 'fortran_order': False, 'shape': (" + std::to_string(rows) + ",), }";
    text += std::string(20 - std::to_string(rows).size(), ' ');
    // Data begin at a multiple of 64.
    constexpr std::size_t before = 12;
    text += std::string((64 - (before + text.size() + 1) % 64) % 64, ' ') + "\n";
    std::string head("\x93NUMPY\x03\x00", 8);
    const auto size = static_cast<std::uint32_t>(text.size());
    head.append(reinterpret_cast<const char*>(&size), 4);
    return head + text;
}

template <class T>
void put(std::string& bytes, T value) {
    bytes.append(reinterpret_cast<const char*>(&value), sizeof value);
}

void writeNpy(const Table& table, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    AtomicFile file(path);
    std::ostream& out = file.stream();
    const std::string record = recordOf(ledgerColumns(frames.scene, frames.swarm));
    std::int64_t rows = 0;
    out << npyHead(record, rows);
    std::string bytes;
    forFrames(frames, table, progress, [&](int frame, const Ledger& ledger) {
        bytes.clear();
        for (std::size_t i = 0; i < static_cast<std::size_t>(ledger.count); ++i) {
            put(bytes, static_cast<std::int32_t>(frame));
            for (std::size_t c = 0; c < ledger.columns.size(); ++c) {
                const std::string& id = ledger.columns[c].id;
                if (id == "id")
                    put(bytes, ledger.ids[i]);
                else if (id == "number" || id == "copy" || id == "shape")
                    put(bytes, static_cast<std::int32_t>(ledger.values[c][i]));
                else if (id == "shown")
                    put(bytes, static_cast<std::uint8_t>(ledger.values[c][i] > 0));
                else
                    put(bytes, ledger.values[c][i]);
            }
            if (bytes.size() > (1 << 20)) out << bytes, bytes.clear();
        }
        out << bytes;
        rows += ledger.count;
    });
    out.seekp(0);
    out << npyHead(record, rows);
    file.commit();
}

ExporterKind described(const char* id, const char* label, const char* ending, const char* summary,
                       void (*write)(const Table&, const ExportFrames&, const std::filesystem::path&, Progress&)) {
    DescribeExporter<Table> kind(ExportGroup::tables, id, label, ending, summary);
    kind.toggle("copies", &Table::copies, true, copiesInTables).label("Copies by symmetry");
    kind.found("table data spreadsheet numbers animation numpy python");
    ExporterKind made = writes(kind, write);
    made.moves = made.ofSwarm = true;
    return made;
}

}  // namespace

const ExporterKind framesCsvExporter = described(
    "csvFrames", "Several frames (CSV)", ".csv",
    "Every column of the ledger with its unit, weights too, a row for each instance and frame of the selected swarm.", writeCsvFrames);
const ExporterKind npyExporter =
    described("npy", "Several frames (NPY)", ".npy",
              "The same as an array of records: numpy.load opens it, numbers['position_x'] is a column.", writeNpy);

}  // namespace gswarm
