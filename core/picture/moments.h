#pragma once
#include <functional>
#include <glm/mat4x4.hpp>
#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/picture/draw_list.h"

namespace gswarm {

/// Told of one thing: its number, and its own metres' way into the world at each moment; one matrix of what stands still
/// or is not the same thing at all moments.
using TakeThing = std::function<void(std::uint32_t number, std::span<const glm::mat4> transforms)>;

/// Tells of everything that lists show, which are moments one after the other: the instances of each surface, and meshes seen
/// once, in the order of the first list, numbered from 0. What comes, goes or becomes another shape meanwhile stands still.
/// Surfaces that are left out, by number, are passed over, and nobody is numbered by them. Several threads tell at once. Throws
/// Cancelled.
void eachThing(std::span<const DrawList> moments, const Progress& progress, const TakeThing& take, const std::vector<bool>& leftOut = {});

/// Where a surface of the first list stands at each moment; once where it is not the same thing at all of them.
std::vector<glm::mat4> posesOf(std::span<const DrawList> moments, std::size_t surface);

/// How many things eachThing tells of, of one surface and of all.
std::size_t thingCount(const Surface& surface);
std::size_t thingCount(const DrawList& list);

}  // namespace gswarm
