#include "core/picture/bsdf.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/picture/bsdf.cpp"
#include <hwy/foreach_target.h>

#include "core/picture/place_lanes-inl.h"

#ifndef GSWARM_BSDF
#define GSWARM_BSDF
namespace gswarm {
namespace {

constexpr float coatHead = 0.04f;  ///< reflectance of the coat at the head
constexpr float leastLoss = 1e-3f;
constexpr float leastCosine = 1e-3f;  ///< of the view
constexpr int steps = 32;

/// What microfacets of full reflectance, and fibres, send back in one bounce, by the square root of the view's cosine across and
/// roughness down. For Schlick's Fresnel `head` counts with the reflectance at the head, `rest` without.
struct OneBounceTable {
    std::array<float, steps * steps> head, rest, fibres;
};

}  // namespace
}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

constexpr float pi = std::numbers::pi_v<float>;

template <class Mask>
HWY_INLINE Vector choose(Mask first, const Vector& a, const Vector& b) {
    return {hn::IfThenElse(first, a.x, b.x), hn::IfThenElse(first, a.y, b.y), hn::IfThenElse(first, a.z, b.z)};
}
HWY_INLINE F square(F x) { return x * x; }
HWY_INLINE F rest(F x) { return number(1) - x; }
template <class Mask>
HWY_INLINE bool any(Mask mask) {
    return !hn::AllFalse(Floats(), mask);
}

HWY_INLINE F grazing(F cosine) {
    const F c = rest(clamp01(cosine));
    return square(square(c)) * c;
}
HWY_INLINE F schlick(F head, F grazes) { return head + rest(head) * grazes; }
HWY_INLINE F luminance(const Vector& c) { return number(0.2126f) * c.x + number(0.7152f) * c.y + number(0.0722f) * c.z; }
HWY_INLINE F headOf(F ior) { return square((ior - number(1)) / (ior + number(1))); }

/// How many facets point along a direction of that cosine.
HWY_INLINE F facets(F cosine, F alpha) {
    const F a2 = alpha * alpha, d = cosine * cosine * (a2 - number(1)) + number(1);
    return a2 / (number(pi) * d * d);
}
/// Smith's share of facets that are not behind others, seen from one side.
HWY_INLINE F unhidden(F cosine, F alpha) {
    const F c2 = hn::Max(cosine * cosine, number(1e-10f));
    return number(2) / (number(1) + hn::Sqrt(number(1) + alpha * alpha * rest(c2) / c2));
}

HWY_INLINE Vector visibleNormal(const Vector& view, F alpha, F u, F v) {
    const Vector stretched = unit({alpha * view.x, alpha * view.y, view.z});
    const F length = stretched.x * stretched.x + stretched.y * stretched.y;
    const auto leans = hn::Gt(length, hn::Zero(Floats()));
    const F perLength = number(1) / hn::Sqrt(hn::IfThenElse(leans, length, number(1)));
    const F x = hn::IfThenElse(leans, hn::Neg(stretched.y) * perLength, number(1)), y = hn::IfThenElseZero(leans, stretched.x * perLength);
    const Vector t1{x, y, hn::Zero(Floats())};
    const Vector t2{hn::Neg(stretched.z * y), stretched.z * x, stretched.x * y - stretched.y * x};
    const F r = hn::Sqrt(u), s = number(0.5f) * (number(1) + stretched.z);
    const SineCosine around = sineCosine(number(2 * pi) * v);
    const F p1 = r * around.cosine, p2 = rest(s) * hn::Sqrt(hn::Max(hn::Zero(Floats()), rest(p1 * p1))) + s * r * around.sine;
    const Vector h = t1 * p1 + t2 * p2 + stretched * hn::Sqrt(hn::Max(hn::Zero(Floats()), rest(p1 * p1) - p2 * p2));
    return unit({alpha * h.x, alpha * h.y, hn::Max(number(1e-6f), h.z)});
}

HWY_INLINE Vector cosineDirection(F u, F v) {
    const F r = hn::Sqrt(u);
    const SineCosine around = sineCosine(number(2 * pi) * v);
    return {r * around.cosine, r * around.sine, hn::Sqrt(hn::Max(hn::Zero(Floats()), rest(u)))};
}

