#pragma once
#include <glm/vec3.hpp>

#include "core/material/material.h"

/// How a surface scatters light. Directions are unit vectors in the frame of the shading normal, which is +Z; `view` and `light`
/// point away from the surface. Layers from above: coat, bloom of fibres, then metal, or what is no metal: its polish over
/// what is scattered inside or let through.
/// GGX with visible normals (Heitz 2018), many bounces between facets by what one bounce loses (Turquin 2019), each layer
/// scaled by what those above it let through (Kulla and Conty Estevez 2017), fibres after Estevez and Kulla 2017.
namespace gswarm {

/// A surface at one place, prepared for one direction of view.
struct Scattering {
    Material material;
    glm::vec3 colour;     ///< of this place, linear
    glm::vec3 view{0};    ///< z above 0
    bool inside = false;  ///< the view is from inside a solid see-through thing
    float ior = 1.5f;     ///< with the colour parted that a path carries

    // Made by prepare().
    float alpha = 0, coatAlpha = 0, sheenAlpha = 0;
    float coatTakes = 0, sheenTakes = 0;        ///< what the upper layers keep from the rest
    float dielectric = 0;                       ///< share of the polish of what is no metal
    glm::vec3 metalLoss{1}, dielectricLoss{1};  ///< factors that give back what one bounce loses
    float chanceOfCoat = 0, chanceOfSheen = 0, chanceOfShine = 0, chanceOfThrough = 0;
};

void prepare(Scattering& s);

/// Light that goes on toward `view` of light that comes from `light`, times the cosine; and how likely sample() takes that way.
/// Only what is scattered back: what is let through comes from sample() alone.
struct Scattered {
    glm::vec3 share{0};
    float density = 0;
};
Scattered evaluate(const Scattering& s, const glm::vec3& light);

/// A way on, taken by three numbers of 0 … 1.
struct WayOn {
    glm::vec3 direction{0};
    glm::vec3 share{0};    ///< what of the light that comes from there goes on, divided by the density
    float density = 0;     ///< 0 where only this way could have found it
    bool through = false;  ///< to the other side of the surface
    bool parts = false;    ///< bends each colour its own way
};
WayOn sample(const Scattering& s, float choose, float u, float v);

/// What microfacets of full reflectance send back in one bounce to a view at that cosine, and how that splits for Schlick's
/// Fresnel: `head` counts with the reflectance at the head, `rest` without. Tabulated once.
struct OneBounce {
    float head, rest;
};
OneBounce oneBounce(float cosine, float alpha);

/// Two unit vectors perpendicular to n and each other (Duff et al. 2017).
void basis(const glm::vec3& n, glm::vec3& a, glm::vec3& b);

}  // namespace gswarm
