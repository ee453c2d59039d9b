// Mirror planes through a place.
#include <glm/gtc/matrix_transform.hpp>

#include "core/base/turns.h"
#include "core/symmetry/symmetry_kind.h"

namespace gswarm {
namespace {

struct Mirrored {
    bool on, x, y, z;
    glm::vec3 centre, rotation;
};

std::vector<glm::mat4> copies(const Mirrored& m) {
    const glm::mat4 to = glm::translate(glm::mat4(1), m.centre) * glm::mat4_cast(rotationFromTurns(m.rotation)), from = glm::inverse(to);
    std::vector<glm::mat4> all{glm::mat4(1)};
    for (int plane = 1; plane < 8; ++plane) {
        const glm::bvec3 across(plane & 1, plane & 2, plane & 4);
        if ((across.x && !m.x) || (across.y && !m.y) || (across.z && !m.z)) continue;
        const glm::vec3 signs(across.x ? -1 : 1, across.y ? -1 : 1, across.z ? -1 : 1);
        all.push_back(to * glm::scale(glm::mat4(1), signs) * from);
    }
    return all;
}

SymmetryLines outline(const Mirrored& m, float reach) {
    const glm::quat turn = rotationFromTurns(m.rotation);
    SymmetryLines lines;
    for (int axis = 0; axis < 3; ++axis) {
        if (!(axis == 0 ? m.x : axis == 1 ? m.y : m.z)) continue;
        std::vector<glm::vec3> square;
        for (const auto& [u, v] : {std::pair{-1, -1}, {1, -1}, {1, 1}, {-1, 1}, {-1, -1}}) {
            glm::vec3 p(0);
            p[(axis + 1) % 3] = static_cast<float>(u) * reach;
            p[(axis + 2) % 3] = static_cast<float>(v) * reach;
            square.push_back(m.centre + turn * p);
        }
        lines.push_back(std::move(square));
    }
    return lines;
}

}  // namespace

const SymmetryKind mirroredSymmetry =
    symmetry(DescribeSymmetry<Mirrored>("mirrored", "Mirrored", "Repeats it all behind one, two or three mirror planes")
                 .found("flip reflect reflection")
                 .toggle("x", &Mirrored::x, true, "The plane that X stands upright on: left and right")
                 .label("Across X")
                 .toggle("y", &Mirrored::y, false, "The plane that Y stands upright on: above and below")
                 .label("Across Y")
                 .toggle("z", &Mirrored::z, false, "The plane that Z stands upright on: front and back")
                 .label("Across Z")
                 .angle("rotation", &Mirrored::rotation, {0, 0, 0}, {-180, 180}, "Of the planes: turns about X, then Y, then Z"),
             copies, outline);

}  // namespace gswarm
