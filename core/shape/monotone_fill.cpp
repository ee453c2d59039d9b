#include "core/shape/monotone_fill.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <set>

namespace gswarm {
namespace {

using glm::dvec2;
using Index = std::uint32_t;
constexpr Index none = ~Index{0};

/// Above 0 if a, b, c turn left.
double turn(const dvec2& a, const dvec2& b, const dvec2& c) { return (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x); }

class Partition {
  public:
    explicit Partition(std::span<const dvec2> corners)
        : corners_(corners), count_(static_cast<Index>(corners.size())), rank_(count_), helper_(count_, none), edges_(Left{this}) {}

    /// False if the polygon is not simple.
    bool run() {
        std::vector<Index> order(count_);
        std::iota(order.begin(), order.end(), 0u);
        std::sort(order.begin(), order.end(), [&](Index a, Index b) {
            const dvec2 &p = corners_[a], &q = corners_[b];
            return p.y != q.y ? p.y > q.y : p.x != q.x ? p.x < q.x : a < b;
        });
        for (Index i = 0; i < count_; ++i) rank_[order[i]] = i;
        where_.resize(count_);
        for (Index i = 0; i < count_; ++i) {
            nodes_.push_back({i, previous(i), next(i)});
            where_[i] = {i};
        }
        for (const Index v : order)
            if (!handle(v)) return false;
        return fillPieces();
    }
    std::vector<Index> triangles;

  private:
    struct Node {
        Index corner, before, after;
    };
    /// Orders edges that go down by which lies further left where both are; a corner stands for an edge of no length.
    struct Left {
        using is_transparent = void;
        const Partition* of;
        bool operator()(Index a, Index b) const {
            if (a == b) return false;
            const auto &p = of->corners_, &q = of->corners_;
            const Index an = of->next(a), bn = of->next(b);
            // The one that begins lower is compared with the whole of the other.
            if (of->rank_[a] > of->rank_[b]) {
                const double side = turn(p[b], p[bn], q[a]);
                return side != 0 ? side < 0 : turn(p[b], p[bn], q[an]) < 0;
            }
            const double side = turn(p[a], p[an], q[b]);
            return side != 0 ? side > 0 : turn(p[a], p[an], q[bn]) > 0;
        }
        bool operator()(Index edge, const dvec2& place) const { return turn(of->corners_[edge], of->corners_[of->next(edge)], place) > 0; }
    };

    Index next(Index i) const { return i + 1 == count_ ? 0 : i + 1; }
    Index previous(Index i) const { return i == 0 ? count_ - 1 : i - 1; }
    bool above(Index a, Index b) const { return rank_[a] < rank_[b]; }
    bool merges(Index v) const {
        return v != none && above(previous(v), v) && above(next(v), v) && turn(corners_[previous(v)], corners_[v], corners_[next(v)]) <= 0;
    }
    /// The edge directly to the left of a corner; none if there is none.
    Index leftOf(Index v) const {
        auto found = edges_.lower_bound(corners_[v]);
        if (found == edges_.begin()) return none;
        return *--found;
    }
    bool begin(Index edge) {
        helper_[edge] = edge;
        return edges_.insert(edge).second;
    }
    bool end(Index edge, Index at) {
        if (merges(helper_[edge]) && !join(at, helper_[edge])) return false;
        return edges_.erase(edge) == 1;
    }
    /// The corner becomes the helper of the edge to its left.
    bool passOn(Index v, bool always) {
        const Index edge = leftOf(v);
        if (edge == none) return false;
        if ((always || merges(helper_[edge])) && !join(v, helper_[edge])) return false;
        helper_[edge] = v;
        return true;
    }

    bool handle(Index v) {
        const Index before = previous(v), after = next(v);
        const bool fromAbove = above(before, v), toAbove = above(after, v);
        const bool convex = turn(corners_[before], corners_[v], corners_[after]) > 0;
        if (!fromAbove && !toAbove) return convex ? begin(v) : passOn(v, true) && begin(v);
        if (fromAbove && toAbove) return convex ? end(before, v) : end(before, v) && passOn(v, false);
        return fromAbove ? end(before, v) && begin(v) : passOn(v, false);
    }

    /// Whether a place is seen from a node into its piece.
    bool sees(const Node& node, const dvec2& place) const {
        const dvec2 &at = corners_[node.corner], &in = corners_[nodes_[node.before].corner], &out = corners_[nodes_[node.after].corner];
        const double left = turn(at, out, place), right = turn(in, at, place);
        return turn(in, at, out) >= 0 ? left > 0 && right > 0 : left > 0 || right > 0;
    }
    Index nodeFor(Index corner, const dvec2& place) const {
        for (const Index node : where_[corner])
            if (sees(nodes_[node], place)) return node;
        return none;
    }

