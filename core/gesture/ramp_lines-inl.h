// A ramp of colours as kernels read it. Include after lanes-inl.h.
#if defined(GSWARM_RAMP_LINES_INL_H_) == defined(HWY_TARGET_TOGGLE)
#ifdef GSWARM_RAMP_LINES_INL_H_
#undef GSWARM_RAMP_LINES_INL_H_
#else
#define GSWARM_RAMP_LINES_INL_H_
#endif

#include "core/base/lanes-inl.h"
#include "core/scene/describe.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

struct Colour {
    F r, g, b, a;
};

/// Straight lines between the stops in linear light, as a sum of clamped slopes.
class RampLines {
  public:
    explicit RampLines(const RampTable& ramp) : count_(ramp.count), first_(ramp.colour[0]) {
        for (int k = 1; k < count_; ++k) {
            const float width = ramp.at[k] - ramp.at[k - 1];
            lines_[k] = {ramp.at[k - 1], width > 1e-6f ? 1 / width : 1e6f, ramp.colour[k] - ramp.colour[k - 1]};
        }
    }
    HWY_INLINE Colour at(F x) const {
        using hn::Add, hn::Mul;
        Colour c{number(first_.x), number(first_.y), number(first_.z), number(first_.w)};
        for (int k = 1; k < count_; ++k) {
            const Line& line = lines_[k];
            const F share = clamp01(Mul(hn::Sub(x, number(line.from)), number(line.perWidth)));
            c = {Add(c.r, Mul(share, number(line.rise.x))), Add(c.g, Mul(share, number(line.rise.y))),
                 Add(c.b, Mul(share, number(line.rise.z))), Add(c.a, Mul(share, number(line.rise.w)))};
        }
        return c;
    }

  private:
    struct Line {
        float from, perWidth;
        glm::vec4 rise;
    };
    int count_;
    glm::vec4 first_;
    Line lines_[mostRampStops];
};

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();
#endif