/// The reflectance of a facet of what is no metal; `bent` is the cosine on the other side, 0 where all is thrown back.
HWY_INLINE F fresnelOf(F cosine, F eta, F& bent) {
    const F sine2 = rest(cosine * cosine) / (eta * eta);
    bent = hn::Sqrt(hn::Max(hn::Zero(Floats()), rest(sine2)));
    const F a = (cosine - eta * bent) / (cosine + eta * bent), b = (bent - eta * cosine) / (bent + eta * cosine);
    return hn::IfThenElse(hn::Ge(sine2, number(1)), number(1), number(0.5f) * (a * a + b * b));
}

/// Estevez and Kulla's distribution with the smooth shadowing of Neubelt and Pettineo 2013. Both directions above the surface.
HWY_INLINE F fibresOf(const Vector& view, const Vector& light, F roughness) {
    const Vector h = unit(view + light);
    const F inverse = number(1) / hn::Max(roughness, number(0.05f)), sine2 = hn::Max(rest(h.z * h.z), number(1e-20f));
    const F power = exp2(hn::Max(log2(sine2) * inverse * number(0.5f), number(-126)));
    const F d = (number(2) + inverse) * power * number(1 / (2 * pi));
    return d / (number(4) * (light.z + view.z - light.z * view.z));
}

HWY_INLINE F read(const std::array<float, steps * steps>& table, F cosine, F rough) {
    const F x = hn::Sqrt(clamp01(cosine)) * number(steps - 1), y = clamp01(rough) * number(steps - 1);
    const I last = hn::Set(Wholes(), steps - 2);
    const I x0 = hn::Min(toWhole(x), last), y0 = hn::Min(toWhole(y), last);
    const F s = x - hn::ConvertTo(Floats(), x0), t = y - hn::ConvertTo(Floats(), y0);
    const I at = y0 * hn::Set(Wholes(), steps) + x0;
    const auto cell = [&](int further) { return hn::GatherIndex(Floats(), table.data() + further, at); };
    return mix(mix(cell(0), cell(1), s), mix(cell(steps), cell(steps + 1), s), t);
}

/// One cell of the table, its view prepared by who calls; the sixteen go around.
void oneBounceLanes(float cosine, float roughness, double& head, double& rest_, double& fibres) {
    constexpr int across = 48, around = placesTogether;
    const float alpha = std::max(roughness * roughness, 1e-4f);
    const Vector view{number(std::sqrt(1 - cosine * cosine)), number(0), number(cosine)};
    NumberLanes v, heads, rests, fibre;
    for (int k = 0; k < around; ++k) v[k] = (static_cast<float>(k) + 0.5f) / around;
    head = rest_ = fibres = 0;
    for (int i = 0; i < across; ++i) {
        const float t = (static_cast<float>(i) + 0.5f) / across;
        for (int k = 0; k < around; k += lanes()) {
            // More of the facets that lean far, which send light below the surface.
            const Vector h = visibleNormal(view, number(alpha), number(1 - (1 - t) * (1 - t)), load(v, k));
            const F vh = hn::Max(dot(view, h), hn::Zero(Floats()));
            const Vector light = h * (number(2) * vh) - view;
            const F g = hn::IfThenElseZero(hn::Gt(light.z, hn::Zero(Floats())), number(2 * (1 - t)) * unhidden(light.z, number(alpha)));
            const F f = grazing(vh);
            store(g * rest(f), heads, k);
            store(g * f, rests, k);
            // Evenly over the half ball.
            const SineCosine turn = sineCosine(number(2 * pi) * load(v, k));
            const F s = number(std::sqrt(1 - t * t));
            const Vector even{s * turn.cosine, s * turn.sine, number(t)};
            store(fibresOf(view, even, number(roughness)) * number(t * 2 * pi), fibre, k);
        }
        for (int k = 0; k < around; ++k) head += heads[k], rest_ += rests[k], fibres += fibre[k];
    }
    head /= across * around, rest_ /= across * around, fibres /= across * around;
}

