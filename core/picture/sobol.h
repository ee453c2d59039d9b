#pragma once
#include <array>
#include <cstdint>
#include <span>

namespace gswarm {

/// Numbers of 0 … 1 for the samples of a pixel that fill their ranges evenly: Sobol's points in four dimensions at a time, each
/// four shuffled and scrambled by its own seed (Burley 2020, "Practical Hash-based Owen Scrambling"). A function of pixel,
/// sample and seed alone, so that threads don't matter.
class Sobol {
  public:
    Sobol(std::uint32_t x, std::uint32_t y, std::uint32_t sample, std::uint32_t seed);

    float next() {
        if (at_ == known_) refill();
        return numbers_[static_cast<std::size_t>(at_++)];
    }
    /// Skips to the next four, so that what belongs together comes from the same points.
    void together() {
        if (at_ > 0) refill();
    }
    /// The same for each of these, sixteen at a time for about what one costs, where no more than the first so many numbers are wanted.
    static void together(std::span<Sobol* const> all, int wanted);

  private:
    void refill();

    std::uint32_t seed_, sample_, group_ = 0;  // the sample with its bits in reverse
    int at_ = 4, known_ = 4;                   ///< of the numbers here
    std::array<float, 4> numbers_{};
};

}  // namespace gswarm
