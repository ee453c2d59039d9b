#include "core/shape/svg_units.h"

#include <algorithm>
#include <charconv>
#include <cmath>

#include "core/base/text.h"

namespace gswarm {

Affine Affine::operator*(const Affine& o) const {
    return {a * o.a + c * o.b, b * o.a + d * o.b, a * o.c + c * o.d, b * o.c + d * o.d, a * o.e + c * o.f + e, b * o.e + d * o.f + f};
}
double Affine::scale() const { return std::sqrt(std::abs(a * d - b * c)); }

std::vector<double> svgNumbers(std::string_view text) {
    std::vector<double> out;
    while (!text.empty()) {
        double v = 0;
        const std::string_view digits = text[0] == '+' ? text.substr(1) : text;
        const auto [end, error] = std::from_chars(digits.data(), digits.data() + digits.size(), v);
        if (error == std::errc() && std::isfinite(v)) {
            out.push_back(v);
            text.remove_prefix(static_cast<std::size_t>(end - text.data()));
        } else {
            text.remove_prefix(1);
        }
    }
    return out;
}

double svgLength(std::string_view text, double whole, double otherwise) {
    text = trimmed(text);
    const auto end = text.find_last_of("0123456789.");
    if (end == std::string_view::npos) return otherwise;
    const auto number = numberIn(text.substr(0, end + 1));
    if (!number) return otherwise;
    struct Unit {
        std::string_view name;
        double pixels;
    };
    static constexpr Unit units[] = {{"", 1},    {"px", 1},         {"pt", 96 / 72.0}, {"pc", 16},  {"mm", 96 / 25.4}, {"cm", 96 / 2.54},
                                     {"in", 96}, {"q", 96 / 101.6}, {"em", 16},        {"rem", 16}, {"ex", 8}};
    const std::string unit = lowered(trimmed(text.substr(end + 1)));
    if (unit == "%") return *number / 100 * whole;
    for (const Unit& known : units)
        if (unit == known.name) return *number * known.pixels;
    return otherwise;
}

Affine svgTransform(std::string_view text) {
    constexpr double degree = 0.017453292519943295;
    Affine all;
    for (;;) {
        const auto open = text.find('('), close = text.find(')');
        if (open == std::string_view::npos || close == std::string_view::npos || close < open) return all;
        std::string_view name = trimmed(text.substr(0, open));
        while (name.starts_with(',')) name = trimmed(name.substr(1));
        const auto n = svgNumbers(text.substr(open + 1, close - open - 1));
        const auto at = [&](std::size_t i, double otherwise) { return i < n.size() ? n[i] : otherwise; };
        Affine one;
        if (name == "matrix" && n.size() == 6) {
            one = {n[0], n[1], n[2], n[3], n[4], n[5]};
        } else if (name == "translate") {
            one.e = at(0, 0), one.f = at(1, 0);
        } else if (name == "scale") {
            one.a = at(0, 1), one.d = at(1, one.a);
        } else if (name == "rotate") {
            const double r = at(0, 0) * degree, c = std::cos(r), s = std::sin(r), x = at(1, 0), y = at(2, 0);
            one = {c, s, -s, c, x - c * x + s * y, y - s * x - c * y};
        } else if (name == "skewX") {
            one.c = std::tan(at(0, 0) * degree);
        } else if (name == "skewY") {
            one.b = std::tan(at(0, 0) * degree);
        }
        all = all * one;
        text.remove_prefix(close + 1);
    }
}

Affine svgFit(const std::vector<double>& box, std::string_view aspect, const glm::dvec2& place, const glm::dvec2& size) {
    Affine fit;
    fit.e = place.x, fit.f = place.y;
    if (box.size() != 4 || !(box[2] > 0 && box[3] > 0)) return fit;
    double x = size.x / box[2], y = size.y / box[3];
    const bool keeps = aspect.find("none") == std::string_view::npos;
    if (keeps) x = y = aspect.find("slice") == std::string_view::npos ? std::min(x, y) : std::max(x, y);
    const auto share = [&](const char* low, const char* high) {
        return aspect.find(low) != std::string_view::npos ? 0.0 : aspect.find(high) != std::string_view::npos ? 1.0 : 0.5;
    };
    fit.a = x, fit.d = y;
    fit.e = place.x - box[0] * x + (keeps ? share("xMin", "xMax") * (size.x - box[2] * x) : 0);
    fit.f = place.y - box[1] * y + (keeps ? share("YMin", "YMax") * (size.y - box[3] * y) : 0);
    return fit;
}

}  // namespace gswarm