    /// Cuts the piece that both corners belong to in two.
    bool join(Index a, Index b) {
        const Index n = nodeFor(a, corners_[b]), m = nodeFor(b, corners_[a]);
        if (n == none || m == none) return false;
        const auto n2 = static_cast<Index>(nodes_.size()), m2 = n2 + 1;
        nodes_.push_back({a, nodes_[n].before, m});
        nodes_.push_back({b, nodes_[m].before, n});
        nodes_[nodes_[n].before].after = n2;
        nodes_[nodes_[m].before].after = m2;
        nodes_[n].before = m2;
        nodes_[m].before = n2;
        where_[a].push_back(n2);
        where_[b].push_back(m2);
        return true;
    }

    bool fillPieces() {
        std::vector<bool> done(nodes_.size());
        std::vector<Index> piece;
        for (Index start = 0; start < nodes_.size(); ++start) {
            if (done[start]) continue;
            piece.clear();
            for (Index n = start; !done[n]; n = nodes_[n].after) {
                done[n] = true;
                piece.push_back(nodes_[n].corner);
            }
            if (!fillMonotone(piece)) return false;
        }
        return true;
    }

    bool add(Index a, Index b, Index c, bool leftChain) {
        if (!leftChain) std::swap(b, c);
        triangles.insert(triangles.end(), {a, b, c});
        return turn(corners_[a], corners_[b], corners_[c]) >= 0;
    }

    /// A piece whose corners go down on its left and up on its right.
    bool fillMonotone(const std::vector<Index>& piece) {
        const std::size_t n = piece.size();
        if (n < 3) return false;
        const auto byRank = [&](Index a, Index b) { return above(a, b); };
        const auto top = static_cast<std::size_t>(std::min_element(piece.begin(), piece.end(), byRank) - piece.begin());
        std::vector<std::pair<Index, bool>> sorted;  // corner, whether on the left
        std::size_t at = top;
        bool left = true;
        for (std::size_t k = 0; k < n; ++k, at = (at + 1) % n) {
            sorted.emplace_back(piece[at], left);
            const bool down = above(piece[at], piece[(at + 1) % n]);
            if (left && !down) left = false, sorted.back().second = false;  // the lowest belongs to both
            if (!left && down && k + 1 < n) return false;
        }
        std::sort(sorted.begin(), sorted.end(), [&](const auto& a, const auto& b) { return above(a.first, b.first); });
        std::vector<std::pair<Index, bool>> stack{sorted[0], sorted[1]};
        for (std::size_t k = 2; k < n; ++k) {
            const auto [corner, onLeft] = sorted[k];
            auto last = stack.back();
            if (k + 1 == n || onLeft != last.second) {
                const auto top2 = last;  // its chain lies across from the corner
                while (stack.size() > 1) {
                    stack.pop_back();
                    if (!add(corner, last.first, stack.back().first, !top2.second)) return false;
                    last = stack.back();
                }
                stack = {top2, sorted[k]};
            } else {
                stack.pop_back();
                while (!stack.empty()) {
                    const Index a = stack.back().first;
                    const double side = turn(corners_[a], corners_[last.first], corners_[corner]);
                    if (onLeft ? side <= 0 : side >= 0) break;
                    if (!add(a, last.first, corner, onLeft)) return false;
                    last = stack.back();
                    stack.pop_back();
                }
                stack.push_back(last);
                stack.push_back(sorted[k]);
            }
        }
        return true;
    }

    std::span<const dvec2> corners_;
    Index count_;
    std::vector<Index> rank_, helper_;
    std::set<Index, Left> edges_;  ///< those that go down and have the inside to their right
    std::vector<Node> nodes_;
    std::vector<std::vector<Index>> where_;  ///< the nodes of each corner
};

}  // namespace

std::vector<std::uint32_t> monotoneFill(std::span<const dvec2> corners) {
    if (corners.size() < 3) return {};
    Partition partition(corners);
    if (!partition.run() || partition.triangles.size() != 3 * (corners.size() - 2)) return {};
    // What fills a polygon without gaps has its area.
    double area = 0, filled = 0;
    for (std::size_t i = 0; i < corners.size(); ++i) area += turn(corners[0], corners[i], corners[(i + 1) % corners.size()]);
    const auto& t = partition.triangles;
    for (std::size_t k = 0; k < t.size(); k += 3) filled += turn(corners[t[k]], corners[t[k + 1]], corners[t[k + 2]]);
    return std::abs(area - filled) <= 1e-9 * std::abs(area) ? std::move(partition.triangles) : std::vector<std::uint32_t>{};
}

}  // namespace gswarm
