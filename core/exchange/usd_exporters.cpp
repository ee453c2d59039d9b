// USD as text: the scene of one frame, or over a range with what changes sampled.
#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/exchange/usd_things.h"
#include "core/material/material_kind.h"

namespace gswarm {
namespace {

struct Usd {};

void writeStage(const ExportFrames& asked, const FrameRange& range, double later, const std::filesystem::path& path, Progress& progress) {
    ExportFrames frames = asked;
    frames.range = range;
    usd::Pictures pictures(usd::Pictures::folderOf(path));
    usd::FrameNow now(frames, later, pictures, progress);
    const Scene& scene = frames.scene;
    usd::Prim root{"Xform", "Scene", {"kind = \"component\""}, {}, {}, {}};
    std::vector<std::string> taken;
    for (const ObjectId swarm : scene.all(ObjectType::swarm)) {
        root.children.push_back(usd::swarmPrim(now, swarm, "/Scene", taken));
        for (usd::Prim& prim : usd::nestedPrims(now, swarm, "/Scene", taken)) root.children.push_back(std::move(prim));
        for (usd::Prim& prim : usd::backdropPrims(now, swarm, "/Scene", taken)) root.children.push_back(std::move(prim));
    }
    if (root.children.empty()) throw Error("There is no swarm in the project, so there is nothing to export.");
    for (usd::Prim& prim : usd::lightPrims(now, taken)) root.children.push_back(std::move(prim));
    for (usd::Prim& prim : usd::cameraPrims(now, taken)) root.children.push_back(std::move(prim));
    AtomicFile file(path);
    std::ostream& out = file.stream();
    const double rate = momentAt(scene, range.first).rate;
    out << "#usda 1.0\n(\n    defaultPrim = \"Scene\"\n    doc = \"Gilded Swarm\"\n    metersPerUnit = 1\n    upAxis = \"Y\"\n"
        << "    startTimeCode = " << range.first << "\n    endTimeCode = " << range.last << "\n    timeCodesPerSecond = " << rate
        << "\n    framesPerSecond = " << rate << "\n)\n\n";
    progress.say("writing the stage");
    usd::write(out, {std::move(root)}, range, progress);
    pictures.write();
    file.commit();
    progress.report(1);
}

void writeFrame(const Usd&, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    const int frame = static_cast<int>(std::floor(frames.moment));
    writeStage(frames, {frame, frame}, frames.moment - frame, path, progress);
}

void writeFrames(const Usd&, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    writeStage(frames, frames.range, 0, path, progress);
}

/// The folder of pictures, where materials have some.
std::vector<std::filesystem::path> besides(const void*, const Scene& scene, const std::filesystem::path& path) {
    for (const ObjectId id : scene.all(ObjectType::material)) {
        const Part& material = scene.at(id).part("material");
        const bool pictured = material.kind == &plainMaterial && std::get<bool>(material["pictured"]);
        if (pictured || material.kind == &shownMaterial) return {usd::Pictures::folderOf(path)};
    }
    return {};
}

ExporterKind usdStill() {
    DescribeExporter<Usd> described(ExportGroup::geometry, "usd", "Scene (USD)", ".usda",
                                    "Swarms as point instancers, shapes, materials, lights and cameras, as text.");
    described.found("geometry universal scene description instances usda");
    described.kind().besides = besides;
    return writes(described, writeFrame);
}

ExporterKind usdAnimation() {
    DescribeExporter<Usd> described(ExportGroup::geometry, "usdAnimation", "Animation (USD)", ".usda",
                                    "The same over several frames: only what changes is sampled, cameras with their cuts.");
    described.found("geometry universal scene description instances animation usda");
    described.kind().besides = besides;
    ExporterKind kind = writes(described, writeFrames);
    kind.moves = true;
    return kind;
}

}  // namespace

const ExporterKind usdExporter = usdStill();
const ExporterKind usdAnimationExporter = usdAnimation();

}  // namespace gswarm
