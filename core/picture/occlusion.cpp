#include "core/picture/occlusion.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <numbers>

#include "core/base/parallel.h"
#include "core/picture/lens.h"
#include "core/picture/row_lanes.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/picture/occlusion.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

// What all targets share.
#ifndef GSWARM_OCCLUSION
#define GSWARM_OCCLUSION
namespace gswarm {
namespace {

constexpr int taps = 12;
constexpr int rowStep = 16;          ///< pixels worked on together; also what is beside a row, so that neighbours are there
constexpr float reachShare = 0.06f;  ///< of the picture's height, how far is looked
constexpr float least = 0.12f;       ///< sine above the surface that does not count: meshes are coarse
constexpr float strength = 2.4f, most = 0.9f;

/// A row of pixels for each number, with room beside; what is beyond the right edge is nothing.
struct Depths {
    Depths(int width, int height)
        : width(width),
          height(height),
          stride((static_cast<std::size_t>(width) + rowStep - 1) / rowStep * rowStep + 2 * rowStep),
          x(stride * static_cast<std::size_t>(height)),
          y(x.size()),
          z(x.size()),
          depth(x.size()),
          open(x.size(), 1) {}
    std::size_t first(int row) const { return static_cast<std::size_t>(row) * stride + rowStep; }

    int width, height;
    std::size_t stride;
    std::vector<float> x, y, z;  ///< where what is seen is, metres; where nothing is, far behind
    std::vector<float> depth, open;
};

/// Rays through a row: where they begin and where they go, from its left edge and by the picture's width.
struct RowOfRays {
    glm::vec3 from, along, direction, turning;
};

/// Where is looked from the pixels of a row: whole pixels to the right and down, alike for each fourth.
struct Looks {
    std::array<std::array<std::int32_t, rowStep>, taps> right, down;
};

/// How far is looked, metres: for what is a metre away, and anywhere.
struct Reach {
    float perMetre, anywhere;
};

}  // namespace
}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

using hn::Add, hn::Mul, hn::Sub;

I whole(std::int32_t v) { return hn::Set(Wholes(), v); }
F dot(const F a[3], const F b[3]) { return Add(Add(Mul(a[0], b[0]), Mul(a[1], b[1])), Mul(a[2], b[2])); }

void placeLanes(const RowOfRays& rays, int row, Depths& all) {
    const std::size_t first = all.first(row);
    float* to[3] = {&all.x[first], &all.y[first], &all.z[first]};
    const float perPixel = 1 / static_cast<float>(all.width);
    for (int i = 0; i < all.width; i += lanes()) {
        const F at = Mul(Add(hn::ConvertTo(Floats(), hn::Iota(Wholes(), i)), number(0.5f)), number(perPixel));
        const F depth = hn::LoadU(Floats(), &all.depth[first] + i);
        F way[3];
        for (int c = 0; c < 3; ++c) way[c] = Add(number(rays.direction[c]), Mul(number(rays.turning[c]), at));
        const F far = hn::Div(hn::IfThenElse(hn::Gt(depth, number(0)), depth, number(1e6f)), hn::Sqrt(dot(way, way)));
        for (int c = 0; c < 3; ++c)
            hn::StoreU(Add(Add(number(rays.from[c]), Mul(number(rays.along[c]), at)), Mul(way[c], far)), Floats(), to[c] + i);
    }
}

void openLanes(const Looks& looks, const Reach& reach, const float* const normals[3], int row, Depths& all) {
    const std::size_t first = all.first(row);
    const float* from[3] = {all.x.data(), all.y.data(), all.z.data()};
    for (int i = 0; i < all.width; i += lanes()) {
        F p[3], n[3];
        for (int c = 0; c < 3; ++c) p[c] = hn::LoadU(Floats(), from[c] + first + i), n[c] = hn::LoadU(Floats(), normals[c] + i);
        const F metres = Add(number(reach.anywhere), Mul(number(reach.perMetre), hn::LoadU(Floats(), &all.depth[first] + i)));
        const F squared = Mul(metres, metres);
        F sum = number(0);
        for (int k = 0; k < taps; ++k) {
            // The pattern comes again after four pixels; a machine may have fewer lanes.
            const I right = hn::LoadU(Wholes(), &looks.right[k][i % 4]), down = hn::LoadU(Wholes(), &looks.down[k][i % 4]);
            const I u = hn::Min(hn::Max(Add(hn::Iota(Wholes(), i), right), whole(0)), whole(all.width - 1));
            const I v = hn::Min(hn::Max(Add(whole(row), down), whole(0)), whole(all.height - 1));
            const I there = Add(Add(Mul(v, whole(static_cast<std::int32_t>(all.stride))), u), whole(rowStep));
            F toward[3];
            for (int c = 0; c < 3; ++c) toward[c] = Sub(hn::GatherIndex(Floats(), from[c], there), p[c]);
            const F d2 = dot(toward, toward);
            const auto counts = hn::And(hn::Gt(d2, number(0)), hn::Le(d2, squared));
            const F above = hn::Max(Sub(hn::Div(dot(n, toward), hn::Sqrt(d2)), number(least)), number(0));
            sum = Add(sum, hn::IfThenElseZero(counts, Mul(above, Sub(number(1), hn::Div(d2, squared)))));
        }
        hn::StoreU(Sub(number(1), hn::Min(number(most), Mul(sum, number(strength / taps)))), Floats(), &all.open[first] + i);
    }
}

