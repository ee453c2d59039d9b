#pragma once
#include <vector>

#include "core/material/material.h"

/// What shaders may leave out, as bits, and above them how many suns there are: a program is made for each set that is needed.
namespace gswarm::live::feature {

/// As common.glsl says them.
enum Feature : unsigned {
    shadowed = 1,
    surrounded = 2,
    lamplit = 4,
    coated = 8,
    mixedTwo = 16,
    layered = 32,
    rimmed = 64,
    ghostly = 128,
    mixedOver = 256,
    pictured = 512,
    lampShadowed = 1024,
    guided = 2048,
    showing = 4096,
    mirroring = 8192,
    byPixel = 16384,
    distant = 32768,
    swallowing = 65536,
    blended = 131072
};
constexpr unsigned oneSun = 262144;

/// What is defined for a set of them.
std::vector<const char*> namesOf(unsigned features);

/// Those that a look needs; `around` is whether surroundings shine.
unsigned ofLook(const Look& look, bool around);

}  // namespace gswarm::live::feature