void prepareLanes(Scattering& s, const OneBounceTable& table) {
    const F zero = hn::Zero(Floats()), one = number(1);
    for (int at = 0; at < placesTogether; at += lanes()) {
        // The frame, after Duff et al. 2017.
        const Vector n = load(s.normal, at), toView = load(s.view, at);
        const F sign = hn::CopySign(one, n.z), p = number(-1) / (sign + n.z), q = n.x * n.y * p;
        const Vector along{one + sign * n.x * n.x * p, sign * q, hn::Neg(sign * n.x)}, across{q, sign + n.y * n.y * p, hn::Neg(n.y)};
        store(along, s.along, at);
        store(across, s.across, at);
        const F cosine = hn::Max(dot(toView, n), number(leastCosine));
        store(Vector{dot(toView, along), dot(toView, across), cosine}, s.within, at);

        const F alpha = hn::Max(square(clamp01(load(s.roughness, at))), number(0.0005f));
        store(alpha, s.alpha, at);
        const auto outside = hn::Eq(load(s.inside, at), zero);
        const F metal = load(s.metal, at), transmission = load(s.transmission, at);
        const F coat = hn::IfThenElseZero(outside, load(s.coat, at)), sheen = hn::IfThenElseZero(outside, load(s.sheen, at));
        F coatTakes = zero, sheenTakes = zero;
        if (any(hn::Gt(coat, zero))) {
            const F coatAlpha = hn::Max(square(clamp01(load(s.coatRoughness, at))), number(0.0005f)), rough = hn::Sqrt(coatAlpha);
            store(coatAlpha, s.coatAlpha, at);
            const F head = read(table.head, cosine, rough), restOf = read(table.rest, cosine, rough);
            const F all = hn::Max(head + restOf, number(leastLoss)), loss = one + number(coatHead) * rest(all) / all;
            store(loss, s.coatLoss, at);
            coatTakes = coat * hn::Min(one, (number(coatHead) * head + restOf) * loss);
        }
        if (any(hn::Gt(sheen, zero))) {
            const F sheenAlpha = hn::Max(load(s.sheenRoughness, at), number(0.05f));
            store(sheenAlpha, s.sheenAlpha, at);
            const Vector colour = load(s.sheenColour, at);
            sheenTakes = sheen * read(table.fibres, cosine, sheenAlpha) * hn::Max(colour.x, hn::Max(colour.y, colour.z));
        }
        store(coatTakes, s.coatTakes, at);
        store(sheenTakes, s.sheenTakes, at);

        const F rough = hn::Sqrt(alpha), head = read(table.head, cosine, rough), restOf = read(table.rest, cosine, rough);
        const F all = hn::Max(head + restOf, number(leastLoss)), lost = rest(all) / all;
        const Vector colour = load(s.colour, at);
        store(Vector{one, one, one} + colour * lost, s.metalLoss, at);
        const F plain = headOf(load(s.ior, at)), dielectricLoss = one + plain * lost;
        store(dielectricLoss, s.dielectricLoss, at);
        const F dielectric = hn::Min(one, (plain * head + restOf) * dielectricLoss);
        store(dielectric, s.dielectric, at);

        // As often as each layer matters.
        const F below = rest(coatTakes) * rest(sheenTakes), noMetal = below * rest(metal), opaque = noMetal * rest(transmission);
        const F ofSheen = rest(coatTakes) * sheenTakes;
        const F ofMetal = below * metal * hn::Max(number(0.05f), luminance(colour * head + Vector{restOf, restOf, restOf}));
        const F through = noMetal * transmission, polish = opaque * dielectric;
        const F matt = opaque * rest(dielectric) * hn::Max(number(0.05f), luminance(colour));
        const F perSum = one / hn::Max(coatTakes + ofSheen + ofMetal + through + polish + matt, number(1e-6f));
        store(coatTakes * perSum, s.chanceOfCoat, at);
        store(ofSheen * perSum, s.chanceOfSheen, at);
        store((ofMetal + polish) * perSum, s.chanceOfShine, at);
        store(through * perSum, s.chanceOfThrough, at);
    }
}

/// Reflection of microfacets toward the view, times the cosine, for the Fresnel given at the facet.
HWY_INLINE F shineOf(const Vector& view, const Vector& light, F alpha, F& density, F& facetCosine) {
    const Vector h = unit(view + light);
    facetCosine = hn::Max(dot(view, h), hn::Zero(Floats()));
    density = unhidden(view.z, alpha) * facets(h.z, alpha) / (number(4) * view.z);
    return density * unhidden(light.z, alpha);
}

