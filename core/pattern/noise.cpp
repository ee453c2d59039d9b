// Hills, plains, ridges or cells over place and time.
#include "core/pattern/noise.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/pattern/pattern_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/pattern/noise.cpp"
#include <hwy/foreach_target.h>

#include "core/base/gradient_noise-inl.h"
#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// Ten bits of a hash as −1 … 1.
template <int first>
HWY_INLINE F signedPart(W hash) {
    const I bits = hn::BitCast(Wholes(), hn::And(hn::ShiftRight<first>(hash), hn::Set(Words(), 1023u)));
    return hn::Sub(hn::Mul(hn::ConvertTo(Floats(), bits), number(2.0f / 1023)), number(1));
}

/// A value for each corner, smooth between.
template <int outputs>
HWY_INLINE Outputs valueNoise(const AxisCell& x, F y, F z, const AxisCell& time, std::uint32_t seed) {
    const AxisCell cy = endlessCell<latticeY>(y), cz = endlessCell<latticeZ>(z);
    const W seeded = hn::Set(Words(), seed * 0x9E3779B9u);
    const F ux = fade(x.into), uy = fade(cy.into), uz = fade(cz.into), uw = fade(time.into);
    Outputs acrossW[2];
    for (int w = 0; w < 2; ++w) {
        Outputs acrossZ[2];
        for (int k = 0; k < 2; ++k) {
            const W hwz = hn::Add(hn::Add(w ? time.next : time.first, k ? cz.next : cz.first), seeded);
            Outputs acrossY[2];
            for (int j = 0; j < 2; ++j) {
                const W hwzy = hn::Add(hwz, j ? cy.next : cy.first);
                const W left = scramble(hn::Add(hwzy, x.first)), right = scramble(hn::Add(hwzy, x.next));
                acrossY[j].value[0] = mix(signedPart<0>(left), signedPart<0>(right), ux);
                if constexpr (outputs > 1) {
                    acrossY[j].value[1] = mix(signedPart<10>(left), signedPart<10>(right), ux);
                    acrossY[j].value[2] = mix(signedPart<20>(left), signedPart<20>(right), ux);
                }
            }
            for (int o = 0; o < outputs; ++o) acrossZ[k].value[o] = mix(acrossY[0].value[o], acrossY[1].value[o], uy);
        }
        for (int o = 0; o < outputs; ++o) acrossW[w].value[o] = mix(acrossZ[0].value[o], acrossZ[1].value[o], uz);
    }
    Outputs result;
    for (int o = 0; o < outputs; ++o) result.value[o] = mix(acrossW[0].value[o], acrossW[1].value[o], uw);
    return result;
}

/// 1 at the points of a scattered lattice, −1 from one cell away on (after Worley 1996). Each point swings about the
/// middle of its cell once a unit of time, so that whole units of time loop.
HWY_INLINE F cellularNoise(F x, F y, F z, float period, F time, std::uint32_t seed) {
    using hn::Add, hn::Mul, hn::Sub;
    const F cx = hn::Floor(x), cy = hn::Floor(y), cz = hn::Floor(z), one = number(1);
    F nearest = number(4);
    for (int k = -1; k <= 1; ++k)
        for (int j = -1; j <= 1; ++j)
            for (int i = -1; i <= 1; ++i) {
                const F gx = Add(cx, number(static_cast<float>(i))), gy = Add(cy, number(static_cast<float>(j))),
                        gz = Add(cz, number(static_cast<float>(k)));
                F wrapped = gx;
                if (period > 0) wrapped = Sub(gx, Mul(number(period), hn::Floor(hn::Div(gx, number(period)))));
                const W h = scramble(hn::Add(hn::Add(latticeWord(wrapped, latticeX), latticeWord(gy, latticeY)),
                                             hn::Add(latticeWord(gz, latticeZ), hn::Set(Words(), seed * 0x9E3779B9u))));
                const auto swing = [&](F from) {
                    const F phase = Add(Mul(from, number(0.5f)), time);
                    const F into = Sub(phase, hn::Floor(phase));
                    return smooth(hn::Abs(Sub(Add(into, into), one)));  // 0 … 1
                };
                const F dx = Sub(Add(gx, swing(signedPart<0>(h))), x), dy = Sub(Add(gy, swing(signedPart<10>(h))), y),
                        dz = Sub(Add(gz, swing(signedPart<20>(h))), z);
                nearest = hn::Min(nearest, Add(Add(Mul(dx, dx), Mul(dy, dy)), Mul(dz, dz)));
            }
    return Sub(one, Mul(number(2), hn::Min(hn::Sqrt(nearest), one)));
}

