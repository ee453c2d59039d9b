#pragma once
#include <cstddef>
#include <vector>

#include "core/light/light_kind.h"

namespace gswarm::live {

/// As many lamps as shaders go through.
inline constexpr std::size_t mostLamps = 16;

/// The lamps as the view draws them, the brightest first: all as they are, or of more than mostLamps groups of one form that stand and
/// shine alike, each put together into one lamp with the light of all. What lies far apart and is bright is parted first (Paquette and
/// others 1998, "A light hierarchy for fast rendering of scenes with many lights", cut at so many).
std::vector<Lamp> drawnLamps(std::vector<Lamp> lamps);

}  // namespace gswarm::live
