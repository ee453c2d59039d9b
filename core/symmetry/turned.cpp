// Turns about an axis, with a rise and a growth, and a mirror in each.
#include <array>
#include <cmath>
#include <glm/gtc/constants.hpp>
#include <glm/gtc/matrix_transform.hpp>

#include "core/base/turns.h"
#include "core/symmetry/symmetry_kind.h"

namespace gswarm {
namespace {

enum class TurnAxis { y, x, z };
enum class TurnOver { round, step };

struct Turned {
    bool on;
    glm::vec3 centre;
    TurnAxis axis;
    glm::vec3 rotation;
    int times;
    TurnOver over;
    float step, rise, growth;
    bool mirrored;
    float mirrorAt;
};

/// Where the axis is Z and goes through the centre.
glm::mat4 axesOf(const Turned& t) {
    constexpr std::array<glm::mat3, 3> towards{glm::mat3(0, 0, 1, 1, 0, 0, 0, 1, 0), glm::mat3(0, 1, 0, 0, 0, 1, 1, 0, 0), glm::mat3(1)};
    return glm::translate(glm::mat4(1), t.centre) * glm::mat4_cast(rotationFromTurns(t.rotation)) *
           glm::mat4(towards[static_cast<std::size_t>(t.axis)]);
}

std::vector<glm::mat4> copies(const Turned& t) {
    const glm::mat4 to = axesOf(t), from = glm::inverse(to);
    const glm::vec3 up(0, 0, 1);
    const float turn = t.over == TurnOver::round ? glm::two_pi<float>() / static_cast<float>(t.times) : t.step;
    const glm::mat4 stood = glm::rotate(glm::mat4(1), t.mirrorAt, up);
    const glm::mat4 mirror = stood * glm::scale(glm::mat4(1), glm::vec3(1, -1, 1)) * glm::inverse(stood);
    std::vector<glm::mat4> all;
    float size = 1, height = 0;
    for (int k = 0; k < t.times; ++k) {
        // Each angle by itself: a thousand small turns one after the other would not close.
        const glm::mat4 lifted = glm::translate(glm::mat4(1), up * height);
        const glm::mat4 one = glm::scale(glm::rotate(lifted, turn * static_cast<float>(k), up), glm::vec3(size));
        all.push_back(k == 0 ? glm::mat4(1) : to * one * from);
        if (t.mirrored) all.push_back(to * one * mirror * from);
        height += t.rise * size;
        size *= t.growth / 100;
    }
    return all;
}

SymmetryLines outline(const Turned& t, float reach) {
    const glm::mat4 to = axesOf(t);
    const auto at = [&](const glm::vec3& p) { return glm::vec3(to * glm::vec4(p, 1)); };
    SymmetryLines lines{{at({0, 0, -reach}), at({0, 0, reach})}};
    if (t.mirrored) {
        const glm::vec3 along(std::cos(t.mirrorAt) * reach, std::sin(t.mirrorAt) * reach, 0), up(0, 0, reach);
        lines.push_back({at(along - up), at(along + up), at(up - along), at(-along - up), at(along - up)});
    }
    return lines;
}

}  // namespace

const SymmetryKind turnedSymmetry =
    symmetry(DescribeSymmetry<Turned>("turned", "Turned", "Repeats it all around an axis: rings, spirals, kaleidoscopes")
                 .found("radial polar kaleidoscope spiral shell screw helix revolve")
                 .choice("axis", &Turned::axis, {{"y", "Y"}, {"x", "X"}, {"z", "Z"}}, "What it turns about")
                 .angle("rotation", &Turned::rotation, {0, 0, 0}, {-180, 180}, "Of the axis: turns about X, then Y, then Z")
                 .whole("times", &Turned::times, 6, {2, 60}, "How often it is there, the original among them")
                 .hard(1, 1000)
                 .choice("over", &Turned::over, {{"round", "All the way around"}, {"step", "By an angle each"}},
                         "In equal shares of a whole turn, or each so much further than the one before")
                 .label("Spaced")
                 .angle("step", &Turned::step, 30, {-180, 180}, "From one to the next")
                 .hard(-36000, 36000)
                 .only("over", {"step"})
                 .length("rise", &Turned::rise, 0, {-2, 2}, "Along the axis from the first to the second; it grows along with what grows")
                 .number("growth", &Turned::growth, 100, {50, 150}, "How large each is beside the one before")
                 .unit("%")
                 .hard(1, 1000)
                 .toggle("mirrored", &Turned::mirrored, false, "And once more in each turn, mirrored: a kaleidoscope")
                 .angle("mirrorAt", &Turned::mirrorAt, 0, {-180, 180}, "Where the mirror stands around the axis")
                 .only("mirrored", {"on"}),
             copies, outline);

}  // namespace gswarm