/// Of light in the frame of each place.
HWY_INLINE void evaluateAt(const Scattering& s, int at, const Vector& light, Vector& share, F& density) {
    const F zero = hn::Zero(Floats()), one = number(1);
    const Vector view = load(s.within, at);
    const F coatTakes = load(s.coatTakes, at), sheenTakes = load(s.sheenTakes, at), metal = load(s.metal, at);
    const F below = rest(coatTakes) * rest(sheenTakes), matt = light.z * number(1 / pi);
    const F chanceOfCoat = load(s.chanceOfCoat, at), chanceOfSheen = load(s.chanceOfSheen, at), chanceOfShine = load(s.chanceOfShine, at);
    share = {zero, zero, zero};
    density = zero;
    F facet = zero;
    if (const auto coated = hn::Gt(coatTakes, zero); any(coated)) {
        F ways = zero;
        const F shine = shineOf(view, light, load(s.coatAlpha, at), ways, facet);
        const F sent = load(s.coat, at) * shine * schlick(number(coatHead), grazing(facet)) * load(s.coatLoss, at);
        const F seen = hn::IfThenElseZero(coated, sent);
        share = {seen, seen, seen};
        density = hn::IfThenElseZero(coated, chanceOfCoat * ways);
    }
    if (const auto fibrous = hn::Gt(sheenTakes, zero); any(fibrous)) {
        const F back = load(s.sheen, at) * rest(coatTakes) * fibresOf(view, light, load(s.sheenAlpha, at)) * light.z;
        share = share + load(s.sheenColour, at) * hn::IfThenElseZero(fibrous, back);
        density = density + chanceOfSheen * matt;
    }
    F ways = zero;
    const F shine = below * shineOf(view, light, load(s.alpha, at), ways, facet), grazes = grazing(facet);
    const F opaque = rest(metal) * rest(load(s.transmission, at));
    const Vector colour = load(s.colour, at);
    const Vector metallic{schlick(colour.x, grazes), schlick(colour.y, grazes), schlick(colour.z, grazes)};
    share = share + metallic * load(s.metalLoss, at) * (metal * shine);
    const F polish = schlick(headOf(load(s.ior, at)), grazes) * load(s.dielectricLoss, at) * opaque * shine;
    share = share + Vector{polish, polish, polish} + colour * (below * opaque * rest(load(s.dielectric, at)) * matt);
    density = density + chanceOfShine * ways;
    density = density + hn::Max(zero, one - chanceOfCoat - chanceOfSheen - chanceOfShine - load(s.chanceOfThrough, at)) * matt;
    const auto above = hn::Gt(light.z, zero);
    share = choose(above, share, Vector{zero, zero, zero});
    density = hn::IfThenElseZero(above, density);
}

void evaluateLanes(const Scattering& s, const VectorLanes& light, Scattered& found) {
    for (int at = 0; at < placesTogether; at += lanes()) {
        const Vector toward = load(light, at);
        const Vector within{dot(toward, load(s.along, at)), dot(toward, load(s.across, at)), dot(toward, load(s.normal, at))};
        Vector share;
        F density;
        evaluateAt(s, at, within, share, density);
        store(share, found.share, at);
        store(density, found.density, at);
    }
}

/// What lets light through mirrors as much as each facet's angle says, and loses nothing between facets: a way that ends on the
/// wrong side is turned to the right one.
HWY_INLINE void throughFacets(const Scattering& s, int at, F within, F u, F v, Vector& direction, Vector& share, F& through) {
    const F zero = hn::Zero(Floats()), one = number(1);
    const Vector view = load(s.within, at), h = visibleNormal(view, load(s.alpha, at), u, v);
    const F vh = dot(view, h), ior = load(s.ior, at);
    const auto thin = hn::Gt(load(s.thin, at), zero);
    const auto inside = hn::AndNot(thin, hn::Gt(load(s.inside, at), zero));
    const F eta = hn::IfThenElse(inside, one / ior, ior);
    F bent = zero;
    const F back = fresnelOf(hn::Max(vh, zero), eta, bent);
    const auto mirrors = hn::Lt(within, back);
    const Vector mirrored = h * (number(2) * vh) - view, colour = load(s.colour, at);
    // What is thin lets it straight on, as far as facets scatter it; else the colour is what is lost on the way in and out, once each.
    const Vector refracted = unit(h * (vh / eta - bent) - view * (one / eta));
    const Vector lost{hn::Sqrt(colour.x), hn::Sqrt(colour.y), hn::Sqrt(colour.z)};
    direction = choose(mirrors, mirrored, choose(thin, mirrored, refracted));
    direction.z = hn::IfThenElse(mirrors, hn::Abs(direction.z), hn::Neg(hn::Abs(direction.z)));
    const F below = rest(load(s.coatTakes, at)) * rest(load(s.sheenTakes, at)) * rest(load(s.metal, at)) * load(s.transmission, at);
    share = choose(mirrors, Vector{one, one, one}, choose(thin, colour, lost)) * (below / load(s.chanceOfThrough, at));
    through = hn::IfThenElse(mirrors, zero, one);
}

