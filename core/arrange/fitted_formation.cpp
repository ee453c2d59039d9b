#include "core/arrange/fitted_formation.h"

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/edit/edit_parts.h"
#include "core/formation/formation_kind.h"
#include "core/prepare/carried.h"
#include "core/prepare/homes.h"
#include "core/provide/store.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"

namespace gswarm {

using namespace edits;

namespace {

constexpr double wanted = 600;
constexpr int tries = 5;

const FormationKind& kindOf(const Object& formation) { return static_cast<const FormationKind&>(*formation.part("formation").kind); }

/// The fitted length as it would mean anything now; null where the kind has none, or counts by another setting.
const Parameter* fittedLength(const Object& formation) {
    const FormationKind& kind = kindOf(formation);
    if (kind.fittedBy.empty()) return nullptr;
    const Parameter& p = kind.parameters[static_cast<std::size_t>(kind.indexOf(kind.fittedBy))];
    return applies(p, formation.part("formation")) ? &p : nullptr;
}

Track& lengthIn(Object& formation) {
    Part& part = formation.part("formation");
    return std::get<Numbers>(part.values[static_cast<std::size_t>(part.kind->indexOf(kindOf(formation).fittedBy))]).front();
}

bool fits(const Object& formation) { return switchOf(formation.part("standing"), "fitted"); }
void setFits(Object& formation, bool on) {
    Part& part = formation.part("standing");
    part.values[static_cast<std::size_t>(part.kind->indexOf("fitted"))] = on;
}

/// Two digits, as people type lengths.
double twoDigits(double length) {
    const double unit = std::pow(10.0, std::floor(std::log10(length)) - 1);
    return std::round(length / unit) * unit;
}

/// What is needed to count what a formation would make.
struct Counting {
    double frame;
    const PlanOptions& options;
    Store& store;
    Progress progress;

