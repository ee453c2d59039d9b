#pragma once
#include <algorithm>

namespace gswarm {

/// From where to where a rectangle goes along a side of so many pixels, which it lies within: whole pixels and shares of the next.
template <class Number>
struct PixelSpan {
    int low, high;
    Number lowShare, highShare, length;

    PixelSpan(Number from, Number to, int count)
        : low(std::min(static_cast<int>(from), count - 1)),
          high(std::min(static_cast<int>(to), count - 1)),
          lowShare(from - static_cast<Number>(low)),
          highShare(to - static_cast<Number>(high)),
          length(to - from) {}
};

}  // namespace gswarm
