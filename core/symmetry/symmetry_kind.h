#pragma once
#include <functional>
#include <glm/mat4x4.hpp>
#include <glm/vec3.hpp>
#include <vector>

#include "core/scene/describe.h"

namespace gswarm {

using SymmetryLines = std::vector<std::vector<glm::vec3>>;

/// Copies of the whole result of a swarm, after every gesture.
struct SymmetryKind : Kind {
    /// Whether it is on, and where each copy stands in the swarm's metres: the first is the original, without a change. Every matrix
    /// is a similarity: a move, a turn and a scale that is the same in every direction, mirrored or not.
    std::function<bool(const void*)> on;
    std::function<std::vector<glm::mat4>(const void*)> copies;
    /// Lines that show its planes or its axis, `reach` wide, in the swarm's metres.
    std::function<SymmetryLines(const void*, float reach)> outline;
};

/// T has `on` and `centre`.
template <class T>
struct DescribeSymmetry : Describe<T, SymmetryKind> {
    DescribeSymmetry(std::string id, std::string label, std::string summary)
        : Describe<T, SymmetryKind>(Family::symmetry, std::move(id), std::move(label), std::move(summary)) {
        this->toggle("on", &T::on, true, "A symmetry that is off makes no copies");
        this->length("centre", &T::centre, {0, 0, 0}, {-10, 10}, "What the copies lie around, in the swarm's own metres");
    }
};

template <class T>
SymmetryKind symmetry(Describe<T, SymmetryKind>& described, std::vector<glm::mat4> (*copies)(const T&),
                      SymmetryLines (*outline)(const T&, float)) {
    SymmetryKind kind = described.kind();
    kind.on = [](const void* data) { return static_cast<const T*>(data)->on; };
    kind.copies = [copies](const void* data) { return copies(*static_cast<const T*>(data)); };
    kind.outline = [outline](const void* data, float reach) { return outline(*static_cast<const T*>(data), reach); };
    return kind;
}

extern const SymmetryKind mirroredSymmetry, turnedSymmetry;

}  // namespace gswarm
