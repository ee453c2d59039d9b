// A picture, a clip or a camera on every instance: as a whole, or each its own part, each at its own moment.
#include "core/material/material_kind.h"

namespace gswarm {
namespace {

enum class ShownPart { whole, own };

struct Shown {
    ObjectId media;
    ShownPart part;
    ShownAlong along;
    int columns, rows;
    ShownMirrored mirrored;
    bool tinted;
    LaterBy later;
    float frames;
    ObjectId value, gesture;
    glm::vec4 colour;
    float roughness, metal, emission;
};

Look look(const Shown& s, const Response&, const LookSource& source) {
    Material m;
    m.colour = s.colour;
    m.roughness = s.roughness, m.metal = s.metal, m.emission = s.emission;
    ShownPictures as;
    as.later = s.later;
    as.frames = s.frames;
    if (s.later == LaterBy::namedValue) as.column = source.column(s.value);
    if (s.later == LaterBy::weight) as.column = source.weight(s.gesture);
    as.own = s.part == ShownPart::own;
    as.mirrored = s.mirrored;
    as.across = s.columns, as.down = s.rows;
    SurfacePictures pictures;
    pictures.shown = source.shown({s.media, as, s.along, s.tinted});
    return {m, nullptr, pictures.shown ? std::make_shared<const SurfacePictures>(std::move(pictures)) : nullptr};
}

}  // namespace

const MaterialKind shownMaterial = looks(
    DescribeMaterial<Shown>("shown", "Picture on each", "A picture, a clip or a camera on every instance: the whole, or each its own part")
        .found("image video clip mosaic texture screen display photo wall media")
        .reference("media", &Shown::media, {ObjectType::media}, "The picture, the numbered pictures, the clip or the camera")
        .label("Picture")
        .choice("part", &Shown::part, {{"whole", "The whole"}, {"own", "Its own part"}},
                "What each shows: the whole picture, or the part of it where it stands, so that all together show it")
        .label("Each shows")
        .choice("along", &Shown::along, {{"flat", "Their flattest way"}, {"x", "Along X"}, {"y", "Along Y, from above"}, {"z", "Along Z"}},
                "Which way the picture is laid over the homes to be cut into parts")
        .label("Laid")
        .whole("columns", &Shown::columns, 0, {0, 100}, "Parts from side to side; 0 for as many as stand side by side")
        .hard(0, 10000)
        .whole("rows", &Shown::rows, 0, {0, 100}, "Parts from top to bottom; 0 for as many as stand one above the other")
        .hard(0, 10000)
        .choice("mirrored", &Shown::mirrored,
                {{"no", "No"}, {"across", "Left and right"}, {"down", "Above and below"}, {"everySecond", "Every second one"}},
                "Whether it is mirrored on the instances")
        .toggle("tinted", &Shown::tinted, false,
                "Each is tinted by the mean of its own part of the picture, of which the brightest leaves it as it is")
        .label("Tinted by it")
        .choice("later", &Shown::later,
                {{"none", "All the same"},
                 {"number", "Each by some frames"},
                 {"share", "The number's share"},
                 {"namedValue", "A named value"},
                 {"weight", "A gesture's weight"}},
                "What says how much later than the first an instance sees it")
        .label("Later by")
        .number("frames", &Shown::frames, 1, {0, 50}, "From one instance to the next, or where what says it is 1; below 0 it is earlier")
        .unit("f")
        .hard(-1e5, 1e5)
        .only("later", {"number", "share", "namedValue", "weight"})
        .reference("value", &Shown::value, {ObjectType::namedValue}, "Which value of the instances, 0 to 1")
        .only("later", {"namedValue"})
        .reference("gesture", &Shown::gesture, {ObjectType::gesture}, "Whose weight")
        .only("later", {"weight"})
        .colour("colour", &Shown::colour, {1, 1, 1, 1}, "Multiplies the picture, until gestures colour the instances")
        .number("roughness", &Shown::roughness, 0.5, {0, 1}, "0 mirrors, 1 is chalk")
        .hard(0, 1)
        .number("metal", &Shown::metal, 0, {0, 1}, "0 for paper and paint; 1 for a print on bare metal")
        .hard(0, 1)
        .number("emission", &Shown::emission, 0, {0, 20}, "Brightness of its own light, nits, as of a screen; 0 for none")
        .hard(0, 1e6)
        .label("Glow"),
    look);

}  // namespace gswarm
