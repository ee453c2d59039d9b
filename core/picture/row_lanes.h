#pragma once
#include <cstddef>
#include <glm/vec3.hpp>
#include <span>

/// Whole rows of pixels added, mixed and dimmed, many numbers at a time: the same to the bit whichever instructions the machine has.
namespace gswarm {

/// out = (a + d) / 8 + (b + c) · 3/8, `count` numbers each.
void mixFourRows(const float* a, const float* b, const float* c, const float* d, float* out, std::size_t count);

/// out = out · kept + near · 3/4 + next / 4, `count` numbers each.
void mixOntoRow(float* out, float kept, const float* near, const float* next, std::size_t count);

/// light += (1 − coverage) · colour: what is behind things that are there by their part. Coverage is as long as light.
void addBehind(std::span<glm::vec3> light, const float* coverage, const glm::vec3& colour);

/// light · by; both are as long.
void dimRow(std::span<glm::vec3> light, const float* by);

}  // namespace gswarm
