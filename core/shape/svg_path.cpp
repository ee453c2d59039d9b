// Path data of SVG 1.1, chapter 8.3.
#include "core/shape/svg_path.h"

#include <charconv>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/error.h"

namespace gswarm {
namespace {

using glm::dvec2;

struct PathReader {
    std::string_view data;
    int steps;
    std::size_t most;
    FlatContours lines = {};
    std::vector<bool> closed = {};
    bool damaged = false;
    std::size_t points = 0;
    dvec2 at{0}, start{0}, control{0};
    char before = 0;

    void skip() {
        while (!data.empty() && (data[0] == ' ' || data[0] == ',' || data[0] == '\n' || data[0] == '\t' || data[0] == '\r'))
            data.remove_prefix(1);
    }
    bool number(double& out) {
        skip();
        std::string_view digits = data;
        if (!digits.empty() && digits[0] == '+') digits.remove_prefix(1);
        const auto [end, error] = std::from_chars(digits.data(), digits.data() + digits.size(), out);
        if (error != std::errc() || !std::isfinite(out)) return false;
        data.remove_prefix(static_cast<std::size_t>(end - data.data()));
        return true;
    }
    bool flag(bool& out) {
        skip();
        if (data.empty() || (data[0] != '0' && data[0] != '1')) return false;
        out = data[0] == '1';
        data.remove_prefix(1);
        return true;
    }
    bool place(bool relative, dvec2& out) {
        if (!number(out.x) || !number(out.y)) return false;
        if (relative) out += at;
        return true;
    }
    void count() {
        if (++points > most) throw Error("draws more points than the limit of two million; simplify it");
    }
    void begin(const dvec2& p) {
        count();
        lines.push_back({p});
        closed.push_back(false);
        at = start = p;
    }
    void lineTo(const dvec2& p) {
        count();
        if (lines.empty() || closed.back()) begin(at);
        lines.back().push_back(p);
        at = p;
    }
    void cubicTo(const dvec2& b, const dvec2& c, const dvec2& d) {
        const dvec2 a = at;
        for (int k = 1; k <= steps; ++k) {
            const double t = double(k) / steps, u = 1 - t;
            lineTo(k == steps ? d : a * (u * u * u) + b * (3 * u * u * t) + c * (3 * u * t * t) + d * (t * t * t));
        }
        control = c;
    }
    void quadraticTo(const dvec2& b, const dvec2& c) {
        const dvec2 a = at;
        for (int k = 1; k <= steps; ++k) {
            const double t = double(k) / steps, u = 1 - t;
            lineTo(k == steps ? c : a * (u * u) + b * (2 * u * t) + c * (t * t));
        }
        control = b;
    }
    /// From ends to middle as in the standard's appendix F.6.
    void arcTo(dvec2 radii, double turn, bool large, bool sweep, const dvec2& to) {
        radii = glm::abs(radii);
        if (radii.x == 0 || radii.y == 0 || to == at) return lineTo(to);
        const double c = std::cos(turn), s = std::sin(turn);
        const dvec2 half = (at - to) * 0.5, p(c * half.x + s * half.y, -s * half.x + c * half.y);
        const double over = p.x * p.x / (radii.x * radii.x) + p.y * p.y / (radii.y * radii.y);
        if (over > 1) radii *= std::sqrt(over);
        const double rx2 = radii.x * radii.x, ry2 = radii.y * radii.y, px2 = p.x * p.x, py2 = p.y * p.y;
        const double root = std::sqrt(std::max(0.0, (rx2 * ry2 - rx2 * py2 - ry2 * px2) / (rx2 * py2 + ry2 * px2)));
        const dvec2 q = dvec2(radii.x * p.y / radii.y, -radii.y * p.x / radii.x) * (large == sweep ? -root : root);
        const dvec2 middle = dvec2(c * q.x - s * q.y, s * q.x + c * q.y) + (at + to) * 0.5;
        const double first = std::atan2((p.y - q.y) / radii.y, (p.x - q.x) / radii.x);
        const double last = std::atan2((-p.y - q.y) / radii.y, (-p.x - q.x) / radii.x);
        double angle = last - first;
        const double whole = 2 * 3.14159265358979323846;
        if (sweep && angle < 0) angle += whole;
        if (!sweep && angle > 0) angle -= whole;
        const int pieces = std::max(1, static_cast<int>(std::ceil(std::abs(angle) / whole * 4 * steps)));
        for (int k = 1; k <= pieces; ++k) {
            const double a = first + angle * k / pieces;
            const dvec2 e(radii.x * std::cos(a), radii.y * std::sin(a));
            lineTo(k == pieces ? to : middle + dvec2(c * e.x - s * e.y, s * e.x + c * e.y));
        }
    }

    /// One command's arguments; false if they are not there.
    bool command(char name) {
        const bool relative = name >= 'a';
        dvec2 a, b, c;
        double v = 0;
        const char kind = static_cast<char>(relative ? name - 32 : name);
        switch (kind) {
            case 'M':
                if (!place(relative, a)) return false;
                begin(a);
                break;
            case 'L':
                if (!place(relative, a)) return false;
                lineTo(a);
                break;
            case 'H':
            case 'V':
                if (!number(v)) return false;
                a = at;
                (kind == 'H' ? a.x : a.y) = relative ? (kind == 'H' ? at.x : at.y) + v : v;
                lineTo(a);
                break;
            case 'C':
                if (!place(relative, a) || !place(relative, b) || !place(relative, c)) return false;
                cubicTo(a, b, c);
                break;
            case 'S':
                if (!place(relative, b) || !place(relative, c)) return false;
                cubicTo(before == 'C' || before == 'S' ? at * 2.0 - control : at, b, c);
                break;
            case 'Q':
                if (!place(relative, a) || !place(relative, b)) return false;
                quadraticTo(a, b);
                break;
            case 'T':
                if (!place(relative, b)) return false;
                quadraticTo(before == 'Q' || before == 'T' ? at * 2.0 - control : at, b);
                break;
            case 'A': {
                bool large = false, sweep = false;
                if (!number(a.x) || !number(a.y) || !number(v) || !flag(large) || !flag(sweep) || !place(relative, b)) return false;
                arcTo(a, v * 0.017453292519943295, large, sweep, b);
                break;
            }
            default:
                return false;
        }
        before = kind;
        return true;
    }

    void run() {
        char name = 0;
        for (skip(); !data.empty(); skip()) {
            const char c = data[0];
            if ((c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z')) {
                name = c;
                data.remove_prefix(1);
                if (c == 'Z' || c == 'z') {
                    if (!lines.empty()) closed.back() = true;
                    at = start;
                    before = 'Z';
                    continue;
                }
            } else if (name == 0 || name == 'Z' || name == 'z') {
                damaged = true;
            }
            damaged = damaged || !command(name);
            if (damaged) return;
            if (name == 'M') name = 'L';  // further pairs are lines
            if (name == 'm') name = 'l';
        }
    }
};

}  // namespace

SvgLines readSvgPath(std::string_view data, int curveSteps, std::size_t most) {
    PathReader reader{data, curveSteps, most};
    reader.run();
    return {std::move(reader.lines), std::move(reader.closed), reader.damaged};
}

}  // namespace gswarm
