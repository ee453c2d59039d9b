#include "core/kinds/registry.h"

#include <array>

#include "core/force/force_kind.h"
#include "core/formation/formation_kind.h"
#include "core/gesture/gesture_kind.h"
#include "core/gesture/stagger.h"
#include "core/light/light_kind.h"
#include "core/material/material_kind.h"
#include "core/media/media_kind.h"
#include "core/pattern/pattern_kind.h"
#include "core/response/response.h"
#include "core/scene/object_kinds.h"
#include "core/shape/shape_kind.h"
#include "core/sound/sound_kind.h"
#include "core/symmetry/symmetry_kind.h"
#include "core/zone/zone_kind.h"

namespace gswarm {

const std::vector<const Kind*>& kindsOf(Family family) {
    static const std::array<std::vector<const Kind*>, 14> kinds = {{
        {&projectKind, &afterKind, &poseKind, &mountKind, &hangKind, &swarmKind, &stockRuleKind, &displayKind, &standingKind, &orderKind,
         &stockKind, &railKind, &weaveKind, &namedValueKind, &cameraKind, &followThroughKind, &soundLaidKind, &soundHeardKind},
        {&boxShape,        &ballShape,      &geodesicBallShape, &regularSolidShape, &tubeShape,     &coneShape,  &ringShape,
         &discShape,       &cardShape,      &lineShape,         &pathShape,         &circleShape,   &helixShape, &letteringShape,
         &artworkShape,    &meshFileShape,  &clippedShape,      &dualShape,         &revolvedShape, &sweptShape, &loftedShape,
         &subdividedShape, &thickenedShape, &wireFrameShape,    &membraneShape,     &joinedShape,   &unitedShape},
        {&gridFormation, &lineFormation, &ringFormation, &hexagonsFormation, &closePackingFormation, &goldenSpiralFormation,
         &alongCurveFormation, &elementsFormation, &randomOnMeshFormation, &evenlySpacedFormation, &cellsFormation, &scatterInMeshFormation,
         &looseFormation, &pointsFileFormation, &onSwarmFormation, &piecesFormation},
        {&steadyPattern, &numberPattern, &alongAxisPattern, &randomPattern, &noisePattern, &wavePattern, &distancePattern, &formulaPattern,
         &namedValuePattern, &picturePattern, &soundPattern},
        {&ballZone, &boxZone, &slabZone, &tubeZone, &coneZone, &ringZone, &nearCurveZone, &nearMeshZone, &insideMeshZone, &nearSwarmZone,
         &nearestZone, &chosenZone, &noiseZone, &pictureZone, &soundZone, &formulaZone, &everywhereZone},
        {&changeGesture, &aimGesture, &makeRoomGesture, &snapGesture, &streamGesture, &travelGesture, &smoothGesture, &swingGesture,
         &bodiesGesture, &pressGesture, &bendGesture, &twistGesture, &taperGesture, &roundGesture, &squashGesture, &curlGesture},
        {&responseKind},
        {&staggerKind},
        {&plainMaterial, &mixedMaterial, &shownMaterial},
        {&sunLight, &skyLight, &surroundingsLight, &pointLight, &spotLight, &areaLight},
        {&mirroredSymmetry, &turnedSymmetry},
        {&pictureMedia, &picturesMedia, &clipMedia, &simulatedCameraMedia},
        {&fileSound, &simulatedMicrophoneSound},
        {&windForce, &turbulenceForce, &attractionForce, &vortexForce, &dragForce},
    }};
    return kinds[static_cast<std::size_t>(family)];
}

const Kind* findKind(Family family, std::string_view id) {
    for (const Kind* kind : kindsOf(family))
        if (kind->id == id) return kind;
    return nullptr;
}

std::string toText(Family family) {
    static const std::array<const char*, 14> names = {"object",  "shape",    "formation", "pattern",  "zone",  "gesture", "response",
                                                      "stagger", "material", "light",     "symmetry", "media", "sound",   "force"};
    return names[static_cast<std::size_t>(family)];
}

Object standardObject(ObjectType type, std::string name, const std::vector<const Kind*>& kinds) {
    const ObjectClass& objectClass = classOf(type);
    Object object{newObjectId(type), std::move(name), {}, {}, {}, {}};
    std::size_t next = 0;
    for (const auto& slot : objectClass.slotInfos) {
        const Kind* kind = slot.only ? slot.only : nullptr;
        if (!kind) kind = next < kinds.size() ? kinds[next++] : kindsOf(slot.family).front();
        object.parts.push_back(standardPart(*kind));
    }
    object.lists.resize(objectClass.lists.size());
    return object;
}

Scene emptyScene() {
    Scene scene;
    const auto add = [&](Object object) {
        scene.order.push_back(object.id);
        scene.objects[object.id] = std::make_shared<Object>(std::move(object));
    };
    add(standardObject(ObjectType::project, "Project"));
    add(standardObject(ObjectType::light, "Sun", {&sunLight}));
    add(standardObject(ObjectType::light, "Sky", {&skyLight}));
    add(standardObject(ObjectType::camera, "Camera"));
    return scene;
}

}  // namespace gswarm
