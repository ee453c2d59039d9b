#include "core/explain/acting_frame.h"

#include <algorithm>
#include <cmath>

#include "core/scene/frame_range.h"

namespace gswarm {
namespace {

constexpr int mostLooks = 64, enoughInstances = 10'000, mostRehearsed = 64;

/// From here on while it acts, and on more than before.
double mostFrom(const ActingFrames& card, std::size_t at, int way) {
    const auto& looks = card.looks;
    for (;;) {
        const auto next = static_cast<std::ptrdiff_t>(at) + way;
        if (next < 0 || next >= static_cast<std::ptrdiff_t>(looks.size())) break;
        if (looks[static_cast<std::size_t>(next)].touched <= looks[at].touched) break;
        at = static_cast<std::size_t>(next);
    }
    return looks[at].frame;
}

}  // namespace

std::vector<ActingFrames> actingFrames(const Scene& scene, ObjectId swarm, const PlanOptions& given, Evaluator& evaluator,
                                       Progress& progress) {
    const FrameRange range = framesOf(scene);
    PlanOptions options = given;
    std::vector<ActingFrames> cards;
    for (const ObjectId entry : scene.at(swarm).list("rail")) cards.push_back({entry, {}});
    const double first = range.first, last = std::max(range.first, range.last);
    const double step = std::max(1.0, std::ceil((last - first + 1) / mostLooks));
    const int total = evaluator.evaluate(scene, swarm, first, options, progress)->total;
    while (options.rehearsal < mostRehearsed && total / options.rehearsal > enoughInstances) options.rehearsal *= 2;
    for (double frame = first;; frame = std::min(frame + step, last)) {
        const auto result = evaluator.evaluate(scene, swarm, frame, options, progress);
        for (std::size_t c = 0; c < std::min(cards.size(), result->cards.size()); ++c) {
            const Census& census = result->cards[c];
            cards[c].looks.push_back({frame, census.seen > 0 ? census.touched : 0});
        }
        if (frame >= last) return cards;
    }
}

std::optional<double> nearestActing(const ActingFrames& card, double from) {
    std::optional<double> best;
    double away = 0;
    for (std::size_t k = 0; k < card.looks.size(); ++k) {
        const auto& look = card.looks[k];
        if (look.touched == 0 || (best && std::abs(look.frame - from) >= away)) continue;
        away = std::abs(look.frame - from);
        best = mostFrom(card, k, look.frame < from ? -1 : 1);
    }
    return best;
}

std::optional<double> nextActing(const ActingFrames& card, double from) {
    for (const auto& look : card.looks)
        if (look.frame > from && look.touched > 0) return look.frame;
    return std::nullopt;
}

std::optional<double> lastActing(const ActingFrames& card, double from) {
    std::optional<double> last;
    for (const auto& look : card.looks)
        if (look.frame < from && look.touched > 0) last = look.frame;
    return last;
}

}  // namespace gswarm
