#include "live/look_uniforms.h"

#include <algorithm>
#include <glm/common.hpp>
#include <string>

namespace gswarm::live {
namespace {

void setMix(Program& program, const Mix* mix) {
    const bool over = mix && differsOverSurface(*mix);
    program.set("mixOf", !over                         ? glm::vec3(0)
                         : mix->by == MixedBy::facing  ? glm::vec3(1, 0, 0)
                         : mix->by == MixedBy::picture ? glm::vec3(0, 0, 1)
                                                       : glm::vec3(0, 1, 0));
    // What mixes is known only there; the response comes as a table.
    float table[17] = {};
    for (int k = 0; over && k < 17; ++k) table[k] = std::clamp(respondOne(mix->response, false, static_cast<float>(k) / 16), 0.0f, 1.0f);
    program.set("mixTable", std::span<const float>(table));
}

void setPictures(Program& program, const DrawnLook& drawn, const Mix* mix, Textures& textures, int unit) {
    glm::vec4 pictured[2];
    for (int k = 0; k < 2; ++k) {
        static const SurfacePictures none;
        const Look& look = k == 0 ? *drawn.first : *drawn.second;
        const SurfacePictures& pictures = look.pictures ? *look.pictures : none;
        pictured[k] = {pictures.repeats, pictures.bump ? pictures.bumpHeight : 0.0f, 0, 0};
        const std::pair<const char*, const std::shared_ptr<const FloatPicture>*> all[] = {{"colourPicture", &pictures.colour},
                                                                                          {"roughPicture", &pictures.roughness},
                                                                                          {"glowPicture", &pictures.glow},
                                                                                          {"bumpPicture", &pictures.bump}};
        for (const auto& [name, picture] : all) {
            textures.bind(*picture, unit);
            program.set((name + ("[" + std::to_string(k) + "]")).c_str(), unit++);
        }
    }
    program.set("pictured", std::span<const glm::vec4>(pictured));
    textures.bind(mix ? mix->picture : nullptr, unit);
    program.set("mixPicture", unit);
}

}  // namespace

DrawnLook drawnOf(const Look& look) {
    const auto outermost = [](const Look& of) {
        const Look* found = &of;
        while (found->mix) found = &found->mix->first;
        return found;
    };
    const Look* first = outermost(look);
    return {first, look.mix ? outermost(look.mix->second) : first};
}

bool hasPictures(const Look& look) {
    const DrawnLook drawn = drawnOf(look);
    const auto all = [](const Look& one) { return one.pictures && one.pictures->all(); };
    return all(*drawn.first) || all(*drawn.second) || (look.mix && look.mix->picture);
}

const ShownPictures* shownOn(const Look& look) {
    const DrawnLook drawn = drawnOf(look);
    const ShownPictures* first = shownBy(*drawn.first);
    return first ? first : shownBy(*drawn.second);
}

bool swallows(const Material& material) {
    return material.body == MaterialBody::solid && material.transmission > 0 && swallowedBy(material) != glm::vec3(0);
}

void setLook(Program& program, const Look& look, Textures& textures, int unit) {
    const DrawnLook drawn = drawnOf(look);
    const Material materials[2] = {drawn.first->plain, drawn.second->plain};
    const auto both = [&](const char* name, auto of) {
        const glm::vec4 values[2] = {of(materials[0]), of(materials[1])};
        program.set(name, std::span<const glm::vec4>(values));
    };
    both("surface", [](const Material& m) {
        // What bends light shows more of itself.
        const float clear = m.body == MaterialBody::opaque ? 0.0f : m.transmission * (m.body == MaterialBody::solid ? 0.8f : 1.0f);
        return glm::vec4(m.metal, m.roughness, clear, m.emissionColour == glm::vec3(0) ? m.emission : 0);
    });
    both("glow", [](const Material& m) { return glm::vec4((m.emissionColour * m.emission), 0); });
    both("layers", [](const Material& m) { return glm::vec4(m.coat, m.coatRoughness, m.sheen, m.sheenRoughness); });
    both("fibres", [](const Material& m) { return glm::vec4(m.sheenColour * m.sheen, 0); });
    // What has no rim, or no inside, says nothing of how it is.
    const auto other = [&](const Material& m) -> const Material& { return materials[&m == &materials[0] ? 1 : 0]; };
    both("rim", [&](const Material& m) { return glm::vec4(m.rimColour * m.rim, rimPower(m.rim > 0 ? m : other(m))); });
    both("swallowed", [&](const Material& m) {
        const Material& has = m.body == MaterialBody::opaque ? other(m) : m;
        return glm::vec4(swallows(has) ? swallowedBy(has) : glm::vec3(0), 0);
    });
    both("edge", [&](const Material& m) { return glm::vec4(m.rim > 0 || other(m).rim > 0 ? edgeOpacity(m) : -1, 0, 0, 0); });
    program.set("secondColour", materials[1].colour);
    setMix(program, look.mix.get());
    if (const ShownPictures* shown = shownOn(look)) {
        textures.bind(shown->sheet, unit);
        program.set("sheet", unit++);
        program.set("sheetOn", glm::vec2(shownBy(*drawn.first) == shown, shownBy(*drawn.second) == shown));
    }
    if (hasPictures(look)) setPictures(program, drawn, look.mix.get(), textures, unit);
}

void setBox(Program& program, const Look& look, const glm::vec3& low, const glm::vec3& size) {
    if (!look.mix || (look.mix->by != MixedBy::across && look.mix->by != MixedBy::vertex)) return;
    program.set("acrossNumber", look.mix->by == MixedBy::vertex ? 1.0f : 0.0f);
    if (look.mix->by == MixedBy::vertex) {
        program.set("acrossUv", glm::vec2(0));
        program.set("acrossBox", glm::vec4(0));
        return;
    }
    const Across across = look.mix->across;
    const bool flat = across == Across::u || across == Across::v;
    program.set("acrossUv", flat ? (across == Across::u ? glm::vec2(1, 0) : glm::vec2(0, 1)) : glm::vec2(0));
    glm::vec4 box(0);
    if (!flat) {
        const int axis = static_cast<int>(across) - static_cast<int>(Across::x);
        const float wide = std::max(size[axis], 1e-20f);
        box[axis] = 1 / wide;
        box.w = -low[axis] / wide;
    }
    program.set("acrossBox", box);
}

}  // namespace gswarm::live
