#pragma once
#include <vector>

#include "core/picture/view.h"
#include "live/around.h"
#include "live/program.h"

namespace gswarm::live {

/// The brightest lamps, as many as shaders take, the brightest first.
std::vector<Lamp> brightest(std::vector<Lamp> lamps);

/// Sets camera, suns, sky and display in a program of common.glsl.
void setView(Program& program, const Setting& setting, const Around::Light& around);
/// The suns that shaders take.
int sunsOf(const FarLight& light);
void setLamps(Program& program, const std::vector<Lamp>& lamps);

}  // namespace gswarm::live
