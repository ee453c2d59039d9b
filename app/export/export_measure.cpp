#include "app/export/export_measure.h"

#include <algorithm>
#include <cmath>
#include <QTemporaryDir>

#include "app/theme/theme.h"
#include "core/evaluate/evaluator.h"

using namespace gswarm;
namespace fs = std::filesystem;

namespace {

constexpr int calmMilliseconds = 700;
constexpr double mostMeasured = 3e8;  ///< that are written to be measured

double numberOf(const Part& settings, const char* id, double otherwise) {
    const int at = settings.kind->indexOf(id);
    return at < 0 ? otherwise : std::get<Numbers>(settings.values[static_cast<std::size_t>(at)]).front().value;
}

void setNumber(Part& settings, const char* id, double value) {
    const int at = settings.kind->indexOf(id);
    if (at >= 0) settings.values[static_cast<std::size_t>(at)] = fixedNumbers({value});
}

QString roughly(double seconds) {
    if (seconds < 1) return "less than a second";
    if (seconds < 59.5) return QString("about %1 s").arg(std::lround(seconds));
    const long minutes = std::lround(seconds / 60);
    if (minutes < 60) return QString("about %1 min").arg(minutes);
    return QString("about %1 h %2 min").arg(minutes / 60).arg(minutes % 60);
}

bool isTraced(const Part& settings) {
    const auto value = [&](const char* id) {
        const int at = settings.kind->indexOf(id);
        return at < 0 ? Value(false) : settings.values[static_cast<std::size_t>(at)];
    };
    const Value live = value("live"), pictures = value("pictures");
    const auto* from = std::get_if<std::string>(&pictures);
    return settings.kind->indexOf("samples") >= 0 && !std::get<bool>(live) && !(from && !from->empty());
}

/// Its first frame, as it is.
ExportCost writtenCost(ExportJob job, Progress& progress) {
    const QTemporaryDir folder;
    if (!folder.isValid()) throw Error("No folder for what is only measured could be made.");
    const fs::path place = folder.path().toStdString();
    job.file = place / ("first" + job.kind().ending);
    job.range.last = job.range.first;
    job.replaces = true;
    QElapsedTimer clock;
    clock.start();
    int kept = 0;
    writeJob(job, progress, kept);
    ExportCost cost{static_cast<double>(clock.nsecsElapsed()) / 1e9, 0};
    for (const auto& entry : fs::recursive_directory_iterator(place))
        if (entry.is_regular_file()) cost.bytes += static_cast<double>(entry.file_size());
    return cost;
}

/// What grows with the pixels and what does not, from pictures of an eighth and a quarter of the size.
ExportCost tracedCost(const ExportJob& job, Progress& progress) {
    const double width = numberOf(job.settings, "width", 1), height = numberOf(job.settings, "height", 1);
    ExportCost costs[2];
    double pixels[2];
    for (const int k : {0, 1}) {
        ExportJob small = job;
        const double part = k == 0 ? 8 : 4, w = std::ceil(width / part / 2) * 2, h = std::ceil(height / part / 2) * 2;
        setNumber(small.settings, "width", w);
        setNumber(small.settings, "height", h);
        pixels[k] = w * h;
        costs[k] = writtenCost(small, progress);
    }
    const auto at = [&](double small, double larger) {
        const double slope = std::max(0.0, (larger - small) / (pixels[1] - pixels[0]));
        return larger + slope * (width * height - pixels[1]);
    };
    if (pixels[1] <= pixels[0]) return costs[1];
    return {at(costs[0].seconds, costs[1].seconds), at(costs[0].bytes, costs[1].bytes)};
}

}  // namespace

ExportCost costOf(const ExportJob& job, Progress& progress) {
    const ExporterKind& kind = job.kind();
    const int frames = kind.moves ? job.range.count() : 1;
    ExportCost cost{0, -1};
    if (kind.bytes) {
        Evaluator evaluator;
        const Scene scene = sceneOf(job);
        const ExportFrames asked{evaluator, scene, {{}, job.folder}, job.frame, job.range, job.swarm};
        const auto resolved = resolvedWith(job.settings, [](const Track& track) { return track.value; });
        cost.bytes = kind.bytes(resolved.data.get(), asked, progress) * (kind.numbered ? frames : 1);
    }
    // Told with no time rather than a disk filled to find out.
    if (cost.bytes / std::max(1, kind.numbered ? frames : 1) > mostMeasured) return {-1, cost.bytes, false};
    ExportJob one = job;
    setNumber(one.settings, "repeats", 1);
    const ExportCost first = isTraced(job.settings) ? tracedCost(one, progress) : writtenCost(one, progress);
    cost.seconds = first.seconds * frames;
    if (cost.bytes >= 0) return cost;
    const double repeats = numberOf(job.settings, "repeats", 1), megabits = numberOf(job.settings, "megabits", 0);
    cost.bytes = first.bytes * frames * repeats;
    if (kind.group != ExportGroup::video) return cost;
    // A video says only what changed since the frame before.
    cost.bytesMost = true;
    if (megabits > 0) cost.bytes = megabits * 1e6 / 8 * frames * job.range.every / momentAt(job.scene, 0).rate * repeats;
    return cost;
}

ExportMeasure::ExportMeasure(QObject* parent) : QObject(parent) {
    calm_.setSingleShot(true);
    calm_.setInterval(calmMilliseconds);
    connect(&calm_, &QTimer::timeout, this, &ExportMeasure::begin);
}

ExportMeasure::~ExportMeasure() {
    if (progress_) progress_->cancel();
    if (thread_.joinable()) thread_.join();
}

void ExportMeasure::ask(std::vector<ExportJob> jobs) {
    stop();
    asked_ = std::move(jobs);
    if (!asked_.empty()) calm_.start();
}

void ExportMeasure::stop() {
    calm_.stop();
    asked_.clear();
    if (progress_) progress_->cancel();
    emit told({});
}

void ExportMeasure::begin() {
    // The one that was given up has not yet seen it.
    if (progress_) return calm_.start();
    progress_ = std::make_shared<Progress>();
    emit told("Measuring the first frame …");
    thread_ = std::thread([this, jobs = std::exchange(asked_, {}), progress = progress_] {
        QString sentence;
        try {
            ExportCost all;
            for (const ExportJob& job : jobs) {
                const ExportCost cost = costOf(job, *progress);
                all.seconds = cost.seconds < 0 || all.seconds < 0 ? -1 : all.seconds + cost.seconds;
                all.bytes += cost.bytes;
                all.bytesMost = all.bytesMost || cost.bytesMost;
            }
            const QString size = (all.bytesMost ? "At most " : "About ") + QString::fromStdString(bytesInWords(all.bytes));
            sentence = size + (all.seconds < 0 ? "; it is too much to be measured." : ", in " + roughly(all.seconds) + ".");
        } catch (const Cancelled&) {
            sentence.clear();
        } catch (const std::exception& error) {
            sentence = QString::fromUtf8(error.what());
        }
        QMetaObject::invokeMethod(
            this, [this, sentence] { finish(sentence); }, Qt::QueuedConnection);
    });
}

void ExportMeasure::finish(const QString& sentence) {
    thread_.join();
    const bool current = !progress_->cancelled();
    progress_.reset();
    if (current) emit told(sentence);
}
