// Instances packed in rows of hexagons, flat in XZ: every neighbour is one spacing away.
#include <cmath>

#include "core/formation/formation_kind.h"

namespace gswarm {
namespace {

enum class Outline { hexagon, rectangle };

struct Hexagons {
    Outline outline;
    int rings;  ///< around the middle one
    int columns, rows;
    float spacing;
};

/// Rows run along X; r counts them from the middle one.
struct Row {
    int firstQ;  ///< axial coordinate of the first cell
    int length;
};

Row rowAt(const Hexagons& h, int r) {
    if (h.outline == Outline::hexagon) return {std::max(-h.rings, -h.rings - r), 2 * h.rings + 1 - std::abs(r)};
    return {-h.columns / 2 - static_cast<int>(std::floor(r / 2.0)), h.columns};
}
int firstRow(const Hexagons& h) { return h.outline == Outline::hexagon ? -h.rings : -h.rows / 2; }

double count(const Hexagons& h) { return h.outline == Outline::hexagon ? 1 + 3.0 * h.rings * (h.rings + 1) : double(h.columns) * h.rows; }

void place(const Hexagons& h, const HomeRange& range, HomeColumns& out) {
    int r = firstRow(h), into = range.first;
    if (h.outline == Outline::rectangle) r += into / h.columns, into %= h.columns;
    Row row = rowAt(h, r);
    while (into >= row.length) into -= row.length, row = rowAt(h, ++r);
    const float rowStep = h.spacing * 0.8660254038f;
    for (int i = 0; i < range.count; ++i) {
        const int q = row.firstQ + into;
        setHome(out, i, {h.spacing * (static_cast<float>(q) + 0.5f * static_cast<float>(r)), 0, rowStep * static_cast<float>(r)},
                {1, 0, 0, 0}, 1, latticeId(q, 0, r));
        if (++into == row.length) into = 0, row = rowAt(h, ++r);
    }
}

Spacing spacing(const Hexagons& h) {
    const float half = h.spacing * 0.5f, row = h.spacing * 0.8660254038f;
    return {{{{h.spacing, 0, 0}}, {{half, 0, row}}, {{-half, 0, row}}}, 0, true};
}

}  // namespace

const FormationKind hexagonsFormation =
    sampled(makes(DescribeFormation<Hexagons>("hexagons", "Hexagons", "Each with six neighbours, all one spacing away")
                      .found("hex honeycomb tiles floor bees")
                      .choice("outline", &Hexagons::outline, {{"hexagon", "Hexagon"}, {"rectangle", "Rectangle"}}, "The outer form")
                      .whole("rings", &Hexagons::rings, 8, {0, 100}, "Rings around the middle cell")
                      .hard(0, 2000)
                      .only("outline", {"hexagon"})
                      .whole("columns", &Hexagons::columns, 12, {1, 200}, "Cells in a row")
                      .hard(1, 100000)
                      .only("outline", {"rectangle"})
                      .whole("rows", &Hexagons::rows, 12, {1, 200}, "Rows")
                      .hard(1, 100000)
                      .only("outline", {"rectangle"})
                      .length("spacing", &Hexagons::spacing, 1.1, {0.05, 4}, "From each cell to its six neighbours")
                      .hard(0, 1e5),
                  count, place, spacing),
            {{"rings", fixedNumbers({4})}});

}  // namespace gswarm