/// Means of the pixels around that are about as far.
void smoothLanes(int row, const Depths& all, float* shares) {
    const std::size_t first = all.first(row);
    for (int i = 0; i < all.width; i += lanes()) {
        const F own = hn::LoadU(Floats(), &all.depth[first] + i), near = Mul(own, number(0.02f));
        F sum = number(0), count = number(0);
        for (int down = -2; down < 2; ++down) {
            const std::size_t there = all.first(std::clamp(row + down, 0, all.height - 1));
            for (int right = -2; right < 2; ++right) {
                const F depth = hn::LoadU(Floats(), &all.depth[there] + i + right),
                        open = hn::LoadU(Floats(), &all.open[there] + i + right);
                const auto counts = hn::Le(hn::Abs(Sub(depth, own)), near);
                sum = Add(sum, hn::IfThenElseZero(counts, open));
                count = Add(count, hn::IfThenElseZero(counts, number(1)));
            }
        }
        const F mean = hn::Div(sum, hn::Max(count, number(1)));
        hn::StoreU(hn::IfThenElse(hn::Gt(own, number(0)), mean, number(1)), Floats(), shares + i);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(placeLanes);
HWY_EXPORT(openLanes);
HWY_EXPORT(smoothLanes);
namespace {

using glm::vec3;

/// A spiral of places in the unit disc, as many turns of it as pixels of a block of four by four: for a row of such a block, in whole
/// pixels where the disc is so wide.
Looks looksOf(int row, float reach) {
    Looks out;
    for (int column = 0; column < 4; ++column)
        for (int k = 0; k < taps; ++k) {
            const int turn = row * 4 + column;
            const float share = (static_cast<float>(k) + 0.5f + static_cast<float>(turn * 7 % 16) / 16 - 0.5f) / taps;
            const float angle =
                2.39996323f * static_cast<float>(k) + static_cast<float>(turn * 5 % 16) / 16 * 2 * std::numbers::pi_v<float>;
            const float radius = std::sqrt(std::clamp(share, 0.01f, 1.0f));
            for (std::size_t lane = static_cast<std::size_t>(column); lane < rowStep; lane += 4) {
                out.right[static_cast<std::size_t>(k)][lane] = static_cast<std::int32_t>(std::lround(radius * std::cos(angle) * reach));
                out.down[static_cast<std::size_t>(k)][lane] = static_cast<std::int32_t>(std::lround(radius * std::sin(angle) * reach));
            }
        }
    return out;
}

/// Rays through any place of a picture, from those through three of its corners.
class Rays {
  public:
    Rays(const Setting& setting, float aspect) : lens_({&setting, 1}, aspect), forward_(lens_.through(0, 0, 0, 0.5f, 0.5f).direction) {}
    RowOfRays row(float v) const {
        const auto [from, direction] = at(-1, v);
        const auto [otherFrom, otherDirection] = at(1, v);
        return {from, otherFrom - from, direction, otherDirection - direction};
    }

  private:
    /// Where no cut is, and as long as it is to the plane a metre before the eye.
    std::pair<vec3, vec3> at(float u, float v) const {
        const Lens::Ray ray = lens_.through(u, v, 0, 0.5f, 0.5f);
        return {ray.from - ray.direction * ray.begun, ray.direction / glm::dot(ray.direction, forward_)};
    }
    Lens lens_;
    vec3 forward_;
};

void forRows(int height, const std::function<void(int)>& work) {
    forRanges(static_cast<std::size_t>(height), 16, [&](std::size_t begin, std::size_t end) {
        for (std::size_t y = begin; y < end; ++y) work(static_cast<int>(y));
    });
}

}  // namespace

void occlude(LinearPicture& picture, const Setting& setting) {
    const float w = static_cast<float>(picture.width), h = static_cast<float>(picture.height), reach = h * reachShare;
    const auto width = static_cast<std::size_t>(picture.width);
    Depths all(picture.width, picture.height);
    const Rays rays(setting, w / h);
    forRows(all.height, [&](int y) {
        float* depth = &all.depth[all.first(y)];
        std::copy_n(&picture.depth[static_cast<std::size_t>(y) * width], width, depth);
        // What is beside an edge is like the edge.
        std::fill_n(depth - 2, 2, depth[0]);
        std::fill_n(depth + width, 2, depth[width - 1]);
        HWY_DYNAMIC_DISPATCH(placeLanes)(rays.row(1 - (static_cast<float>(y) + 0.5f) / h * 2), y, all);
    });
    const std::array<Looks, 4> looks{looksOf(0, reach), looksOf(1, reach), looksOf(2, reach), looksOf(3, reach)};
    const bool parallel = setting.camera.projection == Projection::parallel;
    const float perPixel = 2 * std::tan(verticalFieldOfView(setting.camera, w / h) / 2) / h;
    const Reach far{parallel ? 0 : reach * perPixel, parallel ? reach * setting.camera.width / w : 0};
    forRows(all.height, [&](int y) {
        std::vector<float> normals(3 * all.stride);
        const float* rows[3] = {&normals[0], &normals[all.stride], &normals[2 * all.stride]};
        for (std::size_t x = 0; x < width; ++x)
            for (int c = 0; c < 3; ++c)
                normals[static_cast<std::size_t>(c) * all.stride + x] = picture.normal[static_cast<std::size_t>(y) * width + x][c];
        HWY_DYNAMIC_DISPATCH(openLanes)(looks[static_cast<std::size_t>(y & 3)], far, rows, y, all);
        float* open = &all.open[all.first(y)];
        std::fill_n(open - 2, 2, open[0]);
        std::fill_n(open + width, 2, open[width - 1]);
    });
    forRows(all.height, [&](int y) {
        std::vector<float> shares(all.stride);
        HWY_DYNAMIC_DISPATCH(smoothLanes)(y, all, shares.data());
        dimRow({&picture.light[static_cast<std::size_t>(y) * width], width}, shares.data());
    });
}

}  // namespace gswarm
#endif
