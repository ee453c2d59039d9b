#pragma once
#include <cstdint>
#include <glm/vec3.hpp>
#include <span>

/// Rows of pixels, many at a time: what each pixel gets is the same to the bit whichever instructions the machine has.
namespace gswarm {

/// Halves, red, green, blue and coverage beside each other, as light and coverage of at most 1. All of them are as long.
void unpackHalves(const std::uint16_t* halves, std::span<glm::vec3> light, float* coverage);

/// Fog over light that is there by its part: what is nearer than `start` is clear, and then less and less over `depth` metres. Error of
/// how clear it is below 3e-7.
void fogOver(std::span<glm::vec3> light, const float* coverage, const float* depth, float start, float fogDepth, const glm::vec3& colour);

/// Of 0 … 1, as bytes R G B and 255.
void toBytes(std::span<const glm::vec3> shown, std::uint8_t* rgba);

}  // namespace gswarm
