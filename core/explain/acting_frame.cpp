#include "core/explain/acting_frame.h"

#include <algorithm>
#include <cmath>

#include "core/memory/memory.h"

namespace gswarm {
namespace {

constexpr int mostLooks = 64, enoughInstances = 10'000, mostRehearsed = 64;

struct Search {
    const Scene& scene;
    ObjectId swarm, entry;
    PlanOptions options;
    Evaluator& evaluator;
    Progress& progress;

    /// How many instances it acts on; 0 also where nothing of it is seen.
    int touchedAt(double frame) const {
        const auto result = evaluator.evaluate(scene, swarm, frame, options, progress);
        for (const Census& card : result->cards)
            if (card.entry == entry) return card.seen > 0 ? card.touched : 0;
        return 0;
    }
};

}  // namespace

std::optional<double> nearestActingFrame(const Scene& scene, ObjectId swarm, ObjectId railEntry, double from, const PlanOptions& options,
                                         Evaluator& evaluator, Progress& progress) {
    Search search{scene, swarm, railEntry, options, evaluator, progress};
    const int total = evaluator.evaluate(scene, swarm, from, options, progress)->total;
    while (search.options.rehearsal < mostRehearsed && total / search.options.rehearsal > enoughInstances) search.options.rehearsal *= 2;
    const double first = firstFrameOf(scene),
                 last = std::max(first, std::floor(std::get<Numbers>(scene.project().part("settings")["lastFrame"]).front().value));
    const double step = std::max(1.0, std::ceil((last - first + 1) / mostLooks));
    const auto inside = [&](double frame) { return frame >= first && frame <= last; };
    from = std::clamp(std::round(from), first, last);
    for (double away = step; away < last - first + step; away += step)
        for (const double way : {step, -step}) {
            double frame = std::clamp(from + away * way / step, first, last);
            if (std::abs(frame - from) <= away - step) continue;  // seen already from this end
            int touched = search.touchedAt(frame);
            if (touched == 0) continue;
            // On while it acts on more.
            for (double next = frame + way; inside(next); next += way) {
                const int there = search.touchedAt(next);
                if (there <= touched) break;
                frame = next;
                touched = there;
            }
            return frame;
        }
    return std::nullopt;
}

}  // namespace gswarm
