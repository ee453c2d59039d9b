#include "core/picture/bsdf.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <numbers>

namespace gswarm {
namespace {

using glm::vec3;

using std::numbers::pi_v;
constexpr float coatHead = 0.04f;  ///< reflectance of the coat at the head

float square(float x) { return x * x; }
float grazing(float cosine) {
    const float c = 1 - std::clamp(cosine, 0.0f, 1.0f);
    return square(square(c)) * c;
}
vec3 schlick(const vec3& head, float cosine) { return head + (vec3(1) - head) * grazing(cosine); }
float luminance(const vec3& c) { return 0.2126f * c.x + 0.7152f * c.y + 0.0722f * c.z; }

/// How many facets point along h.
float facets(float cosine, float alpha) {
    const float a2 = alpha * alpha, d = cosine * cosine * (a2 - 1) + 1;
    return a2 / (pi_v<float> * d * d);
}
/// Smith's share of facets that are not behind others, seen from one side.
float unhidden(float cosine, float alpha) {
    const float c2 = std::max(cosine * cosine, 1e-10f);
    return 2 / (1 + std::sqrt(1 + alpha * alpha * (1 - c2) / c2));
}

vec3 visibleNormal(const vec3& view, float alpha, float u, float v) {
    const vec3 stretched = glm::normalize(vec3(alpha * view.x, alpha * view.y, view.z));
    const float length = stretched.x * stretched.x + stretched.y * stretched.y;
    const vec3 t1 = length > 0 ? vec3(-stretched.y, stretched.x, 0) / std::sqrt(length) : vec3(1, 0, 0);
    const vec3 t2 = glm::cross(stretched, t1);
    const float r = std::sqrt(u), around = 2 * pi_v<float> * v;
    const float p1 = r * std::cos(around), s = 0.5f * (1 + stretched.z);
    const float p2 = (1 - s) * std::sqrt(std::max(0.0f, 1 - p1 * p1)) + s * r * std::sin(around);
    const vec3 h = t1 * p1 + t2 * p2 + stretched * std::sqrt(std::max(0.0f, 1 - p1 * p1 - p2 * p2));
    return glm::normalize(vec3(alpha * h.x, alpha * h.y, std::max(1e-6f, h.z)));
}

vec3 cosineDirection(float u, float v) {
    const float r = std::sqrt(u), around = 2 * pi_v<float> * v;
    return {r * std::cos(around), r * std::sin(around), std::sqrt(std::max(0.0f, 1 - u))};
}

/// The reflectance of a facet of what is no metal; `bent` is the cosine on the other side, 0 where all is thrown back.
float fresnelOf(float cosine, float eta, float& bent) {
    const float sine2 = (1 - cosine * cosine) / (eta * eta);
    if (sine2 >= 1) return bent = 0, 1;
    bent = std::sqrt(1 - sine2);
    const float a = (cosine - eta * bent) / (cosine + eta * bent), b = (bent - eta * cosine) / (bent + eta * cosine);
    return 0.5f * (a * a + b * b);
}

float headOf(float ior) { return square((ior - 1) / (ior + 1)); }

constexpr int steps = 32;

struct Table {
    std::array<OneBounce, steps * steps> at;
    std::array<float, steps * steps> fibres;  ///< what the fibres send back in one bounce

    Table() {
        constexpr int across = 48, around = 16;
        for (int r = 0; r < steps; ++r)
            for (int c = 0; c < steps; ++c) {
                // Closer together where it grazes.
                const float cosine = std::max(square(static_cast<float>(c) / (steps - 1)), 1e-4f);
                const float roughness = static_cast<float>(r) / (steps - 1), alpha = std::max(square(roughness), 1e-4f);
                const vec3 view(std::sqrt(1 - cosine * cosine), 0, cosine);
                double head = 0, rest = 0, fibre = 0;
                for (int i = 0; i < across; ++i)
                    for (int k = 0; k < around; ++k) {
                        const float t = (static_cast<float>(i) + 0.5f) / across, v = (static_cast<float>(k) + 0.5f) / around;
                        // More of the facets that lean far, which send light below the surface.
                        const vec3 h = visibleNormal(view, alpha, 1 - square(1 - t), v);
                        const float weight = 2 * (1 - t), vh = std::max(glm::dot(view, h), 0.0f);
                        const vec3 light = 2 * vh * h - view;
                        if (light.z > 0) {
                            const float g = weight * unhidden(light.z, alpha), f = grazing(vh);
                            head += g * (1 - f), rest += g * f;
                        }
                        // Evenly over the half ball.
                        const float s = std::sqrt(1 - t * t), angle = 2 * pi_v<float> * v;
                        fibre += fibresOf(view, {s * std::cos(angle), s * std::sin(angle), t}, roughness) * t * 2 * pi_v<float>;
                    }
                const auto cell = static_cast<std::size_t>(r * steps + c);
                at[cell] = {static_cast<float>(head / (across * around)), static_cast<float>(rest / (across * around))};
                fibres[cell] = std::min(1.0f, static_cast<float>(fibre / (across * around)));
            }
    }

