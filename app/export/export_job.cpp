#include "app/export/export_job.h"

#include "core/evaluate/evaluator.h"
#include "live/live_still.h"

using namespace gswarm;

Scene sceneOf(const ExportJob& job) { return job.only.empty() ? job.scene : showingOnly(job.scene, job.only); }

QString writeJob(const ExportJob& job, Progress& progress, int& kept) {
    Evaluator evaluator;
    const std::string wrong = evaluator.store().checkpoints().follow(bakeBeside(job.folder / (job.project.toStdString() + ".gswarm")));
    const Scene scene = sceneOf(job);
    ExportFrames frames{evaluator, scene, {{}, job.folder}, job.frame, job.range, job.swarm};
    frames.live = live::liveStill();
    frames.camera = job.camera;
    frames.replaces = job.replaces;
    QString said = wrong.empty() ? QString() : " " + QString::fromStdString(wrong);
    frames.kept = [&](int, const std::filesystem::path&) { ++kept; };
    frames.told = [&](const std::string& sentence) { said += " " + QString::fromStdString(sentence); };
    writeExport(job.settings, frames, job.file, progress);
    return said;
}
