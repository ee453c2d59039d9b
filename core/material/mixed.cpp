// Two materials and what mixes them.
#include "core/material/material_kind.h"

namespace gswarm {
namespace {

struct Mixed {
    ObjectId first, second, value, gesture;
    MixedBy by;
    float amount;
    Across across;
    std::string picture;
};

Look look(const Mixed& m, const Response& shaped, const LookSource& source) {
    auto mix = std::make_shared<Mix>();
    mix->first = source.other(m.first);
    mix->second = source.other(m.second);
    mix->by = m.by;
    mix->amount = m.amount / 100;
    mix->response = shaped;
    if (m.by == MixedBy::namedValue || m.by == MixedBy::weight) {
        mix->column = m.by == MixedBy::weight ? source.weight(m.gesture) : source.column(m.value);
        // A gesture that the swarm does not have mixes nothing in; a value may be one of the vertices instead.
        if (mix->column < 0 && m.by == MixedBy::weight) mix->by = MixedBy::amount, mix->amount = 0;
        if (mix->column < 0 && m.by == MixedBy::namedValue) mix->by = MixedBy::vertex, mix->value = source.name(m.value);
    }
    mix->across = m.across;
    if (m.by == MixedBy::picture && !(mix->picture = source.picture(m.picture, PictureAs::numbers)))
        mix->by = MixedBy::amount, mix->amount = 0;
    return {mix->first.plain, std::move(mix), nullptr};
}

}  // namespace

const MaterialKind mixedMaterial = looks(
    DescribeMaterial<Mixed>("mixed", "Mixed", "Two materials, and what turns one into the other")
        .found("blend layer mask gradient fresnel")
        .reference("first", &Mixed::first, {ObjectType::material}, "What is seen at 0; its colour is the one gestures change")
        .reference("second", &Mixed::second, {ObjectType::material}, "What is seen at 1")
        .choice("by", &Mixed::by,
                {{"amount", "One amount"},
                 {"namedValue", "A named value"},
                 {"share", "The number's share"},
                 {"facing", "Facing you"},
                 {"weight", "A gesture's weight"},
                 {"across", "Along the shape"},
                 {"picture", "A picture"}},
                "What mixes: one number for all, a value each instance or vertex carries, its number from 0 to 1, how far it faces the "
                "camera, how "
                "strongly a gesture acts on it, or a place on the shape")
        .label("Mixed by")
        .number("amount", &Mixed::amount, 50, {0, 100}, "How much of the second")
        .unit("%")
        .hard(0, 100)
        .only("by", {"amount"})
        .reference(
            "value", &Mixed::value, {ObjectType::namedValue},
            "Which value of the instances, or of the vertices of a membrane, joined mesh or union; 0 is the first material, 1 the second")
        .only("by", {"namedValue"})
        .reference("gesture", &Mixed::gesture, {ObjectType::gesture},
                   "Whose weight: where it does not act is the first material, where it does the second")
        .only("by", {"weight"})
        .since(2)
        .choice("across", &Mixed::across, {{"u", "Around (u)"}, {"v", "Upward (v)"}, {"x", "Along X"}, {"y", "Along Y"}, {"z", "Along Z"}},
                "Which way over the shape goes from the first to the second: its UV, or the box around it")
        .standard("y")
        .only("by", {"across"})
        .since(3)
        .file("picture", &Mixed::picture, {".png", ".jpg", ".jpeg", ".exr", ".hdr"}, "By UV: black is the first material, white the second")
        .only("by", {"picture"})
        .since(3)
        .migrated({2, {}, nullptr})
        .migrated({3, {}, nullptr}),
    look);

}  // namespace gswarm
