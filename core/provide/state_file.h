#pragma once
#include <cstdint>
#include <istream>
#include <memory>
#include <ostream>

#include "core/flow/memory_plan.h"

namespace gswarm {

/// A state as files have it: little-endian, its columns one after the other.
void writeState(const MemoryState& state, std::ostream& to);
/// Reads a state of at most so many bytes. Null if it says more than it has, or if its columns do not fit its instances.
std::shared_ptr<const MemoryState> readState(std::istream& from, std::uint64_t bytes);

}  // namespace gswarm