    /// Estevez and Kulla's distribution with the smooth shadowing of Neubelt and Pettineo 2013.
    static float fibresOf(const vec3& view, const vec3& light, float roughness) {
        if (light.z <= 0 || view.z <= 0) return 0;
        const vec3 h = glm::normalize(view + light);
        const float inverse = 1 / std::max(roughness, 0.05f), sine2 = std::max(1 - h.z * h.z, 0.0f);
        const float d = (2 + inverse) * std::pow(sine2, inverse * 0.5f) / (2 * pi_v<float>);
        return d / (4 * (light.z + view.z - light.z * view.z));
    }

    template <class Get>
    float between(float cosine, float rough, const Get& get) const {
        const float x = std::sqrt(std::clamp(cosine, 0.0f, 1.0f)) * (steps - 1), y = std::clamp(rough, 0.0f, 1.0f) * (steps - 1);
        const int x0 = std::min(static_cast<int>(x), steps - 2), y0 = std::min(static_cast<int>(y), steps - 2);
        const float s = x - static_cast<float>(x0), t = y - static_cast<float>(y0);
        const auto g = [&](int c, int r) { return get(static_cast<std::size_t>(r * steps + c)); };
        return (g(x0, y0) * (1 - s) + g(x0 + 1, y0) * s) * (1 - t) + (g(x0, y0 + 1) * (1 - s) + g(x0 + 1, y0 + 1) * s) * t;
    }
};

const Table& table() {
    static const Table made;
    return made;
}

float fibresBack(float cosine, float roughness) {
    return table().between(cosine, roughness, [](std::size_t i) { return table().fibres[i]; });
}

/// The metal's colour at the head.
vec3 metalHead(const Scattering& s) { return s.colour; }

/// Reflection of microfacets toward the view, times the cosine, for the Fresnel given at the facet.
float shineOf(const vec3& view, const vec3& light, float alpha, float& density, float& facetCosine) {
    const vec3 h = glm::normalize(view + light);
    facetCosine = std::max(glm::dot(view, h), 0.0f);
    const float d = facets(h.z, alpha), gv = unhidden(view.z, alpha);
    density = gv * d / (4 * view.z);
    return density * unhidden(light.z, alpha);
}

WayOn throughFacet(const Scattering& s, const vec3& h) {
    const Material& m = s.material;
    WayOn way;
    way.through = true;
    const float vh = glm::dot(s.view, h);
    float bent = 0;
    if (m.body == MaterialBody::thin) {
        // Straight on, as far as facets scatter it.
        const vec3 mirrored = 2 * vh * h - s.view;
        way.direction = vec3(mirrored.x, mirrored.y, -mirrored.z);
        way.share = s.colour;
        return way;
    }
    const float eta = s.inside ? 1 / s.ior : s.ior;
    fresnelOf(vh, eta, bent);
    way.direction = glm::normalize(-s.view / eta + (vh / eta - bent) * h);
    // The colour is what is lost on the way in and out, once each.
    way.share = vec3(std::sqrt(s.colour.x), std::sqrt(s.colour.y), std::sqrt(s.colour.z));
    way.parts = m.dispersion > 0;
    return way;
}

}  // namespace

OneBounce oneBounce(float cosine, float alpha) {
    const float rough = std::sqrt(alpha);
    return {table().between(cosine, rough, [](std::size_t i) { return table().at[i].head; }),
            table().between(cosine, rough, [](std::size_t i) { return table().at[i].rest; })};
}

void basis(const vec3& n, vec3& a, vec3& b) {
    const float sign = std::copysign(1.0f, n.z), p = -1 / (sign + n.z), q = n.x * n.y * p;
    a = {1 + sign * n.x * n.x * p, sign * q, -sign * n.x};
    b = {q, sign + n.y * n.y * p, -n.y};
}

void prepare(Scattering& s) {
    Material& m = s.material;
    s.view.z = std::max(s.view.z, 1e-3f);
    s.alpha = std::max(square(std::clamp(m.roughness, 0.0f, 1.0f)), 0.0005f);
    s.coatAlpha = std::max(square(std::clamp(m.coatRoughness, 0.0f, 1.0f)), 0.0005f);
    s.sheenAlpha = std::max(m.sheenRoughness, 0.05f);
    const float cosine = s.view.z;
    const bool outside = !s.inside;
    if (m.coat > 0 && outside) {
        const OneBounce b = oneBounce(cosine, s.coatAlpha);
        const float all = b.head + b.rest;
        s.coatTakes = m.coat * std::min(1.0f, (coatHead * b.head + b.rest) * (1 + coatHead * (1 - all) / std::max(all, 1e-3f)));
    }
    if (m.sheen > 0 && outside)
        s.sheenTakes = m.sheen * fibresBack(cosine, s.sheenAlpha) * std::max({m.sheenColour.x, m.sheenColour.y, m.sheenColour.z});
    const OneBounce b = oneBounce(cosine, s.alpha);
    const float all = std::max(b.head + b.rest, 1e-3f);
    const vec3 head = metalHead(s);
    s.metalLoss = vec3(1) + head * ((1 - all) / all);
    const float plain = headOf(m.ior);
    s.dielectricLoss = vec3(1 + plain * (1 - all) / all);
    s.dielectric = std::min(1.0f, (plain * b.head + b.rest) * s.dielectricLoss.x);

    // As often as each layer matters.
    const float below = (1 - s.coatTakes) * (1 - s.sheenTakes);
    const float coat = s.coatTakes, sheen = (1 - s.coatTakes) * s.sheenTakes;
    const float metal = below * m.metal * std::max(0.05f, luminance(head * b.head + vec3(b.rest)));
    const float through = below * (1 - m.metal) * m.transmission;
    const float polish = below * (1 - m.metal) * (1 - m.transmission) * s.dielectric;
    const float matt = below * (1 - m.metal) * (1 - m.transmission) * (1 - s.dielectric) * std::max(0.05f, luminance(s.colour));
    const float sum = std::max(coat + sheen + metal + through + polish + matt, 1e-6f);
    s.chanceOfCoat = coat / sum;
    s.chanceOfSheen = sheen / sum;
    s.chanceOfShine = (metal + polish) / sum;
    s.chanceOfThrough = through / sum;
}

Scattered evaluate(const Scattering& s, const vec3& light) {
    Scattered out;
    if (light.z <= 0) return out;
    const Material& m = s.material;
    const float below = (1 - s.coatTakes) * (1 - s.sheenTakes);
    float density = 0, facet = 0;
    if (s.coatTakes > 0) {
        const float shine = shineOf(s.view, light, s.coatAlpha, density, facet);
        const OneBounce b = oneBounce(s.view.z, s.coatAlpha);
        const float all = std::max(b.head + b.rest, 1e-3f);
        out.share += vec3(m.coat * shine * schlick(vec3(coatHead), facet).x * (1 + coatHead * (1 - all) / all));
        out.density += s.chanceOfCoat * density;
    }
    const float matt = light.z / pi_v<float>;
    if (s.sheenTakes > 0) {
        out.share += m.sheenColour * (m.sheen * (1 - s.coatTakes) * Table::fibresOf(s.view, light, s.sheenAlpha) * light.z);
        out.density += s.chanceOfSheen * matt;
    }
    const float shine = shineOf(s.view, light, s.alpha, density, facet);
    const float opaque = (1 - m.metal) * (1 - m.transmission);
    if (m.metal > 0) out.share += schlick(metalHead(s), facet) * s.metalLoss * (below * m.metal * shine);
    if (opaque > 0) {
        out.share += schlick(vec3(headOf(m.ior)), facet) * s.dielectricLoss * (below * opaque * shine);
        out.share += s.colour * (below * opaque * (1 - s.dielectric) * matt);
    }
    out.density += s.chanceOfShine * density;
    out.density += std::max(0.0f, 1 - s.chanceOfCoat - s.chanceOfSheen - s.chanceOfShine - s.chanceOfThrough) * matt;
    return out;
}

WayOn sample(const Scattering& s, float choose, float u, float v) {
    const auto scatteredBack = [&](const vec3& direction) {
        WayOn way;
        way.direction = direction;
        const Scattered found = evaluate(s, direction);
        way.density = found.density;
        if (found.density > 0) way.share = found.share / found.density;
        return way;
    };
    const auto mirrored = [&](float alpha) {
        const vec3 h = visibleNormal(s.view, alpha, u, v);
        return scatteredBack(2 * glm::dot(s.view, h) * h - s.view);
    };
    if (choose < s.chanceOfCoat) return mirrored(s.coatAlpha);
    choose -= s.chanceOfCoat;
    if (choose < s.chanceOfSheen) return scatteredBack(cosineDirection(u, v));
    choose -= s.chanceOfSheen;
    if (choose < s.chanceOfShine) return mirrored(s.alpha);
    choose -= s.chanceOfShine;
    if (choose >= s.chanceOfThrough) return scatteredBack(cosineDirection(u, v));
    // What lets light through mirrors as much as each facet's angle says, and loses nothing between facets: a way that ends
    // on the wrong side is turned to the right one.
    const float below = (1 - s.coatTakes) * (1 - s.sheenTakes) * (1 - s.material.metal) * s.material.transmission;
    const vec3 h = visibleNormal(s.view, s.alpha, u, v);
    float bent = 0;
    const float eta = s.inside && s.material.body == MaterialBody::solid ? 1 / s.ior : s.ior;
    const float back = fresnelOf(std::max(glm::dot(s.view, h), 0.0f), eta, bent);
    const float within = choose / s.chanceOfThrough;
    WayOn way;
    if (within < back) {
        way.direction = 2 * glm::dot(s.view, h) * h - s.view;
        if (way.direction.z < 0) way.direction.z = -way.direction.z;
        way.share = vec3(1);
    } else {
        way = throughFacet(s, h);
        if (way.direction.z > 0) way.direction.z = -way.direction.z;
    }
    way.share *= below / s.chanceOfThrough;
    return way;
}

}  // namespace gswarm
