#pragma once
#include <glm/vec2.hpp>
#include <string_view>
#include <vector>

namespace gswarm {

/// x' = a x + c y + e, y' = b x + d y + f.
struct Affine {
    double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;
    glm::dvec2 operator()(const glm::dvec2& p) const { return {a * p.x + c * p.y + e, b * p.x + d * p.y + f}; }
    Affine operator*(const Affine& o) const;
    /// By how much lengths grow, on average over all directions.
    double scale() const;
};

/// All numbers in a text, whatever stands between them.
std::vector<double> svgNumbers(std::string_view text);
/// A length in the drawing's units: px, pt, pc, mm, cm, in, em, ex, or percent of `whole`. `otherwise` where it is none.
double svgLength(std::string_view text, double whole, double otherwise);
/// "translate(1 2) rotate(30)" …
Affine svgTransform(std::string_view text);
/// How a viewBox (x, y, width, height) fits into a place of a width and a height, by preserveAspectRatio.
Affine svgFit(const std::vector<double>& box, std::string_view aspect, const glm::dvec2& place, const glm::dvec2& size);

}  // namespace gswarm
