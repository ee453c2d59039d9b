#pragma once
#include <vector>

#include "core/picture/view.h"
#include "live/around.h"
#include "live/program.h"

namespace gswarm::live {

/// Sets camera, suns, sky and display in a program of common.glsl.
void setView(Program& program, const Setting& setting, const Around::Light& around);
/// The suns that shaders take.
int sunsOf(const FarLight& light);
/// Of drawnLamps.
void setLamps(Program& program, const std::vector<Lamp>& lamps);

}  // namespace gswarm::live
