#pragma once
#include "core/picture/after.h"

namespace gswarm::live {

/// Where the live view draws what something comes after for: light and coverage in floats, and beside them the normal, the distance
/// and the number of what is seen. Belongs to the context that is current when it is made.
class LayerBuffer {
  public:
    LayerBuffer() = default;
    ~LayerBuffer() { release(); }
    LayerBuffer(const LayerBuffer&) = delete;
    LayerBuffer& operator=(const LayerBuffer&) = delete;

    /// Drawn into from now on, empty: light and coverage, and if it is guided the rest too. False where the driver has no such
    /// buffers.
    bool bind(int width, int height, bool guided);
    /// What was drawn, rows from the top, into memory that stays what it is from picture to picture: taking new costs as much as drawing.
    /// Without `normals` the picture has neither these nor ids.
    void read(LinearPicture& picture, bool normals);

  private:
    void release();

    int width_ = 0, height_ = 0;
    bool guided_ = true;
    unsigned frame_ = 0, light_ = 0, guide_ = 0, depth_ = 0;
    std::vector<std::uint16_t> lightRead_;  ///< halves, as the driver has them
    std::vector<float> guideRead_;
};

}  // namespace gswarm::live