/// Where the lattice stands at this moment.
struct Lattice {
    glm::vec3 along, across, up;  ///< its axes; the first is that of the drift
    glm::vec3 perCell;            ///< cells a metre
    float period = 0;             ///< cells along the drift after which it repeats; 0 without a drift
    float flown = 0;              ///< cells that it has drifted
    float flownPerFrame = 0;
};

/// A step along the diagonal of the lattice of gradients is as long as this many hills.
constexpr float hillsPerStep = 1.4f;

Lattice latticeOf(const Noise& noise, const Moment& moment) {
    const glm::vec3 size = noise.size * glm::max(noise.stretch, glm::vec3(1e-3f));
    Lattice lattice{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}, 1.0f / size, 0, 0, 0};
    const float length = glm::length(noise.drift);
    if (noise.motion != NoiseMotion::drift || !(length > 1e-6f)) return lattice;
    lattice.along = noise.drift / length;
    const glm::vec3 helper = std::abs(lattice.along.y) < 0.9f ? glm::vec3(0, 1, 0) : glm::vec3(0, 0, 1);
    lattice.across = glm::normalize(glm::cross(helper, lattice.along));
    lattice.up = glm::cross(lattice.along, lattice.across);
    const bool gradients = noise.form == NoiseForm::gradient || noise.form == NoiseForm::ridged;
    lattice.period = std::max(1.0f, std::round(length / (gradients ? noise.size * hillsPerStep : noise.size)));
    lattice.perCell = {lattice.period / length, 1 / noise.size, 1 / noise.size};
    const double laps = moment.loop() * noise.laps;
    lattice.flown = static_cast<float>((laps - std::floor(laps)) * lattice.period);
    lattice.flownPerFrame = static_cast<float>(noise.laps * lattice.period / moment.loopFrames);
    return lattice;
}

enum class Form { gradient, value, cellular };

/// Where some instances look into the field: in cells, time in steps of its lattice.
struct Spot {
    Vector place;
    F time;
};

/// The field as it is at this moment.
struct Field {
    const Noise& noise;
    Lattice lattice;
    float cells;  ///< steps of time after which it repeats; 0: never
    float start, perFrame;
    F now;  ///< time where instances have none of their own

    Field(const Noise& noise, const NoiseInput& in)
        : noise(noise), lattice(latticeOf(noise, in.moment)), cells(0), start(0), perFrame(0), now(hn::Zero(Floats())) {
        if (noise.motion == NoiseMotion::laps) {
            cells = static_cast<float>(noise.changes);
            start = static_cast<float>(in.moment.loop());
            perFrame = static_cast<float>(1 / in.moment.loopFrames);
        } else if (noise.motion == NoiseMotion::speed) {
            start = static_cast<float>(in.moment.seconds() * noise.speed);
            perFrame = static_cast<float>(noise.speed / in.moment.rate);
        }
        now = timeAt(number(in.offset.value));
    }

    HWY_INLINE bool drifts() const { return lattice.period > 0; }

    HWY_INLINE F timeAt(F offset) const {
        using hn::Add, hn::Mul;
        const F time = Add(number(start), Mul(offset, number(perFrame)));
        if (noise.motion != NoiseMotion::laps) return time;
        const F laps = Mul(time, number(static_cast<float>(noise.laps)));
        return Mul(hn::Sub(laps, hn::Floor(laps)), number(cells));
    }

