#include "core/arrange/fitted_edits.h"

#include <algorithm>
#include <cmath>

#include "core/edit/edit_parts.h"
#include "core/edit/rail_edits.h"
#include "core/flow/result.h"
#include "core/gesture/gesture_kind.h"
#include "core/zone/zone_kind.h"

namespace gswarm {
namespace {

/// Half the width of the swarm that standard sizes are made for, metres.
constexpr double standardHalf = 6;

/// The nearest of … 0.7, 1, 1.5, 2, 3, 5, 7, 10 …, as ratios go.
double roundStep(double factor) {
    const double tens = std::pow(10.0, std::floor(std::log10(factor)));
    double best = tens;
    for (const double step : {1.5, 2.0, 3.0, 5.0, 7.0, 10.0})
        if (std::abs(std::log(factor / (step * tens))) < std::abs(std::log(factor / best))) best = step * tens;
    return best;
}

Bounds worldBounds(const Result& seen) {
    Bounds world;
    const Bounds& homes = seen.home.bounds;
    for (int corner = 0; corner < 8; ++corner)
        world.add(seen.pose.toWorld(
            {corner & 1 ? homes.low.x : homes.high.x, corner & 2 ? homes.low.y : homes.high.y, corner & 4 ? homes.low.z : homes.high.z}));
    return world;
}

bool refersToOthers(const Kind& kind) {
    return std::any_of(kind.parameters.begin(), kind.parameters.end(),
                       [](const Parameter& p) { return p.type == ParameterType::reference; });
}

Numbers& numbersIn(Part& part, std::string_view parameter) {
    return std::get<Numbers>(part.values[static_cast<std::size_t>(part.kind->indexOf(parameter))]);
}

/// How wide a box along an axis repeats the formation evenly: all rows, one distance more, and up to a width at which rows
/// that are shifted against each other meet their like again.
float evenWidth(const HomePlan& home, int axis) {
    const float extent = home.bounds.size()[axis];
    float row = 0, again = 0;
    for (const Neighbour& n : home.spacing.neighbours) {
        const float along = std::abs(n.offset[axis]);
        if (along < 1e-6f) continue;
        if (row == 0 || along < row) row = along;
        if (glm::length(n.offset) - along < 1e-5f * along && (again == 0 || along < again)) again = along;
    }
    if (row == 0) return extent + home.spacing.reach;
    if (again == 0) again = 2 * row;
    return again * std::ceil((extent + row) / again - 1e-3f);
}

void fitBox(Object& gesture, const HomePlan& home) {
    Part& change = gesture.part("change");
    Numbers &centre = numbersIn(change, "centre"), &size = numbersIn(change, "size");
    for (int axis = 0; axis < 3; ++axis) {
        const auto c = static_cast<std::size_t>(axis);
        const float wide = evenWidth(home, axis);
        centre[c].value = edits::toMillimetres(home.bounds.centre()[axis]);
        if (wide > 1e-3f) size[c].value = edits::toMillimetres(wide);
    }
}

/// About the middle of the homes, from where they begin along the axis to where they end.
void fitWarp(Object& gesture, const Bounds& homes) {
    Part& change = gesture.part("change");
    Numbers& centre = numbersIn(change, "centre");
    for (std::size_t c = 0; c < 3; ++c) centre[c].value = edits::toMillimetres(homes.centre()[static_cast<int>(c)]);
    const glm::vec3 half = homes.size() * 0.5f;
    const auto fit = [&](const char* id, float value) {
        if (change.kind->indexOf(id) >= 0) numbersIn(change, id).front().value = edits::toMillimetres(value);
    };
    if (half.y > 1e-3f) {
        fit("from", -half.y);
        fit("to", half.y);
    }
    if (const float most = std::max({half.x, half.y, half.z}); most > 1e-3f) fit("radius", most);
}

}  // namespace

Edit addZoneFitted(const Scene& scene, ObjectId gesture, const Kind& kind, const Result* seen) {
    Edit edit = addZone(scene, gesture, kind);
    if (!seen || seen->home.bounds.empty()) return edit;
    const Bounds world = worldBounds(*seen);
    Object& zone = edits::changed(edit.scene, edit.made);
    if (!refersToOthers(kind))
        for (int axis = 0; axis < 3; ++axis)
            numbersIn(zone.part("place"), "position")[static_cast<std::size_t>(axis)].value = edits::toMillimetres(world.centre()[axis]);
    const glm::vec3 size = world.size();
    const double half = 0.5 * std::max({size.x, size.y, size.z});
    if (half < 1e-6) return edit;
    const double factor = roundStep(half / standardHalf);
    Part& form = zone.part("form");
    for (const Parameter& p : kind.parameters)
        if (p.type == ParameterType::length)
            for (Track& track : numbersIn(form, p.id))
                track.value = std::clamp(edits::toMillimetres(track.value * factor), p.hard.low, p.hard.high);
    return edit;
}

Edit addGestureStart(const Scene& scene, ObjectId swarm, const GestureStart& start, const std::vector<std::uint64_t>& chosen,
                     const Result* seen) {
    Object gesture = start.make();
    if (seen && !seen->home.bounds.empty() && gestureKindOf(gesture.part("change")).boxAroundHomes) fitBox(gesture, seen->home);
    if (seen && !seen->home.bounds.empty() && gestureKindOf(gesture.part("change")).handles) fitWarp(gesture, seen->home.bounds);
    Edit edit = addGesture(scene, swarm, gesture);
    if (!start.together.empty()) {
        const auto& numbers = edit.scene.at(swarm).list("namedValues");
        const auto named =
            std::find_if(numbers.begin(), numbers.end(), [&](ObjectId id) { return edit.scene.at(id).name == start.together; });
        if (named != numbers.end()) edit.scene = setValue(edit.scene, addressOf(edit.scene, edit.made, "when-together"), *named).scene;
    }
    if (!start.forChosen) return edit;
    edit.scene =
        (chosen.empty() ? addZoneFitted(edit.scene, edit.made, nearestZone, seen) : addChosenZone(edit.scene, edit.made, chosen)).scene;
    return edit;
}

}  // namespace gswarm
