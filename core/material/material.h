#pragma once
#include <glm/vec3.hpp>
#include <glm/vec4.hpp>
#include <memory>
#include <string>

#include "core/material/shown_pictures.h"
#include "core/material/surface_pictures.h"
#include "core/response/response.h"

namespace gswarm {

/// Whether light goes into a surface, and whether there is an inside that it goes through.
enum class MaterialBody { opaque, solid, thin };

/// How a surface looks. Colours are linear light. Names and meaning are those of glTF 2.0 and its ratified extensions.
struct Material {
    glm::vec4 colour{0.571f, 0.507f, 0.392f, 1};  ///< with opacity; an instance's own colour stands in its place
    float metal = 0, roughness = 0.5f;
    float ior = 1.5f;  ///< index of refraction of what is no metal

    float emission = 0;           ///< nits
    glm::vec3 emissionColour{0};  ///< black stands for the surface's own colour

    MaterialBody body = MaterialBody::opaque;
    float transmission = 0;  ///< share of the light that goes in and comes out on the other side
    glm::vec3 attenuationColour{1};
    float attenuationDistance = 0;  ///< metres after which white light has that colour; 0 for clear
    float dispersion = 0;           ///< 20 divided by the Abbe number

    float coat = 0, coatRoughness = 0;
    float sheen = 0, sheenRoughness = 0.3f;
    glm::vec3 sheenColour{1};

    float rim = 0;          ///< nits of what grazes
    float rimWidth = 0.5f;  ///< 0 only the outermost edge, 1 nearly all of it
    glm::vec3 rimColour{1};
    float rimOpacity = 1;  ///< opacity at the edge; that of the colour counts where it faces the camera

    bool operator==(const Material&) const = default;
    bool glows() const { return emission > 0 || rim > 0; }
};

/// What its inside takes of each colour in a metre: light falls by e to the power of that.
glm::vec3 swallowedBy(const Material& material);
/// How opaque it is where it is seen edge on.
inline float edgeOpacity(const Material& m) { return m.rim > 0 ? m.rimOpacity : m.colour.w; }

/// The mix of two materials: all numbers, and what tells how a layer, the inside or the light of both is by how much there is of it.
Material mixed(const Material& a, const Material& b, float share);

struct Mesh;
struct Mix;

/// A material as the surfaces of a swarm or a shape have it: plain, or mixed from two looks.
struct Look {
    Material plain;                                   ///< of a mixed one: its first, which gives the instances their colour
    std::shared_ptr<const Mix> mix;                   ///< null for a plain one
    std::shared_ptr<const SurfacePictures> pictures;  ///< of a plain one; null for none

    /// Whether it is the same wherever it is seen.
    bool constant() const { return !mix && !pictures; }
};

enum class MixedBy { amount, namedValue, share, facing, weight, across, picture, vertex };
/// Ways over a shape, 0 … 1: of its UV, or of the box around it.
enum class Across { u, v, x, y, z };

struct Mix {
    Look first, second;
    MixedBy by = MixedBy::amount;
    float amount = 0.5f;
    int column = 0;     ///< of the instance's numbers, where a named value or a gesture's weight mixes
    std::string value;  ///< the name of the mesh's numbers, where its vertices mix
    Across across = Across::y;
    std::shared_ptr<const FloatPicture> picture;  ///< of numbers, by UV; null where another thing mixes
    Response response;
};

bool operator==(const Look& a, const Look& b);

/// The most named values and weights that may mix the materials of one swarm.
inline constexpr int mostMixColumns = 4;

/// Where a look is asked for.
struct LookedAt {
    float facing = 1;  ///< cosine between the normal and the view, 0 … 1
    float share = 0;   ///< the instance's number divided by the count
    int number = 0;    ///< and the number itself
    std::uint32_t row = 0;
    float named[mostMixColumns] = {};
    glm::vec2 uv{0};
    glm::vec3 inBox{0.5f};  ///< 0 … 1 over the box around the mesh
    const Mesh* mesh = nullptr;
    std::uint32_t triangle = 0;  ///< of the mesh, and where on it: (1 − b − c, b, c) of its corners
    float b = 0, c = 0;
};
Material materialAt(const Look& look, const LookedAt& at);
/// The same of an instance, whose colour stands in the place of the first material's.
Material materialAt(const Look& look, const LookedAt& at, const glm::vec4& colour);
/// The share of the second material there.
float mixAt(const Mix& mix, const LookedAt& at);
/// Whether that differs over the surface of one instance.
bool differsOverSurface(const Mix& mix);
/// What its instances show each of their own: of a mix, of the first that has it; null for none.
const ShownPictures* shownBy(const Look& look);
/// How the height of its surface grows along u and v, metres in the size of the shape.
glm::vec2 bumpAt(const Look& look, const LookedAt& at);
bool hasBumps(const Look& look);
/// The power of the grazing that a rim is.
float rimPower(const Material& material);
/// How far a place belongs to the rim, 0 … 1, by the cosine between its normal and the view.
float rimAt(const Material& material, float facing);

/// Whether any of its materials is see-through beside the colour's opacity, or gives light.
bool seesThrough(const Look& look);
bool glows(const Look& look);

}  // namespace gswarm
