// Light from far away: the sun, the sky, and the floor that catches shadows.
#include "core/light/light_kind.h"

namespace gswarm {

const LightKind sunAndSkyLight =
    DescribeLight<SunAndSky>("sunAndSky", "Sun and sky", "A key light, soft light from all around, and ground")
        .angle("sunHeight", &SunAndSky::sunHeight, 38, {-90, 90}, "Of the sun above the horizon")
        .angle("sunAround", &SunAndSky::sunAround, -50, {-180, 180}, "The way around to the sun, from the front")
        .number("sunStrength", &SunAndSky::sunStrength, 1.7, {0, 10}, "Brightness of the key light")
        .hard(0, 1e4)
        .angle("sunSize", &SunAndSky::sunSize, 3, {0.5, 20}, "Width of the light: wider gives softer shadows")
        .hard(0.01, 90)
        .colour("sunColour", &SunAndSky::sunColour, {1, 0.94, 0.84, 1}, "Colour of the key light")
        .opaque()
        .number("skyStrength", &SunAndSky::skyStrength, 0.55, {0, 4}, "Brightness of the soft light")
        .hard(0, 1e4)
        .colour("zenith", &SunAndSky::zenith, {0.42, 0.55, 0.62, 1}, "Colour of the soft light from above")
        .opaque()
        .colour("horizon", &SunAndSky::horizon, {0.86, 0.78, 0.68, 1}, "Colour of the soft light from the side")
        .opaque()
        .toggle("ground", &SunAndSky::ground, true, "A wide floor that catches shadows")
        .length("groundHeight", &SunAndSky::groundHeight, 0, {-5, 5}, "Height of the floor")
        .only("ground", {"on"})
        .colour("groundColour", &SunAndSky::groundColour, {0.16, 0.14, 0.12, 1}, "Colour of the floor")
        .only("ground", {"on"})
        .opaque()
        .migrated({2, {{"sunDirection.x", "sunHeight"}, {"sunDirection.y", "sunAround"}}, nullptr})
        .kind();

}  // namespace gswarm
