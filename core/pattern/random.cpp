// A chance value for each instance, kept for good by its id.
#include "core/pattern/random.h"

#include "core/pattern/pattern_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/pattern/random.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

void fillRandom(const Random& random, const Block& block, Columns3& out) {
    float* const columns[] = {out.x, out.y, out.z};
    const F from = number(random.from), span = number(random.to - random.from);
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        const W low = load(block.home.idLow + i), high = load(block.home.idHigh + i);
        for (int c = 0; c < (random.sameOnAllAxes ? 1 : 3); ++c) {
            const auto seed = static_cast<std::uint32_t>(random.seed), channel = static_cast<std::uint32_t>(c);
            F x = chance(seed, low, high, channel);
            if (random.spread == RandomSpread::bell) {
                const F more = hn::Add(chance(seed, low, high, channel + 16), chance(seed, low, high, channel + 32));
                x = hn::Mul(hn::Add(hn::Add(x, more), chance(seed, low, high, channel + 48)), number(0.25f));
            }
            if (random.steps > 1) {
                const F steps = number(static_cast<float>(random.steps));
                x = hn::Div(hn::Floor(hn::Mul(x, steps)), number(static_cast<float>(random.steps - 1)));
            }
            store(hn::Add(from, hn::Mul(x, span)), columns[c] + i);
        }
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(fillRandom);

namespace {

int components(const Random& random) { return random.sameOnAllAxes ? 1 : 3; }
void fill(const Random& random, const PatternInput& in, Columns3& out) { HWY_DYNAMIC_DISPATCH(fillRandom)(random, in.block, out); }

}  // namespace

const PatternKind randomPattern =
    makes(DescribePattern<Random>("random", "Random", "Chance, kept by each instance for good")
              .number("from", &Random::from, -1, {-1, 1}, "The least value")
              .number("to", &Random::to, 1, {-1, 1}, "The largest value")
              .choice("spread", &Random::spread, {{"even", "Even"}, {"bell", "Bell-shaped"}},
                      "Bell-shaped: values near the middle come more often")
              .whole("seed", &Random::seed, 1, {0, 1000}, "Another seed, another throw")
              .hard(0, 1e9)
              .whole("steps", &Random::steps, 0, {0, 12}, "Only this many different values; 0 or 1 for all between")
              .hard(0, 1e6)
              .toggle("sameOnAllAxes", &Random::sameOnAllAxes, false, "One value for X, Y and Z instead of three"),
          PatternRange::minusOneToOne, components, fill);

}  // namespace gswarm
#endif
