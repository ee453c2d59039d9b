#include "core/flow/finish.h"

#include <algorithm>
#include <cstring>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/flow/finish.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

using Halves = hn::Rebind<std::uint16_t, Words>;

/// The entry of a table of 16 that the lower four bits of each index tell.
HWY_INLINE F entryOf(const float* table, W index) {
#if HWY_TARGET == HWY_AVX3
    return F{_mm512_permutexvar_ps(hn::BitCast(Wholes(), index).raw, _mm512_loadu_ps(table))};
#else
    return hn::GatherIndex(Floats(), table, hn::BitCast(Wholes(), hn::And(index, hn::Set(Words(), 15u))));
#endif
}

/// sRGB encoding of linear light 0 … 1 for a byte: the mantissa to the power 5/12 by a polynomial (error below 2e-6), and
/// 1.055 · 2 to the power 5/12 of the exponent from a table.
HWY_INLINE F encodeForByte(F x) {
    using hn::Add, hn::Mul;
    alignas(64) static constexpr float scale[16] = {0,
                                                    0,
                                                    0,
                                                    0,
                                                    0,
                                                    0,
                                                    0.07841334414f,
                                                    0.10466925686f,
                                                    0.13971669557f,
                                                    0.18649941354f,
                                                    0.24894684997f,
                                                    0.33230417691f,
                                                    0.44357285905f,
                                                    0.59209873048f,
                                                    0.79035698305f,
                                                    1.055f};
    const W bits = hn::BitCast(Words(), x);
    const F m = hn::BitCast(Floats(), hn::Or(hn::And(bits, hn::Set(Words(), 0x007FFFFFu)), hn::Set(Words(), 0x3F800000u)));
    F p = Add(Mul(m, number(0.005237355218f)), number(-0.04993490698f));
    p = Add(Mul(p, m), number(0.2041924286f));
    p = Add(Mul(p, m), number(-0.4853656531f));
    p = Add(Mul(p, m), number(0.9482550322f));
    p = Add(Mul(p, m), number(0.3776172978f));
    const F curve = hn::Sub(Mul(p, entryOf(scale, hn::ShiftRight<23>(bits))), number(0.055f));
    return hn::IfThenElse(hn::Le(x, number(0.0031308f)), Mul(x, number(12.92f)), curve);
}

/// Three rows of four columns each become matrices of twelve floats, one behind the other.
struct MatrixColumns {
    F row[3][4];
};

#if HWY_TARGET == HWY_AVX3

/// The transposition in registers: first within each quarter of a vector, so that quarter q of piece i holds a row of
/// instance 4q + i; then the quarters are gathered, four to a vector.
HWY_INLINE void storeMatrices(const MatrixColumns& m, int count, float* to) {
    __m512 piece[12];  // piece 3i + r: row r of instances i, 4 + i, 8 + i and 12 + i
    for (int r = 0; r < 3; ++r) {
        const __m512 ab = _mm512_unpacklo_ps(m.row[r][0].raw, m.row[r][1].raw), AB = _mm512_unpackhi_ps(m.row[r][0].raw, m.row[r][1].raw);
        const __m512 cd = _mm512_unpacklo_ps(m.row[r][2].raw, m.row[r][3].raw), CD = _mm512_unpackhi_ps(m.row[r][2].raw, m.row[r][3].raw);
        piece[r] = _mm512_shuffle_ps(ab, cd, 0x44);
        piece[3 + r] = _mm512_shuffle_ps(ab, cd, 0xEE);
        piece[6 + r] = _mm512_shuffle_ps(AB, CD, 0x44);
        piece[9 + r] = _mm512_shuffle_ps(AB, CD, 0xEE);
    }
    __m512 out[12];  // whole vectors in their order
    for (int k = 0; k < 3; ++k) {
        const __m512* p = piece + 4 * k;
        const __m512 a = _mm512_shuffle_f32x4(p[0], p[1], 0x44), b = _mm512_shuffle_f32x4(p[2], p[3], 0x44);
        const __m512 c = _mm512_shuffle_f32x4(p[0], p[1], 0xEE), d = _mm512_shuffle_f32x4(p[2], p[3], 0xEE);
        out[k] = _mm512_shuffle_f32x4(a, b, 0x88);
        out[3 + k] = _mm512_shuffle_f32x4(a, b, 0xDD);
        out[6 + k] = _mm512_shuffle_f32x4(c, d, 0x88);
        out[9 + k] = _mm512_shuffle_f32x4(c, d, 0xDD);
    }
    if (count == 16) {
        for (int v = 0; v < 12; ++v) _mm512_storeu_ps(to + 16 * v, out[v]);
        return;
    }
    alignas(64) float all[12 * 16];
    for (int v = 0; v < 12; ++v) _mm512_store_ps(all + 16 * v, out[v]);
    std::memcpy(to, all, static_cast<std::size_t>(count) * 48);
}

