#include "core/scene/classes.h"

#include <array>

#include "core/formation/formation_kind.h"
#include "core/gesture/gesture_kind.h"
#include "core/gesture/response.h"
#include "core/gesture/stagger.h"
#include "core/pattern/pattern_kind.h"
#include "core/scene/object_kinds.h"
#include "core/shape/shape_kind.h"
#include "core/time/follow_through.h"
#include "core/zone/zone_kind.h"

namespace gswarm {

const std::vector<ObjectClass>& objectClasses() {
    static const std::vector<ObjectClass> classes = {
        {ObjectType::project, "project", "projects", "Project", {{"settings", "", Family::object, &projectKind}}, {}},
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
          {"namedValues", ObjectType::namedValue}}},
        {ObjectType::light, "light", "lights", "Light", {{"light", "", Family::object, &sunAndSkyKind}}, {}},
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
        {ObjectType::namedValue, "namedValue", "", "Named value", {{"value", "", Family::object, &namedValueKind}}, {}},
    };
    return classes;
}

const ObjectClass& classOf(ObjectType type) {
    for (const auto& c : objectClasses())
        if (c.type == type) return c;
    throw std::logic_error("no such class of object");
}

const std::vector<const Kind*>& kindsOf(Family family) {
    static const std::array<std::vector<const Kind*>, 8> kinds = {{
        {&projectKind, &poseKind, &mountKind, &hangKind, &swarmKind, &stockRuleKind, &displayKind, &standingKind, &orderKind, &stockKind,
         &railKind, &weaveKind, &namedValueKind, &sunAndSkyKind, &cameraKind, &followThroughKind},
        {&boxShape, &ballShape, &geodesicBallShape, &regularSolidShape, &tubeShape, &coneShape, &ringShape, &discShape, &cardShape,
         &lineShape, &pathShape, &circleShape, &helixShape, &letteringShape, &artworkShape, &meshFileShape, &clippedShape, &dualShape},
        {&gridFormation, &lineFormation, &ringFormation, &hexagonsFormation, &closePackingFormation, &goldenSpiralFormation,
         &alongCurveFormation, &elementsFormation, &randomOnMeshFormation, &evenlySpacedFormation, &cellsFormation, &scatterInMeshFormation,
         &looseFormation, &pointsFileFormation, &onSwarmFormation, &piecesFormation},
        {&steadyPattern, &numberPattern, &alongAxisPattern, &randomPattern, &noisePattern, &wavePattern, &distancePattern, &formulaPattern,
         &namedValuePattern},
        {&ballZone, &boxZone, &slabZone, &tubeZone, &coneZone, &ringZone, &nearCurveZone, &nearMeshZone, &insideMeshZone, &nearSwarmZone,
         &nearestZone, &chosenZone, &noiseZone, &formulaZone, &everywhereZone},
        {&changeGesture, &aimGesture, &makeRoomGesture, &snapGesture, &streamGesture, &travelGesture, &smoothGesture, &swingGesture},
        {&responseKind},
        {&staggerKind},
    }};
    return kinds[static_cast<std::size_t>(family)];
}

const Kind* findKind(Family family, std::string_view id) {
    for (const Kind* kind : kindsOf(family))
        if (kind->id == id) return kind;
    return nullptr;
}

std::string toText(Family family) {
    static const std::array<const char*, 8> names = {"object", "shape", "formation", "pattern", "zone", "gesture", "response", "stagger"};
    return names[static_cast<std::size_t>(family)];
}

}  // namespace gswarm
