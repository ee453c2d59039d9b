#include "core/shape/revolve.h"

#include <glm/common.hpp>
#include <glm/geometric.hpp>

#include "core/base/precise.h"

namespace gswarm {

ProfileStretch straightStretch(const glm::vec2& from, const glm::vec2& to, int steps) {
    const glm::vec2 along = glm::normalize(to - from);
    ProfileStretch stretch;
    for (int k = 0; k <= steps; ++k) {
        // The ends exactly, so that neighbours meet.
        const glm::vec2 place = k == 0 ? from : k == steps ? to : glm::mix(from, to, static_cast<float>(k) / static_cast<float>(steps));
        stretch.push_back({place, {along.y, -along.x}});
    }
    return stretch;
}

Mesh revolve(const std::vector<ProfileStretch>& profile, int sides) {
    Mesh mesh;
    for (const ProfileStretch& stretch : profile) {
        const auto first = static_cast<std::uint32_t>(mesh.positions.size());
        const auto rows = static_cast<std::uint32_t>(stretch.size()) - 1;
        for (std::size_t r = 0; r < stretch.size(); ++r)
            for (int s = 0; s <= sides; ++s) {
                const auto turn = precise::sineCosineOfTurns(double(s % sides) / sides);
                const glm::vec2 p = stretch[r].place, n = stretch[r].normal;
                const glm::vec3 out(turn.sine, 0, turn.cosine);
                addVertex(mesh, out * p.x + glm::vec3(0, p.y, 0), out * n.x + glm::vec3(0, n.y, 0),
                          {static_cast<float>(s) / static_cast<float>(sides), static_cast<float>(r) / static_cast<float>(rows)});
            }
        const auto width = static_cast<std::uint32_t>(sides) + 1;
        for (std::uint32_t r = 0; r < rows; ++r)
            for (std::uint32_t s = 0; s + 1 < width; ++s) {
                const std::uint32_t a = first + r * width + s, b = a + width;
                if (stretch[r].place.x == 0)
                    addFace(mesh, {a, b + 1, b});
                else if (stretch[r + 1].place.x == 0)
                    addFace(mesh, {a, a + 1, b});
                else
                    addFace(mesh, {a, a + 1, b + 1, a, b + 1, b});
            }
    }
    return mesh;
}

}  // namespace gswarm
