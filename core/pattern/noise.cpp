// Gradient noise in four dimensions, place and time (after Perlin 1985, 2002). Three outputs share one hash per
// lattice corner: each takes four of its bits as the signs of a gradient (± 1, ± 1, ± 1, ± 1).
#include "core/pattern/noise.h"

#include "core/pattern/pattern_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/pattern/noise.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// 6x⁵ − 15x⁴ + 10x³
HWY_INLINE F fade(F x) {
    const F inner = hn::Add(hn::Mul(x, hn::Sub(hn::Mul(x, number(6)), number(15))), number(10));
    return hn::Mul(hn::Mul(hn::Mul(x, x), x), inner);
}

HWY_INLINE W latticeWord(F cell, std::uint32_t factor) {
    return hn::Mul(hn::BitCast(Words(), hn::ConvertTo(Wholes(), cell)), hn::Set(Words(), factor));
}

/// A distance of known sign, given by its size: takes the sign from one bit of the hash.
template <int bit>
HWY_INLINE F withSign(F size, W hash) {
    return hn::CopySignToAbs(size, hn::BitCast(Floats(), hn::ShiftLeft<31 - bit>(hash)));
}

template <int first>
HWY_INLINE F slope(W hash, F x, F y, F z, F w) {
    return hn::Add(hn::Add(withSign<first>(x, hash), withSign<first + 1>(y, hash)),
                   hn::Add(withSign<first + 2>(z, hash), withSign<first + 3>(w, hash)));
}

/// The lattice cell around a place in the time dimension.
struct TimeCell {
    F into;         ///< 0 … 1
    W first, next;  ///< hash parts of its two sides
};

struct Outputs {
    F value[3];
};

template <int outputs>
HWY_INLINE Outputs gradientNoise(F x, F y, F z, const TimeCell& time, std::uint32_t seed) {
    const F cx = hn::Floor(x), cy = hn::Floor(y), cz = hn::Floor(z);
    const F one = number(1);
    const F fx = hn::Sub(x, cx), fy = hn::Sub(y, cy), fz = hn::Sub(z, cz), fw = time.into;
    constexpr std::uint32_t kx = 0x8DA6B343u, ky = 0xD8163841u, kz = 0xCB1AB31Fu;
    const W hx0 = hn::Add(latticeWord(cx, kx), hn::Set(Words(), seed * 0x9E3779B9u));
    const W hy0 = latticeWord(cy, ky), hz0 = latticeWord(cz, kz);
    const W hx[2] = {hx0, hn::Add(hx0, hn::Set(Words(), kx))};
    const W hy[2] = {hy0, hn::Add(hy0, hn::Set(Words(), ky))};
    const W hz[2] = {hz0, hn::Add(hz0, hn::Set(Words(), kz))};
    const W hw[2] = {time.first, time.next};
    // Distances to the far side of the cell are negative; only sizes are kept, and the hash's bits are flipped there.
    const F dx[2] = {fx, hn::Sub(one, fx)}, dy[2] = {fy, hn::Sub(one, fy)};
    const F dz[2] = {fz, hn::Sub(one, fz)}, dw[2] = {fw, hn::Sub(one, fw)};
    constexpr std::uint32_t farX = 0x111, farY = 0x222, farZ = 0x444, farW = 0x888;
    const F ux = fade(fx), uy = fade(fy), uz = fade(fz), uw = fade(fw);
    Outputs acrossW[2];
#pragma GCC unroll 2
    for (int w = 0; w < 2; ++w) {
        Outputs acrossZ[2];
#pragma GCC unroll 2
        for (int k = 0; k < 2; ++k) {
            const W hwz = hn::Add(hw[w], hz[k]);
            Outputs acrossY[2];
#pragma GCC unroll 2
            for (int j = 0; j < 2; ++j) {
                const W hwzy = hn::Add(hwz, hy[j]);
                Outputs corner[2];
#pragma GCC unroll 2
                for (int i = 0; i < 2; ++i) {
                    W h = hn::Add(hwzy, hx[i]);
                    h = hn::Mul(hn::Xor(h, hn::ShiftRight<15>(h)), hn::Set(Words(), 0x2C1B3C6Du));
                    h = hn::Xor(hn::Xor(h, hn::ShiftRight<12>(h)),
                                hn::Set(Words(), (i ? farX : 0) | (j ? farY : 0) | (k ? farZ : 0) | (w ? farW : 0)));
                    corner[i].value[0] = slope<0>(h, dx[i], dy[j], dz[k], dw[w]);
                    if constexpr (outputs > 1) {
                        corner[i].value[1] = slope<4>(h, dx[i], dy[j], dz[k], dw[w]);
                        corner[i].value[2] = slope<8>(h, dx[i], dy[j], dz[k], dw[w]);
                    }
                }
                for (int o = 0; o < outputs; ++o) acrossY[j].value[o] = mix(corner[0].value[o], corner[1].value[o], ux);
            }
            for (int o = 0; o < outputs; ++o) acrossZ[k].value[o] = mix(acrossY[0].value[o], acrossY[1].value[o], uy);
        }
        for (int o = 0; o < outputs; ++o) acrossW[w].value[o] = mix(acrossZ[0].value[o], acrossZ[1].value[o], uz);
    }
    Outputs result;
    for (int o = 0; o < outputs; ++o) result.value[o] = mix(acrossW[0].value[o], acrossW[1].value[o], uw);
    return result;
}

