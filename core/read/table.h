#pragma once
#include <cstdint>
#include <functional>
#include <string>
#include <vector>

#include "core/flow/plan.h"

namespace gswarm {

/// One instance as people read it: world space, linear colour as straight sRGB-encoded numbers.
struct InstanceRow {
    int number;
    int copy;  ///< by symmetry; 0 is the original
    std::uint64_t id;
    std::string shape;  ///< name of the shape it repeats
    bool shown;
    glm::vec3 position;
    glm::quat rotation;
    glm::vec3 scale;
    glm::vec4 colour;
    std::vector<float> named;  ///< the swarm's named values, in the order of its list
};

/// The instances of a plan in number order, block by block; nothing is kept. With `copies` each is followed by its copies by
/// symmetry. Stops when `take` returns false.
void readInstances(const Plan& plan, const Scene& scene, const std::function<bool(const InstanceRow&)>& take, bool copies = false);

/// One instance after each card: how it got where it is.
struct TallyRow {
    std::string card;  ///< "Home", then the gestures' names
    float weight;      ///< of the card on this instance; 1 for the home
    InstanceRow instance;
};

/// The tally of the instance with an id. Throws Error if there is none.
std::vector<TallyRow> tally(const Plan& plan, const Scene& scene, std::uint64_t id);

}  // namespace gswarm
