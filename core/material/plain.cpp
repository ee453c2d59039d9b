// One material: what it reflects, lets through and gives off by itself.
#include "core/material/material_kind.h"

namespace gswarm {
namespace {

struct Plain {
    glm::vec4 colour;
    float metal, roughness, ior;
    MaterialBody body;
    float transmission;
    glm::vec4 attenuationColour;
    float attenuationDistance, dispersion;
    bool glows;
    float emission;
    glm::vec4 emissionColour;
    bool coated;
    float coat, coatRoughness;
    bool velvety;
    float sheen, sheenRoughness;
    glm::vec4 sheenColour;
    bool rimLit;
    float rim, rimWidth, rimOpacity;
    glm::vec4 rimColour;
    bool pictured;
    std::string colourPicture, roughnessPicture, glowPicture, bumpPicture;
    float bumpHeight, repeats;
};

/// Null where there are none.
std::shared_ptr<const SurfacePictures> picturesOf(const Plain& p, const LookSource& source) {
    SurfacePictures pictures{source.picture(p.colourPicture, PictureAs::light),
                             source.picture(p.roughnessPicture, PictureAs::numbers),
                             p.glows ? source.picture(p.glowPicture, PictureAs::light) : nullptr,
                             source.picture(p.bumpPicture, PictureAs::numbers),
                             p.bumpHeight,
                             p.repeats,
                             nullptr,
                             {}};
    if (!pictures.all()) return nullptr;
    return std::make_shared<const SurfacePictures>(std::move(pictures));
}

Look look(const Plain& p, const Response&, const LookSource& source) {
    Material m;
    m.colour = p.colour;
    m.metal = p.metal, m.roughness = p.roughness, m.ior = p.ior;
    m.body = p.body;
    m.transmission = p.body == MaterialBody::opaque ? 0 : p.transmission;
    if (p.body == MaterialBody::solid) {
        m.attenuationColour = glm::vec3(p.attenuationColour);
        m.attenuationDistance = p.attenuationDistance;
        m.dispersion = p.dispersion;
    }
    if (p.glows) m.emission = p.emission, m.emissionColour = glm::vec3(p.emissionColour);
    if (p.coated) m.coat = p.coat, m.coatRoughness = p.coatRoughness;
    if (p.velvety) m.sheen = p.sheen, m.sheenRoughness = p.sheenRoughness, m.sheenColour = glm::vec3(p.sheenColour);
    if (p.rimLit) m.rim = p.rim, m.rimWidth = p.rimWidth, m.rimColour = glm::vec3(p.rimColour), m.rimOpacity = p.rimOpacity;
    return {m, nullptr, p.pictured ? picturesOf(p, source) : nullptr};
}

const std::vector<std::string> on{"on"};
const std::vector<std::string> pictureFiles{".png", ".jpg", ".jpeg", ".exr", ".hdr"};

}  // namespace

const MaterialKind plainMaterial = looks(
    DescribeMaterial<Plain>("plain", "Plain", "Paint, stone, metal, glass, cloth or what glows: one material all over")
        .found("shader surface gloss chrome gold copper brass glass plastic")
        .colour("colour", &Plain::colour, {0.78, 0.74, 0.66, 1}, "Colour before any gesture; of a metal, what it mirrors in")
        .number("metal", &Plain::metal, 0, {0, 1}, "0 for paint, stone and skin; 1 for bare metal")
        .hard(0, 1)
        .number("roughness", &Plain::roughness, 0.5, {0, 1}, "0 mirrors, 1 is chalk")
        .hard(0, 1)
        .number("ior", &Plain::ior, 1.5, {1, 2.5}, "Index of refraction of what is no metal: water 1.33, glass 1.5, diamond 2.42")
        .hard(1, 4)
        .label("Refraction")
        .choice("body", &Plain::body, {{"opaque", "Opaque"}, {"solid", "See-through"}, {"thin", "See-through, thin"}},
                "Whether light goes through; thin things such as leaves and soap skin bend none")
        .number("transmission", &Plain::transmission, 1, {0, 1}, "Share of the light that goes through instead of being scattered back")
        .hard(0, 1)
        .only("body", {"solid", "thin"})
        .colour("attenuationColour", &Plain::attenuationColour, {1, 1, 1, 1}, "Colour of white light after the distance below")
        .opaque()
        .only("body", {"solid"})
        .label("Colour inside")
        .length("attenuationDistance", &Plain::attenuationDistance, 0, {0, 2}, "How far light goes until it has that colour; 0 is clear")
        .hard(0, 1e6)
        .only("body", {"solid"})
        .label("After")
        .number("dispersion", &Plain::dispersion, 0, {0, 1}, "How far colours part: glass 0.3, diamond 0.36, more than nature beyond 0.6")
        .hard(0, 4)
        .only("body", {"solid"})
        .toggle("glows", &Plain::glows, false, "Gives off light of its own")
        .number("emission", &Plain::emission, 4, {0, 20}, "Brightness of its own light, nits; white paper in the sun has about 1")
        .hard(0, 1e6)
        .only("glows", on)
        .label("Brightness")
        .colour("emissionColour", &Plain::emissionColour, {0, 0, 0, 1}, "Colour of its light; black is the colour each instance has")
        .opaque()
        .only("glows", on)
        .label("Light")
        .toggle("coated", &Plain::coated, false, "A clear layer of lacquer over it")
        .number("coat", &Plain::coat, 1, {0, 1}, "How much of it the layer covers")
        .hard(0, 1)
        .only("coated", on)
        .number("coatRoughness", &Plain::coatRoughness, 0.05, {0, 1}, "0 is polished, 1 is dull")
        .hard(0, 1)
        .only("coated", on)
        .toggle("velvety", &Plain::velvety, false, "A bloom of fine fibres, as on velvet, moss and peaches")
        .number("sheen", &Plain::sheen, 0.6, {0, 1}, "How strong the bloom is")
        .hard(0, 1)
        .only("velvety", on)
        .number("sheenRoughness", &Plain::sheenRoughness, 0.3, {0.05, 1}, "0 at the edge alone, 1 all over")
        .hard(0.05, 1)
        .only("velvety", on)
        .colour("sheenColour", &Plain::sheenColour, {1, 1, 1, 1}, "Colour of the fibres")
        .opaque()
        .only("velvety", on)
        .toggle("rimLit", &Plain::rimLit, false, "Shines where it is seen at a grazing angle")
        .number("rim", &Plain::rim, 2, {0, 10}, "Brightness of the edge, nits")
        .hard(0, 1e6)
        .only("rimLit", on)
        .label("Edge")
        .number("rimWidth", &Plain::rimWidth, 0.4, {0, 1}, "0 is a hair line, 1 reaches far in")
        .hard(0, 1)
        .only("rimLit", on)
        .label("Edge width")
        .number("rimOpacity", &Plain::rimOpacity, 1, {0, 1}, "Opacity at the edge; facing you it has that of its colour")
        .hard(0, 1)
        .only("rimLit", on)
        .label("Edge opacity")
        .colour("rimColour", &Plain::rimColour, {1, 1, 1, 1}, "Colour of the edge")
        .opaque()
        .only("rimLit", on)
        .label("Edge colour")
        .toggle("pictured", &Plain::pictured, false, "Pictures all over the surface, as its UV lay them")
        .label("Pictures")
        .since(2)
        .file("colourPicture", &Plain::colourPicture, pictureFiles, "Multiplies the colour of each instance")
        .only("pictured", on)
        .label("On colour")
        .since(2)
        .file("roughnessPicture", &Plain::roughnessPicture, pictureFiles,
              "Multiplies the roughness: black mirrors, white leaves it as it is")
        .only("pictured", on)
        .label("On roughness")
        .since(2)
        .file("glowPicture", &Plain::glowPicture, pictureFiles, "Multiplies the light it gives: black is dark")
        .only("pictured", on)
        .only("glows", on)
        .label("On glow")
        .since(2)
        .file("bumpPicture", &Plain::bumpPicture, pictureFiles, "Bright is high: the surface is lit as if it had such bumps")
        .only("pictured", on)
        .label("Bumps")
        .since(2)
        .length("bumpHeight", &Plain::bumpHeight, 0.02, {-0.1, 0.1},
                "From black to white, in the size of the shape; below 0 turns it inside out")
        .hard(-1e3, 1e3)
        .only("pictured", on)
        .since(2)
        .number("repeats", &Plain::repeats, 1, {1, 16}, "How often the pictures come in each direction")
        .hard(0.01, 1000)
        .only("pictured", on)
        .since(2)
        .migrated({2, {}, nullptr}),
    look);

}  // namespace gswarm
