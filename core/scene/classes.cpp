#include "core/scene/classes.h"

#include <stdexcept>

#include "core/scene/object_kinds.h"

namespace gswarm {

const std::vector<ObjectClass>& objectClasses() {
    static const std::vector<ObjectClass> classes = {
        {ObjectType::project,
         "project",
         "projects",
         "Project",
         {{"settings", "", Family::object, &projectKind}, {"after", "after-", Family::object, &afterKind}},
         {}},
        {ObjectType::shape,
         "shape",
         "shapes",
         "Shape",
         {{"maker", "", Family::shape, nullptr}, {"display", "display-", Family::object, &displayKind}},
         {}},
        {ObjectType::zone,
         "zone",
         "zones",
         "Zone",
         {{"place", "", Family::object, &poseKind}, {"form", "", Family::zone, nullptr}, {"hang", "hang-", Family::object, &hangKind}},
         {}},
        {ObjectType::gesture,
         "gesture",
         "gestures",
         "Gesture",
         {{"change", "", Family::gesture, nullptr},
          {"pattern", "pattern-", Family::pattern, nullptr},
          {"where", "where-", Family::response, nullptr},
          {"shaped", "shaped-", Family::response, nullptr},
          {"when", "when-", Family::stagger, nullptr},
          {"follow", "follow-", Family::object, &followThroughKind}},
         {{"weave", ObjectType::weave}}},
        {ObjectType::swarm,
         "swarm",
         "swarms",
         "Swarm",
         {{"place", "", Family::object, &swarmKind},
          {"stockRule", "stock-rule-", Family::object, &stockRuleKind},
          {"stockPattern", "stock-pattern-", Family::pattern, nullptr},
          {"hang", "hang-", Family::object, &hangKind}},
         {{"formations", ObjectType::formation},
          {"stock", ObjectType::stock},
          {"rail", ObjectType::rail},
          {"namedValues", ObjectType::namedValue},
          {"symmetries", ObjectType::symmetry}}},
        {ObjectType::material,
         "material",
         "materials",
         "Material",
         {{"material", "", Family::material, nullptr}, {"shaped", "shaped-", Family::response, nullptr}},
         {}},
        {ObjectType::media, "media", "media", "Media", {{"media", "", Family::media, nullptr}}, {}},
        {ObjectType::sound,
         "sound",
         "sounds",
         "Sound",
         {{"sound", "", Family::sound, nullptr}, {"laid", "laid-", Family::object, &soundLaidKind}},
         {}},
        {ObjectType::light,
         "light",
         "lights",
         "Light",
         {{"light", "", Family::light, nullptr}, {"hang", "hang-", Family::object, &hangKind}},
         {}},
        {ObjectType::camera,
         "camera",
         "cameras",
         "Camera",
         {{"camera", "", Family::object, &cameraKind}, {"hang", "hang-", Family::object, &hangKind}},
         {}},
        {ObjectType::mount,
         "mount",
         "mounts",
         "Mount",
         {{"place", "", Family::object, &mountKind}, {"hang", "hang-", Family::object, &hangKind}},
         {}},
        {ObjectType::group, "group", "groups", "Group", {}, {}},
        {ObjectType::formation,
         "formation",
         "",
         "Formation",
         {{"formation", "", Family::formation, nullptr},
          {"standing", "standing-", Family::object, &standingKind},
          {"order", "order-", Family::object, &orderKind}},
         {}},
        {ObjectType::stock, "stock", "", "Stock", {{"entry", "", Family::object, &stockKind}}, {}},
        {ObjectType::rail, "rail", "", "Rail entry", {{"entry", "", Family::object, &railKind}}, {}},
        {ObjectType::weave, "weave", "", "Weave entry", {{"entry", "", Family::object, &weaveKind}}, {{"group", ObjectType::weave}}},
        {ObjectType::symmetry, "symmetry", "", "Symmetry", {{"symmetry", "", Family::symmetry, nullptr}}, {}},
        {ObjectType::namedValue, "namedValue", "", "Named value", {{"value", "", Family::object, &namedValueKind}}, {}},
    };
    return classes;
}

const ObjectClass& classOf(ObjectType type) {
    for (const auto& c : objectClasses())
        if (c.type == type) return c;
    throw std::logic_error("no such class of object");
}

}  // namespace gswarm
