#pragma once
#include <glm/vec3.hpp>

/// Numbers and directions of sixteen places of a picture, which are worked out together.
namespace gswarm {

inline constexpr int placesTogether = 16;

struct NumberLanes {
    alignas(64) float lane[placesTogether] = {};
    float& operator[](int place) { return lane[place]; }
    float operator[](int place) const { return lane[place]; }
};

struct VectorLanes {
    NumberLanes x, y, z;
    void put(int place, const glm::vec3& v) { x[place] = v.x, y[place] = v.y, z[place] = v.z; }
    glm::vec3 at(int place) const { return {x[place], y[place], z[place]}; }
};

}  // namespace gswarm
