#include "core/read/zone_contours.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <unordered_map>
#include <unordered_set>

#include "core/base/error.h"
#include "core/prepare/rail_plan.h"
#include "core/prepare/zone_weights.h"
#include "core/provide/store.h"
#include "core/zone/zone_kind.h"

namespace gswarm {
namespace {

constexpr int mostSteps = 120;
constexpr float beginsAt = 0.02f, whollyAt = 0.98f;
constexpr float margin = 0.08f;      ///< of the swarm's extent, around it
constexpr float leastSide = 0.25f;   ///< of the longer side, for swarms that are lines
constexpr float thickEnough = 0.2f;  ///< of the largest extent: below that a swarm is flat

/// A lattice of places in a plane, with the zone's weight at each.
struct Field {
    int columns = 0, rows = 0;  ///< places
    std::vector<glm::vec3> places;
    std::vector<float> weights;
};

/// The plane across an axis of the swarm, through the middle of `bounds`.
Field latticeAcross(const Bounds& bounds, int axis) {
    const int u = (axis + 1) % 3, v = (axis + 2) % 3;
    const glm::vec3 middle = bounds.centre();
    float wide = bounds.size()[u], high = bounds.size()[v];
    const float longer = std::max({wide, high, 1e-3f});
    wide = std::max(wide, leastSide * longer) + 2 * margin * longer;
    high = std::max(high, leastSide * longer) + 2 * margin * longer;
    const float step = std::max(wide, high) / mostSteps;
    Field field;
    field.columns = static_cast<int>(std::ceil(wide / step)) + 1;
    field.rows = static_cast<int>(std::ceil(high / step)) + 1;
    for (int r = 0; r < field.rows; ++r)
        for (int c = 0; c < field.columns; ++c) {
            glm::vec3 p = middle;
            p[u] += static_cast<float>(c) * step - wide / 2;
            p[v] += static_cast<float>(r) * step - high / 2;
            field.places.push_back(p);
        }
    field.weights.resize(field.places.size());
    return field;
}

/// Crossings of a level, joined to lines. A crossing lies on an edge of the lattice, which at most two squares share.
class Tracer {
  public:
    Tracer(const Field& field, float level) : field_(field), level_(level) {
        for (int r = 0; r + 1 < field.rows; ++r)
            for (int c = 0; c + 1 < field.columns; ++c) addSquare(c, r);
    }

    ZoneLines lines() {
        ZoneLines out;
        // Open lines from their ends first, then what is left is closed.
        for (const bool closed : {false, true})
            for (const auto& [edge, next] : joined_)
                if (!done_.contains(edge) && (closed || next[1] < 0)) out.push_back(lineFrom(edge));
        return out;
    }

  private:
    int at(int column, int row) const { return row * field_.columns + column; }
    bool inside(int place) const { return field_.weights[static_cast<std::size_t>(place)] >= level_; }
    /// Edges are numbered by their first place: even ones go on along the row, odd ones to the next row.
    static int along(int place) { return 2 * place; }
    static int upward(int place) { return 2 * place + 1; }

