// What happens to a picture after its light was gathered.
#include "core/scene/describe.h"
#include "core/scene/object_kinds.h"

namespace gswarm {

const Kind afterKind =
    Describe<After, Kind>(Family::object, "after", "What comes after", "Background, fog, lines and bloom of every picture")
        .found("post effects compositing glow outline toon mist depth")
        .choice("background", &After::background,
                {{"colour", "Colour"},
                 {"gradient", "Gradient"},
                 {"surroundings", "Surroundings"},
                 {"picture", "Picture"},
                 {"transparent", "Transparent"}},
                "What is behind everything: sky and surroundings as they light the scene, or something else; transparent pictures have an "
                "alpha channel")
        .file("backgroundPicture", &After::backgroundPicture, {".exr", ".hdr", ".png", ".jpg", ".jpeg"},
              "A picture in the project's folder; it fills the whole width or height, and what is beyond is cut off")
        .label("Picture")
        .only("background", {"picture"})
        .since(2)
        .colour("above", &After::above, {0.09, 0.1, 0.13, 1}, "Colour of the upper edge; the project's background is that of the lower")
        .opaque()
        .only("background", {"gradient"})
        .toggle("fog", &After::fog, false, "Far things fade into a colour")
        .colour("fogColour", &After::fogColour, {0.055, 0.06, 0.07, 1}, "Colour of the fog")
        .opaque()
        .only("fog", {"on"})
        .length("fogStart", &After::fogStart, 4, {0, 50}, "Nearer than this there is no fog")
        .hard(0, 1e6)
        .only("fog", {"on"})
        .length("fogDepth", &After::fogDepth, 12, {0.5, 100}, "Behind where it begins, after so much 63 % is fog")
        .hard(0.01, 1e6)
        .only("fog", {"on"})
        .choice("lines", &After::lines, {{"none", "None"}, {"over", "Over it"}, {"alone", "Alone"}},
                "Draws the edges of things as lines: over the picture, or alone over the background")
        .colour("lineColour", &After::lineColour, {0.85, 0.68, 0.36, 1}, "Colour of the lines, with their opacity")
        .only("lines", {"over", "alone"})
        .number("lineStrength", &After::lineStrength, 1, {0, 20}, "Brightness of the lines: above 1 they glow with bloom")
        .hard(0, 1e4)
        .only("lines", {"over", "alone"})
        .number("lineWidth", &After::lineWidth, 1.5, {0.5, 8}, "Width of the lines, in pixels of the project's own size of pictures")
        .unit("px")
        .hard(0.2, 64)
        .only("lines", {"over", "alone"})
        .angle("lineCrease", &After::lineCrease, 30, {5, 90}, "Bends sharper than this are drawn too, not only outlines")
        .hard(1, 180)
        .only("lines", {"over", "alone"})
        .number("bloom", &After::bloom, 0, {0, 30}, "Share of all light that spreads around what is bright, as in a lens")
        .unit("%")
        .hard(0, 100)
        .number("bloomSize", &After::bloomSize, 12, {1, 50}, "How far the widest of it reaches, in percent of the picture's height")
        .unit("%")
        .hard(0.1, 100)
        .number("vignette", &After::vignette, 0, {0, 60}, "Light that the picture's corners lose")
        .unit("%")
        .hard(0, 100)
        .number("grain", &After::grain, 0, {0, 10}, "Fine unevenness as of film, in percent of white")
        .unit("%")
        .hard(0, 100)
        .migrated({2, {}, nullptr})
        .kind();

}  // namespace gswarm
