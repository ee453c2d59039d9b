// A chance value for each instance, kept for good by its id.
#include "core/pattern/random.h"

#include "core/pattern/pattern_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/pattern/random.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

template <int channels>
void fillChannels(const Random& random, const Block& block, Columns3& out) {
    float* const columns[] = {out.x, out.y, out.z};
    const F from = number(random.from), span = number(random.to - random.from);
    const F steps = number(static_cast<float>(random.steps)), last = number(static_cast<float>(random.steps - 1));
    const auto seed = static_cast<std::uint32_t>(random.seed);
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        const W low = load(block.home.idLow + i), high = load(block.home.idHigh + i);
        F x[channels];
#pragma GCC unroll 3
        for (int c = 0; c < channels; ++c) {
            const auto channel = static_cast<std::uint32_t>(c);
            x[c] = chance(seed, low, high, channel);
            if (random.spread == RandomSpread::bell) {
                const F more = hn::Add(chance(seed, low, high, channel + 16), chance(seed, low, high, channel + 32));
                x[c] = hn::Mul(hn::Add(hn::Add(x[c], more), chance(seed, low, high, channel + 48)), number(0.25f));
            }
        }
        for (int c = 0; c < channels; ++c) {
            if (random.steps > 1) x[c] = hn::Div(hn::Floor(hn::Mul(x[c], steps)), last);
            store(hn::Add(from, hn::Mul(x[c], span)), columns[c] + i);
        }
    }
}

void fillRandom(const Random& random, const Block& block, Columns3& out) {
    random.sameOnAllAxes ? fillChannels<1>(random, block, out) : fillChannels<3>(random, block, out);
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
    makes(DescribePattern<Random>("random", "Random", "Random, kept by each instance for good")
              .found("chance scatter jitter variation dice")
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
