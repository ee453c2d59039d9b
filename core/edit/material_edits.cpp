#include "core/edit/material_edits.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/edit/edit_parts.h"
#include "core/kinds/registry.h"
#include "core/material/material_kind.h"
#include "core/media/media_kind.h"
#include "core/resolve/references.h"

namespace gswarm {

using namespace edits;

namespace {

Value colour(double r, double g, double b, double a = 1) { return fixedNumbers({r, g, b, a}); }
Value number(double value) { return fixedNumbers({value}); }
Value choice(const char* id) { return std::string(id); }

/// The part and parameter that say which material something has.
const char* slotOf(ObjectId user) { return user.type() == ObjectType::stock ? "entry" : "display"; }

void refuseOthers(const Scene& scene, ObjectId user) {
    if (user.type() != ObjectType::stock && user.type() != ObjectType::shape)
        throw Error("“" + scene.at(user).name + "” has no material; stock and shapes have.");
}

}  // namespace

Object MaterialStart::make() const {
    Object made = standardObject(ObjectType::material, label, {shows ? &shownMaterial : &plainMaterial});
    Part& part = made.part("material");
    for (const auto& [parameter, value] : values) part.values[static_cast<std::size_t>(part.kind->indexOf(parameter))] = value;
    return made;
}

const std::vector<MaterialStart>& materialStarts() {
    static const std::vector<MaterialStart> starts = {
        {"clay", "Clay", "Plain and matt: forms before looks", "standard default", {}},
        {"brass",
         "Brass",
         "Warm bare metal, a little dull",
         "gold metal bronze",
         {{"colour", colour(0.86, 0.66, 0.33)}, {"metal", number(1)}, {"roughness", number(0.28)}}},
        {"verdigris",
         "Verdigris",
         "Copper long under water",
         "patina copper green",
         {{"colour", colour(0.36, 0.62, 0.55)},
          {"metal", number(0.25)},
          {"roughness", number(0.75)},
          {"velvety", true},
          {"sheen", number(0.35)},
          {"sheenColour", colour(0.6, 0.9, 0.8)}}},
        {"wetStone",
         "Wet stone",
         "Dark basalt under a film of water",
         "rock basalt rain",
         {{"colour", colour(0.2, 0.2, 0.21)},
          {"roughness", number(0.7)},
          {"coated", true},
          {"coat", number(0.85)},
          {"coatRoughness", number(0.08)}}},
        {"lacquer",
         "Lacquer",
         "Deep colour under polish",
         "car paint gloss enamel",
         {{"colour", colour(0.55, 0.07, 0.06)}, {"roughness", number(0.45)}, {"coated", true}, {"coatRoughness", number(0.02)}}},
        {"glass",
         "Glass",
         "Clear and polished",
         "transparent crystal",
         {{"colour", colour(1, 1, 1)},
          {"roughness", number(0)},
          {"body", choice("solid")},
          {"ior", number(1.5)},
          {"attenuationColour", colour(0.72, 0.92, 0.88)},
          {"attenuationDistance", number(1.2)}}},
        {"frostedGlass",
         "Frosted glass",
         "Lets light through and blurs it",
         "sandblasted milk ice",
         {{"colour", colour(0.96, 0.98, 1)},
          {"roughness", number(0.42)},
          {"body", choice("solid")},
          {"attenuationColour", colour(0.8, 0.93, 1)},
          {"attenuationDistance", number(1)}}},
        {"foil",
         "Foil",
         "Bright thin metal",
         "silver aluminium chrome mirror",
         {{"colour", colour(0.93, 0.94, 0.95)}, {"metal", number(1)}, {"roughness", number(0.12)}}},
        {"pearl",
         "Pearl",
         "Pale, with a bloom and a polish",
         "shell satin nacre",
         {{"colour", colour(0.93, 0.88, 0.86)},
          {"roughness", number(0.35)},
          {"coated", true},
          {"coat", number(0.6)},
          {"coatRoughness", number(0.2)},
          {"velvety", true},
          {"sheen", number(0.5)},
          {"sheenColour", colour(0.75, 0.85, 1)},
          {"sheenRoughness", number(0.45)}}},
        {"glowing",
         "Glowing",
         "Gives off light of its own colour",
         "neon lamp emission light",
         {{"colour", colour(1, 0.72, 0.36)}, {"roughness", number(0.6)}, {"glows", true}, {"emission", number(3)}}},
        {"ghost",
         "Rim-lit ghost",
         "Hardly there but for its edge",
         "fresnel hologram x-ray",
         {{"colour", colour(0.5, 0.8, 1, 0.06)},
          {"roughness", number(0.4)},
          {"rimLit", true},
          {"rim", number(2.5)},
          {"rimWidth", number(0.45)},
          {"rimOpacity", number(0.85)},
          {"rimColour", colour(0.55, 0.85, 1)}}},
        {"chalk",
         "Chalk",
         "White, without any shine",
         "matte plaster paper",
         {{"colour", colour(0.92, 0.91, 0.88)}, {"roughness", number(1)}}},
        {"velvet",
         "Velvet",
         "Dark with a bright bloom at the edge",
         "cloth fabric moss peach",
         {{"colour", colour(0.3, 0.06, 0.16)},
          {"roughness", number(0.9)},
          {"velvety", true},
          {"sheen", number(1)},
          {"sheenRoughness", number(0.35)},
          {"sheenColour", colour(0.95, 0.55, 0.7)}}},
        {"pictureWall",
         "Picture in parts",
         "Each shows its own part of a picture, clip or camera: all together show it",
         "mosaic tiles image video screen wall texture",
         {{"part", choice("own")}},
         true},
        {"liveMosaic",
         "Live mosaic",
         "Each shows the whole, a frame later than the one before, in the colour of its own part",
         "mosaic photo video clip camera delay tint",
         {{"tinted", true}, {"later", choice("number")}},
         true},
    };
    return starts;
}

Edit addMaterial(const Scene& scene, const MaterialStart& start) {
    Object made = start.make();
    made.name = freeName(scene, start.label);
    Edit edit{scene, "Add " + made.name, {}, made.id};
    if (start.shows) {
        const auto media = scene.all(ObjectType::media);
        const Edit camera = media.empty() ? addMedia(scene, simulatedCameraMedia) : Edit{scene, {}, {}, media.back()};
        edit.scene = camera.scene;
        setReference(made, "material", "media", camera.made);
    }
    insert(edit.scene, made);
    edit.scene.order.push_back(made.id);
    return edit;
}

ObjectId materialOf(const Scene& scene, ObjectId user) {
    if (user.type() != ObjectType::stock && user.type() != ObjectType::shape) return {};
    const ObjectId material = referenceOf(scene.at(user).part(slotOf(user)), "material");
    return scene.find(material) ? material : ObjectId{};
}

std::vector<ObjectId> materialsBehind(const Scene& scene, ObjectId material) {
    std::vector<ObjectId> out = everythingBehind(scene, {material});
    std::erase_if(out, [](ObjectId id) { return id.type() != ObjectType::material; });
    return out;
}

Edit useMaterial(const Scene& scene, ObjectId user, ObjectId material) {
    refuseOthers(scene, user);
    Edit edit{scene, scene.at(user).name + ": " + scene.at(material).name, {}, material};
    setReference(changed(edit.scene, user), slotOf(user), "material", material);
    return edit;
}

Edit addMaterialFor(const Scene& scene, ObjectId user, const MaterialStart& start) {
    refuseOthers(scene, user);
    const Edit added = addMaterial(scene, start);
    return useMaterial(added.scene, user, added.made);
}

Edit mixMaterial(const Scene& scene, ObjectId material) {
    const auto users = scene.referringTo(material);
    const auto& starts = materialStarts();
    const auto glowing = std::find_if(starts.begin(), starts.end(), [](const MaterialStart& s) { return s.id == "glowing"; });
    Edit edit = addMaterial(scene, *glowing);
    Object mixed = standardObject(ObjectType::material, freeName(edit.scene, scene.at(material).name + " mixed"), {&mixedMaterial});
    setReference(mixed, "material", "first", material);
    setReference(mixed, "material", "second", edit.made);
    insert(edit.scene, mixed);
    edit.scene.order.push_back(mixed.id);
    for (const ObjectId user : users)
        if (materialOf(scene, user) == material) setReference(changed(edit.scene, user), slotOf(user), "material", mixed.id);
    edit.label = "Mix " + scene.at(material).name;
    edit.made = mixed.id;
    return edit;
}

}  // namespace gswarm
