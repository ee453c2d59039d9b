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

/// A path-traced still: sun with soft shadows, sky light with occlusion, three bounces, metal and matt surfaces, opacity, box
/// filter over the pixel. The same scene, size and seed give the same bytes for any thread count.
/// Throws Error for impossible sizes, Cancelled between tiles.
/// Microfacet reflection: GGX with visible normals (Heitz 2018). Rays: Embree.
Image trace(const DrawList& list, const Setting& setting, const TraceSize& size, Progress& progress);

/// Throws Error for sizes and sample counts that are not tried.
void checkTraceSize(const TraceSize& size);

}  // namespace gswarm
