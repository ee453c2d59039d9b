#pragma once
#include <string>
#include <vector>

namespace gswarm {

/// A named value as a swarm's instances have it at one frame: a number of each of them, or of each vertex of what is made of them.
/// As everywhere between swarms it is known by its name.
struct NamedNumbers {
    std::string name;
    std::vector<float> numbers;
};

}  // namespace gswarm
