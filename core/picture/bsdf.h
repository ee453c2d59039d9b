#pragma once
#include <glm/vec3.hpp>

#include "core/material/material.h"
#include "core/picture/place_lanes.h"

/// How surfaces scatter light, sixteen places at a time. Layers from above: coat, bloom of fibres, then metal, or what is no metal:
/// its polish over what is scattered inside or let through.
/// GGX with visible normals (Heitz 2018), many bounces between facets by what one bounce loses (Turquin 2019), each layer
/// scaled by what those above it let through (Kulla and Conty Estevez 2017), fibres after Estevez and Kulla 2017.
/// The bits are the same on every processor.
namespace gswarm {

/// Surfaces at sixteen places, prepared for one direction of view each. Places that nothing is put at scatter nothing.
struct Scattering {
    VectorLanes normal;  ///< of shading, unit
    VectorLanes view;    ///< unit, away from the surface on the normal's side
    VectorLanes colour;  ///< of this place, linear
    NumberLanes metal, roughness, transmission, coat, coatRoughness, sheen, sheenRoughness;
    VectorLanes sheenColour;
    NumberLanes ior;     ///< with the colour parted that a path carries
    NumberLanes thin;    ///< 1 for what has no inside
    NumberLanes inside;  ///< 1 where the view is from inside a solid see-through thing

    /// A place as a material has it, but for normal, view, ior and inside.
    void put(int place, const Material& material);

    // Made by prepare().
    VectorLanes along, across;  ///< unit, perpendicular to the normal and each other
    VectorLanes within;         ///< the view by these and the normal
    NumberLanes alpha, coatAlpha, sheenAlpha;
    NumberLanes coatTakes, sheenTakes;     ///< what the upper layers keep from the rest
    NumberLanes dielectric;                ///< share of the polish of what is no metal
    VectorLanes metalLoss;                 ///< factors that give back what one bounce loses
    NumberLanes dielectricLoss, coatLoss;  ///< alike
    NumberLanes chanceOfCoat, chanceOfSheen, chanceOfShine, chanceOfThrough;
};

void prepare(Scattering& s);

/// Light that goes on toward the views of light that comes from `light`, unit vectors, times the cosine; and how likely sample() takes
/// that way. Only what is scattered back: what is let through comes from sample() alone.
struct Scattered {
    VectorLanes share;
    NumberLanes density;
};
void evaluate(const Scattering& s, const VectorLanes& light, Scattered& found);

/// Ways on, each taken by three numbers of 0 … 1.
struct WaysOn {
    VectorLanes direction;  ///< unit
    VectorLanes share;      ///< what of the light that comes from there goes on, divided by the density
    NumberLanes density;    ///< 0 where only this way could have found it
    NumberLanes through;    ///< 1 to the other side of the surface
};
void sample(const Scattering& s, const NumberLanes& choose, const NumberLanes& u, const NumberLanes& v, WaysOn& ways);

}  // namespace gswarm