    double count(const Scene& scene, ObjectId formation, double length) {
        Scene tried = scene;
        Object& object = changed(tried, formation);
        lengthIn(object) = Track{length};
        return std::max(1.0, countOf(tried, tried.ownerOf(formation), object, frame, options, store, progress).count);
    }
};

/// The count goes with a power of the length: two or three for surfaces and volumes. Throws Error where nothing can be counted.
void fitLength(Scene& scene, ObjectId formation, Counting& counting) {
    const Parameter& p = *fittedLength(scene.at(formation));
    const auto within = [&](double v) { return std::clamp(twoDigits(v), p.hard.low, p.hard.high); };
    double length = std::get<Numbers>(p.standard).front().value, count = counting.count(scene, formation, length);
    double power = 3;
    for (int k = 0; k < tries && std::abs(std::log(count / wanted)) > 0.15; ++k) {
        const double next = within(length * std::pow(count / wanted, 1 / power));
        if (next == length) break;
        const double there = counting.count(scene, formation, next);
        if (there != count) power = std::clamp(std::log(there / count) / std::log(length / next), 1.0, 4.0);
        length = next, count = there;
    }
    lengthIn(changed(scene, formation)) = Track{length};
}

/// The least distance between two homes; 0 where the formation has no spacing.
double leastDistance(const Scene& scene, const Object& formation, double frame) {
    const FormationKind& kind = kindOf(formation);
    if (!kind.spacing) return 0;
    const Spacing spacing = kind.spacing(resolve(scene, formation.part("formation"), frame).data.get());
    float least = spacing.reach;
    for (const Neighbour& n : spacing.neighbours)
        if (const float away = glm::length(n.offset); least == 0 || away < least) least = away;
    return least;
}

/// Half of the largest stock across, twice: what two that stand side by side take up.
double widthOfStock(const Scene& scene, ObjectId swarm, Counting& counting) {
    const Shapes shapes = shapesAt(scene, counting.frame, counting.options, counting.store, counting.progress);
    double widest = 0;
    for (const ObjectId entry : scene.at(swarm).list("stock")) {
        const Part& part = scene.at(entry).part("entry");
        const ObjectId shape = referenceOf(part, "shape");
        if (!scene.find(shape) || shape.type() != ObjectType::shape) continue;  // lights take up no room
        const glm::vec3 size = shapes.get(shape)->bounds.size();
        widest = std::max(widest, std::max({size.x, size.y, size.z}) * std::abs(numberAt(scene, part, "size", counting.frame)));
    }
    return widest;
}

void fitStockIn(Scene& scene, ObjectId swarm) {
    Part& rule = changed(scene, swarm).part("stockRule");
    rule.values[static_cast<std::size_t>(rule.kind->indexOf("fit"))] = true;
}

}  // namespace

bool canFitStock(const Scene& scene, ObjectId swarm) {
    const Object* on = scene.find(referenceOf(scene.at(swarm).part("place"), "formation"));
    return on && kindOf(*on).spacing && !switchOf(scene.at(swarm).part("stockRule"), "fit");
}

Edit fitStock(const Scene& scene, ObjectId swarm) {
    if (!canFitStock(scene, swarm))
        throw Error("“" + scene.at(swarm).name + "” stands without a spacing that its stock could be fitted to; make the stock smaller.");
    Edit edit{scene, scene.at(swarm).name + ": stock fitted", {}, {}};
    fitStockIn(edit.scene, swarm);
    return edit;
}

Edit setFormationFitted(const Scene& scene, ObjectId formation, const Kind& kind, double frame, const PlanOptions& options, Store& store) {
    Edit edit = setFormation(scene, formation, kind);
    Counting counting{frame, options, store, {}};
    const ObjectId swarm = scene.ownerOf(formation);
    const bool another = scene.at(formation).part("formation").kind != &kind;
    if (another)
        for (const auto& [parameter, value] : static_cast<const FormationKind&>(kind).beginning)
            edit.scene = setValue(edit.scene, addressOf(edit.scene, formation, parameter), value).scene;
    setFits(changed(edit.scene, formation), another && fittedLength(edit.scene.at(formation)));
    try {
        if (fits(edit.scene.at(formation))) fitLength(edit.scene, formation, counting);
        const bool fitted = switchOf(edit.scene.at(swarm).part("stockRule"), "fit");
        const double least = leastDistance(edit.scene, edit.scene.at(formation), frame);
        if (another && !fitted && least > 0 && widthOfStock(edit.scene, swarm, counting) > least * 1.001) {
            fitStockIn(edit.scene, swarm);
            edit.label += ", stock fitted";
        }
    } catch (const Error&) {
        // The swarm says itself what is missing; once that is there, refit() follows.
    }
    return edit;
}

void refit(const Scene& before, Edit& edit, double frame, const PlanOptions& options, Store& store) {
    Counting counting{frame, options, store, {}};
    for (const auto& [id, object] : before.objects) {
        if (id.type() != ObjectType::formation || !fits(*object) || !edit.scene.find(id) || !fits(edit.scene.at(id))) continue;
        const Object& after = edit.scene.at(id);
        if (&kindOf(*object) != &kindOf(after) || !fittedLength(after)) continue;
        if (object->part("formation")[kindOf(after).fittedBy] != after.part("formation")[kindOf(after).fittedBy]) {
            setFits(changed(edit.scene, id), false);
            continue;
        }
        const auto behind = everythingBehind(edit.scene, {id});
        const bool same = std::all_of(behind.begin(), behind.end(), [&](ObjectId used) {
            const auto was = before.objects.find(used);
            return was != before.objects.end() &&
                   (was->second == edit.scene.objects.at(used) || *was->second == *edit.scene.objects.at(used));
        });
        if (same) continue;
        try {
            fitLength(edit.scene, id, counting);
        } catch (const Error&) {
            // The shape can't be made as it is now: the length stays.
        }
    }
}

}  // namespace gswarm