#else

HWY_INLINE void storeMatrices(const MatrixColumns& m, int count, float* to) {
    alignas(64) float matrices[12 * 16], rows[4 * 16];
    for (int r = 0; r < 3; ++r) {
        hn::StoreInterleaved4(m.row[r][0], m.row[r][1], m.row[r][2], m.row[r][3], Floats(), rows);
        for (int i = 0; i < lanes(); ++i) std::memcpy(matrices + 12 * i + 4 * r, rows + 4 * i, 16);
    }
    std::memcpy(to, matrices, static_cast<std::size_t>(count) * 48);
}

#endif

/// A whole vector, or the lanes of it that there are.
template <class V, class T>
HWY_INLINE void storeSome(V v, int count, T* to) {
    if (count == lanes()) return hn::StoreU(v, hn::Rebind<T, Floats>(), to);
    alignas(64) T all[16];
    hn::StoreU(v, hn::Rebind<T, Floats>(), all);
    std::memcpy(to, all, static_cast<std::size_t>(count) * sizeof(T));
}

HWY_INLINE W toByte(F x) { return hn::BitCast(Words(), toWhole(hn::Add(hn::Mul(x, number(255)), number(0.5f)))); }

void finishLanes(const Block& block, const StockNumbers& stock, float* matrix, std::uint32_t* colour, std::uint16_t* variant,
                 float* visible, BlockCount& count) {
    using hn::Add, hn::Mul, hn::Sub;
    const F one = number(1), zero = hn::Zero(Floats()), large = number(1e30f);
    F lowX = large, lowY = large, lowZ = large;
    F highX = hn::Neg(large), highY = highX, highZ = highX;
    const W none = hn::Set(Words(), std::uint32_t{notShown});
    std::size_t notFinite = 0, seen = 0;
    for (int i = 0; i < block.count; i += lanes()) {
        const int here = std::min(lanes(), block.count - i);
        const F size = read(stock.size, i);
        const F sx = Mul(load(block.scale.x + i), size), sy = Mul(load(block.scale.y + i), size), sz = Mul(load(block.scale.z + i), size);
        const F qx = load(block.rotation.x + i), qy = load(block.rotation.y + i), qz = load(block.rotation.z + i),
                qw = load(block.rotation.w + i);
        const F x2 = Add(qx, qx), y2 = Add(qy, qy), z2 = Add(qz, qz);
        const F xx = Mul(qx, x2), yy = Mul(qy, y2), zz = Mul(qz, z2);
        const F xy = Mul(qx, y2), xz = Mul(qx, z2), yz = Mul(qy, z2);
        const F wx = Mul(qw, x2), wy = Mul(qw, y2), wz = Mul(qw, z2);
        const F m00 = Mul(Sub(one, Add(yy, zz)), sx), m01 = Mul(Sub(xy, wz), sy), m02 = Mul(Add(xz, wy), sz);
        const F m10 = Mul(Add(xy, wz), sx), m11 = Mul(Sub(one, Add(xx, zz)), sy), m12 = Mul(Sub(yz, wx), sz);
        const F m20 = Mul(Sub(xz, wy), sx), m21 = Mul(Add(yz, wx), sy), m22 = Mul(Sub(one, Add(xx, yy)), sz);
        const F px = load(block.position.x + i), py = load(block.position.y + i), pz = load(block.position.z + i);
        const auto moved = [&](F p, F a, F b, F c) {
            if (stock.atCentre) return p;
            const F x = Mul(a, read(stock.footX, i)), y = Mul(b, read(stock.footY, i)), z = Mul(c, read(stock.footZ, i));
            return Sub(p, Add(Add(x, y), z));
        };
        storeMatrices({{{m00, m01, m02, moved(px, m00, m01, m02)},
                        {m10, m11, m12, moved(py, m10, m11, m12)},
                        {m20, m21, m22, moved(pz, m20, m21, m22)}}},
                      here, matrix + 12 * i);

        W packed = hn::ShiftLeft<24>(toByte(clamp01(load(block.colour.w + i))));
        packed = hn::Or(packed, hn::ShiftLeft<16>(toByte(encodeForByte(clamp01(load(block.colour.z + i))))));
        packed = hn::Or(packed, hn::ShiftLeft<8>(toByte(encodeForByte(clamp01(load(block.colour.y + i))))));
        packed = hn::Or(packed, toByte(encodeForByte(clamp01(load(block.colour.x + i)))));
        storeSome(packed, here, colour + i);

        const auto inside = hn::FirstN(Floats(), static_cast<std::size_t>(here));
        const F sum = Add(Add(Add(px, py), Add(pz, m00)), Add(Add(m11, m22), Add(m01, m12)));
        const auto finite = hn::Lt(hn::Abs(sum), large);
        const auto shown = hn::And(hn::And(inside, finite), hn::Gt(Mul(Mul(sx, sy), Mul(sz, load(block.shown + i))), zero));
        store(hn::IfThenElseZero(shown, one), visible + i);
        const W kept = hn::IfThenElse(hn::RebindMask(Words(), shown), hn::PromoteTo(Words(), hn::LoadU(Halves(), block.variant + i)), none);
        storeSome(hn::DemoteTo(Halves(), hn::BitCast(Wholes(), kept)), here, variant + i);
        seen += hn::CountTrue(Floats(), shown);
        notFinite += hn::CountTrue(Floats(), hn::And(inside, hn::Not(finite)));
        const auto grow = [&](F& low, F& high, F p) {
            low = hn::Min(low, hn::IfThenElse(shown, p, low));
            high = hn::Max(high, hn::IfThenElse(shown, p, high));
        };
        grow(lowX, highX, px);
        grow(lowY, highY, py);
        grow(lowZ, highZ, pz);
    }
    const auto least = [](F v) { return hn::GetLane(hn::MinOfLanes(Floats(), v)); };
    const auto most = [](F v) { return hn::GetLane(hn::MaxOfLanes(Floats(), v)); };
    count.visible = static_cast<int>(seen);
    count.notFinite = static_cast<int>(notFinite);
    count.bounds.low = {least(lowX), least(lowY), least(lowZ)};
    count.bounds.high = {most(highX), most(highY), most(highZ)};
}

