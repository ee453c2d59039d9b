// The states that swarms carry on from, in one file beside the project: who finds them there need not play from the first frame.
#include "core/base/atomic_file.h"
#include "core/exchange/exporter_kind.h"
#include "core/memory/memory.h"
#include "core/prepare/prepare.h"
#include "core/provide/baked_states.h"

namespace gswarm {
namespace {

struct Bake {};

void writeBake(const Bake&, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    std::vector<ObjectId> swarms;
    for (const ObjectId swarm : frames.scene.all(ObjectType::swarm))
        if (lastCardThatRemembers(frames.scene, swarm) >= 0) swarms.push_back(swarm);
    if (swarms.empty()) throw Error("No swarm of this project remembers the frames before: there is nothing to bake. Nothing was written.");
    AtomicFile file(path);
    BakeWriter writer(file.stream());
    const double each = 1.0 / static_cast<double>(swarms.size());
    const double steps = frames.range.last - frames.range.first + 2;
    for (std::size_t s = 0; s < swarms.size(); ++s) {
        const double before = static_cast<double>(s) * each;
        const auto take = [&](int frame, std::uint64_t key, const MemoryState& state) {
            progress.part(before, before + each);
            progress.say(frames.scene.at(swarms[s]).name + ": frame " + std::to_string(frame));
            progress.report((frame - frames.range.first + 2) / steps);
            writer.add(key, state);
        };
        frames.evaluator.workers().run([&] {
            eachRemembered(frames.scene, swarms[s], frames.range.first, frames.range.last, frames.options, frames.evaluator.store(),
                           progress, take);
        });
    }
    writer.finish();
    file.commit();
    progress.report(1);
}

ExporterKind bakeKind() {
    DescribeExporter<Bake> d(ExportGroup::tables, "bake", "Baked frames", ".bake",
                             "What bodies and follow-through remember of each frame. As NAME.bake beside NAME.gswarm it is used by itself: "
                             "any frame is there at once, also for gswarm on other machines.");
    d.found("bake cache simulation physics frames farm");
    ExporterKind kind = writes(d, writeBake);
    kind.moves = true;
    return kind;
}

}  // namespace

const ExporterKind bakeExporter = bakeKind();

}  // namespace gswarm