/// Cells of time; with a period the last one leads back to the first.
HWY_INLINE TimeCell timeCell(F time, float period) {
    constexpr std::uint32_t kw = 0x9C06FAF5u;
    F cell = hn::Floor(time);
    const F into = hn::Sub(time, cell);
    F next = hn::Add(cell, number(1));
    if (period > 0) {
        const F length = number(period);
        cell = hn::IfThenElse(hn::Ge(cell, length), hn::Zero(Floats()), cell);
        next = hn::IfThenElse(hn::Ge(next, length), hn::Zero(Floats()), next);
    }
    return {into, latticeWord(cell, kw), latticeWord(next, kw)};
}

template <int outputs>
void fillOutputs(const Noise& noise, const PatternInput& in, Columns3& out) {
    using hn::Add, hn::Mul;
    float* const columns[] = {out.x, out.y, out.z};
    const float loop = static_cast<float>(in.moment.loop());
    const float perFrame = static_cast<float>(1 / in.moment.loopFrames);
    const float seconds = static_cast<float>(in.moment.seconds() * noise.speed);
    const float speedPerFrame = static_cast<float>(noise.speed / in.moment.rate);
    const float cells = static_cast<float>(noise.changes);
    float total = 0;
    for (int o = 0; o < noise.octaves; ++o) total += 1.0f / static_cast<float>(1 << o);
    const F strength = number(1.6f / total);  // spreads typical values over −1 … 1
    for (int i = 0; i < paddedCount(in.block); i += lanes()) {
        const F offset = read(in.offset, i);
        F time = hn::Zero(Floats());
        if (noise.motion == NoiseMotion::laps) {
            const F laps = Mul(Add(number(loop), Mul(offset, number(perFrame))), number(static_cast<float>(noise.laps)));
            time = Mul(hn::Sub(laps, hn::Floor(laps)), number(cells));
        } else if (noise.motion == NoiseMotion::speed) {
            time = Add(number(seconds), Mul(offset, number(speedPerFrame)));
        }
        F sum[outputs];
        for (int k = 0; k < outputs; ++k) sum[k] = hn::Zero(Floats());
        float frequency = 1 / noise.size, amplitude = 1;
        const TimeCell cell = timeCell(time, noise.motion == NoiseMotion::laps ? cells : 0);
        for (int o = 0; o < noise.octaves; ++o) {
            const F f = number(frequency);
            const Outputs v =
                gradientNoise<outputs>(Mul(load(in.place.x + i), f), Mul(load(in.place.y + i), f), Mul(load(in.place.z + i), f), cell,
                                       static_cast<std::uint32_t>(noise.seed) + static_cast<std::uint32_t>(o) * 101u);
            for (int k = 0; k < outputs; ++k) sum[k] = Add(sum[k], Mul(v.value[k], number(amplitude)));
            frequency *= 2;
            amplitude *= 0.5f;
        }
        for (int k = 0; k < outputs; ++k) store(hn::Min(hn::Max(Mul(sum[k], strength), number(-1)), number(1)), columns[k] + i);
    }
}

void fillNoise(const Noise& noise, const PatternInput& in, Columns3& out) {
    noise.sameOnAllAxes ? fillOutputs<1>(noise, in, out) : fillOutputs<3>(noise, in, out);
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(fillNoise);

namespace {

int components(const Noise& noise) { return noise.sameOnAllAxes ? 1 : 3; }
void fill(const Noise& noise, const PatternInput& in, Columns3& out) { HWY_DYNAMIC_DISPATCH(fillNoise)(noise, in, out); }

}  // namespace

const PatternKind noisePattern =
    makes(DescribePattern<Noise>("noise", "Noise", "Soft hills that drift and change")
              .length("size", &Noise::size, 3, {0.2, 12}, "From one hill to the next")
              .hard(1e-3, 1e5)
              .whole("octaves", &Noise::octaves, 1, {1, 8}, "Finer and finer hills on top")
              .whole("seed", &Noise::seed, 1, {0, 1000}, "Another seed, another landscape")
              .hard(0, 1e9)
              .choice("motion", &Noise::motion, {{"laps", "Laps: loops exactly"}, {"speed", "Speed"}, {"still", "Still"}},
                      "How it changes with time")
              .whole("laps", &Noise::laps, 1, {0, 8}, "How often it comes back to where it began in one loop")
              .hard(-1000, 1000)
              .only("motion", {"laps"})
              .whole("changes", &Noise::changes, 4, {1, 24}, "How much happens in one lap")
              .hard(1, 100000)
              .only("motion", {"laps"})
              .number("speed", &Noise::speed, 0.5, {0, 4}, "How much happens in one second")
              .hard(-1000, 1000)
              .only("motion", {"speed"})
              .toggle("sameOnAllAxes", &Noise::sameOnAllAxes, false, "One value for X, Y and Z instead of three"),
          PatternRange::minusOneToOne, components, fill);

}  // namespace gswarm
#endif
