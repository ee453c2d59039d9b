#pragma once
#include <string>
#include <vector>

#include "core/scene/object_id.h"

namespace gswarm {

/// A named value as a swarm's instances have it at one frame: a number of each of them, or of each vertex of what is made of them.
struct NamedNumbers {
    ObjectId value;
    std::string name;
    std::vector<float> numbers;
};

}  // namespace gswarm
