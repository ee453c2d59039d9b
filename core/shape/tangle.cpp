#include "core/shape/tangle.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/base/error.h"

namespace gswarm {
namespace {

using ClipperLib::IntPoint;
using ClipperLib::Path;
using ClipperLib::Paths;

struct Box {
    double low[2] = {1e300, 1e300}, high[2] = {-1e300, -1e300};
};
using Group = std::vector<std::size_t>;

/// A group cut at the gaps along one axis; alone if there are none.
std::vector<Group> cutAlong(Group group, const std::vector<Box>& boxes, int axis) {
    std::sort(group.begin(), group.end(), [&](std::size_t a, std::size_t b) {
        return boxes[a].low[axis] != boxes[b].low[axis] ? boxes[a].low[axis] < boxes[b].low[axis] : a < b;
    });
    std::vector<Group> out;
    double reached = 0;
    for (const std::size_t i : group) {
        if (out.empty() || boxes[i].low[axis] > reached) {
            out.emplace_back();
            reached = boxes[i].high[axis];
        }
        out.back().push_back(i);
        reached = std::max(reached, boxes[i].high[axis]);
    }
    return out;
}

struct Side {
    double x0, y0, x1, y1;
    double low(int axis) const { return axis == 0 ? std::min(x0, x1) : std::min(y0, y1); }
    double high(int axis) const { return axis == 0 ? std::max(x0, x1) : std::max(y0, y1); }
};

/// How many pairs of edges share a place along an axis.
double pairsAlong(const std::vector<Side>& edges, int axis) {
    std::vector<double> starts, ends;
    for (const Side& e : edges) starts.push_back(e.low(axis)), ends.push_back(e.high(axis));
    std::sort(starts.begin(), starts.end());
    std::sort(ends.begin(), ends.end());
    double pairs = 0, open = 0;
    for (std::size_t s = 0, e = 0; s < starts.size(); ++s) {
        while (e < ends.size() && ends[e] < starts[s]) --open, ++e;
        pairs += open++;
    }
    return pairs;
}

double side(const Side& e, double x, double y) { return (e.x1 - e.x0) * (y - e.y0) - (e.y1 - e.y0) * (x - e.x0); }
bool cross(const Side& a, const Side& b) {
    return side(a, b.x0, b.y0) * side(a, b.x1, b.y1) < 0 && side(b, a.x0, a.y0) * side(b, a.x1, a.y1) < 0;
}

}  // namespace

std::vector<std::vector<std::size_t>> pathsApart(const Paths& paths, double margin) {
    std::vector<Box> boxes(paths.size());
    Group all(paths.size());
    std::iota(all.begin(), all.end(), std::size_t{0});
    for (std::size_t i = 0; i < paths.size(); ++i)
        for (const IntPoint& p : paths[i]) {
            const double at[] = {static_cast<double>(p.X), static_cast<double>(p.Y)};
            for (int a = 0; a < 2; ++a) {
                boxes[i].low[a] = std::min(boxes[i].low[a], at[a] - margin - 2);
                boxes[i].high[a] = std::max(boxes[i].high[a], at[a] + margin + 2);
            }
        }
    std::vector<Group> done;
    struct Todo {
        Group group;
        int axis, whole;  ///< along how many axes it could not be cut
    };
    std::vector<Todo> todo;
    if (!all.empty()) todo.push_back({std::move(all), 0, 0});
    while (!todo.empty()) {
        Todo next = std::move(todo.back());
        todo.pop_back();
        if (next.group.size() == 1 || next.whole == 2) {
            done.push_back(std::move(next.group));
            continue;
        }
        auto parts = cutAlong(std::move(next.group), boxes, next.axis);
        const int whole = parts.size() == 1 ? next.whole + 1 : 0;
        for (Group& part : parts) todo.push_back({std::move(part), 1 - next.axis, whole});
    }
    for (Group& group : done) std::sort(group.begin(), group.end());
    std::sort(done.begin(), done.end(), [](const Group& a, const Group& b) { return a.front() < b.front(); });
    return done;
}

void refuseTangles(const Paths& paths) {
    constexpr double mostPairs = 4e8;
    constexpr std::size_t mostCrossings = 100'000, fewEdges = 2000;
    std::vector<Side> edges;
    for (const Path& path : paths)
        for (std::size_t i = 0; i < path.size(); ++i) {
            const IntPoint &a = path[i], &b = path[(i + 1) % path.size()];
            edges.push_back({static_cast<double>(a.X), static_cast<double>(a.Y), static_cast<double>(b.X), static_cast<double>(b.Y)});
        }
    if (edges.size() < fewEdges) return;
    // The union sweeps along Y; crossings are looked for along the axis with fewer pairs.
    const double alongX = pairsAlong(edges, 0), alongY = pairsAlong(edges, 1);
    if (alongY > 10 * mostPairs || std::min(alongX, alongY) > mostPairs)
        throw Error("has too many lines side by side (" + std::to_string(edges.size()) + " at a place); simplify it");
    const int axis = alongX <= alongY ? 0 : 1;
    std::sort(edges.begin(), edges.end(), [axis](const Side& a, const Side& b) { return a.low(axis) < b.low(axis); });
    std::vector<std::size_t> open;
    std::size_t crossings = 0;
    for (std::size_t i = 0; i < edges.size(); ++i) {
        const Side& e = edges[i];
        std::erase_if(open, [&](std::size_t o) { return edges[o].high(axis) < e.low(axis); });
        for (const std::size_t o : open)
            if (edges[o].high(1 - axis) >= e.low(1 - axis) && edges[o].low(1 - axis) <= e.high(1 - axis) && cross(edges[o], e) &&
                ++crossings > mostCrossings)
                throw Error("crosses itself more often than the limit of 100 000 times; simplify it");
        open.push_back(i);
    }
}

}  // namespace gswarm
