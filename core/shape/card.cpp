// Flat rectangle that lies in XZ and faces up.
#include <algorithm>

#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

struct Card {
    float width, depth;
    int columns, rows;
};

Mesh make(const Card& card, int detail) {
    const int columns = std::max(1, card.columns >> detail), rows = std::max(1, card.rows >> detail);
    Mesh mesh;
    for (int r = 0; r <= rows; ++r)
        for (int c = 0; c <= columns; ++c) {
            const float u = static_cast<float>(c) / columns, v = static_cast<float>(r) / rows;
            addVertex(mesh, {(u - 0.5f) * card.width, 0, (0.5f - v) * card.depth}, {0, 1, 0}, {u, v});
        }
    addGridFaces(mesh, 0, columns, rows);
    return mesh;
}

}  // namespace

const ShapeKind cardShape = carriedFrom(
    withoutInside(makes(DescribeShape<Card>("card", "Card", "A flat rectangle with divisions")
                            .found("plane rectangle sheet panel paper quad")
                            .length("width", &Card::width, 1, {0.05, 4}, "Along X")
                            .hard(1e-5, 1e5)
                            .length("depth", &Card::depth, 1, {0.05, 4}, "Along Z")
                            .hard(1e-5, 1e5)
                            .whole("columns", &Card::columns, 1, {1, 100}, "Divisions along X")
                            .hard(1, 2000)
                            .whole("rows", &Card::rows, 1, {1, 100}, "Divisions along Z")
                            .hard(1, 2000),
                        make)),
    {{"width", fixedNumbers({6})}, {"depth", fixedNumbers({6})}, {"columns", fixedNumbers({80})}, {"rows", fixedNumbers({80})}});

}  // namespace gswarm
