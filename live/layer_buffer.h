#pragma once
#include "core/picture/after.h"

namespace gswarm::live {

/// What is drawn beside light and coverage: nothing, how far what is seen is, or its normal and its number too.
enum class Guide { none, distance, whole };

/// Where the live view draws what something comes after for: light and coverage in floats, and a guide beside them. Belongs to the
/// context that is current when it is made.
class LayerBuffer {
  public:
    LayerBuffer() = default;
    ~LayerBuffer() { release(); }
    LayerBuffer(const LayerBuffer&) = delete;
    LayerBuffer& operator=(const LayerBuffer&) = delete;

    /// Drawn into from now on, empty. False where the driver has no such buffers.
    bool bind(int width, int height, Guide guide);
    /// What was drawn, rows from the top, into memory that stays what it is from picture to picture: taking new costs as much as drawing.
    /// What the guide lacks the picture lacks.
    void read(LinearPicture& picture);

  private:
    void release();

    int width_ = 0, height_ = 0;
    Guide guide_ = Guide::none;
    unsigned frame_ = 0, light_ = 0, beside_ = 0, depth_ = 0;
    std::vector<std::uint16_t> lightRead_;  ///< halves, as the driver has them
    std::vector<float> guideRead_;
};

}  // namespace gswarm::live
