#pragma once
#include <cstdint>
#include <functional>
#include <vector>

#include "core/picture/trace.h"

namespace gswarm {

/// A film that is refined step by step, where its noise is: a quarter of the samples goes to all pixels alike, the others go to each in
/// proportion to how far one sample is off on the screen there, which makes the squared error of all least (Neyman 1934, "On the two
/// different aspects of the representative method"). They are shared out anew each time their mean has doubled, by what was found until
/// then, up to Sobol::most a pixel, so that the film depends on the seed and the mean alone, never on the steps it was reached in.
class Refinement {
  public:
    /// Of a part of the film; what is outside stays empty. Of `wanted` its size, seed and noise count: tiles whose error is below it
    /// take no more. Throws Error if there is not enough memory.
    Refinement(const TraceSize& wanted, const PixelRect& part, const Layering& layering = {});

    /// Takes samples until pixels that something stands in have `mean` of them on average, and says how many rays that took. It goes on
    /// where it was, with the same tracer showing the same. Throws Cancelled with the film in order, after which the next call goes on.
    std::int64_t refine(const Tracer& tracer, int mean, const Progress& progress, const std::function<void(double)>& report = {});

    const Film& film() const { return film_; }
    Film take() && { return std::move(film_); }
    const PixelRect& part() const { return part_; }
    /// What `refine` was last asked for and did.
    int mean() const { return mean_; }

  private:
    /// What a pixel had when samples were last shared out, how many it gets until they are again, and its spread (film.h).
    struct Share {
        std::uint16_t had, more;
        float spread;
    };
    /// Of a tile: the sum of the spreads of its pixels that take part, and how many these are.
    struct Found {
        double spread = 0;
        std::size_t pixels = 0;
    };
    void share(float exposure);
    Found lookAt(const PixelRect& tile, float exposure);

    Film film_;
    PixelRect part_;
    TraceSize wanted_;
    Layering layering_;
    int mean_ = 0, begin_ = 0, end_;  ///< what there is, and from which mean to which samples are shared out
    std::vector<Share> shares_;
    std::vector<std::uint16_t> now_;  ///< what pixels are to have now
};

}  // namespace gswarm
