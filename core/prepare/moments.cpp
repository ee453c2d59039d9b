#include "core/prepare/moments.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/error.h"

namespace gswarm {
namespace {

/// Shifts beyond this are no moments that anything has.
constexpr float mostShift = 1e6f;

/// Of how many frames a step has to be so that there are no more moments than may be.
int stepOf(const std::set<int>& moments) {
    const int least = *moments.begin(), most = *moments.rbegin();
    if (static_cast<int>(moments.size()) <= mostMoments) return 1;
    return (most - least) / (mostMoments - 1) + 1;
}

int inSteps(int moment, int step) { return static_cast<int>(std::lround(double(moment) / step)) * step; }

/// Another variant may stand on its home by another foot.
void moveFoot(Result& result, std::size_t row, const glm::vec3& from, const glm::vec3& to) {
    if (from == to) return;
    const glm::vec3 by = from - to;
    float* m = &result.columns->matrix[12 * row];
    for (int axis = 0; axis < 3; ++axis) m[4 * axis + 3] += m[4 * axis] * by.x + m[4 * axis + 1] * by.y + m[4 * axis + 2] * by.z;
    if (row >= result.placements.size()) return;
    Placement& placed = result.placements[row];
    placed.translation += placed.rotation * (placed.scale * by);
}

bool showTheSame(const Variant& a, const Variant& b) { return a.inner ? a.inner == b.inner : a.meshes == b.meshes; }

}  // namespace

void takeMoments(const Plan& plan, const Block& block, std::vector<int>& moments) {
    std::vector<bool> clips(plan.stock.variants.size());
    for (const Clip& clip : plan.stock.clips) clips[clip.variant] = true;
    for (int i = 0; i < block.count; ++i)
        if (clips[block.variant[i]] && std::abs(block.shift[i]) < mostShift)
            moments[static_cast<std::size_t>(block.first + i)] = static_cast<int>(std::lround(block.shift[i]));
}

void showMoments(const Plan& plan, std::vector<int>& moments, Result& result, Progress& progress) {
    std::set<int> seen;
    for (std::size_t row = 0; row < moments.size(); ++row)
        if (result.columns->variant[row] != notShown) seen.insert(moments[row]);
    if (seen.empty()) return;
    const int step = stepOf(seen);
    if (step > 1)
        result.notes.push_back("Its instances are at " + std::to_string(seen.size()) + " moments, more than the limit of " +
                               std::to_string(mostMoments) + "; each shows what is nearest of every " + std::to_string(step) + " frames.");
    std::vector<const Clip*> clipOf(plan.stock.variants.size());
    for (const Clip& clip : plan.stock.clips) clipOf[clip.variant] = &clip;
    std::map<std::pair<std::size_t, int>, std::size_t> made;  // which variant shows one at a moment
    for (std::size_t row = 0; row < moments.size(); ++row) {
        std::uint16_t& shows = result.columns->variant[row];
        const int moment = inSteps(moments[row], step);
        if (shows == notShown || !clipOf[shows] || moment == 0) continue;
        const std::size_t own = shows;
        auto found = made.find({own, moment});
        if (found == made.end()) {
            progress.check();
            Variant then = clipOf[own]->later(moment, progress);
            std::size_t number = own;
            if (!showTheSame(then, result.variants[own])) {
                number = result.variants.size();
                if (number >= mostVariants)
                    throw Error("More than " + std::to_string(mostVariants) + " different things can't be repeated by one swarm.");
                result.variants.push_back(std::move(then));
            }
            found = made.emplace(std::pair{own, moment}, number).first;
        }
        if (found->second == own) continue;
        moveFoot(result, row, result.variants[own].foot, result.variants[found->second].foot);
        shows = static_cast<std::uint16_t>(found->second);
    }
}

}  // namespace gswarm
