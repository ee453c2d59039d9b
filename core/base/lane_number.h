#pragma once

namespace gswarm {

/// A number as a kernel reads it: one value for the whole block, or a column with one value per instance.
struct LaneNumber {
    float value = 0;
    const float* column = nullptr;

    bool perInstance() const { return column != nullptr; }
};

}  // namespace gswarm
