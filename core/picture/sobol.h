#pragma once
#include <array>
#include <cstdint>
#include <span>

#include "core/picture/place_lanes.h"

namespace gswarm {

/// Numbers of 0 … 1 for the samples of a pixel that fill their ranges evenly: Sobol's points in four dimensions at a time, each
/// four shuffled and scrambled by its own seed (Burley 2020, "Practical Hash-based Owen Scrambling"). A function of pixel,
/// sample and seed alone, so that threads don't matter.
class Sobol {
  public:
    static constexpr int bits = 12;
    static constexpr int most = 1 << bits;  ///< samples of a pixel: more repeat

    Sobol(std::uint32_t x, std::uint32_t y, std::uint32_t sample, std::uint32_t seed);
    /// Those of another sample of the same pixel, from the first on.
    Sobol of(std::uint32_t sample) const;

    float next() {
        if (at_ == 4) refill();
        return numbers_[static_cast<std::size_t>(at_++)];
    }
    /// Skips to the next four, so that what belongs together comes from the same points.
    void together() {
        if (at_ > 0) refill();
    }

  private:
    friend struct SobolLanes;
    void refill();

    std::uint32_t seed_, sample_, group_ = 0;  // the sample with its bits in reverse
    int at_ = 4;
    std::array<float, 4> numbers_{};
};

/// Those of sixteen samples, worked out together for about what one costs.
struct SobolLanes {
    void put(int place, const Sobol& numbers);
    /// Up to four numbers that belong together, by whatever group of them. None are those that next() gives.
    void group(std::uint32_t which, std::span<NumberLanes> numbers) const;

    alignas(64) std::array<std::uint32_t, placesTogether> seed{}, sample{};
};

}  // namespace gswarm