    void addSquare(int c, int r) {
        const std::array<int, 4> corner = {at(c, r), at(c + 1, r), at(c + 1, r + 1), at(c, r + 1)};
        const std::array<int, 4> edge = {along(corner[0]), upward(corner[1]), along(corner[3]), upward(corner[0])};
        std::array<int, 4> crossed{};
        int count = 0;
        for (std::size_t k = 0; k < 4; ++k)
            if (inside(corner[k]) != inside(corner[(k + 1) % 4])) crossed[static_cast<std::size_t>(count++)] = edge[k];
        if (count == 2) join(crossed[0], crossed[1]);
        if (count != 4) return;
        // A saddle: what is inside at the middle stays together.
        float sum = 0;
        for (const int k : corner) sum += field_.weights[static_cast<std::size_t>(k)];
        const bool apart = (sum / 4 >= level_) == inside(corner[0]);
        join(crossed[0], crossed[apart ? 1 : 3]);
        join(crossed[2], crossed[apart ? 3 : 1]);
    }
    void join(int a, int b) {
        for (const auto& [from, to] : {std::pair{a, b}, {b, a}}) {
            auto [found, fresh] = joined_.try_emplace(from, std::array<int, 2>{to, -1});
            if (!fresh) found->second[1] = to;
        }
    }
    glm::vec3 crossing(int edge) const {
        const int from = edge / 2, to = edge % 2 == 0 ? from + 1 : from + field_.columns;
        const float a = field_.weights[static_cast<std::size_t>(from)], b = field_.weights[static_cast<std::size_t>(to)];
        const float share = std::clamp((level_ - a) / (b - a), 0.0f, 1.0f);
        return glm::mix(field_.places[static_cast<std::size_t>(from)], field_.places[static_cast<std::size_t>(to)], share);
    }
    std::vector<glm::vec3> lineFrom(int edge) {
        std::vector<glm::vec3> line;
        const int begun = edge;
        for (int next = edge; next >= 0;) {
            edge = next;
            done_.insert(edge);
            line.push_back(crossing(edge));
            const auto& ways = joined_.at(edge);
            next = !done_.contains(ways[0]) ? ways[0] : ways[1] >= 0 && !done_.contains(ways[1]) ? ways[1] : -1;
        }
        const auto& ways = joined_.at(edge);
        if (line.size() > 2 && (ways[0] == begun || ways[1] == begun)) line.push_back(line.front());
        return line;
    }

    const Field& field_;
    float level_;
    std::unordered_map<int, std::array<int, 2>> joined_;
    std::unordered_set<int> done_;
};

std::vector<int> planesThrough(const Bounds& bounds) {
    const glm::vec3 size = bounds.size();
    int thinnest = 1;  // the ground, where all are alike
    for (const int axis : {0, 2})
        if (size[axis] < size[thinnest]) thinnest = axis;
    if (size[thinnest] < thickEnough * std::max({size.x, size.y, size.z})) return {thinnest};
    return {0, 1, 2};
}

}  // namespace

bool hasContours(const Object& zone) {
    const auto& kind = static_cast<const ZoneKind&>(*zone.part("form").kind);
    return !kind.outline;
}

namespace {

ZoneContours found(ZoneWeights& weights, const Result& around, Progress& progress) {
    ZoneContours contours;
    for (const int axis : planesThrough(around.home.bounds)) {
        progress.check();
        Field field = latticeAcross(around.home.bounds, axis);
        weights(field.places, field.weights.data());
        for (float& w : field.weights)
            if (!std::isfinite(w)) w = 0;
        for (glm::vec3& p : field.places) p = around.pose.toWorld(p);
        for (auto& line : Tracer(field, beginsAt).lines()) contours.begins.push_back(std::move(line));
        for (auto& line : Tracer(field, whollyAt).lines()) contours.wholly.push_back(std::move(line));
    }
    return contours;
}

std::size_t bytesOf(const ZoneContours& contours) {
    std::size_t points = 0;
    for (const ZoneLines* lines : {&contours.begins, &contours.wholly})
        for (const auto& line : *lines) points += line.size() + 2;
    return sizeof contours + points * sizeof(glm::vec3);
}

}  // namespace

ZoneContours contoursOf(const Scene& scene, ObjectId zone, const Result& around, const PlanOptions& options, Store& store,
                        Progress& progress) {
    ZoneContours contours{zone, {}, {}};
    const Bounds& bounds = around.home.bounds;
    if (bounds.empty() || !hasContours(scene.at(zone))) return contours;
    try {
        ZoneWeights weights(scene, scene.at(zone), around.pose,
                            railSourceOf(scene, around.swarm, around.moment.frame, options, store, progress), store);
        if (weights.onlyAtInstances()) return contours;
        ContentHash key;
        key.add("zone contours");
        key.add(weights.hash());
        for (const glm::vec3& p : {bounds.low, bounds.high})
            for (int axis = 0; axis < 3; ++axis) key.add(double(p[axis]));
        const std::function<std::shared_ptr<const ZoneContours>()> make = [&] {
            return std::make_shared<const ZoneContours>(found(weights, around, progress));
        };
        contours = *store.get<ZoneContours>(key.value(), make, bytesOf);
        contours.zone = zone;
    } catch (const Error&) {  // the card that waits for it says so
    }
    return contours;
}

}  // namespace gswarm