    HWY_INLINE Spot spot(const NoiseInput& in, int i) const {
        using hn::Add, hn::Mul;
        Vector p{load(in.place.x + i), load(in.place.y + i), load(in.place.z + i)};
        if (drifts()) {
            const auto along = [&p](const glm::vec3& axis) { return dot(p, {number(axis.x), number(axis.y), number(axis.z)}); };
            p = {along(lattice.along), along(lattice.across), along(lattice.up)};
        }
        p = {Mul(p.x, number(lattice.perCell.x)), Mul(p.y, number(lattice.perCell.y)), Mul(p.z, number(lattice.perCell.z))};
        if (drifts()) p.x = hn::Sub(p.x, Add(number(lattice.flown), Mul(read(in.offset, i), number(lattice.flownPerFrame))));
        return {p, in.offset.column ? timeAt(load(in.offset.column + i)) : now};
    }
};

/// So many vectors go through the field together: their places in the lattice are found first, one vector after the other
/// with little to do at a time, and the corners of one need not wait for the place of the next.
constexpr int together = 4;

/// One octave at some spots.
template <int outputs, Form form>
HWY_INLINE void runOctave(const Field& field, int octave, const Spot* spots, int count, Outputs* out) {
    using hn::Mul;
    const float frequency = static_cast<float>(1 << octave), period = field.lattice.period * frequency;
    const F f = number(frequency);
    const auto seed = static_cast<std::uint32_t>(field.noise.seed) + static_cast<std::uint32_t>(octave) * 101u;
    const auto place = [&](int k) {
        const Vector& p = spots[k].place;
        return Vector{Mul(p.x, f), Mul(p.y, f), Mul(p.z, f)};
    };
    if constexpr (form == Form::gradient) {
        Simplex at[together];
        for (int k = 0; k < count; ++k) {
            const Vector p = place(k);
            // What drifts comes back along the diagonal, as time does.
            at[k] = field.drifts() ? simplexAt(p.y, p.z, hn::Zero(Floats()), p.x, period, seed)
                                   : simplexAt(p.x, p.y, p.z, spots[k].time, field.cells, seed);
        }
        for (int k = 0; k < count; ++k) out[k] = gradientNoise<outputs>(at[k]);
        if (field.noise.form == NoiseForm::ridged)
            for (int k = 0; k < count; ++k)
                for (F& v : out[k].value) v = hn::Sub(number(1), Mul(number(2), hn::Min(hn::Abs(v), number(1))));
        return;
    }
    for (int k = 0; k < count; ++k) {
        const Vector p = place(k);
        if constexpr (form == Form::cellular) {
            for (int o = 0; o < outputs; ++o)
                out[k].value[o] = cellularNoise(p.x, p.y, p.z, period, spots[k].time, seed + static_cast<std::uint32_t>(o) * 7919u);
        } else if constexpr (form == Form::value) {
            const AxisCell x = field.drifts() ? returningCell<latticeX>(p.x, period) : endlessCell<latticeX>(p.x);
            out[k] = valueNoise<outputs>(x, p.y, p.z, timeCell(spots[k].time, field.cells), seed);
        }
    }
}

template <int outputs, Form form>
void fillOutputs(const Noise& noise, const NoiseInput& in, Columns3& out) {
    using hn::Add, hn::Mul;
    float* const columns[] = {out.x, out.y, out.z};
    const Field field(noise, in);
    const F most = number(noise.beyond ? 1e6f : 1.0f), strength = number(1 / (2 - 1 / static_cast<float>(1 << (noise.octaves - 1))));
    for (int i = 0; i < in.count; i += together * lanes()) {
        const int here = std::min(together, (in.count - i) / lanes());
        Spot spots[together];
        Outputs sums[together];
        for (int k = 0; k < here; ++k) spots[k] = field.spot(in, i + k * lanes());
        runOctave<outputs, form>(field, 0, spots, here, sums);
        for (int o = 1; o < noise.octaves; ++o) {
            Outputs octave[together];
            runOctave<outputs, form>(field, o, spots, here, octave);
            const F amplitude = number(1 / static_cast<float>(1 << o));
            for (int k = 0; k < here; ++k)
                for (int n = 0; n < outputs; ++n) sums[k].value[n] = Add(sums[k].value[n], Mul(octave[k].value[n], amplitude));
        }
        for (int k = 0; k < here; ++k)
            for (int n = 0; n < outputs; ++n)
                store(hn::Min(hn::Max(Mul(sums[k].value[n], strength), hn::Neg(most)), most), columns[n] + i + k * lanes());
    }
}

