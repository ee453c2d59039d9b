#pragma once
#include "core/base/progress.h"
#include "core/picture/draw_list.h"
#include "core/picture/image.h"
#include "core/picture/view.h"

namespace gswarm {

struct TraceSize {
    int width = 640, height = 360;
    int samples = 32;  ///< paths a pixel, 1 … 4096
    std::uint32_t seed = 1;
};

/// What a picture is made of: one moment, or several evenly apart from the shutter's opening to its closing.
struct Shot {
    std::vector<DrawList> lists;
    std::vector<Setting> settings;
};
/// Moments that a shutter which is open for a while is sampled at.
inline constexpr int shutterMoments = 5;

/// A path-traced still, box filter over the pixel (path.h tells what light does, bsdf.h what surfaces do). The same scene, size and
/// seed give the same bytes for any thread count. Throws Error for impossible sizes, Cancelled between pixels. Rays: Embree.
Image trace(const Shot& shot, const TraceSize& size, Progress& progress);
inline Image trace(const DrawList& list, const Setting& setting, const TraceSize& size, Progress& progress) {
    return trace(Shot{{list}, {setting}}, size, progress);
}

/// Throws Error for sizes and sample counts that are not tried.
void checkTraceSize(const TraceSize& size);

}  // namespace gswarm
