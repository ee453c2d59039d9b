#include "core/picture/bloom.h"

#include <algorithm>
#include <cmath>

#include "core/base/parallel.h"
#include "core/picture/row_lanes.h"

namespace gswarm {
namespace {

using glm::vec3;

constexpr std::size_t rowsTogether = 16;

struct Level {
    int width = 0, height = 0;
    std::vector<vec3> light;

    std::size_t across() const { return static_cast<std::size_t>(width); }
    /// Beyond an edge the row at that edge.
    std::size_t first(int y) const { return static_cast<std::size_t>(std::clamp(y, 0, height - 1)) * across(); }
    const float* row(int y) const { return &light[first(y)].x; }
};

/// A row with one more pixel before it and two behind, of what they go on with at the edges.
class WideRow {
  public:
    explicit WideRow(std::size_t width) : width_(width), light_(width + 3) {}
    vec3* begin() { return &light_[1]; }
    void widen() {
        light_.front() = light_[1];
        light_[width_ + 1] = light_[width_ + 2] = light_[width_];
    }

  private:
    std::size_t width_;
    std::vector<vec3> light_;
};

Level halved(const Level& from) {
    Level to{(from.width + 1) / 2, (from.height + 1) / 2, {}};
    to.light.resize(to.across() * static_cast<std::size_t>(to.height));
    forRanges(static_cast<std::size_t>(to.height), rowsTogether, [&](std::size_t begin, std::size_t end) {
        WideRow wide(from.across());
        for (auto y = static_cast<int>(begin); y < static_cast<int>(end); ++y) {
            // Four by four with 1 3 3 1: boxes alone would show their corners.
            vec3* sum = wide.begin();
            mixFourRows(from.row(2 * y - 1), from.row(2 * y), from.row(2 * y + 1), from.row(2 * y + 2), &sum->x, 3 * from.across());
            wide.widen();
            vec3* out = &to.light[to.first(y)];
            for (int x = 0; x < to.width; ++x) out[x] = (sum[2 * x - 1] + sum[2 * x + 2]) * 0.125f + (sum[2 * x] + sum[2 * x + 1]) * 0.375f;
        }
    });
    return to;
}

/// Rows of a level as wide as the one of twice its size, between their pixels evenly; the last two that were asked for stay.
class DoubledRows {
  public:
    DoubledRows(const Level& from, std::size_t width) : from_(from), wide_(from.across()), rows_{Row(width), Row(width)} {}
    const float* at(int y) {
        y = std::clamp(y, 0, from_.height - 1);
        Row& row = rows_[y % 2];
        if (row.of == y) return &row.light.front().x;
        row.of = y;
        vec3* own = wide_.begin();
        std::copy_n(&from_.light[from_.first(y)], from_.across(), own);
        wide_.widen();
        const std::size_t pairs = row.light.size() / 2;
        vec3* out = row.light.data();
        for (std::size_t x = 0; x < pairs; ++x) {
            const vec3 near = own[x] * 0.75f;
            out[2 * x] = near + own[static_cast<std::ptrdiff_t>(x) - 1] * 0.25f;
            out[2 * x + 1] = near + own[x + 1] * 0.25f;
        }
        if (row.light.size() % 2) row.light.back() = own[pairs] * 0.75f + own[static_cast<std::ptrdiff_t>(pairs) - 1] * 0.25f;
        return &row.light.front().x;
    }

  private:
    struct Row {
        explicit Row(std::size_t width) : light(width) {}
        int of = -1;
        std::vector<vec3> light;
    };
    const Level& from_;
    WideRow wide_;
    Row rows_[2];
};

/// Of a level so much is kept; what is in one of half the size is added.
void addDoubled(Level& to, float kept, const Level& from) {
    forRanges(static_cast<std::size_t>(to.height), rowsTogether, [&](std::size_t begin, std::size_t end) {
        DoubledRows rows(from, to.across());
        for (auto y = static_cast<int>(begin); y < static_cast<int>(end); ++y) {
            const float *near = rows.at(y / 2), *next = rows.at(y / 2 + (y % 2 ? 1 : -1));
            mixOntoRow(&to.light[to.first(y)].x, kept, near, next, 3 * to.across());
        }
    });
}

}  // namespace

void bloom(std::vector<vec3>& light, int width, int height, float radius, float share) {
    constexpr float less = 0.75f;  // of each width against the one before
    const int count = std::max(1, static_cast<int>(std::ceil(std::log2(std::max(radius, 2.0f)))));
    std::vector<Level> levels;
    levels.reserve(static_cast<std::size_t>(count) + 1);
    levels.push_back({width, height, std::move(light)});
    for (int k = 0; k < count && std::max(levels.back().width, levels.back().height) > 2; ++k) levels.push_back(halved(levels.back()));
    const auto widths = static_cast<int>(levels.size()) - 1;
    float all = 0;
    for (int k = 0; k < widths; ++k) all += std::pow(less, static_cast<float>(k));
    // From the widest down; what was added comes along.
    for (int k = widths; k >= 1; --k) {
        const float own = share * std::pow(less, static_cast<float>(k - 1)) / all;
        Level& level = levels[static_cast<std::size_t>(k)];
        if (k < widths)
            addDoubled(level, own, levels[static_cast<std::size_t>(k) + 1]);
        else
            for (vec3& c : level.light) c *= own;
    }
    if (widths > 0) addDoubled(levels.front(), 1 - share, levels[1]);
    light = std::move(levels.front().light);
}

}  // namespace gswarm