template <Form form>
void fillForm(const Noise& noise, const NoiseInput& in, Columns3& out) {
    noise.sameOnAllAxes ? fillOutputs<1, form>(noise, in, out) : fillOutputs<3, form>(noise, in, out);
}

void fillNoise(const Noise& noise, const NoiseInput& in, Columns3& out) {
    switch (noise.form) {
        case NoiseForm::gradient:
        case NoiseForm::ridged:
            return fillForm<Form::gradient>(noise, in, out);
        case NoiseForm::value:
            return fillForm<Form::value>(noise, in, out);
        case NoiseForm::cellular:
            return fillForm<Form::cellular>(noise, in, out);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(fillNoise);

void runNoise(const Noise& noise, const NoiseInput& in, Columns3& out) { HWY_DYNAMIC_DISPATCH(fillNoise)(noise, in, out); }

namespace {

void fill(const Noise& noise, const PatternInput& in, Columns3& out) {
    runNoise(noise, {in.place, in.offset, in.moment, paddedCount(in.block)}, out);
}
int components(const Noise& noise) { return noise.sameOnAllAxes ? 1 : 3; }
bool moves(const Noise& noise) { return noise.motion != NoiseMotion::still; }

}  // namespace

namespace {

/// One lap, in which as much happens as at the speed.
std::optional<LapSettings> changesInOneLap(const Part& part, const NumberNow& now, double seconds) {
    if (choiceOf(part, "motion") != "speed") return std::nullopt;
    const double changes = std::clamp(std::round(std::abs(now("speed", 0)) * seconds), 1.0, 1e5);
    return LapSettings{{{"motion", std::string("laps")}, {"laps", fixedNumbers({1})}, {"changes", fixedNumbers({changes})}},
                       lapsInWords(1)};
}

}  // namespace

const PatternKind noisePattern = lapping(
    moving(
        makes(DescribePattern<Noise>("noise", "Noise", "Soft hills that drift and change")
                  .found("turbulence perlin fractal clouds organic drift")
                  .choice("form", &Noise::form, {{"gradient", "Hills"}, {"value", "Patches"}, {"ridged", "Ridges"}, {"cellular", "Cells"}},
                          "What it looks like")
                  .length("size", &Noise::size, 3, {0.2, 12}, "From one hill to the next")
                  .hard(1e-3, 1e5)
                  .number("stretch", &Noise::stretch, {1, 1, 1}, {0.2, 5}, "Makes hills longer along an axis")
                  .hard(1e-3, 1e3)
                  .only("motion", {"laps", "speed", "still"})
                  .whole("octaves", &Noise::octaves, 1, {1, 8}, "Finer and finer hills on top")
                  .whole("seed", &Noise::seed, 1, {0, 1000}, "Another seed, another landscape")
                  .hard(0, 1e9)
                  .choice("motion", &Noise::motion,
                          {{"laps", "Laps: loops exactly"}, {"speed", "Speed"}, {"still", "Still"}, {"drift", "Drift: loops exactly"}},
                          "How it changes with time")
                  .length("drift", &Noise::drift, {4, 0, 0}, {-12, 12},
                          "How far it flows in one lap; along this way it repeats after as much")
                  .only("motion", {"drift"})
                  .whole("laps", &Noise::laps, 1, {0, 8}, "How often it comes back to where it began in one loop")
                  .hard(-1000, 1000)
                  .only("motion", {"laps", "drift"})
                  .whole("changes", &Noise::changes, 3, {1, 24}, "How much happens in one lap")
                  .hard(1, 100000)
                  .only("motion", {"laps"})
                  .number("speed", &Noise::speed, 0.5, {0, 4}, "How fast it changes")
                  .unit("changes/s")
                  .hard(-1000, 1000)
                  .only("motion", {"speed"})
                  .toggle("sameOnAllAxes", &Noise::sameOnAllAxes, false, "One value for X, Y and Z instead of three"),
              PatternRange::minusOneToOne, components, fill),
        moves),
    changesInOneLap);

}  // namespace gswarm
#endif
