#pragma once
#include "core/scene/scene.h"

namespace gswarm {

/// Throws Error with one sentence if the scene is not one that a project file may hold: exactly one project with a rate above
/// 0, swarms with a formation of their own that is on, values that their settings allow, names that are not too long, and
/// nothing that stands on, hangs from or follows itself. Reading asks this of a whole file (`before` empty), and every edit
/// is asked it of what it changed since `before`: so whatever can be made and saved opens again. What evaluation can't do is
/// no matter here.
void refuseUnsound(const Scene& scene, const Scene& before = {});

}  // namespace gswarm
