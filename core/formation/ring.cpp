// Instances on a circle or an arc of it, on several of them, or winding upward.
#include <cmath>

#include "core/base/chance.h"
#include "core/base/precise.h"
#include "core/formation/formation_kind.h"

namespace gswarm {
namespace {

enum class RingPlane { flat, front, side };
enum class Facing { up, outward, still };

struct Ring {
    int count;
    float radius;
    RingPlane plane;
    float start, end, slide, unevenness;  // radians
    int seed, rings;
    float ringStep, rise;
    Facing facing;
};

/// A full turn leaves out the last, which would fall on the first.
double stepOf(const Ring& ring) {
    const double arc = double(ring.end) - ring.start;
    const bool whole = std::abs(std::abs(arc) - 6.283185307179586) < 1e-5;
    return arc / std::max(1, whole ? ring.count : ring.count - 1);
}

double count(const Ring& ring) { return double(ring.count) * ring.rings; }

Neighbour poseAt(const Ring& ring, double angle, double radius, double height) {
    const auto turn = precise::sineCosine(angle);
    const glm::vec3 outward(turn.sine, 0, turn.cosine), along(turn.cosine, 0, -turn.sine);
    glm::vec3 place = outward * static_cast<float>(radius) + glm::vec3(0, height, 0);
    glm::quat rotation(1, 0, 0, 0);
    if (ring.facing == Facing::up) rotation = standingOn({0, 1, 0}, along);
    if (ring.facing == Facing::outward) rotation = standingOn(outward, along);
    constexpr float half = 0.70710678f;
    const glm::quat plane = ring.plane == RingPlane::front  ? glm::quat(half, half, 0, 0)
                            : ring.plane == RingPlane::side ? glm::quat(half, 0, 0, -half)
                                                            : glm::quat(1, 0, 0, 0);
    if (ring.facing != Facing::still) rotation = plane * rotation;
    if (ring.plane == RingPlane::front) place = {place.x, -place.z, place.y};
    if (ring.plane == RingPlane::side) place = {place.y, -place.x, place.z};
    return {place, rotation, 1};
}

void place(const Ring& ring, const HomeRange& range, HomeColumns& out) {
    const double step = stepOf(ring);
    for (int i = 0; i < range.count; ++i) {
        const int number = range.first + i, circle = number / ring.count, k = number % ring.count;
        const std::uint64_t id = static_cast<std::uint64_t>(circle) << 32 | static_cast<std::uint32_t>(k);
        const double stray = ring.unevenness == 0 ? 0 : ring.unevenness * (2.0 * chance(static_cast<std::uint32_t>(ring.seed), id, 0) - 1);
        const Neighbour pose = poseAt(ring, ring.start + step * k + ring.slide + stray, ring.radius + double(ring.ringStep) * circle,
                                      ring.rise * (circle + double(k) / ring.count));
        setHome(out, i, pose.offset, pose.rotation, 1, id);
    }
}

Spacing spacing(const Ring& ring) {
    const auto seen = [&](const Neighbour& from, const Neighbour& to) {
        const glm::quat back = glm::conjugate(from.rotation);
        return Neighbour{back * (to.offset - from.offset), back * to.rotation, 1};
    };
    Spacing out;
    const Neighbour first = poseAt(ring, 0, ring.radius, 0);
    if (ring.count > 1) out.neighbours.push_back(seen(first, poseAt(ring, stepOf(ring), ring.radius, ring.rise / ring.count)));
    if (ring.rings > 1) out.neighbours.push_back(seen(first, poseAt(ring, 0, ring.radius + ring.ringStep, ring.rise)));
    return out;
}

}  // namespace

const FormationKind ringFormation = sampled(
    makes(DescribeFormation<Ring>("ring", "Ring", "On a circle or an arc of it")
              .found("circle radial arc round circular array")
              .length("radius", &Ring::radius, 3, {0.1, 20}, "Distance from the centre")
              .hard(0, 1e5)
              .whole("count", &Ring::count, 12, {1, 400}, "How many instances on each ring")
              .hard(1, 1e9)
              .whole("rings", &Ring::rings, 1, {1, 20}, "How many rings")
              .hard(1, 1e6)
              .length("ringStep", &Ring::ringStep, 1, {-4, 4}, "How much wider each ring is than the one before")
              .length("rise", &Ring::rise, 0, {-4, 4}, "Height gained on the way around")
              .angle("start", &Ring::start, 0, {-360, 360}, "Where the arc begins")
              .angle("end", &Ring::end, 360, {-360, 360},
                     "Where it ends; after a whole turn the last would fall on the first and is left out")
              .angle("slide", &Ring::slide, 0, {-360, 360}, "Moves all around")
              .angle("unevenness", &Ring::unevenness, 0, {0, 90}, "How far each is moved at random to either side")
              .whole("seed", &Ring::seed, 1, {1, 100}, "Another seed, another unevenness")
              .hard(0, 1e9)
              .choice("facing", &Ring::facing, {{"up", "Along the ring"}, {"outward", "Standing outward"}, {"still", "Not turned"}},
                      "How each is turned")
              .choice("plane", &Ring::plane, {{"flat", "Flat"}, {"front", "Upright, facing front"}, {"side", "Upright, facing aside"}},
                      "How the ring lies")
              .migrated({2, {{"variation", "unevenness"}}, nullptr}),
          count, place, spacing),
    {{"count", fixedNumbers({20})}});

}  // namespace gswarm
