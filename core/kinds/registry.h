#pragma once
#include <string>
#include <string_view>
#include <vector>

#include "core/scene/scene.h"

/// The one list of all kinds. What reads and writes scenes finds kinds here; what computes is given its kinds by the scene and
/// never asks. A new kind is one file in its family's folder and one word in registry.cpp.
namespace gswarm {

/// All kinds of a family, in the order galleries show them.
const std::vector<const Kind*>& kindsOf(Family family);
/// Null if there is none.
const Kind* findKind(Family family, std::string_view id);
std::string toText(Family family);

/// A new object of the type with every part at its defaults; for slots that hold any kind, `kinds` names them in order, and
/// the first of the family stands where it does not.
Object standardObject(ObjectType type, std::string name, const std::vector<const Kind*>& kinds = {});

/// An empty project: its settings, light and camera.
Scene emptyScene();

}  // namespace gswarm
