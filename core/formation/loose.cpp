// Loose points: random in a box or a ball.
#include <cmath>

#include "core/base/chance.h"
#include "core/base/precise.h"
#include "core/formation/formation_kind.h"

namespace gswarm {
namespace {

enum class LooseIn { box, ball };

struct Loose {
    int count;
    LooseIn in;
    glm::vec3 size;
    float radius;
    int seed;
};

double count(const Loose& loose) { return loose.count; }

glm::vec3 placeOf(const Loose& loose, std::uint64_t id) {
    const auto seed = static_cast<std::uint32_t>(loose.seed);
    const auto die = [&](std::uint32_t channel) { return double(chance(seed, id, channel)); };
    if (loose.in == LooseIn::box) return (glm::vec3(die(0), die(1), die(2)) - 0.5f) * loose.size;
    const double up = 2 * die(0) - 1, out = std::sqrt(std::max(0.0, 1 - up * up));
    const auto turn = precise::sineCosineOfTurns(die(1));
    const double radius = loose.radius * precise::power(std::max(die(2), 1e-12), 1.0 / 3);
    return glm::vec3(out * turn.sine * radius, up * radius, out * turn.cosine * radius);
}

void place(const Loose& loose, const HomeRange& range, HomeColumns& out) {
    for (int i = 0; i < range.count; ++i) {
        const auto id = static_cast<std::uint64_t>(range.first + i);
        setHome(out, i, placeOf(loose, id), {1, 0, 0, 0}, 1, id);
    }
}

}  // namespace

const FormationKind looseFormation =
    sampled(makes(DescribeFormation<Loose>("loose", "Loose points", "Strewn at random in a box or a ball")
                      .found("scatter random cloud particles dust volume")
                      .whole("count", &Loose::count, 400, {1, 4000}, "How many instances")
                      .hard(1, 1e9)
                      .choice("in", &Loose::in, {{"box", "Box"}, {"ball", "Ball"}}, "What they are strewn in")
                      .length("size", &Loose::size, {8, 4, 8}, {0, 20}, "Of the box")
                      .hard(0, 1e5)
                      .only("in", {"box"})
                      .length("radius", &Loose::radius, 4, {0.1, 20}, "Of the ball")
                      .hard(0, 1e5)
                      .only("in", {"ball"})
                      .whole("seed", &Loose::seed, 1, {1, 100}, "Another seed, other places")
                      .hard(0, 1e9),
                  count, place),
            {{"count", fixedNumbers({90})}});

}  // namespace gswarm
