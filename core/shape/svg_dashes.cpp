#include "core/shape/svg_dashes.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <numeric>

#include "core/base/error.h"

namespace gswarm {

SvgLines dashed(const SvgLines& lines, std::vector<double> pattern, double offset, std::size_t most) {
    if (pattern.size() % 2 != 0) pattern.insert(pattern.end(), pattern.begin(), pattern.end());
    const double period = std::accumulate(pattern.begin(), pattern.end(), 0.0);
    for (const double length : pattern)
        if (!(length >= 0)) return lines;
    if (!(period > 0 && std::isfinite(period) && std::isfinite(offset))) return lines;
    SvgLines out;
    std::size_t points = 0;
    const auto count = [&] {
        if (++points > most) throw Error("has dashes of more points than the limit of two million; make them longer");
    };
    for (std::size_t l = 0; l < lines.lines.size(); ++l) {
        std::vector<glm::dvec2> line = lines.lines[l];
        if (lines.closed[l]) line.push_back(line.front());
        double into = std::fmod(offset, period);
        if (into < 0) into += period;
        std::size_t piece = 0;
        while (into >= pattern[piece] && (into > 0 || pattern[piece] == 0)) {
            into -= pattern[piece];
            piece = (piece + 1) % pattern.size();
        }
        double left = pattern[piece] - into;
        bool drawing = false;
        const auto begin = [&](const glm::dvec2& p) {
            count();
            out.lines.push_back({p});
            out.closed.push_back(false);
            drawing = true;
        };
        if (piece % 2 == 0) begin(line.front());
        for (std::size_t i = 1; i < line.size(); ++i) {
            const glm::dvec2 a = line[i - 1], b = line[i];
            const double length = glm::distance(a, b);
            double at = 0;
            while (length - at > left) {
                at += left;
                const glm::dvec2 p = a + (b - a) * (at / length);
                count();
                if (drawing) out.lines.back().push_back(p);
                drawing = false;
                piece = (piece + 1) % pattern.size();
                left = pattern[piece];
                if (piece % 2 == 0) begin(p);
            }
            left -= length - at;
            count();
            if (drawing) out.lines.back().push_back(b);
        }
    }
    std::erase_if(out.lines, [](const auto& line) { return line.size() < 2; });
    out.closed.assign(out.lines.size(), false);
    return out;
}

}  // namespace gswarm
