// Instances one step after the other; each step may start from the one before it, which curls the line.
#include <cmath>
#include <complex>
#include <glm/geometric.hpp>

#include "core/base/precise.h"
#include "core/formation/formation_kind.h"

namespace gswarm {
namespace {

enum class LineMeasure { step, total };
enum class LineAnchor { start, centre };

struct Line {
    int count;
    LineMeasure measure;
    glm::vec3 step, total, turn;  // radians a step
    float sizeFactor, slide;
    bool compounding;
    LineAnchor anchor;
};

using glm::dquat, glm::dvec3;

dquat about(const dvec3& axis, double radians) {
    const auto half = precise::sineCosine(radians / 2);
    return {half.cosine, axis.x * half.sine, axis.y * half.sine, axis.z * half.sine};
}
dquat turns(const dvec3& radians) { return about({0, 0, 1}, radians.z) * about({0, 1, 0}, radians.y) * about({1, 0, 0}, radians.x); }

dvec3 stepOf(const Line& line) {
    return line.measure == LineMeasure::step ? dvec3(line.step) : dvec3(line.total) / static_cast<double>(std::max(1, line.count - 1));
}

/// Sum of z^k for k below s, also for an s between two whole numbers.
std::complex<double> geometricSum(const std::complex<double>& z, const std::complex<double>& zToS, double s) {
    return std::abs(1.0 - z) < 1e-7 ? std::complex<double>(s) : (1.0 - zToS) / (1.0 - z);
}

/// The pose after s steps from the first.
Neighbour poseAt(const Line& line, double s) {
    const dvec3 step = stepOf(line);
    const double size = precise::power(line.sizeFactor, s);
    if (!line.compounding) return {glm::vec3(step * s), glm::quat(turns(dvec3(line.turn) * s)), static_cast<float>(size)};
    // The whole of s steps is a similarity to the power s: along its axis a geometric sum, across it one of complex numbers.
    const dquat one = turns(line.turn);
    const dvec3 sines(one.x, one.y, one.z);
    const double sine = std::sqrt(glm::dot(sines, sines));
    const dvec3 axis = sine > 1e-12 ? sines / sine : dvec3(0, 1, 0);
    const double angle = 2 * std::atan2(sine, one.w);
    const auto direction = precise::sineCosine(angle), whole = precise::sineCosine(angle * s);
    const double along = glm::dot(step, axis);
    const dvec3 across = step - axis * along, beside = glm::cross(axis, across);
    const std::complex<double> z = std::complex(direction.cosine, direction.sine) * double(line.sizeFactor);
    const auto sum = geometricSum(z, std::complex(whole.cosine, whole.sine) * size, s);
    const auto straight = geometricSum(double(line.sizeFactor), size, s).real();
    return {glm::vec3(axis * (along * straight) + across * sum.real() + beside * sum.imag()), glm::quat(about(axis, angle * s)),
            static_cast<float>(size)};
}

double count(const Line& line) { return line.count; }

void place(const Line& line, const HomeRange& range, HomeColumns& out) {
    const dvec3 start = line.anchor == LineAnchor::centre && !line.compounding ? stepOf(line) * (-0.5 * (line.count - 1)) : dvec3(0);
    for (int i = 0; i < range.count; ++i) {
        double s = double(range.first + i) + line.slide;
        s -= std::floor(s / line.count) * line.count;  // what leaves at the end comes in at the beginning
        const Neighbour pose = poseAt(line, s);
        setHome(out, i, pose.offset + glm::vec3(start), pose.rotation, pose.size, static_cast<std::uint64_t>(range.first + i));
    }
}

/// The next one as each sees it. Uncompounded lines have other neighbours at every step; the first two stand for all.
Spacing spacing(const Line& line) { return {{poseAt(line, 1)}, 0, true}; }

}  // namespace

const FormationKind lineFormation = sampled(
    makes(
        DescribeFormation<Line>("line", "Line", "One step after the other, straight or curling")
            .found("row array queue steps stairs spiral")
            .whole("count", &Line::count, 12, {1, 400}, "How many instances")
            .hard(1, 1e9)
            .choice("measure", &Line::measure, {{"step", "Step"}, {"total", "Total length"}}, "Whether the step or the whole is given")
            .length("step", &Line::step, {1.25, 0, 0}, {-4, 4}, "From one home to the next")
            .only("measure", {"step"})
            .length("total", &Line::total, {12, 0, 0}, {-40, 40}, "From the first home to the last")
            .only("measure", {"total"})
            .angle("turn", &Line::turn, {0, 0, 0}, {-90, 90}, "Added at each step, about X, then Y, then Z")
            .number("sizeFactor", &Line::sizeFactor, 1, {0.8, 1.2}, "Size of each as a share of the one before")
            .hard(0.001, 1000)
            .number("slide", &Line::slide, 0, {-10, 10},
                    "Moves all along by this many steps; what leaves at the end comes in at the beginning")
            .unit("steps")
            .toggle("compounding", &Line::compounding, false, "Every step starts from the one before it, turned and sized: the line curls")
            .choice("anchor", &Line::anchor, {{"start", "Start"}, {"centre", "Centre"}}, "What stands at the middle of the swarm")
            .standard("centre")
            .only("compounding", {"off"}),
        count, place, spacing),
    {{"count", fixedNumbers({9})}});

}  // namespace gswarm
