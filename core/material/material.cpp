#include "core/material/material.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <glm/exponential.hpp>

#include "core/shape/mesh.h"

namespace gswarm {

glm::vec3 swallowedBy(const Material& material) {
    if (material.attenuationDistance <= 0) return glm::vec3(0);
    return -glm::log(glm::clamp(material.attenuationColour, 1e-6f, 1.0f)) / material.attenuationDistance;
}

Material mixed(const Material& a, const Material& b, float share) {
    Material out = share < 0.5f ? a : b;
    const auto mixBy = [&](float by, auto Material::*number) { out.*number = glm::mix(a.*number, b.*number, by); };
    const auto mix = [&](auto Material::*number) { mixBy(share, number); };
    // How a layer is counts as much as there is of it: what has none says nothing of its colour.
    const auto shareOf = [&](float ofA, float ofB) {
        const float all = ofA * (1 - share) + ofB * share;
        return all > 0 ? ofB * share / all : share;
    };
    mix(&Material::colour), mix(&Material::metal), mix(&Material::roughness), mix(&Material::ior);
    // What stands for another colour has to be said before it can be mixed.
    const auto light = [](const Material& m) { return m.emissionColour == glm::vec3(0) ? glm::vec3(m.colour) : m.emissionColour; };
    if (a.emissionColour != b.emissionColour) out.emissionColour = glm::mix(light(a), light(b), shareOf(a.emission, b.emission));
    mix(&Material::emission);

    const auto through = [](const Material& m) { return m.body == MaterialBody::opaque ? 0.0f : m.transmission; };
    out.transmission = glm::mix(through(a), through(b), share);
    if (out.body == MaterialBody::opaque && out.transmission > 0) out.body = a.body == MaterialBody::opaque ? b.body : a.body;
    const float inside = shareOf(through(a), through(b));
    const Material& most = inside < 0.5f ? a : b;
    out.attenuationColour = most.attenuationColour, out.attenuationDistance = most.attenuationDistance;
    if (inside > 0 && inside < 1 && swallowedBy(a) != swallowedBy(b)) {
        out.attenuationDistance = std::max(a.attenuationDistance, b.attenuationDistance);
        out.attenuationColour = glm::exp(-glm::mix(swallowedBy(a), swallowedBy(b), inside) * out.attenuationDistance);
    }
    mixBy(inside, &Material::dispersion);

    mix(&Material::coat), mixBy(shareOf(a.coat, b.coat), &Material::coatRoughness);
    const float fibres = shareOf(a.sheen, b.sheen);
    mix(&Material::sheen), mixBy(fibres, &Material::sheenRoughness), mixBy(fibres, &Material::sheenColour);
    const float rim = shareOf(a.rim, b.rim);
    mix(&Material::rim), mixBy(rim, &Material::rimWidth), mixBy(rim, &Material::rimColour);
    out.rimOpacity = glm::mix(edgeOpacity(a), edgeOpacity(b), share);
    return out;
}

bool operator==(const Look& a, const Look& b) {
    const bool pictures = a.pictures && b.pictures ? *a.pictures == *b.pictures : a.pictures == b.pictures;
    return a.plain == b.plain && a.mix == b.mix && pictures;
}

namespace {

void addPictures(Material& plain, const SurfacePictures& pictures, const LookedAt& at) {
    const glm::vec2 uv = at.uv * pictures.repeats;
    if (pictures.shown) {
        const ShownPictures& shown = *pictures.shown;
        const ShownWhich which = whichOf(shown, at);
        const glm::vec3 light = lightOnSheet(shown, placeOnSheet(shown, which), at.uv) * tintOf(shown, which);
        plain.colour = glm::vec4(glm::vec3(plain.colour) * light, plain.colour.w);
    }
    if (pictures.colour) plain.colour = glm::vec4(glm::vec3(plain.colour) * lightAt(*pictures.colour, uv), plain.colour.w);
    if (pictures.roughness) plain.roughness = std::clamp(plain.roughness * numberAt(*pictures.roughness, uv), 0.0f, 1.0f);
    if (pictures.glow && plain.emission > 0) {
        // Light in its own colour is said as such, and stays dark where the picture is.
        const glm::vec3 own = plain.emissionColour == glm::vec3(0) ? glm::vec3(plain.colour) : plain.emissionColour;
        plain.emissionColour = own * lightAt(*pictures.glow, uv);
        if (plain.emissionColour == glm::vec3(0)) plain.emission = 0;
    }
}

Material found(const Look& look, const LookedAt& at, const glm::vec4* colour) {
    if (!look.mix) {
        Material plain = look.plain;
        if (colour) plain.colour = *colour;
        if (look.pictures) addPictures(plain, *look.pictures, at);
        return plain;
    }
    return mixed(found(look.mix->first, at, colour), found(look.mix->second, at, nullptr), mixAt(*look.mix, at));
}

}  // namespace

Material materialAt(const Look& look, const LookedAt& at) { return found(look, at, nullptr); }
Material materialAt(const Look& look, const LookedAt& at, const glm::vec4& colour) { return found(look, at, &colour); }

float mixAt(const Mix& mix, const LookedAt& at) {
    float driver = mix.amount;
    if (mix.by == MixedBy::namedValue || mix.by == MixedBy::weight) driver = at.named[mix.column];
    if (mix.by == MixedBy::vertex) driver = at.mesh ? numberAt(*at.mesh, mix.value, at.triangle, at.b, at.c) : 0;
    if (mix.by == MixedBy::share) driver = at.share;
    if (mix.by == MixedBy::facing) driver = at.facing;
    if (mix.by == MixedBy::picture) driver = numberAt(*mix.picture, at.uv);
    if (mix.by == MixedBy::across) {
        const float ways[] = {at.uv.x, at.uv.y, at.inBox.x, at.inBox.y, at.inBox.z};
        driver = ways[static_cast<int>(mix.across)];
    }
    return std::clamp(respondOne(mix.response, false, driver), 0.0f, 1.0f);
}

bool differsOverSurface(const Mix& mix) {
    return mix.by == MixedBy::facing || mix.by == MixedBy::across || mix.by == MixedBy::picture || mix.by == MixedBy::vertex;
}

const ShownPictures* shownBy(const Look& look) {
    if (look.mix) {
        const ShownPictures* first = shownBy(look.mix->first);
        return first ? first : shownBy(look.mix->second);
    }
    return look.pictures ? look.pictures->shown.get() : nullptr;
}

glm::vec2 bumpAt(const Look& look, const LookedAt& at) {
    if (look.mix) return glm::mix(bumpAt(look.mix->first, at), bumpAt(look.mix->second, at), mixAt(*look.mix, at));
    if (!look.pictures || !look.pictures->bump) return glm::vec2(0);
    return slopeAt(*look.pictures->bump, at.uv * look.pictures->repeats) * (look.pictures->bumpHeight * look.pictures->repeats);
}

bool hasBumps(const Look& look) {
    if (look.mix) return hasBumps(look.mix->first) || hasBumps(look.mix->second);
    return look.pictures && look.pictures->bump && look.pictures->bumpHeight != 0;
}

float rimPower(const Material& material) { return 16 * std::pow(0.05f, material.rimWidth); }

float rimAt(const Material& material, float facing) { return std::pow(std::clamp(1 - facing, 0.0f, 1.0f), rimPower(material)); }

bool seesThrough(const Look& look) {
    if (look.mix) return seesThrough(look.mix->first) || seesThrough(look.mix->second);
    const Material& m = look.plain;
    return (m.body != MaterialBody::opaque && m.transmission > 0) || (m.rim > 0 && m.rimOpacity < 1);
}

bool glows(const Look& look) { return look.mix ? glows(look.mix->first) || glows(look.mix->second) : look.plain.glows(); }

}  // namespace gswarm