/// How many visible instances still carry the mark of each card in any channel. Where the block ends, nothing is visible.
void countSeenLanes(const EffectColumns& effect, int cards, const float* visible, int count, CardCount* counts) {
    for (int word = 0; word * 32 < cards; ++word) {
        const int here = std::min(32, cards - word * 32);
        int seen[32] = {};
        // Neighbours mostly carry the same marks: whole vectors of the same are counted together.
        std::uint32_t last = 0;
        int same = 0;
        const auto countSame = [&] {
            for (int c = 0; c < here; ++c) seen[c] += (last >> c & 1) ? same : 0;
            same = 0;
        };
        for (int i = 0; i < count; i += lanes()) {
            W any = hn::Zero(Words());
            for (int c = 0; c < effectChannels; ++c)
                if (effect.used[c]) any = hn::Or(any, load(effect.channel[c][word] + i));
            const auto shown = hn::Gt(load(visible + i), hn::Zero(Floats()));
            any = hn::IfThenElseZero(hn::RebindMask(Words(), shown), any);
            const std::uint32_t first = hn::GetLane(any);
            if (hn::AllTrue(Words(), hn::Eq(any, hn::Set(Words(), first)))) {
                if (first != last) countSame();
                last = first;
                same += lanes();
                continue;
            }
            for (int c = 0; c < here; ++c)
                seen[c] += static_cast<int>(hn::CountTrue(Words(), hn::Ne(hn::And(any, hn::Set(Words(), 1u << c)), hn::Zero(Words()))));
        }
        countSame();
        for (int c = 0; c < here; ++c) counts[word * 32 + c].seen = seen[c];
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(finishLanes);
HWY_EXPORT(countSeenLanes);

BlockCount finishBlock(const Plan& plan, FlowSpace& space, ResultColumns& out) {
    Block& block = space.block;
    const auto& variants = plan.stock.variants;
    const Variant& first = variants.front();
    StockNumbers stock{
        {first.size, nullptr}, {first.foot.x, nullptr}, {first.foot.y, nullptr}, {first.foot.z, nullptr}, first.foot == glm::vec3(0)};
    if (variants.size() > 1) {
        for (int i = 0; i < paddedCount(block); ++i) {
            const Variant& v = variants[block.variant[i]];
            block.scratch[0][i] = v.size;
            block.scratch[1][i] = v.foot.x;
            block.scratch[2][i] = v.foot.y;
            block.scratch[3][i] = v.foot.z;
        }
        stock = {{0, block.scratch[0]}, {0, block.scratch[1]}, {0, block.scratch[2]}, {0, block.scratch[3]}, false};
    }
    const auto at = static_cast<std::size_t>(block.first);
    float* visible = block.zone;  // free after the last card
    BlockCount count;
    HWY_DYNAMIC_DISPATCH(finishLanes)
    (block, stock, out.matrix.data() + 12 * at, out.colour.data() + at, out.variant.data() + at, visible, count);
    // Weights were kept as their cards acted.
    for (std::size_t c = 0; c < plan.stock.mixedBy.size(); ++c)
        if (const int named = plan.stock.mixedBy[c].named; named >= 0)
            std::copy_n(block.named[named], block.count,
                        out.mixed.begin() + static_cast<std::ptrdiff_t>(c * static_cast<std::size_t>(plan.count) + at));
    if (plan.keepsNamed)
        for (std::size_t k = 0; k < plan.named.size(); ++k)
            std::copy_n(block.named[k], block.count,
                        out.named.begin() + static_cast<std::ptrdiff_t>(k * static_cast<std::size_t>(plan.count) + at));
    HWY_DYNAMIC_DISPATCH(countSeenLanes)(space.effect, static_cast<int>(plan.cards.size()), visible, block.count, space.counts.data());
    return count;
}

bool shownAt(const Plan& plan, const Block& block, int i) {
    const float size = plan.stock.variants[block.variant[i]].size;
    const float x = block.scale.x[i] * size, y = block.scale.y[i] * size, z = block.scale.z[i] * size;
    const float sum = block.position.x[i] + block.position.y[i] + block.position.z[i] + block.rotation.w[i] + x + y + z;
    return std::abs(sum) < 1e30f && x * y * (z * block.shown[i]) > 0;
}

void placeBlock(const Plan& plan, const Block& block, std::vector<Placement>& out) {
    for (int i = 0; i < block.count; ++i) {
        const Variant& variant = plan.stock.variants[block.variant[i]];
        const glm::quat rotation(block.rotation.w[i], block.rotation.x[i], block.rotation.y[i], block.rotation.z[i]);
        const glm::vec3 scale = glm::vec3(block.scale.x[i], block.scale.y[i], block.scale.z[i]) * variant.size;
        const glm::vec3 place(block.position.x[i], block.position.y[i], block.position.z[i]);
        out[static_cast<std::size_t>(block.first + i)] = {place - rotation * (scale * variant.foot), rotation, scale};
    }
}

}  // namespace gswarm
#endif
