#include "core/exchange/csv.h"

#include <charconv>
#include <ostream>

#include "core/base/atomic_file.h"
#include "core/exchange/exporter_kind.h"
#include "core/read/table.h"

namespace gswarm {

std::string csvField(const std::string& text) {
    if (text.find_first_of(",\"\n\r") == std::string::npos) return text;
    std::string out = "\"";
    for (const char c : text) (out += c == '"' ? "\"" : "") += c;
    return out + "\"";
}

void writeCsv(const Plan& plan, const Scene& scene, std::ostream& out, const CsvOptions& options, Progress* progress) {
    const std::string metres = options.units ? " [m]" : "";
    const bool copies = options.copies && plan.copies.size() > 1;
    out << "number,id,shape,shown";
    for (const char* axis : {"x", "y", "z"}) out << ",position_" << axis << metres;
    out << ",quaternion_x,quaternion_y,quaternion_z,quaternion_w,scale_x,scale_y,scale_z,red,green,blue,alpha";
    for (const auto& [number, standard] : plan.named) out << ',' << csvField(scene.at(number).name);
    if (copies) out << ",copy";
    out << '\n';
    const auto put = [&](float v) {
        char text[32];
        *std::to_chars(text, text + sizeof text, v).ptr = 0;
        out << ',' << text;
    };
    readInstances(
        plan, scene,
        [&](const InstanceRow& row) {
            out << row.number << ',' << row.id << ',' << csvField(row.shape) << ',' << (row.shown ? 1 : 0);
            for (const float v :
                 {row.position.x, row.position.y, row.position.z, row.rotation.x, row.rotation.y, row.rotation.z, row.rotation.w,
                  row.scale.x, row.scale.y, row.scale.z, row.colour.x, row.colour.y, row.colour.z, row.colour.w})
                put(v);
            for (const float v : row.named) put(v);
            if (copies) out << ',' << row.copy;
            out << '\n';
            if (progress && row.number % blockSize == 0) progress->report(static_cast<double>(row.number) / plan.count);
            return static_cast<bool>(out) && !(progress && progress->cancelled());
        },
        copies);
    if (progress) progress->check();
}

namespace {

struct Csv {
    bool units, copies;
};

void write(const Csv& csv, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    AtomicFile file(path);
    writeCsv(frames.evaluator.plan(frames.scene, frames.swarm, frames.moment, frames.options, progress), frames.scene, file.stream(),
             {csv.units, csv.copies}, &progress);
    file.commit();
    progress.report(1);
}

ExporterKind table() {
    auto described = DescribeExporter<Csv>(ExportGroup::tables, "csv", "This frame (CSV)", ".csv",
                                           "Every value of every instance of the selected swarm, in world space.");
    described.toggle("units", &Csv::units, true, "Columns that have one are called by it too: position_x [m]")
        .label("Units in the header")
        .toggle("copies", &Csv::copies, true, copiesInTables)
        .label("Copies by symmetry")
        .found("table data spreadsheet numbers");
    ExporterKind kind = writes(described, write);
    kind.ofSwarm = true;
    return kind;
}

}  // namespace

const ExporterKind csvExporter = table();

}  // namespace gswarm
