#include "core/explain/loop_check.h"

#include <tbb/enumerable_thread_specific.h>

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <mutex>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/edit/key_edits.h"
#include "core/flow/flow.h"
#include "core/flow/tree.h"
#include "core/memory/memory.h"
#include "core/prepare/prepare.h"
#include "core/resolve/resolve.h"
#include "core/symmetry/copies.h"

namespace gswarm {
namespace {

/// What a block's instances are after a card.
struct Kept {
    Columns3 position, scale;
    Columns4 rotation, colour;
    Column shown;
    std::uint16_t variant[columnLength];
};

void keep(const Block& block, Kept& kept) {
    kept.position = block.position;
    kept.scale = block.scale;
    kept.rotation = block.rotation;
    kept.colour = block.colour;
    std::copy_n(block.shown, blockSize, kept.shown);
    std::copy_n(block.variant, blockSize, kept.variant);
}

/// The angle between two rotations, degrees: exact also where it is small.
double degreesBetween(const Columns4& a, const Columns4& b, int i) {
    const double ax = a.x[i], ay = a.y[i], az = a.z[i], aw = a.w[i], bx = b.x[i], by = b.y[i], bz = b.z[i], bw = b.w[i];
    const double x = aw * bx - ax * bw - ay * bz + az * by, y = aw * by - ay * bw - az * bx + ax * bz,
                 z = aw * bz - az * bw - ax * by + ay * bx, w = aw * bw + ax * bx + ay * by + az * bz;
    return 2 * std::atan2(std::sqrt(x * x + y * y + z * z), std::abs(w)) * 57.29577951308232;
}

void measure(const Kept& a, const WorldPose& poseA, const Block& b, const WorldPose& poseB, Seam& seam) {
    for (int i = 0; i < b.count; ++i) {
        const glm::vec3 pa = poseA.toWorld({a.position.x[i], a.position.y[i], a.position.z[i]});
        const glm::vec3 pb = poseB.toWorld({b.position.x[i], b.position.y[i], b.position.z[i]});
        const float sa[] = {a.scale.x[i], a.scale.y[i], a.scale.z[i]}, sb[] = {b.scale.x[i], b.scale.y[i], b.scale.z[i]};
        const bool seenA = a.shown[i] != 0 && sa[0] * sa[1] * sa[2] != 0, seenB = b.shown[i] != 0 && sb[0] * sb[1] * sb[2] != 0;
        seam.shown += seenA != seenB;
        if (!seenA && !seenB) continue;
        seam.shape += a.variant[i] != b.variant[i];
        seam.position = std::max(seam.position, double(glm::distance(pa, pb)));
        seam.rotation = std::max(seam.rotation, degreesBetween(a.rotation, b.rotation, i));
        for (int c = 0; c < 3; ++c) seam.scale = std::max(seam.scale, std::abs(double(sa[c]) - sb[c]));
        const float ca[] = {a.colour.x[i], a.colour.y[i], a.colour.z[i], a.colour.w[i]};
        const float cb[] = {b.colour.x[i], b.colour.y[i], b.colour.z[i], b.colour.w[i]};
        for (int c = 0; c < 4; ++c) seam.colour = std::max(seam.colour, std::abs(double(ca[c]) - cb[c]));
    }
}

void join(Seam& all, const Seam& one) {
    all.position = std::max(all.position, one.position);
    all.rotation = std::max(all.rotation, one.rotation);
    all.scale = std::max(all.scale, one.scale);
    all.colour = std::max(all.colour, one.colour);
    all.shown += one.shown;
    all.shape += one.shape;
}

/// The seam after the homes and after every card.
std::vector<Seam> seamsOf(const Plan& a, const Plan& b, Progress& progress) {
    const std::size_t stages = a.cards.size() + 1;
    std::vector<Seam> seams(stages);
    struct Space {
        FlowSpace flow;
        std::vector<Kept> kept;
    };
    tbb::enumerable_thread_specific<std::unique_ptr<Space>> spaces([] { return std::make_unique<Space>(); });
    std::mutex mutex;
    forEach(static_cast<std::size_t>(a.blocks()), [&](std::size_t number) {
        const int n = static_cast<int>(number);
        if (progress.cancelled()) return;
        Space& space = *spaces.local();
        space.kept.resize(stages);
        const AfterCard first = [&](int card, const Block& block) { keep(block, space.kept[static_cast<std::size_t>(card + 1)]); };
        runBlock(a, n, space.flow, &first);
        std::vector<Seam> mine(stages);
        const AfterCard second = [&](int card, const Block& block) {
            const auto stage = static_cast<std::size_t>(card + 1);
            measure(space.kept[stage], a.pose, block, b.pose, mine[stage]);
        };
        runBlock(b, n, space.flow, &second);
        const std::lock_guard lock(mutex);
        for (std::size_t s = 0; s < stages; ++s) join(seams[s], mine[s]);
    });
    progress.check();
    return seams;
}

bool closed(const Seam& seam, double size) {
    return seam.position <= closedPosition * std::max(size, 1e-9) && seam.rotation <= closedRotation && seam.scale <= closedScale &&
           seam.colour <= closedColour && seam.shown == 0 && seam.shape == 0;
}

glm::vec3 placeOf(const Result& result, int i) {
    const float* m = result.columns->matrix.data() + 12 * static_cast<std::size_t>(i);
    return result.pose.toWorld({m[3], m[7], m[11]});
}

/// The largest difference between the speeds over the frame before the seam and the frame after it.
double speedJumpOf(const Scene& scene, ObjectId swarm, double first, double last, double size, const PlanOptions& options,
                   Evaluator& evaluator, Progress& progress) {
    const auto teleport = static_cast<float>(size / 4);
    const auto at = [&](double frame) { return evaluator.evaluate(scene, swarm, frame, options, progress); };
    const auto a = at(first), b = at(first + 1), c = at(last - 1), d = at(last);
    const int count = std::min({a->count, b->count, c->count, d->count});
    double jump = 0;
    for (int i = 0; i < count; ++i) {
        const auto row = static_cast<std::size_t>(i);
        if (a->columns->variant[row] == notShown || d->columns->variant[row] == notShown) continue;
        const glm::vec3 leaves = placeOf(*b, i) - placeOf(*a, i), arrives = placeOf(*d, i) - placeOf(*c, i);
        // What is put to the other side of a box in one of these frames has no speed there.
        if (std::max(glm::length(leaves), glm::length(arrives)) > teleport) continue;
        jump = std::max(jump, double(glm::distance(leaves, arrives)));
    }
    return jump;
}

/// By how far corners of a box go from one copy to another.
double farApart(const glm::mat4& a, const glm::mat4& b, const Bounds& box) {
    double most = 0;
    for (int k = 0; k < 8; ++k) {
        const glm::vec4 corner(k & 1 ? box.low.x : box.high.x, k & 2 ? box.low.y : box.high.y, k & 4 ? box.low.z : box.high.z, 1);
        most = std::max(most, double(glm::distance(glm::vec3(a * corner), glm::vec3(b * corner))));
    }
    return most;
}

/// How far the copies of one moment are from those of another, whichever stands in the place of which: a coil that has gone on by one
/// of its turns looks the same where its ends can't be seen.
double copiesApart(const std::vector<glm::mat4>& a, const std::vector<glm::mat4>& b, const Bounds& box, double near) {
    double most = 0;
    for (std::size_t k = 0; k < b.size(); ++k) {
        double least = k < a.size() ? farApart(a[k], b[k], box) : 1e30;
        for (std::size_t j = 0; j < a.size() && least > near; ++j) least = std::min(least, farApart(a[j], b[k], box));
        most = std::max(most, least);
    }
    return most;
}

/// Adds what symmetries do at the seam, and names the first that does not come back.
void addSymmetries(const Scene& scene, const Plan& a, const Plan& b, SwarmLoop& loop) {
    if (a.copies == b.copies || a.homes.empty()) return;
    const double near = closedPosition * loop.size;
    const double apart =
        a.pose.scale * std::max(copiesApart(a.copies, b.copies, a.homes, near), copiesApart(b.copies, a.copies, a.homes, near));
    loop.seam.position = std::max(loop.seam.position, apart);
    if (apart <= near) return;
    if (loop.closed)
        for (const ObjectId id : scene.at(loop.swarm).list("symmetries")) {
            const Part& part = scene.at(id).part("symmetry");
            if (resolve(scene, part, a.moment.frame).hash == resolve(scene, part, b.moment.frame).hash) continue;
            loop.breaks = id;
            break;
        }
    loop.closed = false;
}

/// Adds what shapes and swarms that are repeated do at the seam, at the moments of the instances.
void addRepeated(const Scene& scene, const Plan& a, const Plan& b, Evaluator& evaluator, Progress& progress, SwarmLoop& loop) {
    const auto any = [](const Variant& v) { return v.inner != nullptr; };
    const auto& variants = a.stock.variants;
    if (!loop.closed || (a.stock.clips.empty() && std::none_of(variants.begin(), variants.end(), any))) return;
    const auto first = standingShapes(*evaluator.run(a, progress), matrixOf(a.pose)),
               last = standingShapes(*evaluator.run(b, progress), matrixOf(b.pose));
    // What lies at one place is as large as what is shown there.
    Bounds all;
    for (const StandingShape& shape : first)
        if (!shape.meshes->bounds.empty())
            for (const glm::vec3& corner : {shape.meshes->bounds.low, shape.meshes->bounds.high})
                all.add(glm::vec3(shape.stand * glm::vec4(corner, 1)));
    if (!all.empty()) loop.size = std::max(loop.size, double(glm::length(all.size())));
    loop.seam.shown += static_cast<int>(std::max(first.size(), last.size()) - std::min(first.size(), last.size()));
    if (first.size() == last.size())
        for (std::size_t k = 0; k < first.size(); ++k) {
            const Bounds& box = first[k].meshes->bounds;
            loop.seam.position = std::max(loop.seam.position, farApart(first[k].stand, last[k].stand, box));
            for (int c = 0; c < 4; ++c)
                loop.seam.colour = std::max(loop.seam.colour, double(std::abs(first[k].colour[c] - last[k].colour[c])));
            loop.seam.shape += first[k].meshes->hash != last[k].meshes->hash;
        }
    loop.closed = closed(loop.seam, loop.size);
    if (!loop.closed) loop.breaks = scene.at(loop.swarm).list("stock").front();
}

std::string cardName(const Scene& scene, ObjectId railEntry) {
    if (railEntry.type() == ObjectType::stock) return "Stock";
    if (railEntry.type() == ObjectType::symmetry) return scene.at(railEntry).name;
    const Object* gesture = scene.find(referenceOf(scene.at(railEntry).part("entry"), "gesture"));
    return gesture ? gesture->name : scene.at(railEntry).name;
}

std::string shortly(double v) {
    char text[32];
    std::snprintf(text, sizeof text, "%.3g", v);
    return text;
}

std::string toldOf(const Scene& scene, const SwarmLoop& loop, bool counts) {
    const std::string& name = scene.at(loop.swarm).name;
    if (loop.closed) return name + ": the seam is closed.";
    if (counts) return name + ": it has another count of instances a loop later.";
    std::string what;
    const auto add = [&](bool is, const std::string& text) {
        if (is) what += (what.empty() ? "" : ", ") + text;
    };
    add(loop.seam.position > closedPosition * loop.size, "places jump " + shortly(loop.seam.position) + " m");
    add(loop.seam.rotation > closedRotation, "turns jump " + shortly(loop.seam.rotation) + "°");
    add(loop.seam.scale > closedScale, "sizes jump × " + shortly(loop.seam.scale));
    add(loop.seam.colour > closedColour, "colours jump " + shortly(loop.seam.colour * 100) + " %");
    add(loop.seam.shown > 0, std::to_string(loop.seam.shown) + " appear or vanish");
    add(loop.seam.shape > 0, std::to_string(loop.seam.shape) + " change their shape");
    return name + ": " + what + ", first after " + (loop.breaks ? "“" + cardName(scene, loop.breaks) + "”" : std::string("its homes")) +
           ".";
}

SwarmLoop swarmLoop(const Scene& scene, ObjectId swarm, double first, double last, const PlanOptions& options, Evaluator& evaluator,
                    Progress& progress) {
    SwarmLoop loop;
    loop.swarm = swarm;
    const Plan a = evaluator.plan(scene, swarm, first, options, progress);
    const Plan b = evaluator.plan(scene, swarm, last, options, progress);
    const glm::vec3 box = a.homes.size() * a.pose.scale;
    loop.size = std::max(double(glm::length(box)), 1e-6);
    if (a.count != b.count) {
        loop.closed = false;
        loop.seam.shown = std::abs(a.count - b.count);
        loop.told = toldOf(scene, loop, true);
        return loop;
    }
    const std::vector<Seam> seams = seamsOf(a, b, progress);
    loop.seam = seams.back();
    loop.closed = closed(loop.seam, loop.size);
    for (std::size_t s = 1; s < seams.size() && !loop.closed && closed(seams.front(), loop.size); ++s)
        if (!closed(seams[s], loop.size)) {
            loop.breaks = a.cards[s - 1].entry;
            break;
        }
    addRepeated(scene, a, b, evaluator, progress, loop);
    addSymmetries(scene, a, b, loop);
    loop.speedJump = speedJumpOf(scene, swarm, first, last, loop.size, options, evaluator, progress);
    loop.told = toldOf(scene, loop, false);
    return loop;
}

/// Formulas and links that do not come back, of whatever is seen in the picture.
void tellNumbers(const Scene& scene, LoopCheck& check) {
    for (const auto& [id, object] : scene.objects)
        for (std::size_t s = 0; s < object->parts.size(); ++s)
            for (std::size_t v = 0; v < object->parts[s].values.size(); ++v) {
                const auto* numbers = std::get_if<Numbers>(&object->parts[s].values[v]);
                const Parameter& p = object->parts[s].kind->parameters[v];
                for (std::size_t c = 0; numbers && c < numbers->size(); ++c) {
                    const Track& track = (*numbers)[c];
                    if (!track.formula) continue;
                    const double away = valueAt(scene, track, check.last) - valueAt(scene, track, check.first);
                    if (std::abs(p.type == ParameterType::angle ? std::remainder(away, 360) : away) < 1e-4) continue;
                    const Address number{id, static_cast<int>(s), static_cast<int>(v), numbers->size() > 1 ? static_cast<int>(c) : -1};
                    check.told.push_back("The formula of " + nameOf(scene, number) +
                                         " does not come back; write it with loop, which goes from 0 to 1 in one loop.");
                }
            }
}

}  // namespace

LoopCheck checkLoop(const Scene& scene, const PlanOptions& options, Evaluator& evaluator, Progress& progress) {
    LoopCheck check;
    check.first = firstFrameOf(scene);
    check.last = check.first + momentAt(scene, 0).loopFrames;
    for (const ObjectId swarm : scene.all(ObjectType::swarm)) {
        try {
            check.swarms.push_back(swarmLoop(scene, swarm, check.first, check.last, options, evaluator, progress));
        } catch (const Error& error) {
            SwarmLoop failed;
            failed.swarm = swarm;
            failed.closed = false;
            failed.told = scene.at(swarm).name + ": " + error.what();
            check.swarms.push_back(failed);
        }
        check.closed = check.closed && check.swarms.back().closed;
    }
    tellNumbers(scene, check);
    check.mends = loopMends(scene, {});
    // What is seen in the picture beside the swarms: a camera or light that does not come back.
    for (const LoopMend& mend : check.mends)
        if (mend.object.type() == ObjectType::camera || mend.object.type() == ObjectType::light) check.closed = false;
    // Keys of what is out of sight at the seam need not come back.
    if (check.closed) check.mends.clear();
    return check;
}

}  // namespace gswarm