void sampleLanes(const Scattering& s, const NumberLanes& choices, const NumberLanes& us, const NumberLanes& vs, WaysOn& ways) {
    const F zero = hn::Zero(Floats()), one = number(1);
    for (int at = 0; at < placesTogether; at += lanes()) {
        const F u = load(us, at), v = load(vs, at);
        const F afterCoat = load(choices, at) - load(s.chanceOfCoat, at);
        const F afterSheen = afterCoat - load(s.chanceOfSheen, at), afterShine = afterSheen - load(s.chanceOfShine, at);
        const F chanceOfThrough = load(s.chanceOfThrough, at);
        const auto coat = hn::Lt(afterCoat, zero), sheen = hn::AndNot(coat, hn::Lt(afterSheen, zero));
        const auto shine = hn::AndNot(hn::Or(coat, sheen), hn::Lt(afterShine, zero));
        const auto through = hn::AndNot(hn::Or(hn::Or(coat, sheen), shine), hn::Lt(afterShine, chanceOfThrough));
        Vector direction = cosineDirection(u, v);
        if (const auto mirrors = hn::Or(coat, shine); any(mirrors)) {
            const Vector view = load(s.within, at);
            const Vector h = visibleNormal(view, hn::IfThenElse(coat, load(s.coatAlpha, at), load(s.alpha, at)), u, v);
            direction = choose(mirrors, h * (number(2) * dot(view, h)) - view, direction);
        }
        Vector share;
        F density;
        evaluateAt(s, at, direction, share, density);
        share = share * hn::IfThenElseZero(hn::Gt(density, zero), one / hn::Max(density, number(1e-30f)));
        F passes = zero;
        if (any(through)) {
            Vector on, onShare;
            throughFacets(s, at, afterShine / chanceOfThrough, u, v, on, onShare, passes);
            direction = choose(through, on, direction);
            share = choose(through, onShare, share);
            density = hn::IfThenElse(through, zero, density);
            passes = hn::IfThenElseZero(through, passes);
        }
        store(unit(load(s.along, at) * direction.x + load(s.across, at) * direction.y + load(s.normal, at) * direction.z), ways.direction,
              at);
        store(share, ways.share, at);
        store(density, ways.density, at);
        store(passes, ways.through, at);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(oneBounceLanes);
HWY_EXPORT(prepareLanes);
HWY_EXPORT(evaluateLanes);
HWY_EXPORT(sampleLanes);

namespace {

const OneBounceTable& oneBounce() {
    static const OneBounceTable made = [] {
        OneBounceTable table;
        for (int r = 0; r < steps; ++r)
            for (int c = 0; c < steps; ++c) {
                // Closer together where it grazes.
                const float share = static_cast<float>(c) / (steps - 1), cosine = std::max(share * share, 1e-4f);
                double head = 0, rest = 0, fibres = 0;
                HWY_DYNAMIC_DISPATCH(oneBounceLanes)(cosine, static_cast<float>(r) / (steps - 1), head, rest, fibres);
                const auto cell = static_cast<std::size_t>(r * steps + c);
                table.head[cell] = static_cast<float>(head);
                table.rest[cell] = static_cast<float>(rest);
                table.fibres[cell] = static_cast<float>(std::min(1.0, fibres));
            }
        return table;
    }();
    return made;
}

}  // namespace

void Scattering::put(int place, const Material& m) {
    colour.put(place, glm::vec3(m.colour));
    metal[place] = m.metal, roughness[place] = m.roughness, transmission[place] = m.transmission;
    coat[place] = m.coat, coatRoughness[place] = m.coatRoughness;
    sheen[place] = m.sheen, sheenRoughness[place] = m.sheenRoughness;
    sheenColour.put(place, m.sheenColour);
    thin[place] = m.body == MaterialBody::thin ? 1 : 0;
}

void prepare(Scattering& s) { HWY_DYNAMIC_DISPATCH(prepareLanes)(s, oneBounce()); }
void evaluate(const Scattering& s, const VectorLanes& light, Scattered& found) { HWY_DYNAMIC_DISPATCH(evaluateLanes)(s, light, found); }
void sample(const Scattering& s, const NumberLanes& choose, const NumberLanes& u, const NumberLanes& v, WaysOn& ways) {
    HWY_DYNAMIC_DISPATCH(sampleLanes)(s, choose, u, v, ways);
}

}  // namespace gswarm
#endif
